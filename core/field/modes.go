package field

import (
	"fmt"

	"patientfox/core/decision"
	"patientfox/core/pack"
	"patientfox/core/progression"
	"patientfox/core/record"
	"patientfox/core/say"
	"patientfox/core/trial"
	"patientfox/core/work"
)

// modes lists what a session can be for, as options with the mode as their id.
func modes(p *pack.Pack) []pack.Option {
	list := []pack.Option{
		{ID: pack.Train, Name: "Teach"}, {ID: string(record.Placing), Name: "Place: find where to begin"},
		{ID: string(record.Baseline), Name: "Baseline: look, do not teach"},
	}
	if p.Finished {
		list = append([]pack.Option{{ID: string(record.Probe), Name: "Probe: is it still there, cold?"}}, list...)
	}
	return list
}

// saysOf is what is said of a mode that does not teach.
func saysOf(p *pack.Pack, mode record.Mode) string {
	switch mode {
	case record.Placing:
		return "One easy trial at every third step until one is not met. Then it begins two below the last that was."
	case record.Baseline:
		return "A few trials as the dog is: nothing is taught or paid, and no rule counts them."
	}
	says := "One cold trial. Met, the gap doubles. Missed, repeat it twice at once: both met keeps the gap, else it goes back two steps."
	if p.Steps[len(p.Steps)-1].Safety {
		says += " Always on a line."
	}
	return says
}

// place and probe name what decides in a block that does not teach; a reader knows that no rule of the plan did.
var (
	placing = decision.Rule{Kind: "place"}
	probing = decision.Rule{Kind: "probe"}
	looking = decision.Rule{Kind: "baseline"}
)

// doing is what the running block is for.
func (r *Run) doing() record.Mode {
	b := r.block()
	if b == nil || b.Doing == record.Probe && r.probed(b) {
		return record.Train
	}
	return b.Doing
}

// probed tells whether the block's probe has been answered.
func (r *Run) probed(b *record.BlockRead) bool {
	for _, v := range r.s.Verdicts {
		if v.Block == b.ID && v.Advice != string(decision.Repeat) {
			return true
		}
	}
	return false
}

// decideMode answers in a block that does not teach.
func (r *Run) decideMode(b *record.BlockRead) decided {
	var d decided
	var trials []trial.Trial
	switch r.doing() {
	case record.Placing:
		var tries []decision.Try
		for _, t := range r.s.Trials {
			if t.Block == b.ID && !t.Waits {
				tries = append(tries, decision.Try{ID: t.ID, Step: progression.Index(b.Steps, t.Step), Outcome: t.Outcome})
				trials = append(trials, t)
			}
		}
		d = decided{rule: placing, Decision: decision.PlaceAt(tries, len(b.Steps))}
	case record.Probe:
		trials = r.trialsAt(b, b.Place.Today, "")
		d = decided{rule: probing, Decision: decision.Maintain(trials, len(b.Steps)-1)}
	default:
		return decided{rule: looking, Decision: decision.Decision{Verdict: decision.Repeat}}
	}
	d.trials = trials
	d.logged, d.unlogged = r.coverage(trials)
	d.Due = d.Due && len(trials) > 0 && r.lastIsIn(trials, &d.trial)
	for _, v := range r.s.Verdicts {
		d.answered = d.answered || v.Trial == d.trial && d.trial != ""
	}
	return d
}

// tries is the move to the next step to try while a dog is placed, none where it stands there.
func (r *Run) tries() []record.Draft {
	if r.doing() != record.Placing || r.now.Verdict != decision.Repeat {
		return nil
	}
	place, steps := r.place()
	if to := steps[min(r.now.To, len(steps)-1)].ID; to != place.Today {
		return []record.Draft{record.NewDraft(record.KMove, record.Move{From: place.Today, To: to, Why: progression.WhyTry})}
	}
	return nil
}

// leads is the move that a verdict of placing or of a probe means, none for a probe that held.
func (r *Run) leads(why progression.Why) []record.Draft {
	place, steps := r.place()
	return []record.Draft{record.NewDraft(record.KMove, record.Move{From: place.Today, To: steps[min(r.now.To, len(steps)-1)].ID, Why: why})}
}

// placedElse are the steps beside the one at which the dog is to begin.
func (r *Run) placedElse() (others []work.Button) {
	_, steps := r.place()
	if r.now.To > 0 {
		others = append(others, work.Button{Key: work.BackKey, Label: fmt.Sprintf("At step %d", r.now.To)})
	}
	if r.now.To+1 < len(steps) {
		others = append(others, work.Button{Key: work.UpKey, Label: fmt.Sprintf("At step %d", r.now.To+2)})
	}
	return others
}

// beginAt takes a step beside the one advised.
func (r *Run) beginAt(by int, deed decision.Verdict) []record.Draft {
	drafts := []record.Draft{r.verdict(string(deed))}
	_, steps := r.place()
	r.now.To = max(0, min(r.now.To+by, len(steps)-1))
	return append(drafts, r.leads(progression.WhyPlaced)...)
}

// modeWhere says which step is asked in a block that does not teach.
func (r *Run) modeWhere(step, of int) string {
	switch r.doing() {
	case record.Placing:
		return fmt.Sprintf("Placing · step %d of %d", step, of)
	case record.Baseline:
		return fmt.Sprintf("Baseline · step %d of %d · not paid", step, of)
	case record.Probe:
		return fmt.Sprintf("Probe · step %d of %d, cold", step, of)
	}
	return ""
}

// modeSet shows the block's trials where no set is counted.
func (r *Run) modeSet(b *record.BlockRead) SetView {
	var shown []trial.Trial
	for _, t := range r.s.Trials {
		if t.Block == b.ID {
			shown = append(shown, t)
		}
	}
	v := SetView{Label: say.Count(len(shown), "trial"), Places: members(shown[max(0, len(shown)-5):])}
	for len(v.Places) < 5 {
		v.Places = append(v.Places, SetMember{})
	}
	return v
}
