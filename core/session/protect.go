package session

import (
	"patientfox/core/decision"
	"patientfox/core/record"
	"patientfox/core/trial"
	"patientfox/core/work"
)

// Chance is what is known of how likely the cue is to be answered at today's step, or at something harder.
func (r *Run) Chance(harder bool) decision.Chance {
	c := decision.Chance{Unhelped: r.pack.Unhelped, Harder: harder}
	at, known := r.pack.ChanceAt(r.step(), r.s.Place, r.s.Food)
	if known {
		c.Expected, c.Lo, c.Hi = at.P, at.Lo, at.Hi
	}
	b := r.Block()
	if b == nil {
		for i := range r.pack.Stretch {
			if !known {
				c.Add(&r.pack.Stretch[i])
			}
		}
		return c
	}
	trials := r.pack.Stretched(r.s, b)
	if known || b.Position.Below() { // what was before is in what is expected
		trials = r.TrialsAt(b, b.Position.Today, "")
	}
	for i := range trials {
		c.Add(&trials[i])
	}
	for i := range r.s.Trials {
		if t := &r.s.Trials[i]; t.Counted() && t.Outcome != trial.Helped && r.s.PlanOf(t.Block) == r.pack.Plan {
			c.Unhelped++
		}
	}
	return c
}

// Protects tells whether the cue should not be given now, because it would likely not be answered: the dog is fetched instead.
func (r *Run) Protects() bool {
	phase := r.Phase()
	return r.fetches() && (phase == Idle || phase == Setup) && r.Chance(false).Protects()
}

// fetches tells whether the dog can be fetched instead of called.
func (r *Run) fetches() bool { return r.pack.Lifeline && r.Kind().OnCue }

// withheld logs that the cue was not given, and the dog fetched.
func (r *Run) withheld() []record.Draft { return r.starts(counted(trial.Withheld)) }

// onLine tells whether the dog is on a line: by today's step, or because that is rehearsed.
func (r *Run) onLine() bool {
	return work.OnLine(r.step().Criteria) || r.Doing() == record.Rehearsal && !r.Kind().HandsOn
}

// answeredRow is how many answers in a row, met or slow, let out a loop of the line.
const answeredRow = 2

// Loops tells whether the last answers were so many, with the line as it is, that a loop of it may be let out.
func (r *Run) Loops() bool {
	if r.Phase() != Idle || !r.Kind().OnCue || !work.OnLine(r.step().Criteria) {
		return false
	}
	now, _ := r.Worked(work.LineOut)
	n := 0
	for i := len(r.s.Trials) - 1; i >= 0 && n < answeredRow; i-- {
		t := &r.s.Trials[i]
		if t.Outcome == trial.Void || t.Waits {
			continue
		}
		if t.Block != r.Block().ID || !t.Outcome.Right() || t.Step != r.step().ID || t.Worked[work.LineOut.Key] != r.lineSaid(now) {
			return false
		}
		n++
	}
	return n == answeredRow
}

// lineSaid is the line let out as a trial has it: 0 where nobody said.
func (r *Run) lineSaid(now float64) float64 {
	if _, other := r.Worked(work.LineOut); !other {
		return 0
	}
	return now
}

// loop lets one out. It stands with the next trial.
func (r *Run) loop() { r.Alter(work.LineOut.Key, +1) }
