package session

import (
	"patientfox/core/decision"
	"patientfox/core/pack"
	"patientfox/core/progression"
	"patientfox/core/record"
	"patientfox/core/trial"
)

// What decides in a block that does not teach, and before the work; a reader knows that no rule of the plan did.
const (
	ByPlacing decision.Kind = "place"
	ByProbe   decision.Kind = "probe"
	ByLooking decision.Kind = "baseline"
	ByWarmUp  decision.Kind = "warmup"
)

// Doing is what the running block is for.
func (r *Run) Doing() record.Mode {
	b := r.Block()
	if b == nil || b.Doing == record.Probe && r.Probed(b) {
		return record.Train
	}
	return b.Doing
}

// Probed tells whether the block's probe has been answered.
func (r *Run) Probed(b *record.Block) bool {
	for _, v := range r.s.Verdicts {
		if v.Block == b.ID && v.Recommended != string(decision.Repeat) {
			return true
		}
	}
	return false
}

// decideMode answers in a block that does not teach.
func (r *Run) decideMode(b *record.Block) Decided {
	var d Decided
	var trials []trial.Trial
	switch r.Doing() {
	case record.Placing:
		var tries []decision.Try
		for t := range trial.Each(r.s.Trials) {
			if t.Block == b.ID && !t.Waits {
				tries = append(tries, decision.Try{ID: t.ID, Step: progression.Index(b.Steps, t.Step), Outcome: t.Outcome})
				trials = append(trials, *t)
			}
		}
		d = Decided{Rule: decision.Rule{Kind: ByPlacing}, Decision: decision.PlaceAt(tries, r.top(b.Steps)+1)}
	case record.Probe:
		trials = r.TrialsAt(b, b.Position.Today, "")
		d = Decided{Rule: decision.Rule{Kind: ByProbe}, Decision: decision.Maintain(trials, len(b.Steps)-1)}
	default:
		return Decided{Rule: decision.Rule{Kind: ByLooking}, Decision: decision.Decision{Verdict: decision.Repeat}}
	}
	d.Trials = trials
	d.Logged, d.Unlogged = r.coverage(trials)
	d.Due = d.Due && len(trials) > 0 && r.lastIsIn(trials, &d.Trial)
	for _, v := range r.s.Verdicts {
		d.Answered = d.Answered || v.Trial == d.Trial && d.Trial != ""
	}
	return d
}

// tries is the move to the next step to try while a dog is placed, none where the dog is on it already.
func (r *Run) tries() []record.Draft {
	if r.Doing() != record.Placing || r.now.Verdict != decision.Repeat {
		return nil
	}
	place, steps := r.Position()
	if to := steps[min(r.now.To, len(steps)-1)].ID; to != place.Today {
		return []record.Draft{record.NewDraft(record.KMove, record.MoveData{From: place.Today, To: to, Why: progression.WhyTry})}
	}
	return nil
}

// Rehearsal is the safety step that the block's handler may only rehearse, nil for none: nobody has shown it to them.
func (r *Run) Rehearsal() *progression.Step {
	place, steps := r.Position()
	if at := r.pack.Rehearses(steps, place.Reached); at >= 0 {
		return &steps[at]
	}
	return nil
}

// rehearses tells whether the work can go over to a rehearsal of the next step, or back from it. Where the ladder begins with that step
// there is nothing else.
func (r *Run) rehearses() bool {
	b := r.Block()
	if b.Interlude > 0 || len(r.Lanes()) > 0 || r.OverThreshold() || r.Stopped() {
		return false
	}
	to := r.Rehearsal()
	return to != nil && to.ID != b.Steps[0].ID && (r.Doing() == record.Train || r.Doing() == record.Rehearsal)
}

// rehearse goes over to a rehearsal of the next step, or back from it.
func (r *Run) rehearse() (drafts []record.Draft) {
	mode := string(record.Rehearsal)
	if r.Doing() == record.Rehearsal {
		mode = pack.Train
	}
	begun, problem := r.Begin(Choice{Handler: r.handler(), Mode: mode, Food: r.s.Food})
	if problem != nil {
		return nil
	}
	r.armed.Done, r.armed.Part = false, ""
	if r.now.Due && !r.now.Answered {
		drafts = append(drafts, r.verdict(r.leftAs()))
	}
	return append(drafts, begun...)
}

// leads is the move that a verdict of placing or of a probe means, by a number of steps beside the one advised.
func (r *Run) leads(why progression.Why, by int) []record.Draft {
	place, steps := r.Position()
	to := max(0, min(r.now.To+by, r.top(steps)))
	return []record.Draft{record.NewDraft(record.KMove, record.MoveData{From: place.Today, To: steps[to].ID, Why: why})}
}

// beginAt takes a step beside the one advised.
func (r *Run) beginAt(by int, action decision.Verdict) []record.Draft {
	return append([]record.Draft{r.verdict(string(action))}, r.leads(progression.WhyPlaced, by)...)
}
