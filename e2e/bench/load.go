package main

import (
	"fmt"
	"math/rand/v2"
	"time"

	"patientfox/core/fit"
	"patientfox/core/load"
)

// fits: how long a model of load takes for a dog with very many trials, beside one with few.
func fits() {
	trials := func(n int) (list []fit.Trial) {
		rng := rand.New(rand.NewPCG(1, uint64(n)))
		for i := range n {
			c := load.Conditions{
				TriggerM: float64(5 + rng.IntN(60)), Intensity: float64(rng.IntN(6)), Moving: rng.IntN(4) == 0, DurationS: float64(rng.IntN(30)),
				HandlerM: float64(rng.IntN(10)), Value: float64(1 + rng.IntN(5)), Rate: float64(3 + rng.IntN(6)), Cold: i%12 == 0, Practice: i,
			}
			list = append(list, fit.Trial{Conditions: c, Met: rng.Float64() < fit.Usual().At(c).P, Days: float64(n-i) / 12})
		}
		return list
	}
	few, many := trials(500), trials(5000)
	small, large := inTurn(9, func() { fit.Load(few) }, func() { fit.Load(many) })
	most("fitting a model of load to 5 000 trials: ms", float64(large.Microseconds())/1000, 100, "with all refits for signs")
	most("the same ÷ 500 trials", float64(large)/float64(small), 15,
		fmt.Sprintf("%v ÷ %v", large.Round(time.Microsecond), small.Round(time.Microsecond)))
}
