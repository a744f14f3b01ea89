package phrase_test

import (
	"fmt"
	"strings"
	"testing"

	"patientfox/core/library"
	"patientfox/core/phrase"
	"patientfox/core/reinforce"
	"patientfox/core/schedule"
	"patientfox/core/work"
)

// What pages of pay, food and sheets say, in a golden file of its own.
func TestSentencesOfPayAndFood(t *testing.T) {
	var out strings.Builder
	say := func(format string, args ...any) { fmt.Fprintf(&out, format+"\n", args...) }

	plain := work.Of(work.Held).Pay
	rich := reinforce.Strategy{
		Tier: 5, Band: reinforce.Band{Lo: 1}, Paces: 4, Pieces: 3, Where: "at the seam", Jackpot: 6, LifeReward: 0.25,
		LifeRewardIs: "the gulls", Release: true, Extra: true, Delivery: reinforce.Tossed,
		Schedule: reinforce.Schedule{Way: reinforce.Variable, K: 4, Thin: true},
	}
	for _, s := range []reinforce.Strategy{{}, plain, rich} {
		say("%s", strings.Join(phrase.Strategy(s, 2), " "))
	}
	for _, s := range []reinforce.Schedule{
		{}, {Way: reinforce.Fixed, K: 3}, {Way: reinforce.Fixed, K: 1}, {Way: reinforce.Best}, {Way: reinforce.Best, Share: 0.5},
		{Way: reinforce.Variable, K: 8, Thin: true},
	} {
		say("%s|%s", phrase.Schedule(s, 1), phrase.Schedule(s, 10))
	}
	for _, b := range []reinforce.Band{{}, {Lo: 1}, {Lo: 4, Hi: 8}, {Lo: 2.5, Hi: 2.5}} {
		say("%q", phrase.PayRate(b))
	}
	to := plain.Raise()
	for _, code := range []library.PayLintCode{library.PayNotRaised, library.PayThin, library.PayAttainable, library.PayNoLatency} {
		says, fix := phrase.PayLint(library.PayLint{Code: code, Needed: 3.25, To: &to})
		say("%s [%s]", says, fix)
	}
	cycle := reinforce.Cycle{LatencyS: 0.8, DurationS: 9, DeliverS: 2.8, ResetS: 4}
	say("%s", phrase.Cycle(cycle))
	for _, planned := range []float64{0, 2, 5} {
		say("%s", phrase.Attainable(cycle, planned, 1))
	}
	for _, r := range cycle.Remedies(4, 1) {
		say("%s", phrase.Remedy(r))
	}
	say("%s", phrase.PayTimes(24, reinforce.PayTimes(24, 6, 1), false))
	say("%q|%s", phrase.PayTimes(2, nil, false), phrase.PayTimes(30, []float64{29.5}, true))

	for _, f := range []reinforce.Feeding{{}, {IdealKg: 20, Stage: reinforce.Working}, {VetKcal: 640}} {
		for _, kg := range []float64{0, 22} {
			need, known := f.NeedOf(kg, 1000)
			say("%v %s", known, phrase.Need(need))
		}
	}
	for _, b := range []reinforce.Budget{
		{Need: 800, Allowed: 80, Eaten: 30, Planned: 20}, {Need: 800, Allowed: 80, Eaten: 90},
		{Need: 800, Allowed: 800, Eaten: 120, FromMeals: true}, {Need: 800, Allowed: 800, Eaten: 900, FromMeals: true},
	} {
		says, over := phrase.Budget(b, true)
		say("%v %s", over, says)
	}
	says, _ := phrase.Budget(reinforce.Budget{Eaten: 12}, false)
	say("%s", says)
	for _, why := range []schedule.Why{
		schedule.Due, schedule.Stuck, schedule.Neglected, schedule.Needed, schedule.Side, schedule.Turn, schedule.Fresh,
		schedule.Again, schedule.ByHand,
	} {
		say("%s", phrase.SheetWhy(why, 17))
	}
	for _, code := range []schedule.HintCode{
		schedule.HintTwoNew, schedule.HintLong, schedule.HintNoBreak, schedule.HintLively, schedule.HintFinish, schedule.HintWarm,
		schedule.HintProbe, schedule.HintFood, schedule.HintTime, schedule.HintWorries,
	} {
		say("%s", phrase.SheetHint(schedule.Hint{Code: code, Limit: 12}))
	}
	golden(t, "pay", out.String())
}
