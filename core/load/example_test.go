package load_test

import (
	"fmt"

	"patientfox/core/load"
)

// Twenty trials at 20 m, of which the dog met half: how far off would it be right four times in five?
func ExampleFit() {
	near := load.Conditions{TriggerM: 20, Intensity: 3, Value: 3, Rate: 5}
	var trials []load.Trial
	for i := range 20 {
		trials = append(trials, load.Trial{Conditions: near, Met: i%2 == 0})
	}
	m := load.Fit(trials)
	at := m.At(near)
	fmt.Printf("%.0f %%, likely %.0f–%.0f %%\n", 100*at.P, 100*at.Lo, 100*at.Hi)
	metres, ok := m.Threshold(near, load.Target)
	fmt.Printf("%.0f m %v\n", metres, ok)
	// Output:
	// 50 %, likely 37–63 %
	// 89 m true
}
