package app

import (
	"hash/fnv"
	"strings"

	"patientfox/core/criteria"
	"patientfox/core/evidence"
	"patientfox/core/phrase"
	"patientfox/core/reinforce"
	"patientfox/core/trial"
	"patientfox/internal/store"
)

// HereMet counts the trials at the reached step since it became that.
func (l Plan) HereMet(trials []store.Trial) (met, n int) {
	var outcomes []trial.Outcome
	for _, t := range l.Stretch(trials) {
		if !t.Easy {
			outcomes = append(outcomes, t.Outcome)
		}
	}
	tally := evidence.Count(outcomes)
	return tally.Met, tally.N()
}

// PayHere is how the reached step is paid.
func (l Plan) PayHere() reinforce.Strategy {
	pay, _ := l.Body.PayAt(l.Steps[l.Reached()].ID)
	return pay
}

// PaySeed makes the schedule of a step the same wherever it is worked out.
func PaySeed(parts ...string) uint64 {
	h := fnv.New64a()
	h.Write([]byte(strings.Join(parts, " ")))
	return h.Sum64()
}

// MetLatencies are the latencies of the met trials at a step, oldest first.
func (l Plan) MetLatencies(at int, trials []store.Trial) []float64 {
	var list []float64
	for _, t := range trials {
		if t.Step == l.Steps[at].ID && !t.Waits && t.LatencyS != nil && t.Outcome == trial.Met {
			list = append(list, *t.LatencyS)
		}
	}
	return list
}

// Cycle is one trial at a step from cue to cue, as the record says or as is usual; n is how many times between
// trials were measured.
func (l Plan) Cycle(at int, trials []store.Trial) (c reinforce.Cycle, n int) {
	var between []float64
	for i := 1; i < len(trials); i++ {
		a, b := trials[i-1], trials[i]
		if a.Block == b.Block && b.Step == l.Steps[at].ID && b.From > a.At {
			between = append(between, b.From-a.At)
		}
	}
	return l.Work().Cycle(l.Steps[at].Criteria, l.MetLatencies(at, trials), between)
}

// Inside says when a long hold is paid inside, "" where the trials themselves are enough or nothing is held.
func (l Plan) Inside(at int, pay reinforce.Strategy, c reinforce.Cycle) string {
	seconds := l.Steps[at].Criteria.Get(criteria.Duration)
	if !l.Work().Holds || !pay.NeedsInside(c) {
		return ""
	}
	return phrase.PayTimes(seconds, reinforce.PayTimes(seconds, pay.Band.Lo, PaySeed(l.ID, l.Steps[at].ID)), pay.Release)
}

// Cycles are the cycles of all steps.
func (l Plan) Cycles(trials []store.Trial) []reinforce.Cycle {
	cycles := make([]reinforce.Cycle, len(l.Steps))
	for i := range l.Steps {
		cycles[i], _ = l.Cycle(i, trials)
	}
	return cycles
}
