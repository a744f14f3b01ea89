package field

import (
	"fmt"
	"math"

	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/evidence"
	"patientfox/core/phrase"
	"patientfox/core/progression"
	"patientfox/core/record"
	"patientfox/core/reinforce"
)

// verdictView shows the verdict that waits, with its reason and what else could be done.
func (r *Run) verdictView() VerdictView {
	if !r.now.Due || r.now.answered || r.s.Trying != nil || r.s.Ended != nil {
		return VerdictView{}
	}
	v := VerdictView{
		Show: true, Word: phrase.Verdict(r.now.Verdict), Why: phrase.Why(r.now.Reasons),
		Coverage: phrase.Upper(phrase.Coverage(r.now.logged, r.now.unlogged)),
	}
	if r.phase() != Deciding {
		return v
	}
	v.More = r.now.Verdict != decision.Placed // that rests on easy trials
	switch r.now.Verdict {
	case decision.WorkHere, decision.MakeEasier, decision.GoElsewhere:
		v.More, v.Coverage = false, ""
		v.Why = phrase.Upper(fmt.Sprintf("%s of %s eager", phrase.Number(r.eager()), phrase.Number(len(r.s.Warm))))
		if r.now.Verdict != decision.WorkHere {
			v.Others = append(v.Others, Button{GoKey, "Work here", ""})
		}
		if r.now.Verdict != decision.MakeEasier && r.stepBy(-1) != nil {
			v.Others = append(v.Others, Button{BackKey, "One easier", ""})
		}
		return v
	case decision.Held:
		return v
	case decision.Placed:
		v.Others = r.placedElse()
		return v
	}
	place, steps := r.place()
	at := progression.Index(steps, place.Today)
	if waits := r.pack.Blocked[next(steps, at)]; r.now.Verdict == decision.StepUp && waits != "" {
		v.Why += ". But the next step waits: " + waits
	}
	v.Others = append(v.Others, Button{StayKey, "Stay here", ""})
	if r.now.Verdict != decision.StepBack && r.now.Verdict != decision.Stop && at > 0 {
		v.Others = append(v.Others, Button{BackKey, "Back one", ""})
	}
	if r.now.Verdict == decision.StepBack && at+1 < len(steps) {
		v.Others = append(v.Others, Button{UpKey, "Up one", ""})
	}
	if r.now.twoUp {
		v.Others = append(v.Others, Button{TwoUpKey, "Two up", ""})
	}
	return v
}

// Reckoning is what the verdict rests on, in full. It is worked out when somebody asks: that costs more than
// showing the screen.
func (r *Run) Reckoning() []string {
	reads := map[string]bool{}
	for _, id := range r.now.Reads {
		reads[id] = true
	}
	var trials []decision.Trial
	for _, t := range r.now.trials {
		if reads[t.ID] {
			trials = append(trials, t)
		}
	}
	word := "met"
	if r.pack.Kind.ByState() {
		word = "at ease"
	}
	return phrase.Reckoning(decision.Reckon(r.now.rule, trials, r.now.logged, r.now.unlogged), word)
}

func next(steps []progression.Step, at int) string {
	if at+1 < len(steps) {
		return steps[at+1].ID
	}
	return ""
}

func (r *Run) mainButton(at float64) Button {
	begin, mark := trialWords(r.pack.Kind)
	place, steps := r.place()
	here := max(0, progression.Index(steps, place.Today))
	switch r.phase() {
	case Warming:
		return Button{Main, "Eager", "offered itself, ate at once, paid"}
	case Trying:
		return r.tryingButton(mark, at)
	case Deciding:
		b := Button{Main, phrase.Verdict(r.now.Verdict), ""}
		switch {
		case r.now.Verdict == decision.StepUp && here+1 < len(steps):
			b.Sub = r.say().Short(steps[here+1].Criteria)
		case r.now.Verdict == decision.Held:
			b.Label, b.Sub = "It held", "it stays finished"
		case r.now.Verdict == decision.Placed:
			to := min(r.now.To, len(steps)-1)
			b.Label, b.Sub = fmt.Sprintf("Begin at step %d", to+1), r.say().Short(steps[to].Criteria)
		case r.now.rule.Kind == probing.Kind && r.now.Verdict == decision.StepBack:
			b.Sub = r.say().Short(steps[min(r.now.To, len(steps)-1)].Criteria)
		case r.now.Verdict == decision.StepBack && here > 0 && r.now.rule.Kind != decision.CountUp:
			b.Sub = r.say().Short(steps[here-1].Criteria)
		case r.now.Verdict == decision.Split:
			b.Sub = r.say().Short(progression.Half(steps, here))
		case r.now.Verdict == decision.Finished:
			b.Sub = "keep it, and probe it cold"
		case r.now.Verdict == decision.WorkHere:
			b.Sub = "begin the work"
		case r.now.Verdict == decision.MakeEasier:
			b.Sub = "further off, or a step lower"
			if below := r.stepBy(-1); below != nil {
				b.Sub = r.say().Short(below.Criteria)
			}
		case r.now.Verdict == decision.Stop:
			b.Sub = "leave, and feed on the way"
		case r.now.Verdict == decision.GoElsewhere:
			b.Sub = "nothing is asked here today"
		}
		return b
	case Paused:
		return Button{Main, "Go on", "end the break"}
	}
	switch {
	case r.stopped():
		return Button{Main, endHere, "no more of it today"}
	case r.s.Away != nil:
		return Button{Main, "It came back", "and offered again?"}
	case r.s.Taut != nil:
		return Button{Main, "Slack again", "and begin again"}
	case r.shapes():
		items, i := r.approximations()
		return Button{Main, phrase.Upper(items[min(i, len(items)-1)]), "mark it, and pay"}
	case r.pack.Kind == criteria.Handling:
		return Button{Main, "It offers", "the touch begins"}
	case r.pack.Kind == criteria.Counter:
		return Button{Main, "It is there", "first that, then food"}
	case r.comesFirst():
		return Button{Main, "Distraction", "it comes first"}
	case r.pack.Kind == criteria.Steadiness:
		return Button{Main, "Signal", "as you give it"}
	}
	return Button{Main, "Start", begin}
}

// tryingButton is the large key while a trial is under way.
func (r *Run) tryingButton(mark string, at float64) Button {
	o, c := r.s.Trying, r.step().Criteria
	kind := r.pack.Kind
	if kind == criteria.Handling {
		return Button{Main, phrase.States[0], mark}
	}
	if kind == criteria.Counter {
		return Button{Main, "Pay", "while it is on; a state ends it"}
	}
	if n := r.paces(); n > 0 && o.Counted.Paces+1 < n {
		return Button{Main, fmt.Sprintf("Pace %d", o.Counted.Paces+1), fmt.Sprintf("of %d", n)}
	}
	if kind == criteria.Attention {
		if at-o.From >= r.seconds()-evidence.Epsilon {
			return Button{Main, "Close it", phrase.Count(o.Counted.CheckIns, "check-in")}
		}
		return Button{Main, "Check-in", "mark it, and pay"}
	}
	if kind == criteria.Steadiness {
		switch {
		case o.Cues == 0:
			return Button{Main, "Signal", "as you give it"}
		case c.Has(criteria.Lead) && o.Out == nil:
			return Button{Main, "Distraction", "as it comes"}
		}
	}
	if r.doing() == record.Train && !r.earns(math.Inf(1), false).Pay && r.pack.PayAt(r.step().ID).Schedule.Way != reinforce.Best {
		mark = "met: praise, no food"
		if r.paidInside() {
			mark = "held and released"
		}
	}
	if kind == criteria.Steadiness {
		return Button{Main, "Release", mark}
	}
	return Button{Main, "Mark", mark}
}

// trialWords says what begins a trial of a kind of work, and what its mark means.
func trialWords(kind criteria.Kind) (begin, mark string) {
	switch kind {
	case criteria.Held:
		return "the hold begins", "held, released and paid"
	case criteria.Walking:
		return "as you set off", "all the paces, no pull, paid"
	case criteria.Shaping:
		return "as it begins to offer", "that one or better, paid"
	case criteria.Attention:
		return "the free minute begins", "as often as asked, paid"
	case criteria.Counter, criteria.Handling:
		return "it begins", "over, and paid"
	case criteria.Steadiness:
		return "as you give the signal", "kept its place, paid"
	}
	return "as you give the cue", "met, and paid"
}
