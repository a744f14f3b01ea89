package work

import (
	"math"
	"slices"

	"patientfox/core/criteria"
	"patientfox/core/evidence"
	"patientfox/core/trial"
)

// JudgeNow is the judgement that new blocks are judged by. A block without one was judged by the first, which is 1.
const JudgeNow = 2

// How is how a trial came to its end, beside what was measured.
type How struct {
	Helped   bool               // help was given that the step did not plan
	Assisted bool               // help was given that it plans
	Spoils   []string           // the errors with which it is not met
	Released bool               // the trainer ended it; else the dog did, or nobody said
	Marked   bool               // it was marked
	Timed    bool               // it had been begun before it was closed, so that its times were taken
	Below    *criteria.Criteria // of the step below; nil at the first
}

// spoiledBy tells whether one of the errors makes a trial one that is not met.
func (how How) spoiledBy(errors []string) bool {
	return slices.ContainsFunc(errors, func(e string) bool { return slices.Contains(how.Spoils, e) })
}

// Judged is what a trial counts as.
type Judged struct {
	Outcome    trial.Outcome
	Above      bool // a card asked clearly more than the step
	Easy       bool // what was really asked was so much less, or more, than planned that no rate counts it
	Unmeasured bool // right, but without a measure that its step names
	Assisted   bool // right, but after the help that its step plans
}

// What a thumb and a set-up are good to.
const (
	thumbS = trial.ThumbS // s, nearer to a limit than this the key that was pressed decides
	minS   = 0.5          // s, by how much a time that people arrange must be off to make another task of it
	offBy  = 0.25         // share of the planned figure that makes another task of it in any case
	offAt1 = 0.10         // the same at the first step, towards the easier
)

// Judge turns what was tapped and measured in a trial into its outcome, by the judgement of its block (0 is 1), one version of the
// definition, and the criteria: void before missed before ended early before helped before late before met. Every measure that the
// step names is read, whatever the kind of work; one that was not taken decides nothing. A tap never beats a measure upwards.
func (w *Work) Judge(judge int, def criteria.Definition, c criteria.Criteria, t *trial.Trial, how How) Judged {
	if judge < 2 {
		return w.judge1(def, c, t, how)
	}
	if t.Tapped == trial.Void {
		return Judged{Outcome: trial.Void}
	}
	j := Judged{Outcome: t.Tapped}
	switch {
	case t.State != nil:
		j = w.exposed(c, t)
	case t.Tapped == trial.Missed || t.Tapped == trial.LetGo:
	default:
		j.Outcome = w.measured(def, c, t, how)
		j.Unmeasured = (j.Outcome.Right() || j.Outcome == trial.Helped) && w.Unmeasured(def, c, t)
		j.Assisted = j.Outcome.Right() && c.Get(criteria.HelpAfter) > 0 && (how.Assisted || AfterPause(c, t))
	}
	off := away(c, t, how.Below)
	j.Easy = off < 0 || off > 0 && (j.Outcome != trial.Met || t.Card > 0) // trial.OffStep says why
	j.Above = off > 0 && t.Card > 0
	return j
}

// exposed is what an exposure counts as: at ease reads as met wherever outcomes are counted, anything else as missed. One that was
// taken short by the trainer while the dog was at ease was ended early. A dog that pulled away was not at ease.
func (w *Work) exposed(c criteria.Criteria, t *trial.Trial) Judged {
	switch {
	case t.Shown() > 1 || t.Pulled:
		return Judged{Outcome: trial.Missed}
	case c.Has(criteria.Duration) && t.HeldS != nil && *t.HeldS < asked(c, t, criteria.Duration)-thumbS:
		return Judged{Outcome: trial.LetGo}
	}
	return Judged{Outcome: trial.Met, Unmeasured: c.Has(criteria.Duration) && t.HeldS == nil}
}

// measured reads the measures of a trial that was not tapped as missed.
func (w *Work) measured(def criteria.Definition, c criteria.Criteria, t *trial.Trial, how How) trial.Outcome {
	near := evidence.Epsilon
	if t.Tapped != "" {
		near = thumbS
	}
	byTrainer := t.Tapped != "" || how.Released || how.Marked
	short := trial.Missed // what falls short was broken by the dog
	if byTrainer {
		short = trial.LetGo // or ended by the trainer
	}
	worst := trial.Met
	worse := func(o trial.Outcome) {
		if rank(o) > rank(worst) {
			worst = o
		}
	}
	if !w.Minutes && c.Has(criteria.Duration) && t.HeldS != nil && *t.HeldS < asked(c, t, criteria.Duration)-near {
		worse(short)
	}
	if t.Tapped == "" && w.Keeps && !byTrainer && (t.HeldS == nil || !c.Has(criteria.Duration)) {
		worse(trial.Missed) // it broke, and no figure says that it had done enough
	}
	if c.Has(criteria.Paces) {
		switch {
		case t.Pulls > 0:
			worse(trial.Missed)
		case t.Paces > 0 && float64(t.Paces) < asked(c, t, criteria.Paces)-evidence.Epsilon:
			worse(short)
		}
	}
	called := t.Tapped == trial.Helped // which ends a free minute, and says what it was
	if c.Has(criteria.CheckIns) && how.Timed && !called && float64(t.CheckIns) < c.Get(criteria.CheckIns)-evidence.Epsilon {
		worse(w.minute(c, t))
	}
	if c.Has(criteria.Approx) && t.Offered != nil && float64(*t.Offered) < c.Get(criteria.Approx)-evidence.Epsilon {
		if how.Marked {
			worse(trial.LetGo)
		} else {
			worse(trial.Missed)
		}
	}
	unseen := t.Tapped == "" && w.OnCue && t.LatencyS == nil // no answer was seen
	if unseen || how.spoiledBy(t.Errors) {
		worse(trial.Missed)
	}
	if how.Helped || t.Broke == trial.ByLine {
		worse(trial.Helped)
	}
	limit, limited := def.Limit(c)
	if t.LatencyS != nil && def.MissedS > 0 && *t.LatencyS > max(def.MissedS, limit)+near {
		worse(trial.Missed)
	}
	if t.Cues > def.CuesAllowed() || limited && t.LatencyS != nil && *t.LatencyS > limit+near {
		worse(trial.Late)
	}
	if t.Tapped != "" {
		worse(t.Tapped)
	}
	return worst
}

// AfterPause tells whether an answer came only when the pause was over after which its step plans help.
func AfterPause(c criteria.Criteria, t *trial.Trial) bool {
	pause := c.Get(criteria.HelpAfter)
	return pause > 0 && t.LatencyS != nil && *t.LatencyS > pause+thumbS
}

// LateBy says by what a late trial is late: by its time, by a repeated cue, or by both. One that was tapped as slow is.
func LateBy(def criteria.Definition, c criteria.Criteria, t *trial.Trial) (slow, again bool) {
	if t.Outcome != trial.Late {
		return false, false
	}
	limit, limited := def.Limit(c)
	again = t.Cues > def.CuesAllowed()
	return !again || limited && t.LatencyS != nil && *t.LatencyS > limit+evidence.Epsilon, again
}

// minute is what a free minute with too few check-ins counts as: one that the trainer stopped before it was over says nothing.
func (w *Work) minute(c criteria.Criteria, t *trial.Trial) trial.Outcome {
	if t.HeldS != nil && *t.HeldS < w.Seconds(c)-thumbS {
		return trial.Void
	}
	return trial.Missed
}

// WorstOf is what a trial with phases was tapped as: the worst of them.
func WorstOf(tapped trial.Outcome, phases []trial.Phase) trial.Outcome {
	worst := tapped
	for _, p := range phases {
		if o := p.Read(); rank(o) > rank(worst) {
			worst = o
		}
	}
	return worst
}

// StepPhase is the place of the phase that lasts as long as the step asks, -1 where none does: the whole trial does then.
func StepPhase(phases []Phase) int {
	return slices.IndexFunc(phases, func(p Phase) bool { return p.Step })
}

// AskStep asks of a trial's phase what the step asks of its duration, and takes the seconds of that phase for those of the trial. A trial
// that ended before it came to that phase held nothing.
func AskStep(planned []Phase, c criteria.Criteria, t *trial.Trial) {
	at := StepPhase(planned)
	if at < 0 || !c.Has(criteria.Duration) {
		return
	}
	t.HeldS = nil
	if at < len(t.Phases) {
		p := &t.Phases[at]
		held := p.S
		p.Asked, t.HeldS = asked(c, t, criteria.Duration), &held
	}
}

// Spoiled names the phases for which a trial is what it is, none where it was met.
func Spoiled(t *trial.Trial) (names []string) {
	for _, p := range t.Phases {
		if o := p.Read(); o == t.Outcome && o != trial.Met {
			names = append(names, p.Name)
		}
	}
	return names
}

// rank orders outcomes by which wins: the gravest.
func rank(o trial.Outcome) int {
	for i, one := range []trial.Outcome{trial.Met, trial.Late, trial.Helped, trial.LetGo, trial.Missed, trial.Void} {
		if o == one {
			return i
		}
	}
	return 0
}

// asked is how much of a measure a trial had to reach: the criterion, or less where the trial asked for less.
func asked(c criteria.Criteria, t *trial.Trial, key criteria.Key) float64 {
	figure := c.Get(key)
	if target, varied := t.Asked[key]; varied {
		return math.Min(figure, target)
	}
	return figure
}

// Unmeasured tells whether a right trial lacks a measure that its step names.
func (w *Work) Unmeasured(def criteria.Definition, c criteria.Criteria, t *trial.Trial) bool {
	_, limited := def.Limit(c)
	switch {
	case c.Has(criteria.Duration) && t.HeldS == nil,
		c.Has(criteria.Paces) && t.Paces == 0,
		c.Has(criteria.Approx) && t.Offered == nil,
		c.Has(criteria.CheckIns) && t.CheckIns == 0 && t.HeldS == nil,
		c.Has(criteria.Lead) && t.LeadS == nil,
		c.Has(criteria.Out) && t.OutS == nil,
		limited && w.Answers && t.LatencyS == nil:
		return true
	}
	return false
}

// away tells whether the set-up came out as another task than planned: below 0 easier, above 0 harder, 0 as planned. It is easier where
// a figure lies nearer to the step below (at the first step: by a tenth), and in any case by a quarter; harder by a quarter. Times that
// people arrange must be off by minS at least.
func away(c criteria.Criteria, t *trial.Trial, below *criteria.Criteria) int {
	easier, harder := false, false
	look := func(key criteria.Key, was, least float64) {
		d, known := c.Dimension(key)
		if !c.Has(key) && below != nil && below.Has(key) {
			d, known = below.Dimension(key) // with the plan's own words
		}
		planned := Planned(c, d)
		by := math.Abs(was - planned)
		if !known || !c.Has(key) && !d.Fades || d.Harder == 0 || by < least || by < evidence.Epsilon {
			return
		}
		far := by > offBy*math.Abs(planned)
		switch {
		case (was > planned) == (d.Harder > 0):
			harder = harder || far
		case far, below == nil && by > offAt1*math.Abs(planned),
			below != nil && below.Has(key) && math.Abs(was-below.Get(key)) < by:
			easier = true
		}
	}
	timed := func(key criteria.Key, was *float64) {
		if dealt, ok := t.Asked[key]; was == nil && t.Card > 0 && ok {
			was = &dealt // nothing was measured: it was as the card has it
		}
		if was != nil {
			look(key, *was, minS)
		}
	}
	timed(criteria.Lead, t.LeadS)
	timed(criteria.Out, t.OutS)
	for key, was := range t.Worked {
		look(key, was, 0)
	}
	switch {
	case harder: // one thing harder is another task, whatever else was eased
		return 1
	case easier:
		return -1
	}
	return 0
}
