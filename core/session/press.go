package session

import (
	"fmt"
	"hash/fnv"
	"slices"
	"strings"

	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/progression"
	"patientfox/core/record"
	"patientfox/core/trial"
	"patientfox/core/work"
)

// trialKeys begin a trial, or are one.
var trialKeys = []work.Key{
	work.Main, work.MetKey, work.LateKey, work.HelpKey, work.MissKey, work.VoidKey, work.ShortKey,
	work.ExpectKey, work.TakeKey,
}

// meant is the key that is pressed by one of a remote.
func (r *Run) meant(key work.Key) work.Key {
	switch {
	case key != work.WrongKey:
		return key
	case r.Block() == nil || r.Phase() == Warming:
		return work.MissKey
	}
	return r.Kind().Wrong(r.Moment(0))
}

// Means tells whether a key means anything now.
func (r *Run) Means(key work.Key) bool {
	phase := r.Phase()
	key = r.meant(key)
	if r.Helps() {
		return phase != Setup && phase != Over && slices.Contains(helperKeys, key) && (key != work.UndoKey || len(r.log.LastPressOf(r.dev)) > 0)
	}
	if r.Stopped() && slices.Contains(trialKeys, key) {
		return false
	}
	idle, trying, deciding := phase == Idle, phase == Trying, phase == Deciding
	switch key {
	case work.Main: // which ends the session where the dog warned
		return phase != Setup && phase != Over && !(idle && r.Warned())
	case work.LateKey, work.MissKey:
		return idle || trying || phase == Warming
	case work.HelpKey:
		return idle || trying || phase == Warming && len(r.s.Warm) == 0
	case work.MetKey, work.VoidKey:
		return idle || trying
	case work.ShortKey:
		return trying && !r.Kind().ByState && r.Block().Judge >= 2
	case work.PayKey:
		return idle || trying || deciding || phase == Recovering
	case work.UndoKey:
		return phase != Over && len(r.log.LastPressOf(r.dev)) > 0
	case work.BreakKey:
		return idle || deciding || phase == Paused
	case work.CueKey:
		return trying && r.Kind().OnCue
	case work.OfferKey:
		return (idle || deciding) && r.Kind().OnCue
	case work.EasyKey:
		return (idle || deciding) && r.StepBy(-1) != nil && (r.Doing() != record.Rehearsal || r.rehearses())
	case work.GoKey:
		return deciding && r.now.Rule.Kind == ByWarmUp
	case work.HardKey:
		return (idle || deciding) && r.StepBy(+1) != nil && !r.Capped() && !r.OverThreshold()
	case work.StayKey:
		return deciding
	case work.BackKey:
		return deciding && (r.StepBy(-1) != nil || r.now.Verdict == decision.Placed)
	case work.UpKey:
		return deciding && (r.StepBy(+1) != nil || r.now.Verdict == decision.Placed) && !r.OverThreshold()
	case work.TwoUpKey:
		return deciding && r.now.TwoUp && !r.OverThreshold()
	}
	if means, known := r.says(key); known {
		return means
	}
	return r.meansOwn(key, phase)
}

// A cold thumb bounces: the large key, which changes its meaning with each press, rests this long, in
// ms, before it means something new. A mark may follow a start sooner, as a dog may.
const (
	restsFor        = 400
	restsAfterStart = 200
)

// Resting tells whether the large key was pressed so short a time ago that this is the same press.
func (r *Run) Resting(atMS int64) bool {
	last, ok := r.log.LastPressAt(r.dev)
	rest := int64(restsFor)
	if r.Phase() == Trying {
		rest = restsAfterStart
	}
	return ok && atMS >= last && atMS-last < rest
}

// Press answers a key with the events that it means, none where it means nothing now. atMS is the
// session's clock in ms.
func (r *Run) Press(key work.Key, atMS int64) []record.Draft {
	key = r.meant(key)
	if !r.Means(key) || key == work.Main && r.Resting(atMS) {
		return nil
	}
	drafts := r.pressed(key, atMS)
	if slices.ContainsFunc(drafts, begins) {
		if r.s.Away != nil {
			drafts = append([]record.Draft{counted(trial.CameBack)}, drafts...) // a dog that works has come back
		}
		drafts = append(r.endsPlay(float64(atMS)/1000), drafts...)
	}
	_, says := r.says(key)
	if len(drafts) > 0 && key != work.UndoKey && !strings.HasPrefix(string(key), Instead) && !says {
		drafts = append(slices.Clone(r.inTurn), drafts...)
	}
	return drafts
}

// begins tells whether an event is of a trial.
func begins(d record.Draft) bool {
	return d.Kind == record.KCue || d.Kind == record.KTrigger || d.Kind == record.KTrial || d.Kind == record.KExposure
}

func (r *Run) pressed(key work.Key, atMS int64) []record.Draft {
	if r.Helps() {
		return r.assist(key)
	}
	at := float64(atMS) / 1000
	if phase := r.Phase(); phase == Recovering &&
		(key == work.Main || r.meansOwn(key, phase) && key != work.SlowKey && key != work.RefusedKey) {
		return r.recover(key, at)
	}
	switch key {
	case work.Main:
		return r.next(at)
	case work.UndoKey:
		return r.undo()
	case work.PayKey:
		if ends := r.endsPlay(at); len(ends) > 0 {
			return ends
		}
		return r.pays(Earned{Pay: true})
	case work.BreakKey:
		if r.s.Paused {
			return []record.Draft{record.NewDraft(record.KResume, struct{}{})}
		}
		return append(r.endsPlay(at), record.NewDraft(record.KPause, struct{}{}))
	case work.OfferKey:
		return []record.Draft{counted(trial.Offer)}
	case work.CueKey:
		return []record.Draft{record.NewDraft(record.KCue, record.CueData{N: r.s.Trying.Cues + 1})}
	case work.VoidKey:
		return r.outcome(trial.Void, at)
	case work.ShortKey:
		return r.outcome(trial.LetGo, at)
	case work.EasyKey:
		if r.Doing() == record.Rehearsal {
			return r.rehearse()
		}
		return r.byHand(-1, decision.StepBack)
	case work.HardKey:
		return r.byHand(+1, decision.StepUp)
	case work.HelpKey:
		if r.Phase() == Trying && r.Kind().Prompted() {
			return r.prompts(at)
		}
		return r.judged(key, at)
	case work.MetKey, work.LateKey, work.MissKey:
		return r.judged(key, at)
	case work.StayKey, work.BackKey, work.UpKey, work.TwoUpKey, work.GoKey:
		return r.overrule(key)
	}
	if drafts, known := r.say(key); known {
		return drafts
	}
	return r.own(key, at)
}

// judged answers the keys of outcomes, which are states with exposures and answers in a warm-up.
func (r *Run) judged(key work.Key, at float64) []record.Draft {
	i := 0
	for key != []work.Key{work.MetKey, work.LateKey, work.HelpKey, work.MissKey}[i] {
		i++
	}
	switch {
	case r.Phase() == Warming && key == work.HelpKey:
		return []record.Draft{r.verdict(Skipped)}
	case r.Phase() == Warming:
		return r.warm([]decision.Answer{decision.AnswerEager, decision.AnswerSlow, "", decision.AnswerNone}[i], at)
	case r.Kind().ByState:
		return r.exposure(i+1, trial.Touch{})
	case key == work.MetKey && r.shapes():
		return r.idle(at)
	}
	return r.outcome([]trial.Outcome{trial.Met, trial.Late, trial.Helped, trial.Missed}[i], at)
}

// next is what the large key means now.
func (r *Run) next(at float64) []record.Draft {
	switch r.Phase() {
	case Idle:
		return r.idle(at)
	case Trying:
		return r.does(r.Kind().Main(r.Moment(at)), at)
	case Warming:
		return r.warm(decision.AnswerEager, at)
	case Deciding:
		return r.take()
	case Paused:
		return []record.Draft{record.NewDraft(record.KResume, struct{}{})}
	}
	return nil
}

// outcome closes a trial, with the errors that the dog made. A met one is paid: the mark is the log. A hold that was released before its
// criterion asked for less on purpose: an easy trial.
func (r *Run) outcome(o trial.Outcome, at float64, errors ...string) []record.Draft {
	phase := r.Phase()
	if phase == Trying && r.midway() && o.Right() {
		return r.phaseOver(o)
	}
	var drafts []record.Draft
	target := r.Target()
	number, card := r.Card()
	closes := record.TrialData{
		Outcome: o, Errors: errors, Skill: r.asked(), Asked: work.CardAsked(card, target), Easy: r.Easy(),
		Worked: work.CardWorked(r.step().Criteria, card, r.asWorked()), Card: number,
	}
	if o == trial.Missed && len(errors) == 0 && phase == Trying && r.reachedAnyway(at) {
		closes.Outcome = "" // the measure speaks
	}
	if o == trial.Met && r.s.Trying != nil && r.s.Trying.Helped {
		closes.Outcome = trial.Helped // the mark is paid all the same
	}
	if o == trial.Missed && len(errors) == 0 && r.fetches() && r.onLine() {
		closes.After = work.ByTheLine // it was reeled in
	}
	switch {
	case phase == Idle && r.isTurn():
		drafts = r.starts()
	case phase == Idle && r.Doing() == record.Placing:
		drafts = r.tries()
	case phase == Idle && r.counting():
		drafts = r.take()
	case phase == Idle && r.now.Due && !r.now.Answered:
		drafts = append(drafts, r.verdict(string(decision.Repeat)))
	}
	if phase == Trying && o.Right() {
		if r.Kind().Holds || r.s.Trying.Mark != nil {
			drafts = append(drafts, record.NewDraft(record.KRelease, struct{}{}))
			closes.Easy = closes.Easy || r.Block().Judge < 2 && work.Easier1(r.step().Criteria, at-r.s.Trying.From)
		} else {
			drafts = append(drafts, record.NewDraft(record.KMark, struct{}{}))
		}
	}
	if paces := r.Paces(); o == trial.Met && paces > 0 && r.s.Trying != nil {
		closes.Paces = paces // all of them, whether each was pressed or not
	}
	if c := r.step().Criteria; (o.Right() || o == trial.Helped) && c.Has(criteria.Approx) {
		_, reached := work.Approximations(c)
		closes.Offered = &reached // the press says so, helped or not; one that was less has its own key, where trials are offers
	}
	drafts = append(drafts, record.NewDraft(record.KTrial, closes))
	if e := r.Earns(at, closes.Easy); o == trial.Met && e.Pay && !r.Kind().Along {
		drafts = append(drafts, r.pays(e)...)
	}
	return drafts
}

// exposure closes an exposure with what the dog showed, and pays it: first the stimulus, then food, every
// time, whatever the dog does. Over threshold it leaves, and is fed on the way.
func (r *Run) exposure(state int, touch trial.Touch) []record.Draft {
	if r.Phase() == Trying && r.midway() && state < 3 && !touch.Pulled {
		return r.phaseShown(state)
	}
	drafts := []record.Draft{}
	if r.Phase() == Idle {
		drafts = r.starts()
		if r.Kind().HandsOn {
			touch = r.touches(touch)
		}
	}
	r.refused = nil
	r.armed.Done, r.armed.Part = false, "" // what is really done belongs to one touch
	if r.armed.Round {
		r.armed.Site = "" // the next one is proposed
	}
	paid := r.PaidInside() || touch.Pulled || state == 4
	drafts = append(drafts, record.NewDraft(record.KExposure, record.ExposureData{State: state, Touch: touch, Worked: r.asWorked()}))
	if !paid {
		drafts = append(drafts, r.pays(Earned{Pay: true})...)
	}
	return drafts
}

// Today is the step that is asked now: today's, or the one of the site and tool that are chosen.
func (r *Run) Today() progression.Step { return r.step() }

func (r *Run) step() progression.Step {
	place, steps := r.Position()
	return steps[r.cell(steps, max(0, progression.Index(steps, place.Today)))]
}

// today is the step at which the dog stands, whatever site is chosen.
func (r *Run) today() progression.Step {
	place, steps := r.Position()
	return steps[max(0, progression.Index(steps, place.Today))]
}

func (r *Run) verdict(action string) record.Draft {
	return record.NewDraft(record.KVerdict, record.VerdictData{
		Recommended: string(r.now.Verdict), Action: action, Rule: encode(r.now.Rule), Reasons: encode(r.now.Reasons), Core: CoreVersion,
		Step: r.today().ID, Trial: r.now.Trial, TrialIDs: r.now.Reads, Clean: r.now.Clean,
	})
}

// counting tells whether a verdict of counting up waits that is taken by going on: at one more each time
// nobody answers after every trial.
func (r *Run) counting() bool {
	return r.now.Rule.Kind == decision.CountUp && r.now.Due && !r.now.Answered &&
		(r.now.Verdict == decision.StepUp || r.now.Verdict == decision.StepBack)
}

// Ahead is the step at which the next trial is asked: today's, or the one that counting leads to.
func (r *Run) Ahead() progression.Step {
	place, steps := r.Position()
	at := max(0, progression.Index(steps, place.Today))
	if r.tries() != nil && r.s.Trying == nil {
		return steps[min(r.now.To, len(steps)-1)]
	}
	if other, due := r.otherStep(); due && r.s.Trying == nil {
		return steps[max(0, progression.Index(steps, other))]
	}
	if r.counting() && r.s.Trying == nil {
		if r.now.Verdict == decision.StepUp {
			at = min(at+1, len(steps)-1)
		} else {
			at = min(r.now.To, len(steps)-1)
		}
	}
	return steps[r.cell(steps, at)]
}

// take does what the verdict says.
func (r *Run) take() []record.Draft {
	if r.now.Rule.Kind == ByWarmUp {
		return r.ready(r.now.Verdict)
	}
	if r.now.Verdict == decision.Split && !r.Halves() {
		return []record.Draft{r.verdict(string(decision.Repeat))}
	}
	drafts := []record.Draft{r.verdict(string(r.now.Verdict))}
	switch r.now.Verdict {
	case decision.StepUp:
		drafts = append(drafts, r.moves(+1, r.why(progression.WhyStepUp))...)
	case decision.Placed:
		drafts = append(drafts, r.leads(progression.WhyPlaced, 0)...)
	case decision.StepBack:
		switch r.now.Rule.Kind {
		case decision.CountUp:
			return append(drafts, r.restart())
		case ByProbe:
			return append(drafts, r.leads(progression.WhyStepBack, 0)...)
		}
		drafts = append(drafts, r.moves(-1, r.why(progression.WhyStepBack))...)
	case decision.Split:
		drafts = append(drafts, r.split())
	}
	return drafts
}

// restart begins a count again where the rule says.
func (r *Run) restart() record.Draft {
	_, steps := r.Position()
	return record.NewDraft(record.KMove, record.MoveData{
		From: r.today().ID, To: steps[min(r.now.To, len(steps)-1)].ID, Why: progression.WhyRestart,
	})
}

// why: on the way back up every move is regain.
func (r *Run) why(own progression.Why) progression.Why {
	if r.now.Regain {
		return progression.WhyRegain
	}
	return own
}

// overrule does something else than the verdict says; both are kept.
func (r *Run) overrule(key work.Key) []record.Draft {
	if r.now.Rule.Kind == ByWarmUp {
		if key == work.BackKey {
			return r.ready(decision.MakeEasier)
		}
		return r.ready(decision.WorkHere)
	}
	if r.now.Verdict == decision.Placed {
		switch key {
		case work.UpKey:
			return r.beginAt(+1, decision.StepUp)
		case work.BackKey:
			return r.beginAt(-1, decision.StepBack)
		}
	}
	switch key {
	case work.UpKey:
		return append([]record.Draft{r.verdict(string(decision.StepUp))}, r.moves(+1, progression.WhyHand)...)
	case work.BackKey:
		return append([]record.Draft{r.verdict(string(decision.StepBack))}, r.moves(-1, r.why(progression.WhyStepBack))...)
	case work.TwoUpKey:
		return append([]record.Draft{r.verdict("two_up")}, r.moves(+2, progression.WhyStepUp)...)
	}
	return []record.Draft{r.verdict(string(decision.Repeat))}
}

// byHand moves one step because the trainer says so.
func (r *Run) byHand(by int, action decision.Verdict) []record.Draft {
	moves := r.moves(by, progression.WhyHand)
	if r.now.Due && !r.now.Answered {
		return append([]record.Draft{r.verdict(string(action))}, moves...)
	}
	return moves
}

// StepBy is the step by places above today's, nil where there is none.
func (r *Run) StepBy(by int) *progression.Step {
	place, steps := r.Position()
	at := progression.Index(steps, place.Today)
	if to := at + by; at >= 0 && to >= 0 && to < len(steps) && (by <= 0 || to <= r.top(steps)) {
		return &steps[to]
	}
	return nil
}

func (r *Run) moves(by int, why progression.Why) []record.Draft {
	to := r.StepBy(by)
	if to == nil {
		return nil
	}
	return []record.Draft{record.NewDraft(record.KMove, record.MoveData{From: r.today().ID, To: to.ID, Why: why})}
}

// Halves tells whether today's step has anything to halve.
func (r *Run) Halves() bool {
	place, steps := r.Position()
	return progression.Halves(steps, max(0, progression.Index(steps, place.Today)))
}

// split makes the half step below today's and goes there.
func (r *Run) split() record.Draft {
	place, steps := r.Position()
	at := max(0, progression.Index(steps, place.Today))
	half := progression.Step{ID: r.newStepID(), Rev: 1, Criteria: progression.Half(steps, at), Safety: steps[at].Safety}
	return record.NewDraft(record.KMove, record.MoveData{
		From: place.Today, To: half.ID, Why: progression.WhySplit, New: &half, Above: place.Today,
	})
}

// newStepID makes a name for a step made in the field. It comes from the trial that made the split
// due, so that the same press on the same log makes the same step, on the phone and anywhere.
func (r *Run) newStepID() string {
	hash := fnv.New128a()
	hash.Write([]byte(r.s.ID + r.now.Trial + "half step"))
	sum := hash.Sum(nil)
	sum[6], sum[8] = sum[6]&0x0f|0x80, sum[8]&0x3f|0x80 // a version 8 UUID: made by rule
	return fmt.Sprintf("%x-%x-%x-%x-%x", sum[0:4], sum[4:6], sum[6:8], sum[8:10], sum[10:16])
}

// undo takes the last press back, with all that it meant.
func (r *Run) undo() []record.Draft {
	var drafts []record.Draft
	for _, id := range r.log.LastPressOf(r.dev) {
		drafts = append(drafts, record.NewDraft(record.KRetract, record.RetractData{Target: id}))
	}
	return drafts
}

// Note keeps a line of text.
func (r *Run) Note(text string) ([]record.Draft, *Problem) {
	text = strings.TrimSpace(text)
	switch n := len([]rune(text)); {
	case n == 0:
		return nil, &Problem{Field: "note", Code: NothingWritten}
	case n > criteria.MaxNote:
		return nil, &Problem{Field: "note", Code: TooLong, N: n, Most: criteria.MaxNote}
	}
	return []record.Draft{record.NewDraft(record.KNote, record.NoteData{Text: text})}, nil
}
