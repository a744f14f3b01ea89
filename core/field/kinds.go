package field

import (
	"encoding/json"
	"fmt"
	"math"
	"strconv"
	"strings"

	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/evidence"
	"patientfox/core/phrase"
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
		return idle || phase == Deciding
	case NoAnswerKey, HomeKey:
		return phase == Recovering
	case FinishKey:
		return (idle || phase == Deciding) && r.stepBy(-1) != nil && !r.finishing()
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

// lastTrial is the block's last one.
func (r *Run) lastTrial() *record.TrialRead {
	for i := len(r.s.Trials) - 1; i >= 0; i-- {
		if b := r.block(); b != nil && r.s.Trials[i].Block == b.ID {
			return &r.s.Trials[i]
		}
	}
	return nil
}

// RowKey is one key of the row above the large one.
type RowKey struct {
	Key   Key    `json:"key"`
	Label string `json:"label"`
	Shape string `json:"shape,omitempty"` // an outcome or a state
	Kbd   string `json:"kbd,omitempty"`
	On    bool   `json:"on,omitempty"` // pressed in
}

// row is the keys above the large one: outcomes, states, or what else can be offered.
func (r *Run) row() []RowKey {
	kind := r.pack.Kind
	switch {
	case r.phase() == Warming:
		return []RowKey{{LateKey, "Slow", "late", "2", false}, {HelpKey, "Skip it", "helped", "3", false}, {MissKey, "Nothing", "missed", "4", false}}
	case kind.ByState():
		row := []RowKey{
			{MetKey, phrase.States[1], "state1", "1", false}, {LateKey, phrase.States[2], "state2", "2", false},
			{HelpKey, phrase.States[3], "state3", "3", false}, {MissKey, phrase.States[4], "state4", "4", false},
		}
		if kind == criteria.Counter && r.phase() == Trying {
			row = append([]RowKey{{ExpectKey, phrase.States[0], "state0", "E", false}}, row...)
		}
		return row
	case r.shapes():
		items, at := r.approximations()
		var row []RowKey
		for i := max(0, at-3); i < min(len(items), at+3); i++ {
			if i == at {
				continue // the large key
			}
			shape := "missed"
			if i > at {
				shape = "met"
			}
			row = append(row, RowKey{Key(offered + strconv.Itoa(i)), phrase.Upper(items[i]), shape, strconv.Itoa(len(row) + 1), false})
		}
		return append(row, RowKey{MissKey, "Other", "missed", "4", false})
	case kind == criteria.Walking:
		return []RowKey{{MetKey, "All paces", "met", "1", false}, {HelpKey, "Helped", "helped", "3", false}, {PullKey, "Pulled", "missed", "4", false}}
	case kind == criteria.Attention:
		return []RowKey{{ThrowKey, "Treat thrown", "", "2", false}, {HelpKey, "You called", "helped", "3", false}, {MissKey, "Stop it here", "missed", "4", false}}
	case kind == criteria.Steadiness:
		return []RowKey{{MetKey, "Released", "met", "1", false}, {HelpKey, "Helped", "helped", "3", false}, {MissKey, "Broke", "missed", "4", false}}
	}
	return []RowKey{{LateKey, "Late", "late", "2", false}, {HelpKey, "Helped", "helped", "3", false}, {MissKey, "Missed", "missed", "4", false}}
}

// beside are the keys of the moment, over that row: few, and only those that mean something.
func (r *Run) beside(phase Phase) (keys []RowKey) {
	add := func(key Key, label string, on bool) {
		if r.meansOwn(key, phase) {
			keys = append(keys, RowKey{Key: key, Label: label, On: on})
		}
	}
	for _, name := range r.others() {
		add(instead+Key(name), "Did: "+name, false)
	}
	if other := r.otherDog(); other != nil {
		add(SwapKey, "Swap: "+r.dogOf(other)+" works", false)
	}
	add(PulledKey, "Pulled away: let go", false)
	add(TakeKey, "You take it", false)
	if r.armed.Done {
		add(DoneKey, "Really done", true)
	} else {
		add(DoneKey, "Rehearsal", false)
	}
	add(PutAwayKey, "Distraction away", false)
	add(ItselfKey, "Itself again", false)
	if w := r.worried(); w != nil && *w.State >= 3 || r.s.Away != nil {
		add(RecoverKey, "Recover", false)
	}
	if r.s.Away == nil && (r.pack.Kind == criteria.Handling || r.pack.Kind == criteria.Shaping) {
		add(LeftKey, "It left", false)
	}
	return keys
}

// measures is what the trial under way counts, in a line; what else is asked where nothing is under way.
func (r *Run) measures(at float64) string {
	o, c := r.s.Trying, r.step().Criteria
	switch kind := r.pack.Kind; {
	case r.s.Away != nil:
		return "It left, as it may. Wait, and see whether it comes back and offers again."
	case kind == criteria.Attention && o != nil:
		line := fmt.Sprintf("%d of %s", o.Counted.CheckIns, phrase.Count(int(c.Get(criteria.CheckIns)), "check-in"))
		if o.Thrown != nil && o.Counted.ReturnS == nil {
			line += fmt.Sprintf(" · thrown %d s ago", int(at-*o.Thrown))
		} else if o.Counted.ReturnS != nil {
			line += " · back after " + phrase.Seconds(math.Round(*o.Counted.ReturnS*10)/10)
		}
		return line
	case kind == criteria.Counter && o != nil:
		return phrase.Count(o.Pays(), "pay") + " while it is on"
	case kind == criteria.Handling:
		site := r.site()
		if o != nil && o.Touch.Site != "" {
			site = o.Touch.Site
		}
		return phrase.Upper(site)
	case kind == criteria.Steadiness && c.Has(criteria.Lead):
		return phrase.Upper(r.leadLine(at))
	}
	return ""
}

// leadLine says when the distraction comes.
func (r *Run) leadLine(at float64) string {
	lead, o := r.step().Criteria.Get(criteria.Lead), r.s.Trying
	s := phrase.Seconds(math.Abs(lead))
	switch {
	case lead > 0 && o != nil && o.Signal != nil && o.Out == nil:
		if left := lead - (at - *o.Signal); left > 0 {
			return fmt.Sprintf("distraction in %.1f s", left)
		}
		return "distraction now"
	case lead < 0 && o != nil && o.Out != nil && o.Signal == nil:
		if left := -lead - (at - *o.Out); left > 0 {
			return fmt.Sprintf("signal in %.1f s", left)
		}
		return "signal now"
	case o != nil && o.Out != nil:
		return "keeps its place until you release it"
	case lead > 0:
		return "signal, and the distraction " + s + " after it"
	case lead < 0:
		return "distraction, and the signal " + s + " after it"
	}
	return "signal and distraction together"
}

// kindDial is the dial of the kinds that wait for something else than an answer or the end of a hold.
func (r *Run) kindDial(at float64) (d Dial, ok bool) {
	o := r.s.Trying
	since := func(from float64, of string) Dial {
		return Dial{Big: fmt.Sprintf("%.1f", math.Floor(math.Max(0, at-from)*10)/10), Of: of}
	}
	switch {
	case r.phase() == Recovering:
		moves, _, _ := r.recovery()
		last := moves[len(moves)-1]
		d := since(last.At, "seconds")
		if last.What == record.Distance {
			d.Of, d.Part = "of "+phrase.Seconds(decision.FurtherOffS), math.Min(1, math.Max(0, at-last.At)/decision.FurtherOffS)
			d.Full = d.Part == 1
		}
		return d, true
	case r.s.Away != nil:
		return since(*r.s.Away, "seconds away"), true
	case r.s.Taut != nil:
		return since(*r.s.Taut, "s until it is slack"), true
	case r.worried() != nil:
		return since(r.worried().At, "s: itself again?"), true
	case r.paces() > 0:
		n, made := r.paces(), 0
		if o != nil {
			made = o.Counted.Paces
			return Dial{Big: strconv.Itoa(made), Of: "of " + phrase.Count(n, "pace"), Part: float64(made) / float64(n)}, true
		}
		return Dial{Big: strconv.Itoa(n), Of: strings.TrimPrefix(phrase.Count(n, "pace"), strconv.Itoa(n)+" ")}, true
	case r.shapes():
		return r.offersDial(at), true
	}
	return d, false
}

// offersDial is the rate of offers, those that were marked and those that were not.
func (r *Run) offersDial(at float64) Dial {
	d := Dial{Big: "0", Of: "offers a minute"}
	clock, begun := r.clock()
	if !begun {
		return d
	}
	n := r.block().Offers
	for _, t := range r.s.Trials {
		if t.Block == r.block().ID {
			n++
		}
	}
	if active := clock.Active(at); active > 0 {
		d.Big = strconv.FormatFloat(float64(n)/(math.Max(active, 10)/60), 'f', 1, 64)
	}
	return d
}
