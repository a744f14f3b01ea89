package schedule

import (
	"patientfox/core/decision"
	"patientfox/core/library"
	"patientfox/core/progression"
	"patientfox/core/reinforce"
	"patientfox/core/work"
)

// Figures of candidates.
const (
	minTimed  = 10  // trials from which on a plan's pace is taken as measured
	usualSet  = 5   // trials, where neither the rule nor the kind of work says how many belong together
	exposureS = 5.0 // s that an exposure lasts where its step does not say
)

// Facts are what a plan's record says of it as a candidate.
type Facts struct {
	Plan, Main string
	Kind       work.Kind
	Steps      []progression.Step
	Reached    int // index of the reached step
	Body       library.Body
	Rung       int // how far the thinning of pay has come
	Days       int // since it was last worked; 0 today
	Never      bool
	First      bool // its handler never worked it: they open lower anyway, however long it was not worked
	Stopped    bool // the last session ended by a stop
	Halved     int  // steps down to a half step that was split off, 0 for none
	Finished   bool
	Due        bool // a finished skill whose probe is due
	Stuck      bool
	Tried      bool    // something was tried at the reached step
	Logged     int     // trials lately
	ActiveS    float64 // s that they took
}

// CandidateOf is a plan as a session could hold it. What other plans say of it, Needed and Waits, is left out.
func CandidateOf(f Facts) Candidate {
	at, kind := f.Reached, work.Of(f.Kind)
	if !f.Never {
		visit := decision.Visit{Reached: at, Steps: len(f.Steps), Days: f.Days, Stopped: f.Stopped, Halved: f.Halved}
		if f.First {
			visit.Days = 0
		}
		at, _ = decision.StartStep(visit)
	}
	step := f.Steps[at]
	pay, _ := f.Body.PayAt(step.ID)
	c := Candidate{
		Plan: f.Plan, Main: f.Main, Kind: f.Kind, Start: step.ID, StartAt: at, Days: f.Days, Never: f.Never,
		New: at == f.Reached && !f.Tried, Due: f.Due, Finished: f.Finished, Stuck: f.Stuck,
		Neglected: !f.Never && !f.Finished && IsNeglected(f.Days),
		Safety:    step.NeedsProof(), Set: usualSet, Lively: kind.Lively, Tier: pay.Tier,
		Share: pay.Schedule.At(f.Rung).PaidShare(), Pieces: pay.Piece(),
	}
	switch {
	case f.Body.Rule.Size > 0:
		c.Set = f.Body.Rule.Size
	case kind.Set > 0:
		c.Set = kind.Set
	}
	if f.Body.Arousal != "" {
		c.Lively = f.Body.Arousal == library.Lively
	}
	usual, _ := kind.Cycle(step.Criteria, nil, nil)
	if kind.ByState && usual.DurationS == 0 {
		usual.DurationS = exposureS
	}
	if c.CycleS = usual.Seconds(); f.Logged >= minTimed {
		c.CycleS = f.ActiveS / float64(f.Logged)
	}
	if kind.Holds && pay.NeedsInside(usual) {
		c.Inside = reinforce.PaysInside(usual.DurationS, pay.Band.Lo)
	}
	return c
}
