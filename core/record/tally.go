package record

import (
	"fmt"

	"patientfox/core/reinforce"
	"patientfox/core/trial"
	"patientfox/core/work"
)

// tally spreads a count over its own block, which is exactly one set.
func (f *folder) tally(e placed, d *TallyData) {
	at, ok := f.today(e)
	if !ok {
		return
	}
	f.s.Tallied = append(f.s.Tallied, reinforce.Span{From: f.loggedTo(), To: f.at})
	_, def := f.book.Work(f.block.Skill, f.block.Definition)
	n := 0
	for _, part := range []struct {
		outcome trial.Outcome
		n       int
	}{{trial.Met, d.Met}, {trial.Late, d.Late}, {trial.Helped, d.Helped}, {trial.Missed, d.Missed}} {
		for range part.n {
			n++
			t := f.trialOf(e, Elsewhere{})
			t.ID = fmt.Sprintf("%s#%d", e.ID, n)
			t.Step, t.Rev, t.Outcome, t.Tapped, t.Tally = f.block.Position.Today, f.block.Steps[at].Rev, part.outcome, part.outcome, true
			t.Slow = part.outcome == trial.Late
			t.Waits, t.Judge = e.Dev != f.pen, f.block.Judge
			t.Unmeasured = t.Judge >= 2 && t.Outcome.Right() && work.Of(f.block.Kind).Unmeasured(def, f.block.Steps[at].Criteria, &t)
			f.add(t, nil)
		}
	}
}

// loggedTo is when the last thing of the block was logged that says what was done and paid (s). What a tally counts lies between that
// and the tally: nothing is known there of when it was paid, so that time is in no rate and in no gap.
func (f *folder) loggedTo() float64 {
	last := f.block.At
	for i := range f.s.Trials {
		if t := &f.s.Trials[i]; t.Block == f.block.ID {
			last = max(last, t.At)
		}
	}
	for _, p := range f.s.Pays {
		if p.Block == f.block.ID {
			last = max(last, p.At)
		}
	}
	return last
}
