package field

import (
	"fmt"
	"math"

	"patientfox/core/decision"
	"patientfox/core/phrase"
	"patientfox/core/progression"
	"patientfox/core/record"
	"patientfox/core/reinforce"
	"patientfox/core/say"
	"patientfox/core/trial"
	"patientfox/core/work"
)

// verdictView shows the verdict that waits, with its reason and what else could be done.
func (r *Run) verdictView() VerdictView {
	if !r.now.Due || r.now.answered || r.s.Trying != nil || r.s.Ended != nil {
		return VerdictView{}
	}
	v := VerdictView{
		Show: true, Word: phrase.Verdict(r.now.Verdict), Why: phrase.Why(r.now.Reasons),
		Coverage: say.Upper(phrase.Coverage(r.now.logged, r.now.unlogged)),
	}
	if r.phase() != Deciding {
		return v
	}
	v.More = r.now.Verdict != decision.Placed // that rests on easy trials
	switch r.now.Verdict {
	case decision.WorkHere, decision.MakeEasier, decision.GoElsewhere:
		v.More, v.Coverage = false, ""
		v.Why = say.Upper(fmt.Sprintf("%s of %s eager", say.Number(r.eager()), say.Number(len(r.s.Warm))))
		if r.now.Verdict != decision.WorkHere {
			v.Others = append(v.Others, work.Button{Key: work.GoKey, Label: "Work here"})
		}
		if r.now.Verdict != decision.MakeEasier && r.stepBy(-1) != nil {
			v.Others = append(v.Others, work.Button{Key: work.BackKey, Label: "One easier"})
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
	v.Others = append(v.Others, work.Button{Key: work.StayKey, Label: "Stay here"})
	if r.now.Verdict != decision.StepBack && r.now.Verdict != decision.Stop && at > 0 {
		v.Others = append(v.Others, work.Button{Key: work.BackKey, Label: "Back one"})
	}
	if r.now.Verdict == decision.StepBack && at+1 < len(steps) {
		v.Others = append(v.Others, work.Button{Key: work.UpKey, Label: "Up one"})
	}
	if r.now.twoUp {
		v.Others = append(v.Others, work.Button{Key: work.TwoUpKey, Label: "Two up"})
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
	var trials []trial.Trial
	for _, t := range r.now.trials {
		if reads[t.ID] {
			trials = append(trials, t)
		}
	}
	return phrase.Reckoning(decision.Reckon(r.now.rule, trials, r.now.logged, r.now.unlogged), r.work().Success())
}

func next(steps []progression.Step, at int) string {
	if at+1 < len(steps) {
		return steps[at+1].ID
	}
	return ""
}

func (r *Run) mainButton(at float64) work.Button {
	place, steps := r.place()
	here := max(0, progression.Index(steps, place.Today))
	switch r.phase() {
	case Warming:
		return work.Button{Key: work.Main, Label: "Eager", Sub: "offered itself, ate at once, paid"}
	case Trying:
		return r.tryingButton(at)
	case Deciding:
		b := work.Button{Key: work.Main, Label: phrase.Verdict(r.now.Verdict)}
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
		return work.Button{Key: work.Main, Label: "Go on", Sub: "end the break"}
	}
	switch {
	case r.stopped():
		return work.Button{Key: work.Main, Label: endHere, Sub: "no more of it today"}
	case r.s.Away != nil:
		return work.Button{Key: work.Main, Label: "It came back", Sub: "and offered again?"}
	case r.s.Taut != nil:
		return work.Button{Key: work.Main, Label: "Slack again", Sub: "and begin again"}
	}
	return r.work().Starting(r.moment(at))
}

// tryingButton is the large key while a trial is under way.
func (r *Run) tryingButton(at float64) work.Button {
	m := r.moment(at)
	if r.doing() == record.Train && !r.earns(math.Inf(1), false).Pay && r.pack.PayAt(r.step().ID).Schedule.Way != reinforce.Best {
		m.Marks = "met: praise, no food"
		if r.paidInside() {
			m.Marks = "held and released"
		}
	}
	return r.work().Marking(*m)
}
