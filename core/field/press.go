package field

import (
	"fmt"
	"hash/fnv"
	"slices"
	"strings"

	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/evidence"
	"patientfox/core/progression"
	"patientfox/core/record"
)

// Key names what can be pressed. Which key of a keyboard or a remote that is, the page decides.
type Key string

// The keys.
const (
	Main Key = "main" // start, mark, take the verdict, resume: what comes next
	// With exposures, 1 to 4 are the states: at ease, wary, worried, over threshold.
	MetKey   Key = "met"
	LateKey  Key = "late"
	HelpKey  Key = "helped"
	MissKey  Key = "missed"
	VoidKey  Key = "void"
	PayKey   Key = "pay"
	UndoKey  Key = "undo"
	BreakKey Key = "break"
	EasyKey  Key = "easier"
	HardKey  Key = "harder"
	CueKey   Key = "cue" // once more
	StayKey  Key = "stay"
	BackKey  Key = "back"
	UpKey    Key = "up"
	TwoUpKey Key = "two_up"
	OfferKey Key = "offer" // the behaviour was offered without a cue
	GoKey    Key = "go"    // after a warm-up: work here all the same
)

// trialKeys begin a trial, or are one.
var trialKeys = []Key{Main, MetKey, LateKey, HelpKey, MissKey, VoidKey, ExpectKey, TakeKey}

// means tells whether a key means anything now.
func (r *Run) means(key Key) bool {
	phase := r.phase()
	if r.helps() {
		return phase != Setup && phase != Over && slices.Contains(helperKeys, key) && (key != UndoKey || len(r.log.LastPressOf(r.dev)) > 0)
	}
	if r.stopped() && slices.Contains(trialKeys, key) {
		return false
	}
	idle, trying, deciding := phase == Idle, phase == Trying, phase == Deciding
	switch key {
	case Main:
		return phase != Setup && phase != Over
	case LateKey, MissKey:
		return idle || trying || phase == Warming
	case HelpKey:
		return idle || trying || phase == Warming && len(r.s.Warm) == 0
	case MetKey, VoidKey:
		return idle || trying
	case PayKey:
		return idle || trying || deciding || phase == Recovering
	case UndoKey:
		return phase != Over && len(r.log.LastPressOf(r.dev)) > 0
	case BreakKey:
		return idle || deciding || phase == Paused
	case CueKey:
		return trying && r.pack.Kind == criteria.Cued
	case OfferKey:
		return (idle || deciding) && r.pack.Kind == criteria.Cued
	case EasyKey:
		return (idle || deciding) && r.stepBy(-1) != nil
	case GoKey:
		return deciding && r.now.rule.Kind == warming.Kind
	case HardKey:
		return (idle || deciding) && r.stepBy(+1) != nil && !r.capsHere()
	case StayKey:
		return deciding
	case BackKey:
		return deciding && (r.stepBy(-1) != nil || r.now.Verdict == decision.Placed)
	case UpKey:
		return deciding && (r.stepBy(+1) != nil || r.now.Verdict == decision.Placed)
	case TwoUpKey:
		return deciding && r.now.twoUp
	}
	return r.meansOwn(key, phase)
}

// A cold thumb bounces: the large key, which changes its meaning with each press, rests this long, in
// ms, before it means something new. A mark may follow a start sooner, as a dog may.
const (
	restsFor        = 400
	restsAfterStart = 200
)

// resting tells whether the large key was pressed so short a time ago that this is the same press.
func (r *Run) resting(atMS int64) bool {
	last, ok := r.log.LastPressAt(r.dev)
	rest := int64(restsFor)
	if r.phase() == Trying {
		rest = restsAfterStart
	}
	return ok && atMS >= last && atMS-last < rest
}

// Press answers a key with the events that it means, none where it means nothing now. atMS is the
// session's clock in ms.
func (r *Run) Press(key Key, atMS int64) []record.Draft {
	if !r.means(key) || key == Main && r.resting(atMS) {
		return nil
	}
	drafts := r.pressed(key, atMS)
	if len(drafts) > 0 && key != UndoKey && !strings.HasPrefix(string(key), instead) {
		drafts = append(slices.Clone(r.inTurn), drafts...)
	}
	return drafts
}

func (r *Run) pressed(key Key, atMS int64) []record.Draft {
	if r.helps() {
		return r.assist(key)
	}
	at := float64(atMS) / 1000
	if phase := r.phase(); phase == Recovering && (key == Main || r.meansOwn(key, phase) && key != SlowKey && key != RefusedKey) {
		return r.recover(key, at)
	}
	switch key {
	case Main:
		return r.next(at)
	case UndoKey:
		return r.undo()
	case PayKey:
		return []record.Draft{r.paid(earned{Pay: true})}
	case BreakKey:
		if r.s.Paused {
			return []record.Draft{record.NewDraft(record.KResume, struct{}{})}
		}
		return []record.Draft{record.NewDraft(record.KPause, struct{}{})}
	case OfferKey:
		return []record.Draft{counted(record.Offer)}
	case CueKey:
		return []record.Draft{record.NewDraft(record.KCue, record.Cue{N: r.s.Trying.Cues + 1})}
	case VoidKey:
		return r.outcome(evidence.Void, at)
	case EasyKey:
		return r.byHand(-1, decision.StepBack)
	case HardKey:
		return r.byHand(+1, decision.StepUp)
	case MetKey, LateKey, HelpKey, MissKey:
		return r.judged(key, at)
	case StayKey, BackKey, UpKey, TwoUpKey, GoKey:
		return r.overrule(key)
	}
	return r.own(key, at)
}

// judged answers the keys of outcomes, which are states with exposures and answers in a warm-up.
func (r *Run) judged(key Key, at float64) []record.Draft {
	i := 0
	for key != []Key{MetKey, LateKey, HelpKey, MissKey}[i] {
		i++
	}
	switch {
	case r.phase() == Warming && key == HelpKey:
		return []record.Draft{r.verdict(Skipped)}
	case r.phase() == Warming:
		return r.warm([]decision.Answer{decision.AnswerEager, decision.AnswerSlow, "", decision.AnswerNone}[i])
	case r.pack.Kind.ByState():
		return r.exposure(i+1, record.Touch{})
	case key == MetKey && r.shapes():
		return r.idle()
	}
	return r.outcome([]evidence.Outcome{evidence.Met, evidence.Late, evidence.Helped, evidence.Missed}[i], at)
}

// next is what the large key means now.
func (r *Run) next(at float64) []record.Draft {
	switch r.phase() {
	case Idle:
		return r.idle()
	case Trying:
		return r.trying(at)
	case Warming:
		return r.warm(decision.AnswerEager)
	case Deciding:
		return r.take()
	case Paused:
		return []record.Draft{record.NewDraft(record.KResume, struct{}{})}
	}
	return nil
}

// outcome closes a trial. A met one is paid: the mark is the log. A hold that was released before its
// criterion asked for less on purpose: an easy trial.
func (r *Run) outcome(o evidence.Outcome, at float64) []record.Draft {
	phase := r.phase()
	var drafts []record.Draft
	target := r.Target()
	trial := record.Trial{Outcome: o, Skill: r.asked(), Asked: target, Easy: r.asksLess(target) || r.finishing()}
	if o == evidence.Missed && phase == Trying && r.reachedAnyway(at) {
		trial.Outcome = "" // the measure speaks
	}
	switch {
	case phase == Idle && r.isTurn():
		drafts = r.starts()
	case phase == Idle && r.doing() == record.Placing:
		drafts = r.tries()
	case phase == Idle && r.counting():
		drafts = r.take()
	case phase == Idle && r.now.Due && !r.now.answered:
		drafts = append(drafts, r.verdict(string(decision.Repeat)))
	}
	if phase == Trying && o.Right() {
		if r.pack.Kind == criteria.Held {
			drafts = append(drafts, record.NewDraft(record.KRelease, struct{}{}))
			trial.Easy = trial.Easy || criteria.Easier(r.step().Criteria, at-r.s.Trying.From)
		} else {
			drafts = append(drafts, record.NewDraft(record.KMark, struct{}{}))
		}
	}
	drafts = append(drafts, record.NewDraft(record.KTrial, trial))
	if e := r.earns(at, trial.Easy); o == evidence.Met && e.Pay && r.pack.Kind != criteria.Attention {
		drafts = append(drafts, r.paid(e))
	}
	return drafts
}

// exposure closes an exposure with what the dog showed, and pays it: first the stimulus, then food, every
// time, whatever the dog does. Over threshold it leaves, and is fed on the way.
func (r *Run) exposure(state int, touch record.Touch) []record.Draft {
	drafts := []record.Draft{}
	if r.phase() == Idle {
		drafts = r.starts()
		if r.pack.Kind == criteria.Handling {
			touch.Site, touch.Done = r.site(), r.armed.Done
		}
	}
	paid := r.paidInside() || touch.Pulled || state == 4
	drafts = append(drafts, record.NewDraft(record.KExposure, record.Exposure{State: state, Touch: touch}))
	if !paid {
		drafts = append(drafts, r.paid(earned{Pay: true}))
	}
	return drafts
}

// Today is today's step.
func (r *Run) Today() progression.Step { return r.step() }

// step is today's step.
func (r *Run) step() progression.Step {
	place, steps := r.place()
	return steps[max(0, progression.Index(steps, place.Today))]
}

func (r *Run) verdict(deed string) record.Draft {
	return record.NewDraft(record.KVerdict, record.Verdict{
		Advice: string(r.now.Verdict), Deed: deed, Rule: encode(r.now.rule), Reasons: encode(r.now.Reasons), Core: CoreVersion,
		Step: r.step().ID, Trial: r.now.trial, Reads: r.now.Reads, Clean: r.now.clean,
	})
}

// counting tells whether a verdict of counting up waits that is taken by going on: at one more each time
// nobody answers after every trial.
func (r *Run) counting() bool {
	return r.now.rule.Kind == decision.CountUp && r.now.Due && !r.now.answered &&
		(r.now.Verdict == decision.StepUp || r.now.Verdict == decision.StepBack)
}

// ahead is the step at which the next trial is asked: today's, or the one that counting leads to.
func (r *Run) ahead() progression.Step {
	place, steps := r.place()
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
	return steps[at]
}

// take does what the verdict says.
func (r *Run) take() []record.Draft {
	if r.now.rule.Kind == warming.Kind {
		return r.ready(r.now.Verdict)
	}
	drafts := []record.Draft{r.verdict(string(r.now.Verdict))}
	switch r.now.Verdict {
	case decision.StepUp:
		drafts = append(drafts, r.moves(+1, r.why(progression.WhyStepUp))...)
	case decision.Placed:
		drafts = append(drafts, r.leads(progression.WhyPlaced)...)
	case decision.StepBack:
		switch r.now.rule.Kind {
		case decision.CountUp:
			return append(drafts, r.restart())
		case probing.Kind:
			return append(drafts, r.leads(progression.WhyStepBack)...)
		}
		drafts = append(drafts, r.moves(-1, r.why(progression.WhyStepBack))...)
	case decision.Split:
		drafts = append(drafts, r.split())
	}
	return drafts
}

// restart begins a count again where the rule says.
func (r *Run) restart() record.Draft {
	_, steps := r.place()
	return record.NewDraft(record.KMove, record.Move{From: r.step().ID, To: steps[min(r.now.To, len(steps)-1)].ID, Why: progression.WhyRestart})
}

// why: on the way back up every move is regain.
func (r *Run) why(own progression.Why) progression.Why {
	if r.now.regain {
		return progression.WhyRegain
	}
	return own
}

// overrule does something else than the verdict says; both are kept.
func (r *Run) overrule(key Key) []record.Draft {
	if r.now.rule.Kind == warming.Kind {
		if key == BackKey {
			return r.ready(decision.MakeEasier)
		}
		return r.ready(decision.WorkHere)
	}
	if r.now.Verdict == decision.Placed {
		switch key {
		case UpKey:
			return r.beginAt(+1, decision.StepUp)
		case BackKey:
			return r.beginAt(-1, decision.StepBack)
		}
	}
	switch key {
	case UpKey:
		return append([]record.Draft{r.verdict(string(decision.StepUp))}, r.moves(+1, progression.WhyHand)...)
	case BackKey:
		return append([]record.Draft{r.verdict(string(decision.StepBack))}, r.moves(-1, r.why(progression.WhyStepBack))...)
	case TwoUpKey:
		return append([]record.Draft{r.verdict("two_up")}, r.moves(+2, progression.WhyStepUp)...)
	}
	return []record.Draft{r.verdict(string(decision.Repeat))}
}

// byHand moves one step because the trainer says so.
func (r *Run) byHand(by int, deed decision.Verdict) []record.Draft {
	moves := r.moves(by, progression.WhyHand)
	if r.now.Due && !r.now.answered {
		return append([]record.Draft{r.verdict(string(deed))}, moves...)
	}
	return moves
}

// stepBy is the step so many above today's, nil where there is none.
func (r *Run) stepBy(by int) *progression.Step {
	place, steps := r.place()
	at := progression.Index(steps, place.Today)
	if to := at + by; at >= 0 && to >= 0 && to < len(steps) {
		return &steps[to]
	}
	return nil
}

func (r *Run) moves(by int, why progression.Why) []record.Draft {
	to := r.stepBy(by)
	if to == nil {
		return nil
	}
	return []record.Draft{record.NewDraft(record.KMove, record.Move{From: r.step().ID, To: to.ID, Why: why})}
}

// split makes the half step below today's and goes there.
func (r *Run) split() record.Draft {
	place, steps := r.place()
	at := max(0, progression.Index(steps, place.Today))
	half := progression.Step{ID: r.newStepID(), Rev: 1, Criteria: progression.Half(steps, at), Safety: steps[at].Safety}
	return record.NewDraft(record.KMove, record.Move{
		From: place.Today, To: half.ID, Why: progression.WhySplit, New: &half, Above: place.Today,
	})
}

// newStepID makes a name for a step made in the field. It comes from the trial that made the split
// due, so that the same press on the same log makes the same step, on the phone and anywhere.
func (r *Run) newStepID() string {
	hash := fnv.New128a()
	hash.Write([]byte(r.s.ID + r.now.trial + "half step"))
	sum := hash.Sum(nil)
	sum[6], sum[8] = sum[6]&0x0f|0x80, sum[8]&0x3f|0x80 // a version 8 UUID: made by rule
	return fmt.Sprintf("%x-%x-%x-%x-%x", sum[0:4], sum[4:6], sum[6:8], sum[8:10], sum[10:16])
}

// undo takes the last press back, with all that it meant.
func (r *Run) undo() []record.Draft {
	var drafts []record.Draft
	for _, id := range r.log.LastPressOf(r.dev) {
		drafts = append(drafts, record.NewDraft(record.KRetract, record.Retract{Target: id}))
	}
	return drafts
}

// Note keeps a line of text.
func (r *Run) Note(text string) ([]record.Draft, *Problem) {
	text = strings.TrimSpace(text)
	switch n := len([]rune(text)); {
	case n == 0:
		return nil, &Problem{"note", "Write something first."}
	case n > criteria.MaxNote:
		return nil, &Problem{"note", fmt.Sprintf("%d characters; at most %d. Nothing is lost: shorten it.", n, criteria.MaxNote)}
	}
	return []record.Draft{record.NewDraft(record.KNote, record.Note{Text: text})}, nil
}
