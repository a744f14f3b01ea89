package phrase_test

import (
	"fmt"
	"math"
	"strings"
	"testing"

	"patientfox/core/criteria"
	"patientfox/core/fit"
	"patientfox/core/load"
	"patientfox/core/phrase"
)

func TestSentencesOfLoad(t *testing.T) {
	var b strings.Builder
	tell := func(format string, args ...any) { fmt.Fprintf(&b, format+"\n", args...) }
	for _, n := range []int{0, 7, 90} {
		tell("%s", phrase.Ahead(load.Chance{P: 0.62, Lo: 0.484, Hi: 0.75}, n, "met"))
	}
	tell("%s", phrase.Ahead(load.Chance{P: 0.99, Lo: 0.99, Hi: 0.99}, 90, "met"))
	tell("%s", phrase.Ahead(load.Chance{P: 0.3, Lo: 0.1, Hi: 0.6}, 40, "at ease"))
	step := criteria.Criteria{}.With(criteria.Help, 3)
	at := load.Conditions{TriggerM: 12, Intensity: 3, Moving: true, Value: 2, Rate: 4}
	levers := []load.Lever{
		{Term: load.Distance, Can: true, Value: 30.2}, {Term: load.Intensity, Can: true, Value: 1}, {Term: load.Intensity, Can: true},
		{Term: load.Moving, Can: true}, {Term: load.Value, Can: true, Value: 5, Beyond: true}, {Term: load.Rate, Can: true, Value: 8.5},
		{Term: load.Help, Can: true, Value: 0.4}, {Term: load.Help},
	}
	for _, units := range []criteria.Units{{}, {Length: criteria.InFeet}} {
		for _, l := range levers {
			tell("%s", phrase.In(units).Lever(l, at, step))
		}
		tell("%s", phrase.In(units).Threshold(40, 33, 20.4, 70, true))
	}
	tell("%s", phrase.Words{}.Lever(levers[0], load.Conditions{Intensity: 2}, step))
	tell("%s | %s", phrase.NoLever(levers), phrase.NoLever(nil))
	tell("%s", phrase.NoLever([]load.Lever{{Term: load.Distance}, {Term: load.Rate}}))
	tell("%s | %s", phrase.Words{}.Threshold(40, 33, 20, math.Inf(1), true), phrase.Words{}.Threshold(40, 90, 20, 100, true))
	tell("%s", phrase.Words{}.Threshold(40, 0, 0, 0, false))
	m := fit.Usual()
	m.Fixed[load.Rate] = true
	m.Cov[load.Value][load.Value], m.Cov[load.Novelty][load.Novelty] = 0.01, 0.09
	for term := load.Distance; term < load.Terms; term++ {
		tell("%s: %s", phrase.Effect(term), phrase.Known(m, term))
	}
	tell("%s", phrase.Calibrated(0.2, 0.21, 150))
	tell("%s", phrase.Calibrated(0.2, 0.21, 300))
	tell("%s", phrase.Calibrated(0.23, 0.21, 300))
	golden(t, "load", b.String())
}
