package screen

import (
	"fmt"
	"math"
	"slices"

	"patientfox/core/decision"
	"patientfox/core/phrase"
	"patientfox/core/progression"
	"patientfox/core/record"
	"patientfox/core/reinforce"
	"patientfox/core/say"
	"patientfox/core/session"
	"patientfox/core/trial"
	"patientfox/core/work"
)

// VerdictView is a verdict with its reason in one line.
type VerdictView struct {
	Show     bool          `json:"show"`
	Word     string        `json:"word"`
	Why      string        `json:"why"`
	Coverage string        `json:"coverage"`
	More     bool          `json:"more"` // Reckoning has the evidence for it
	Others   []work.Button `json:"others"`
}

// verdictView shows the verdict that waits, with its reason and what else could be done.
func (r Screen) verdictView() VerdictView {
	if !r.Now().Due || r.Now().Answered || r.Session().Trying != nil || r.Session().Ended != nil {
		return VerdictView{}
	}
	v := VerdictView{
		Show: true, Word: phrase.Verdict(r.Now().Verdict), Why: phrase.Why(r.Now().Reasons),
		Coverage: say.Upper(phrase.Coverage(r.Now().Logged, r.Now().Unlogged)),
	}
	if n := r.unmeasured(); n > 0 {
		v.Coverage += fmt.Sprintf("; %s without %s times", say.Count(n, "trial"), map[bool]string{true: "its", false: "their"}[n == 1])
	}
	if r.Phase() != session.Deciding {
		return v
	}
	v.More = r.Now().Verdict != decision.Placed // that rests on easy trials
	switch r.Now().Verdict {
	case decision.WorkHere, decision.MakeEasier, decision.GoElsewhere:
		v.More, v.Coverage = false, ""
		v.Why = r.readyWhy()
		if r.Now().Verdict != decision.WorkHere {
			v.Others = append(v.Others, work.Button{Key: work.GoKey, Label: "Work here"})
		}
		if r.Now().Verdict != decision.MakeEasier && r.StepBy(-1) != nil {
			v.Others = append(v.Others, work.Button{Key: work.BackKey, Label: "One easier"})
		}
		return v
	case decision.Held:
		return v
	case decision.Placed:
		v.Others = r.placedElse()
		return v
	}
	place, steps := r.Position()
	at := progression.Index(steps, place.Today)
	if waits := r.Pack().Blocked[next(steps, at)]; r.Now().Verdict == decision.StepUp && waits != "" {
		v.Why += ". But the next step waits: " + waits
	}
	if _, _, _, tried := r.Way(); tried && r.Now().Verdict == decision.StepUp {
		v.Why += ". " + phrase.StayForBoth
	}
	if r.Now().Verdict != decision.Split || r.Halves() { // else that is what the large key does
		v.Others = append(v.Others, work.Button{Key: work.StayKey, Label: "Stay here"})
	}
	if r.Now().Verdict != decision.StepBack && r.Now().Verdict != decision.Stop && at > 0 {
		v.Others = append(v.Others, work.Button{Key: work.BackKey, Label: "Back one"})
	}
	if r.Now().Verdict == decision.StepBack && at+1 < len(steps) {
		v.Others = append(v.Others, work.Button{Key: work.UpKey, Label: "Up one"})
	}
	if r.Now().TwoUp {
		v.Others = append(v.Others, work.Button{Key: work.TwoUpKey, Label: "Two up"})
	}
	v.Others = slices.DeleteFunc(v.Others, func(b work.Button) bool { return !r.Means(b.Key) })
	return v
}

// unmeasured counts the trials behind the verdict that were logged without a measure of their step.
func (r Screen) unmeasured() (n int) {
	for i := range r.Now().Trials {
		if t := &r.Now().Trials[i]; t.Unmeasured && slices.Contains(r.Now().Reads, t.ID) {
			n++
		}
	}
	return n
}

// Reckoning is the evidence behind the verdict. It is worked out when somebody asks: that costs more than
// showing the screen.
func (r Screen) Reckoning() []string {
	reads := map[string]bool{}
	for _, id := range r.Now().Reads {
		reads[id] = true
	}
	var trials []trial.Trial
	for t := range trial.Each(r.Now().Trials) {
		if reads[t.ID] || t.Ended() {
			trials = append(trials, *t)
		}
	}
	return phrase.Reckoning(decision.Reckon(r.Now().Rule, trials, r.Now().Logged, r.Now().Unlogged, r.Now().Reasons), r.Kind().Success())
}

func next(steps []progression.Step, at int) string {
	if at+1 < len(steps) {
		return steps[at+1].ID
	}
	return ""
}

func (r Screen) mainButton(at float64) work.Button {
	place, steps := r.Position()
	here := max(0, progression.Index(steps, place.Today))
	switch r.Phase() {
	case session.Warming:
		return work.Button{Key: work.Main, Label: "Eager", Sub: "offered itself, ate at once, paid"}
	case session.Trying:
		return r.tryingButton(at)
	case session.Deciding:
		b := work.Button{Key: work.Main, Label: phrase.Verdict(r.Now().Verdict)}
		switch {
		case r.Now().Verdict == decision.StepUp && here+1 < len(steps):
			b.Sub = r.say().Short(steps[here+1].Criteria)
		case r.Now().Verdict == decision.Held:
			b.Label, b.Sub = "It held", "it stays finished"
		case r.Now().Verdict == decision.Placed:
			to := min(r.Now().To, len(steps)-1)
			b.Label, b.Sub = fmt.Sprintf("Begin at step %d", to+1), r.say().Short(steps[to].Criteria)
		case r.Now().Rule.Kind == session.ByProbe && r.Now().Verdict == decision.StepBack:
			b.Sub = r.say().Short(steps[min(r.Now().To, len(steps)-1)].Criteria)
		case r.Now().Verdict == decision.StepBack && here > 0 && r.Now().Rule.Kind != decision.CountUp:
			b.Sub = r.say().Short(steps[here-1].Criteria)
		case r.Now().Verdict == decision.Split && !r.Halves():
			b.Label, b.Sub = "Stay here", "no figure to halve: pay better, or give the step one"
		case r.Now().Verdict == decision.Split:
			b.Sub = r.say().Short(progression.Half(steps, here))
		case r.Now().Verdict == decision.Finished:
			b.Sub = "keep it, and probe it cold"
		case r.Now().Verdict == decision.WorkHere:
			b.Sub = "begin the work"
		case r.Now().Verdict == decision.MakeEasier:
			b.Sub = "or a step lower"
			if below := r.StepBy(-1); below != nil {
				b.Sub = r.say().Short(below.Criteria)
			}
		case r.Now().Verdict == decision.Stop:
			b.Sub = "leave, and feed on the way"
		case r.Now().Verdict == decision.GoElsewhere:
			b.Sub = "nothing is asked here today"
		}
		return b
	case session.Paused:
		return work.Button{Key: work.Main, Label: "Go on", Sub: "end the break"}
	}
	switch {
	case r.Stopped(), r.Warned():
		return work.Button{Key: work.Main, Label: endHere, Sub: "no more of it today"}
	case r.Session().Away != nil:
		return work.Button{Key: work.Main, Label: "It came back", Sub: "and offered again?"}
	case r.Session().Taut != nil:
		return work.Button{Key: work.Main, Label: "Loose again", Sub: "and begin again"}
	}
	switch r.NextMove() {
	case session.Decoy:
		return work.Button{Key: work.Main, Label: "Decoy", Sub: "the same movement, and nothing follows"}
	case session.ToolShow:
		return work.Button{Key: work.Main, Label: "Show the tool", Sub: "paid, and away: no touch"}
	}
	return r.startButton(at)
}

// startButton is the large key between two trials.
func (r Screen) startButton(at float64) work.Button {
	b := r.Kind().Starting(r.Moment(at))
	switch block := r.Block(); {
	case !r.Kind().HandsOn || block == nil:
	case len(block.Phases) > 1: // a bath, a muzzle: no single touch
		b.Sub = fmt.Sprintf("“%s” begins", block.Phases[0].Name)
	case r.Site() == "":
		b.Sub = "it begins"
	}
	return b
}

// tryingButton is the large key while a trial is under way.
func (r Screen) tryingButton(at float64) work.Button {
	m := r.Moment(at)
	if r.Doing() == record.Train && !r.Earns(math.Inf(1), r.Easy()).Pay && r.Pack().PayAt(r.Today().ID).Schedule.Way != reinforce.Best {
		m.Pay = work.PaidNot
		if r.PaidInside() {
			m.Pay = work.PaidBefore
		}
	}
	if r.Session().Trying.Helped {
		m.Pay = work.PaidHelped
	}
	b := r.Kind().Marking(*m)
	if r.Kind().Along && r.InHand().Kind != reinforce.Food {
		b.Label = payKeys[r.InHand().Kind] // the large key pays
	}
	if phase, number, of, _ := r.PhaseNow(); of > 0 {
		b.Label, b.Sub = say.Upper(phase.Name), fmt.Sprintf("phase %d of %d is over, and paid", number, of)
	}
	return b
}

// placedElse are the steps beside the one at which the dog is to begin.
func (r Screen) placedElse() (others []work.Button) {
	_, steps := r.Position()
	if r.Now().To > 0 {
		others = append(others, work.Button{Key: work.BackKey, Label: fmt.Sprintf("At step %d", r.Now().To)})
	}
	if r.Now().To+1 < len(steps) {
		others = append(others, work.Button{Key: work.UpKey, Label: fmt.Sprintf("At step %d", r.Now().To+2)})
	}
	return others
}
