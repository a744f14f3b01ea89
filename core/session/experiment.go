package session

import (
	"slices"

	"patientfox/core/experiment"
	"patientfox/core/record"
	"patientfox/core/trial"
)

// assigned is what a block is given of an experiment: the first of the plan in a session that teaches, worked alone and at the plan's own
// steps.
func (r *Run) assigned(c Choice, mode record.Mode) *experiment.Assigned {
	before := slices.ContainsFunc(r.s.Blocks, func(b *record.Block) bool { return b.Plan == r.pack.Plan })
	if mode != record.Train || before || c.With || c.Interlude > 0 || c.Deck || c.Finish {
		return nil
	}
	return r.pack.Experiment.Next()
}

// Way is which way of an experiment the next trial has, and how many trials of its set there were; ok is false outside one.
func (r *Run) Way() (given experiment.Assigned, way experiment.Way, of int, ok bool) {
	b := r.Block()
	if b == nil || b.Experiment == nil {
		return given, 0, 0, false
	}
	n := len(Tried(r.s.Trials, b.ID))
	way, ok = b.Experiment.At(n)
	return *b.Experiment, way, n % b.Experiment.Each, ok
}

// Tried are the trials of a block that an experiment counts: those that count, but for a tally.
func Tried(trials []trial.Trial, block string) (list []trial.Trial) {
	for i := range trials {
		if t := &trials[i]; t.Block == block && t.Counted() && !t.Tally {
			list = append(list, *t)
		}
	}
	return list
}
