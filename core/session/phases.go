package session

import (
	"patientfox/core/record"
	"patientfox/core/trial"
	"patientfox/core/work"
)

// PhaseNow is the phase of the trial under way: its number from 1, how many there are, and since when it goes on, s. of is 0 where trials
// have none.
func (r *Run) PhaseNow() (phase work.Phase, number, of int, since float64) {
	b, o := r.Block(), r.s.Trying
	if b == nil || o == nil || len(b.Phases) < 2 {
		return phase, 0, 0, 0
	}
	if since = o.From; len(o.Phases) > 0 {
		since = o.PhaseAt
	}
	at := min(len(o.Phases), len(b.Phases)-1)
	if phase = b.Phases[at]; phase.Step {
		phase.Seconds = r.Seconds()
	}
	return phase, at + 1, len(b.Phases), since
}

// midway tells whether the trial under way has another phase to come.
func (r *Run) midway() bool {
	_, number, of, _ := r.PhaseNow()
	return number < of
}

// phaseOver ends a phase that is not the last, with an outcome, and pays one that was met.
func (r *Run) phaseOver(o trial.Outcome) []record.Draft {
	drafts := []record.Draft{record.NewDraft(record.KPhase, record.PhaseData{Outcome: o})}
	if o == trial.Met {
		drafts = append(drafts, r.pays(Earned{Pay: true})...)
	}
	return drafts
}

// phaseShown ends a phase of an exposure that is not the last, with a state, and pays it, whatever the dog showed.
func (r *Run) phaseShown(state int) []record.Draft {
	drafts := []record.Draft{record.NewDraft(record.KPhase, record.PhaseData{State: &state})}
	return append(drafts, r.pays(Earned{Pay: true})...)
}
