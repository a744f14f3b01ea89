package field

import (
	"fmt"
	"math"
	"strings"

	"patientfox/core/decision"
	"patientfox/core/evidence"
	"patientfox/core/phrase"
	"patientfox/core/progression"
	"patientfox/core/record"
	"patientfox/core/reinforce"
	"patientfox/core/say"
	"patientfox/core/trial"
	"patientfox/core/work"
)

// Phase is what the screen is waiting for.
type Phase string

// The phases of a session.
const (
	Setup      Phase = "setup"      // choices before it begins
	Idle       Phase = "idle"       // between trials
	Trying     Phase = "trying"     // a trial is under way
	Warming    Phase = "warming"    // easy tries before the work
	Deciding   Phase = "deciding"   // a verdict waits to be taken
	Recovering Phase = "recovering" // the way back from too much
	Paused     Phase = "paused"
	Over       Phase = "over"
)

func (r *Run) phase() Phase {
	switch {
	case r.s.Ended != nil:
		return Over
	case r.block() == nil:
		return Setup
	case r.s.Paused:
		return Paused
	case r.s.Trying != nil:
		return Trying
	case r.isRecovering():
		return Recovering
	case r.warms() && !r.now.Due:
		return Warming
	case r.now.Due && !r.now.answered && r.now.Verdict != decision.Repeat && !r.counting():
		return Deciding
	}
	return Idle
}

// View is what the Run screen shows. The page draws it and computes nothing.
type View struct {
	Phase   Phase         `json:"phase"`
	OnCue   bool          `json:"on_cue,omitempty"` // every trial is a cue
	Dog     string        `json:"dog"`
	Skill   string        `json:"skill"`
	Step    string        `json:"step"`
	Where   string        `json:"where"`  // "step 4 of 11", and what is special about it
	Target  string        `json:"target"` // what this trial asks, where it varies
	Dial    Dial          `json:"dial"`
	Pay     PayView       `json:"pay"`
	Set     SetView       `json:"set"`
	Verdict VerdictView   `json:"verdict"`
	Main    work.Button   `json:"main"`
	Rests   bool          `json:"rests"`             // the large key was pressed just now
	Off     []work.Key    `json:"off"`               // keys that mean nothing now
	Row     []work.Button `json:"row"`               // the keys above the large one
	Beside  []work.Button `json:"beside"`            // those of the moment, above these
	Caution string        `json:"caution,omitempty"` // of the step that has just come, said once
	Advice  AdviceView    `json:"advice"`
	Recover RecoverView   `json:"recover"`
	Body    *BodyView     `json:"body,omitempty"` // where the dog is handled
	Log     string        `json:"log"`            // "14 trials · 22 pieces left"
	Closing ClosingView   `json:"closing"`
	Sheet   SheetView     `json:"sheet"`
	Food    string        `json:"food"`            // id of what is in the hand
	Tells   string        `json:"tells,omitempty"` // the last trial, where there is more to say of it
	Helps   string        `json:"helps,omitempty"` // on a helper's device: what its trials count for
	Leave   string        `json:"leave,omitempty"` // the reason with which the session should end now, "" while it goes on
}

// Dial is the thing being waited for.
type Dial struct {
	Big  string  `json:"big"`
	Of   string  `json:"of"`
	Part float64 `json:"part"` // 0…1 of the ring
	Full bool    `json:"full"` // the hold is complete, or the limit has passed
	Slow bool    `json:"slow"` // over the latency limit
}

// PayView is pay as a word.
type PayView struct {
	Word  string  `json:"word"`  // on pace, slow, overdue, or "" without a plan
	Since string  `json:"since"` // "last 9 s ago"
	Next  string  `json:"next"`  // what the next met trial earns, "" where every one is paid
	Food  string  `json:"food"`  // what is in the hand, and what is left of it
	Gone  string  `json:"gone"`  // that nothing is left but what the finish takes
	Due   bool    `json:"due"`   // a pay inside the hold is due now
	Gap   float64 `json:"gap"`   // s between pays at the middle of the planned rate, 0 without one
}

// SetView is the running set's places.
type SetView struct {
	Label  string      `json:"label"`
	Places []SetMember `json:"places"`
}

// SetMember is one place of the set, Outcome "" while it is empty.
type SetMember struct {
	Outcome string `json:"outcome"`
	Paid    bool   `json:"paid"`
}

// VerdictView is a verdict with its reason in one line.
type VerdictView struct {
	Show     bool          `json:"show"`
	Word     string        `json:"word"`
	Why      string        `json:"why"`
	Coverage string        `json:"coverage"`
	More     bool          `json:"more"` // Reckoning has what it rests on in full
	Others   []work.Button `json:"others"`
}

// ClosingView is what the panel after a block says.
type ClosingView struct {
	Logged  string `json:"logged"`
	Pieces  string `json:"pieces"` // what the pieces left should be, by the pays logged
	Left    string `json:"left"`   // the same as a figure, "" where nothing was counted out
	Waiting string `json:"waiting"`
	Tags    string `json:"tags"` // how it was, as far as that was said
	Summary string `json:"summary"`
	Next    string `json:"next"` // where the next session stands, as things are
}

// View shows the session at a moment of its clock, in ms.
func (r *Run) View(atMS int64) View {
	at := float64(atMS) / 1000
	place, steps := r.place()
	index := max(0, progression.Index(steps, r.ahead().ID))
	v := View{
		Phase: r.phase(), OnCue: r.work().OnCue, Dog: r.pack.DogName, Skill: r.pack.SkillName,
		Step: say.Upper(r.say().Step(steps[index].Criteria)), Where: r.where(place, steps, index),
		Dial: r.dial(at), Pay: r.pay(at), Set: r.set(), Verdict: r.verdictView(), Main: r.mainButton(at), Off: r.off, Rests: r.resting(atMS),
		Closing: r.closing(), Target: r.targetLine(),
	}
	v.Log = r.logLine(v.Pay.Food)
	v.Sheet, v.Food, v.Tells = r.sheetView(), r.s.Food, r.tells()
	v.Caution = r.cautionNow()
	if line := r.turnLine(); line != "" {
		v.Where = line + " · " + v.Where
	}
	v.Row, v.Beside, v.Advice, v.Body = r.row(at), r.beside(v.Phase), r.advise(at), r.body(v.Phase)
	if line := r.measures(at); line != "" && (v.Phase == Idle || v.Phase == Trying) {
		v.Target = strings.TrimSuffix(line+" · "+v.Target, " · ")
	}
	switch v.Phase {
	case Warming:
		v.Set = r.warmSet()
		v.Step, v.Where = "Warm-up: uncued, let it offer something", fmt.Sprintf("Try %d of %d", len(r.s.Warm)+1, decision.ReadyTries)
	case Deciding:
		v.Row = nil
		for _, other := range v.Verdict.Others {
			v.Row = append(v.Row, work.Button{Key: other.Key, Label: other.Label})
		}
	case Recovering:
		v.Recover, v.Main, v.Row = r.recovering(at)
		v.Step, v.Where, v.Advice = v.Recover.Say, "Recovery · "+v.Recover.Then, AdviceView{}
	}
	if r.helps() && v.Phase != Over {
		r.helping(&v)
	} else if n := len(r.unaccepted()); n > 0 && (v.Phase == Idle || v.Phase == Deciding) {
		v.Beside = append(v.Beside, work.Button{Key: work.AcceptKey, Label: "Count a helper's " + say.Number(n)})
	}
	v.Leave = r.leaving(v.Main)
	return v
}

// endHere is the large key of a session that should end now.
const endHere = "End here"

// leaving is the reason with which the session should end now: the warm-up said to go elsewhere, a stop was taken, or a
// recovery goes home.
func (r *Run) leaving(main work.Button) string {
	if main.Label == endHere {
		return "stop"
	}
	if n := len(r.s.Verdicts); n > 0 && len(r.s.Trials) == 0 && r.s.Verdicts[n-1].Deed == string(decision.GoElsewhere) {
		return "other"
	}
	return ""
}

// stopped tells whether the work went over the dog's threshold and the stop was taken: nothing more of it is begun.
func (r *Run) stopped() bool {
	if r.phase() != Idle || !r.overThreshold() {
		return false
	}
	for i := len(r.s.Verdicts) - 1; i >= 0; i-- {
		if v := r.s.Verdicts[i]; r.s.PlanOf(v.Block) == r.block().Plan {
			return v.Deed == string(decision.Stop)
		}
	}
	return false
}

// eager is how many tries of the warm-up were.
func (r *Run) eager() int {
	n := 0
	for _, w := range r.s.Warm {
		if w.Answer == decision.AnswerEager {
			n++
		}
	}
	return n
}

// warmSet shows the tries of the warm-up.
func (r *Run) warmSet() SetView {
	v := SetView{Label: "Warm-up"}
	shapes := map[decision.Answer]string{decision.AnswerEager: "met", decision.AnswerSlow: "late", decision.AnswerNone: "missed"}
	for _, w := range r.s.Warm {
		v.Places = append(v.Places, SetMember{shapes[w.Answer], w.Answer != decision.AnswerNone})
	}
	for len(v.Places) < decision.ReadyTries {
		v.Places = append(v.Places, SetMember{})
	}
	return v
}

func (r *Run) where(place progression.Place, steps []progression.Step, index int) string {
	if line := r.modeWhere(index+1, len(steps)); line != "" {
		return line
	}
	line := fmt.Sprintf("Step %d of %d", index+1, len(steps))
	if r.pack.Track != "" {
		line = say.Upper(r.pack.Track) + " · step" + line[4:]
	}
	if down := progression.Index(steps, place.Reached) - index; down > 0 {
		line += fmt.Sprintf(" · %s below the one reached, three met in a row lead back up", say.Number(down))
	} else if place.Given {
		line += " · given, not earned"
	}
	return line
}

func (r *Run) say() phrase.Words { return phrase.In(r.pack.Units) }

func (r *Run) dial(at float64) Dial {
	c := r.step().Criteria
	limit, limited := r.pack.Definition.Limit(c)
	held := r.work().Lasts
	if held {
		limit = r.seconds()
		limited = limit > 0
	}
	if d, ok := r.kindDial(at); ok {
		return d
	}
	d := Dial{Big: "0.0", Of: "seconds"}
	if limited {
		d.Of = "of " + say.Seconds(limit)
	}
	if r.s.Trying == nil {
		return d
	}
	gone := math.Max(0, at-r.s.Trying.From)
	d.Big = fmt.Sprintf("%.1f", math.Floor(gone*10)/10)
	if limited && limit > 0 {
		d.Part = math.Min(1, gone/limit)
		if held {
			d.Full = gone >= limit-evidence.Epsilon
		} else {
			d.Slow = gone > limit+evidence.Epsilon
		}
	}
	return d
}

// clock is the block's active time: it starts with the first thing the dog did, not with the page.
func (r *Run) clock() (reinforce.Clock, bool) {
	b := r.block()
	if b == nil {
		return reinforce.Clock{}, false
	}
	from := math.Inf(1)
	for _, t := range r.s.Trials {
		if r.sameWork(t.Block) {
			from = math.Min(from, t.From)
		}
	}
	for _, p := range r.s.Pays {
		if r.sameWork(p.Block) {
			from = math.Min(from, p.At)
		}
	}
	if r.s.Trying != nil {
		from = math.Min(from, r.s.Trying.From)
	}
	breaks := append([]reinforce.Span(nil), r.s.Breaks...)
	for _, rest := range b.Rests {
		if !r.mixed() {
			breaks = append(breaks, rest)
		}
	}
	return reinforce.NewClock(from, breaks), !math.IsInf(from, 1)
}

// rateClock is the time that the rate of reinforcement is over: of exposures that with the stimulus on.
func (r *Run) rateClock() (reinforce.Clock, bool) {
	clock, begun := r.clock()
	if off := r.offTime(); begun && len(off) > 0 {
		clock = clock.Without(off)
	}
	return clock, begun
}

func (r *Run) offTime() []reinforce.Span {
	if b := r.block(); b != nil {
		return r.s.Off(b)
	}
	return nil
}

func (r *Run) pay(at float64) PayView {
	v := PayView{Since: "nothing paid yet", Next: r.payLine(at)}
	v.Due = v.Next == payNow
	if band := r.pack.PayAt(r.step().ID).Band; band.Lo > 0 {
		v.Gap = 120 / (band.Lo + max(band.Lo, band.Hi))
	}
	if food, gone := r.foodLine(at); gone {
		v.Food, v.Gone = food, "Pieces gone: what is left is kept for the finish."
	} else {
		v.Food = food
	}
	clock, begun := r.rateClock()
	if !begun {
		return v
	}
	if r.s.Paused {
		v.Since = "break"
		return v
	}
	since, last := clock.Active(at), -1.0
	for _, p := range r.s.Pays {
		if r.sameWork(p.Block) {
			last = math.Max(last, clock.Active(p.At))
		}
	}
	if last >= 0 {
		since -= last
		v.Since = fmt.Sprintf("last %d s ago", int(math.Max(0, since)))
	}
	if band := r.pack.PayAt(r.step().ID).Band; band.Lo > 0 {
		switch {
		case since > band.Overdue():
			v.Word = "overdue"
		case since > 60/band.Lo:
			v.Word = "slow"
		default:
			v.Word = "on pace"
		}
	}
	return v
}

// set shows the set under way, or the one just filled while its verdict waits.
func (r *Run) set() SetView {
	b := r.block()
	size := r.now.rule.Size
	if b == nil {
		return SetView{}
	}
	if r.now.rule.Kind == warming.Kind {
		return r.warmSet()
	}
	place := b.Place
	var counted []trial.Trial
	since := r.lastMove(b)
	read := map[string]bool{}
	for _, t := range r.trialsAt(b, place.Today, since) {
		read[t.ID] = t.Block == b.ID
	}
	for _, t := range r.s.Trials {
		if read[t.ID] && t.Counted() {
			counted = append(counted, t)
		}
	}
	if r.doing() != record.Train || r.now.rule.Kind == probing.Kind {
		return r.modeSet(b)
	}
	if size == 0 {
		return r.runPlaces(counted)
	}
	full := len(counted) / size
	shown := counted[full*size:]
	number := full + 1
	if len(shown) == 0 && full > 0 && r.now.Due && (!r.now.answered || r.now.Verdict == decision.Repeat) && r.s.Trying == nil {
		shown, number = counted[(full-1)*size:], full
	}
	v := SetView{Label: fmt.Sprintf("Set %d", number), Places: members(shown)}
	for len(v.Places) < size {
		v.Places = append(v.Places, SetMember{})
	}
	return v
}

// runPlaces shows the run towards the step up.
func (r *Run) runPlaces(counted []trial.Trial) SetView {
	up := max(1, r.now.rule.Up, r.now.rule.Clean)
	if label, wide := r.windowLabel(); wide {
		v := SetView{Label: label, Places: members(counted[max(0, len(counted)-5):])}
		for len(v.Places) < 5 {
			v.Places = append(v.Places, SetMember{})
		}
		return v
	}
	recent := counted[max(0, len(counted)-up):]
	for i := len(recent) - 1; i >= 0; i-- {
		if recent[i].Outcome != trial.Met && !(r.now.rule.Lenient && recent[i].Outcome == trial.Late) {
			// A row starts anew after a trial that broke it; that one is still shown while it is the last.
			if i < len(recent)-1 {
				recent = recent[i+1:]
			} else {
				recent = recent[i:]
			}
			break
		}
	}
	v := SetView{Label: "In a row", Places: members(recent)}
	for len(v.Places) < up {
		v.Places = append(v.Places, SetMember{})
	}
	return v
}

// windowLabel says how far a rule that reads many trials has come, those of earlier sessions too.
func (r *Run) windowLabel() (string, bool) {
	b := r.block()
	n := len(decision.Window(r.now.rule, r.pack.Stretched(r.s, b)))
	switch r.now.rule.Kind {
	case decision.Gate:
		in := n % r.now.rule.Window
		if in == 0 && n > 0 {
			in = r.now.rule.Window
		}
		return fmt.Sprintf("Window: %d of %d", in, r.now.rule.Window), true
	case decision.Proof:
		return fmt.Sprintf("Proof: %s", say.Count(n, "trial")), true
	}
	return "", false
}

func members(trials []trial.Trial) []SetMember {
	var list []SetMember
	for _, t := range trials {
		shape := string(t.Outcome)
		if t.State != nil {
			shape = fmt.Sprintf("state%d", *t.State)
		}
		list = append(list, SetMember{shape, t.Pays > 0})
	}
	return list
}

// idleKeys lists the keys that mean nothing now.
func (r *Run) idleKeys() []work.Key {
	var off []work.Key
	for _, k := range []work.Key{work.MetKey, work.LateKey, work.HelpKey, work.MissKey, work.VoidKey, work.PayKey, work.UndoKey, work.BreakKey, work.EasyKey, work.HardKey, work.CueKey, work.OfferKey,
		work.PullKey, work.ThrowKey, work.LeftKey, work.SlowKey, work.RefusedKey, work.FinishKey, work.RecoverKey, work.AlternateKey} {
		if !r.means(k) {
			off = append(off, k)
		}
	}
	return off
}
