package main

import (
	"fmt"
	"math/rand/v2"
	"time"

	"patientfox/core/decision"
	"patientfox/core/outlook"
)

// forecasts: how many simulated trials a second beside bare random draws, and that a forecast grows
// linearly with its runs.
func forecasts() {
	var record []outlook.Trial
	rng := rand.New(rand.NewPCG(1, 1))
	for i := range 90 {
		t := outlook.Trial{Opens: i%15 == 0, Days: 3, Mark: decision.MarkMissed}
		if rng.IntN(10) < 8 {
			t.Mark, t.Paid = decision.MarkMet, true
		}
		record = append(record, t)
	}
	c := outlook.JudgedCourse()
	fit := outlook.FitTo(record, outlook.Heights(len(c.Rules)), 1)
	const draws = 2_000_000
	sum, trials := 0.0, 0.0
	looks := func(runs int) func() {
		return func() {
			f, err := fit.Look(ctx, c, runs, 1, nil)
			must(err)
			trials = f.MeanTrials * float64(runs)
		}
	}
	bare, look := inTurn(9, func() {
		for range draws {
			sum += rng.Float64()
		}
	}, looks(400))
	perDraw, perTrial := float64(bare)/draws, float64(look)/trials
	least("forecast: simulated trials a second ÷ bare random draws a second", perDraw/perTrial, 0.05,
		fmt.Sprintf("%.1f ns a draw, %.1f ns a trial", perDraw, perTrial))
	one, four := inTurn(9, looks(200), looks(800))
	_, sixteen := inTurn(5, looks(200), looks(3200))
	most("forecast: 4 × the runs ÷ 1 ×", float64(four)/float64(one), 5, fmt.Sprintf("%v ÷ %v", four.Round(time.Microsecond), one.Round(time.Microsecond)))
	most("forecast: 16 × the runs ÷ 1 ×", float64(sixteen)/float64(one), 20, fmt.Sprintf("%v ÷ %v", sixteen.Round(time.Microsecond), one.Round(time.Microsecond)))
}
