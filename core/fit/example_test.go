package fit_test

import (
	"fmt"

	"patientfox/core/fit"
	"patientfox/core/load"
)

// Twenty trials at 20 m, of which the dog met half: how far off would it be right four times in five?
func ExampleLoad() {
	near := load.Conditions{TriggerM: 20, Intensity: 3, Value: 3, Rate: 5}
	var trials []fit.Trial
	for i := range 20 {
		trials = append(trials, fit.Trial{Conditions: near, Met: i%2 == 0})
	}
	m := fit.Load(trials)
	at := m.At(near)
	fmt.Printf("%.0f %%, likely %.0f–%.0f %%\n", 100*at.P, 100*at.Lo, 100*at.Hi)
	metres, ok := m.Threshold(near, load.Target)
	fmt.Printf("%.0f m %v\n", metres, ok)
	// Output:
	// 49 %, likely 36–63 %
	// 93 m true
}
