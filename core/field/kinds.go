package field

import (
	"encoding/json"
	"strconv"
	"strings"

	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/evidence"
	"patientfox/core/progression"
	"patientfox/core/record"
)

// The keys that only some kinds of work have.
const (
	PullKey     Key = "pull"      // the line went tight
	ThrowKey    Key = "throw"     // a treat thrown away
	ExpectKey   Key = "expects"   // state 0
	PulledKey   Key = "pulled"    // it pulled away, and was let go
	TakeKey     Key = "take"      // the hand takes the site, instead of the dog offering it
	DoneKey     Key = "done"      // really done, or only rehearsed
	PutAwayKey  Key = "put_away"  // the distraction is gone
	LeftKey     Key = "left"      // the dog left, as it may
	ItselfKey   Key = "itself"    // itself again after a worried exposure
	RecoverKey  Key = "recover"   // begin the way back from too much
	NoAnswerKey Key = "no_answer" // in a recovery
	HomeKey     Key = "home"
	FinishKey   Key = "finish" // an easy one to end on
	SlowKey     Key = "slow"   // the last pay was taken slowly
	RefusedKey  Key = "refused"
	offered         = "offered:" // with a place in the list of approximations
)

// minute is how long a free minute is where the step does not say, s.
const minute = 60.0

// seconds is how long the trial under way is to last, 0 where it has no such measure.
func (r *Run) seconds() float64 {
	c := r.ahead().Criteria
	if target, varied := r.Target()[criteria.Duration]; varied {
		return target
	}
	switch {
	case c.Has(criteria.Duration):
		return c.Get(criteria.Duration)
	case r.pack.Kind == criteria.Attention:
		return minute
	case r.pack.Kind == criteria.Steadiness:
		return c.Get(criteria.Out)
	}
	return 0
}

// paces is how many make the trial, 0 where they are not counted.
func (r *Run) paces() int {
	if r.pack.Kind != criteria.Walking {
		return 0
	}
	c := r.ahead().Criteria
	if target, varied := r.Target()[criteria.Paces]; varied {
		return int(target)
	}
	return int(c.Get(criteria.Paces))
}

// shapes tells whether trials are offers of approximations from a list.
func (r *Run) shapes() bool {
	return r.pack.Kind == criteria.Shaping && r.step().Criteria.Has(criteria.Approx)
}

// approximations are the words of the step's list, and which of them is marked now.
func (r *Run) approximations() (items []string, at int) {
	c := r.step().Criteria
	d, _ := c.Dimension(criteria.Approx)
	return d.Items, int(c.Get(criteria.Approx))
}

// comesFirst tells whether the distraction comes before the signal.
func (r *Run) comesFirst() bool {
	c := r.step().Criteria
	return r.pack.Kind == criteria.Steadiness && c.Has(criteria.Lead) && c.Get(criteria.Lead) < 0
}

// worried is the last exposure of this block while the dog is not itself again after it.
func (r *Run) worried() *record.TrialRead {
	b := r.block()
	if b == nil || r.s.Trying != nil {
		return nil
	}
	for i := len(r.s.Trials) - 1; i >= 0; i-- {
		if t := &r.s.Trials[i]; t.Block == b.ID {
			if t.State != nil && *t.State >= 2 && t.RecoveryS == nil {
				return t
			}
			return nil
		}
	}
	return nil
}

// starts begins a trial, with what going on means for a verdict that waits.
func (r *Run) starts(first ...record.Draft) []record.Draft {
	if tries := r.tries(); tries != nil {
		return append(tries, first...)
	}
	if other, due := r.otherStep(); due {
		drafts := []record.Draft{record.NewDraft(record.KMove, record.Move{From: r.step().ID, To: other, Why: progression.WhyTurn})}
		if r.now.Due && !r.now.answered {
			drafts = append([]record.Draft{r.verdict(string(decision.Repeat))}, drafts...)
		}
		return append(drafts, first...)
	}
	if r.counting() {
		return append(r.take(), first...)
	}
	// Going on after a repeat is taking it: no press of its own.
	if r.now.Due && !r.now.answered {
		return append([]record.Draft{r.verdict(string(decision.Repeat))}, first...)
	}
	return first
}

// onset is the stimulus that begins an exposure: planned as the step says, at the site that is chosen.
func (r *Run) onset(taken bool) record.Draft {
	d := record.Trigger{On: true}
	if c := r.step().Criteria; c.Has(criteria.Trigger) {
		m := c.Get(criteria.Trigger)
		d.M, d.How = &m, "planned"
	}
	if r.pack.Kind == criteria.Handling {
		d.Touch = record.Touch{Site: r.site(), Taken: taken, Done: r.armed.Done}
	}
	return record.NewDraft(record.KTrigger, d)
}

// Armed is what is chosen for the next trial and stands in no event before that.
type Armed struct {
	Site string `json:"site"` // "" is the step's
	Done bool   `json:"done"` // really done
}

// Arm chooses it.
func (r *Run) Arm(a Armed) { r.armed = a }

// site is the one that is handled next.
func (r *Run) site() string {
	if r.armed.Site != "" {
		return r.armed.Site
	}
	c := r.step().Criteria
	site := c.Item(criteria.Site)
	if site != "" && r.pack.Track != "" {
		site += ", " + r.pack.Track
	}
	return site
}

func counted(what string) record.Draft {
	return record.NewDraft(record.KCount, record.Count{What: what, N: 1})
}

// idle is the large key's meaning between trials.
func (r *Run) idle() []record.Draft {
	switch {
	case r.s.Away != nil:
		return []record.Draft{counted(record.CameBack)}
	case r.s.Taut != nil:
		return []record.Draft{record.NewDraft(record.KLine, record.Line{})}
	case r.shapes():
		_, at := r.approximations()
		return r.offer(at)
	case r.pack.Kind.ByState(), r.comesFirst():
		return r.starts(r.onset(false))
	}
	start := r.starts(record.NewDraft(record.KCue, record.Cue{N: 1}))
	if c := r.step().Criteria; r.pack.Kind == criteria.Steadiness && c.Has(criteria.Lead) && c.Get(criteria.Lead) == 0 {
		start = append(start, record.NewDraft(record.KTrigger, record.Trigger{On: true})) // both at once
	}
	return start
}

// offer logs an approximation that the dog offered; one as near as asked, or nearer, is marked and paid.
func (r *Run) offer(i int) []record.Draft {
	_, at := r.approximations()
	trial := record.Trial{Asked: r.Target(), Easy: r.finishing()}
	trial.Offered = &i
	drafts := r.starts()
	if i >= at {
		drafts = append(drafts, record.NewDraft(record.KMark, struct{}{}))
	}
	drafts = append(drafts, record.NewDraft(record.KTrial, trial))
	if e := r.earns(0, trial.Easy); i >= at && e.Pay {
		drafts = append(drafts, r.paid(e))
	}
	return drafts
}

// trying is the large key's meaning while a trial is under way.
func (r *Run) trying(at float64) []record.Draft {
	o := r.s.Trying
	switch r.pack.Kind {
	case criteria.Counter:
		return []record.Draft{r.paid(earned{Pay: true})}
	case criteria.Handling:
		return r.exposure(0, record.Touch{})
	case criteria.Walking:
		if n := r.paces(); n > 0 {
			step := counted(record.PaceMade)
			if o.Counted.Paces+1 < n {
				return []record.Draft{step}
			}
			return append([]record.Draft{step}, r.outcome(evidence.Met, at)...)
		}
	case criteria.Attention:
		if at-o.From >= r.seconds()-evidence.Epsilon {
			return r.outcome("", at)
		}
		drafts := []record.Draft{counted(record.CheckIn)}
		if r.doing() != record.Baseline {
			drafts = append(drafts, r.paid(earned{Pay: true}))
		}
		return drafts
	case criteria.Steadiness:
		switch c := r.step().Criteria; {
		case o.Cues == 0:
			return []record.Draft{record.NewDraft(record.KCue, record.Cue{N: 1})}
		case c.Has(criteria.Lead) && o.Out == nil:
			return []record.Draft{record.NewDraft(record.KTrigger, record.Trigger{On: true})}
		}
	}
	return r.outcome(evidence.Met, at)
}

// own answers the keys that only some kinds of work have.
func (r *Run) own(key Key, at float64) []record.Draft {
	if name, is := strings.CutPrefix(string(key), instead); is {
		return r.Tell("instead", name)
	}
	switch key {
	case AcceptKey:
		return r.accept()
	case AlternateKey:
		return r.alternate()
	case SwapKey:
		return r.swap()
	case PullKey:
		drafts := []record.Draft{counted(record.Pull), record.NewDraft(record.KLine, record.Line{Taut: true})}
		if r.s.Trying == nil {
			return drafts
		}
		return append(drafts, r.outcome(evidence.Missed, at)...)
	case ThrowKey:
		return []record.Draft{counted(record.Throw)}
	case ExpectKey:
		return r.exposure(0, record.Touch{})
	case PulledKey:
		return r.exposure(2, record.Touch{Pulled: true})
	case TakeKey:
		return r.starts(r.onset(true))
	case DoneKey:
		r.armed.Done = !r.armed.Done
		return nil
	case PutAwayKey:
		return []record.Draft{record.NewDraft(record.KTrigger, record.Trigger{})}
	case LeftKey:
		if r.s.Away != nil {
			return []record.Draft{counted(record.CameBack)}
		}
		return []record.Draft{counted(record.Left)}
	case ItselfKey:
		return []record.Draft{record.NewDraft(record.KState, record.State{State: 1})}
	case RecoverKey:
		return []record.Draft{record.NewDraft(record.KRecover, record.Recover{What: record.Distance})}
	case FinishKey:
		place, steps := r.place()
		var drafts []record.Draft
		if r.now.Due && !r.now.answered {
			drafts = append(drafts, r.verdict(r.leftAs()))
		}
		to := steps[r.finishStep(place, steps)].ID
		return append(drafts, record.NewDraft(record.KMove, record.Move{From: place.Today, To: to, Why: progression.WhyFinish}))
	case SlowKey, RefusedKey:
		return r.Tell("taken", string(key))
	}
	if i, err := strconv.Atoi(strings.TrimPrefix(string(key), offered)); err == nil {
		return r.offer(i)
	}
	return nil
}

// overThreshold tells whether this plan's work went over the dog's threshold in this session, in whatever block: then it is
// left, without a last trial and without a way back to it today.
func (r *Run) overThreshold() bool {
	b := r.block()
	if b == nil {
		return false
	}
	for i := range r.s.Trials { // a trial is large, and this is asked on every press
		if t := &r.s.Trials[i]; t.State != nil && *t.State == 4 && r.planOf(t.Block) == b.Plan {
			return true
		}
	}
	return false
}

// meansOwn tells whether one of those keys means anything now.
func (r *Run) meansOwn(key Key, phase Phase) bool {
	kind, idle, trying := r.pack.Kind, phase == Idle, phase == Trying
	switch key {
	case AlternateKey:
		_, on := r.alternating()
		return (idle || phase == Deciding) && (on || r.stepBy(-1) != nil && !r.mixed() && !kind.ByState())
	case SwapKey:
		return (idle || phase == Deciding) && r.otherDog() != nil
	case AcceptKey:
		return (idle || phase == Deciding) && len(r.unaccepted()) > 0
	case PullKey:
		return kind == criteria.Walking && r.s.Taut == nil && (trying || idle && len(r.s.Trials) > 0)
	case ThrowKey:
		return trying && kind == criteria.Attention
	case ExpectKey:
		return kind.ByState() && (idle || trying)
	case PulledKey:
		return trying && kind == criteria.Handling
	case TakeKey, DoneKey:
		return idle && kind == criteria.Handling
	case PutAwayKey:
		return trying && kind == criteria.Steadiness && r.s.Trying.Out != nil && r.s.Trying.Counted.OutS == nil
	case LeftKey:
		return idle || phase == Deciding
	case ItselfKey:
		return (idle || phase == Deciding) && r.worried() != nil
	case RecoverKey:
		return (idle || phase == Deciding) && !r.overThreshold()
	case NoAnswerKey, HomeKey:
		return phase == Recovering
	case FinishKey:
		return (idle || phase == Deciding) && r.stepBy(-1) != nil && !r.finishing() && !r.overThreshold()
	case SlowKey, RefusedKey:
		return len(r.s.Pays) > 0 && phase != Over && phase != Setup
	}
	if strings.HasPrefix(string(key), instead) {
		return idle && len(r.others()) > 0
	}
	return idle && r.shapes() && strings.HasPrefix(string(key), offered)
}

// Tell says more of the last trial, or of the last pay: what broke it, what the dog did instead, where the error came
// from, what was done after it, how the food was taken.
func (r *Run) Tell(what, value string) []record.Draft {
	target := ""
	switch what {
	case "taken":
		for _, p := range r.s.Pays {
			target = p.ID
		}
	case "broke", "instead", "source", "after":
		if t := r.lastTrial(); t != nil && t.State == nil {
			target = t.ID
		}
	}
	if target == "" {
		return nil
	}
	return []record.Draft{record.NewDraft(record.KAmend, record.Amend{Target: target, Set: map[string]json.RawMessage{what: encode(value)}})}
}

// tells names the last trial, where it was not met: what broke it and whose error it was can be said.
func (r *Run) tells() string {
	t := r.lastTrial()
	if t == nil || t.State != nil || t.Outcome == evidence.Met || t.Outcome == evidence.Void {
		return ""
	}
	return "The last one: " + string(t.Outcome)
}

// lastTrial is the block's last one.
func (r *Run) lastTrial() *record.TrialRead {
	for i := len(r.s.Trials) - 1; i >= 0; i-- {
		if b := r.block(); b != nil && r.s.Trials[i].Block == b.ID {
			return &r.s.Trials[i]
		}
	}
	return nil
}
