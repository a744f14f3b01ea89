package screen

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/evidence"
	"patientfox/core/pack"
	"patientfox/core/phrase"
	"patientfox/core/progression"
	"patientfox/core/record"
	"patientfox/core/say"
	"patientfox/core/session"
	"patientfox/core/trial"
	"patientfox/core/work"
)

// View is what the Run screen shows. The page draws it and computes nothing.
type View struct {
	Phase   session.Phase `json:"phase"`
	OnCue   bool          `json:"on_cue,omitempty"`  // every trial is a cue
	Asks    bool          `json:"asks,omitempty"`    // a cue or a signal begins it, so that the dog can go before it
	Between bool          `json:"between,omitempty"` // another block can be put in here
	Plan    string        `json:"plan"`              // that is worked, by id
	Dog     string        `json:"dog"`
	Skill   string        `json:"skill"`
	Step    string        `json:"step"`
	Where   string        `json:"where"`  // "step 4 of 11", and what is special about it
	Target  string        `json:"target"` // what this trial asks, where it varies
	Dial    Dial          `json:"dial"`
	Pay     PayView       `json:"pay"`
	Way     string        `json:"way,omitempty"` // of an experiment, that the next trial has
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
	Food    string        `json:"food"`              // id of what is in the hand
	Roles   trial.Roles   `json:"roles"`             // who holds the dog, and who feeds it
	Worked  []SettingView `json:"worked,omitempty"`  // the settings of the step, as they really are
	States  []work.Button `json:"states,omitempty"`  // to note beside the work
	Once    bool          `json:"once,omitempty"`    // what was altered of them is for the next trial alone
	Arousal []work.Button `json:"arousal,omitempty"` // likewise

	After [][]work.Button `json:"after,omitempty"` // by which more can be said of the last trial, in rows
	Moves string          `json:"moves,omitempty"` // the next three movements towards the dog
	Help  bool            `json:"help,omitempty"`  // the pause is over after which the step plans help
	Last  string          `json:"last,omitempty"`  // the trial that was closed last, by id
	Was   string          `json:"was,omitempty"`   // how it was read
	Lined bool            `json:"lined,omitempty"` // it can be said that the line made the last response
	Tells string          `json:"tells,omitempty"` // the last trial, where there is more to say of it
	Helps string          `json:"helps,omitempty"` // on a helper's device: what its trials count for
	Leave string          `json:"leave,omitempty"` // the reason with which the session ends now, "" while it goes on
	Count int             `json:"count,omitempty"` // trials that can be counted after a look, 0 where none can
	Signs []SignView      `json:"signs"`           // of what calls somebody to a dog of a class
	Ends  string          `json:"ends,omitempty"`  // the reason with which the large key ends it, "" where that does something else
}

// SignView is a sign that can be given, or that stands.
type SignView struct {
	Sign work.Sign `json:"sign"`
	Name string    `json:"name"`
	On   bool      `json:"on"`
}

// Dial is the thing being waited for.
type Dial struct {
	Big  string  `json:"big"`
	Of   string  `json:"of"`
	Part float64 `json:"part"` // 0…1 of the ring
	Full bool    `json:"full"` // the hold is complete, or the limit has passed
	Slow bool    `json:"slow"` // over the latency limit
	Live bool    `json:"live"` // something is waited for between trials
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

// View shows the session at a moment of its clock, in ms.
func (r Screen) View(atMS int64) View {
	at := float64(atMS) / 1000
	place, steps := r.Position()
	index := max(0, progression.Index(steps, r.Ahead().ID))
	v := View{
		Phase: r.Phase(), OnCue: r.Kind().OnCue, Asks: r.Kind().Asks(), Plan: r.Pack().Plan, Dog: r.Pack().DogName, Skill: r.Pack().SkillName,
		Step: say.Upper(r.say().Step(r.Rehearsed(r.OnCard(steps[index].Criteria)))), Where: r.where(place, steps, index),
		Dial: r.dial(at), Pay: r.pay(at), Set: r.set(), Way: r.way(), Verdict: r.verdictView(), Main: r.mainButton(at), Off: r.Off(),
		Rests: r.Resting(atMS), Closing: r.closing(), Target: r.targetLine(),
	}
	v.Log = r.logLine(v.Pay.Food)
	v.Sheet, v.Food, v.Roles, v.Tells = r.sheetView(), r.Session().Food, r.Session().Roles, r.tells()
	v.Worked, v.Once = r.settings(), r.OneAlone()
	if t := r.LastTrial(); t != nil {
		v.Last = t.ID
	}
	if !v.Verdict.Show {
		v.Was = r.lastLine(v.Phase)
	}
	v.Lined, v.States, v.Arousal = r.lined(), r.Kind().Notes(), r.arousal()
	v.After, v.Help, v.Moves = r.after(), r.helpDue(at), r.movesAhead()
	if v.Caution = r.cautionNow(); v.Caution == "" && r.Protects() {
		v.Caution = phrase.DoNotCall
	}
	_, interlude := r.Interlude()
	v.Between = v.Phase == session.Idle && interlude == 0 && !r.Stopped() && !r.Helps()
	if line := r.turnLine(); line != "" {
		v.Where = line + " · " + v.Where
	}
	v.Row, v.Beside, v.Advice, v.Body = r.row(at), r.beside(v.Phase), r.advise(at), r.body(v.Phase)
	if line := r.measures(at); line != "" && (v.Phase == session.Idle || v.Phase == session.Trying) {
		v.Target = strings.TrimSuffix(line+" · "+v.Target, " · ")
	}
	v.Target = strings.Trim(v.Target+" · "+v.Moves, " ·")
	switch v.Phase {
	case session.Warming:
		r.ready(&v, at)
	case session.Deciding:
		v.Row = nil
		for _, other := range v.Verdict.Others {
			v.Row = append(v.Row, work.Button{Key: other.Key, Label: other.Label})
		}
	case session.Recovering:
		v.Recover, v.Main, v.Row = r.recovering(at)
		v.Step, v.Where, v.Advice = v.Recover.Say, "Recovery · "+v.Recover.Then, AdviceView{}
	}
	if r.Helps() && v.Phase != session.Over {
		r.helping(&v)
	} else if n := len(r.Unaccepted()); n > 0 && (v.Phase == session.Idle || v.Phase == session.Deciding) {
		v.Beside = append(v.Beside, work.Button{Key: work.AcceptKey, Label: "Accept " + say.Count(n, "trial") + " of the helper"})
	}
	if v.Main.Label == endHere {
		v.Ends = "stop"
	}
	v.Leave = r.leaving()
	v.Count, v.Signs = min(r.Countable(), countKeys), r.signs()
	return v
}

// countKeys is how many keys there are for what was counted.
const countKeys = 10

// signs are those that can be given, with those that stand.
func (r Screen) signs() (list []SignView) {
	for _, s := range work.Signs {
		on := slices.ContainsFunc(r.Session().Notes, func(n record.Note) bool { return n.Sign == s })
		list = append(list, SignView{s, work.SignName(s), on})
	}
	return list
}

// endHere is the large key of a session that should end now.
const endHere = "End here"

// leaving is the reason with which the session ends now, by what was answered: the warm-up said to go elsewhere, or a stop was taken.
// A recovery that goes home, and a dog that warned, are fed on the way first: there the large key ends it.
func (r Screen) leaving() string {
	if r.Stopped() && !r.Warned() {
		return "stop"
	}
	if n := len(r.Session().Verdicts); n > 0 && len(r.Session().Trials) == 0 &&
		r.Session().Verdicts[n-1].Action == string(decision.GoElsewhere) {
		return "other"
	}
	return ""
}

func (r Screen) where(place progression.Position, steps []progression.Step, index int) string {
	if line := r.modeWhere(index+1, len(steps)); line != "" {
		return line
	}
	line := fmt.Sprintf("Step %d of %d", index+1, len(steps))
	if r.Pack().Track != "" {
		line = say.Upper(r.Pack().Track) + " · step" + line[4:]
	}
	if p := r.Pack(); r.Block() != nil && p.Level != p.MainLevel() {
		who, _ := pack.Find(p.People, r.Block().Handler)
		line += " · with " + cmp.Or(who.Name, "another handler") + r.besideMain(steps)
	}
	if down := progression.Index(steps, place.Reached) - index; down > 0 {
		line += fmt.Sprintf(" · %s below the one reached", say.Number(down))
		switch rule := r.Pack().RuleAt(steps[index].ID); {
		case r.Capped():
			line += ", no higher today"
		case rule.Kind != decision.CountUp: // which keeps its own rule on the way
			line += fmt.Sprintf(", three %s in a row lead back up", map[bool]string{true: "at ease", false: "met"}[r.Kind().ByState])
		}
	} else if place.Given {
		line += " · set manually"
	}
	if number, _ := r.Card(); number > 0 {
		line += " · card of the deck"
	} else if aside, wanted := r.DeckAside(); aside {
		line += " · deck put aside, " + say.Number(wanted) + " more met in a row bring it back"
	}
	if was := r.asWorked(); was != "" {
		line += " · as worked: " + was
	}
	return line
}

// besideMain is why a block of a handler beside the main one opened where it did, until its first trial.
func (r Screen) besideMain(steps []progression.Step) string {
	for t := range trial.Each(r.Session().Trials) {
		if t.Block == r.Block().ID {
			return ""
		}
	}
	mains := r.OpensFor("")
	main, _ := pack.Find(mains.People, mains.Main)
	line := fmt.Sprintf(" (%s: step %d)", cmp.Or(main.Name, "the main handler"), mains.ReachedAt()+1)
	if held := progression.Index(steps, r.Pack().Held); held >= 0 {
		line += fmt.Sprintf(" · step %d: a trainer shows it first", held+1)
	}
	return line
}

func (r Screen) say() phrase.Words { return phrase.In(r.Pack().Units) }

func (r Screen) dial(at float64) Dial {
	c := r.Today().Criteria
	limit, limited := r.Pack().Definition.Limit(c)
	o := r.Session().Trying
	answers := o != nil && r.Kind().OnCue && o.Mark == nil // what is held begins with the answer
	held := r.Kind().Lasting(r.Moment(at)) || c.Has(criteria.Duration) && !answers
	if held {
		limit = r.Seconds()
		limited = limit > 0
	}
	if d, ok := r.kindDial(at); ok {
		return d
	}
	if phase, _, of, since := r.PhaseNow(); of > 0 {
		d := Dial{Big: fmt.Sprintf("%.1f", math.Floor(math.Max(0, at-since)*10)/10), Of: "seconds"}
		if phase.Seconds > 0 {
			d.Of, d.Part = "of "+say.Seconds(phase.Seconds), math.Min(1, math.Max(0, at-since)/phase.Seconds)
			d.Full = d.Part == 1
		}
		return d
	}
	d := Dial{Big: "0.0", Of: "seconds"}
	if limited {
		d.Of = "of " + say.Seconds(limit)
	}
	if o == nil {
		return d
	}
	from := o.From
	if held && r.Kind().OnCue && o.Mark != nil {
		from = *o.Mark
	}
	gone := math.Max(0, at-from)
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

// kindDial is the dial of the kinds that wait for something else than an answer or the end of a hold.
func (r Screen) kindDial(at float64) (d Dial, ok bool) {
	o := r.Session().Trying
	since := func(from float64, of string) Dial {
		return Dial{Big: fmt.Sprintf("%.1f", math.Floor(math.Max(0, at-from)*10)/10), Of: of, Live: true}
	}
	switch {
	case r.Phase() == session.Recovering:
		moves, _, _ := r.Recovery()
		last := moves[len(moves)-1]
		d := since(last.At, "seconds")
		if last.What == record.Distance {
			d.Of, d.Part = "of "+say.Seconds(decision.FurtherOffS), math.Min(1, math.Max(0, at-last.At)/decision.FurtherOffS)
			d.Full = d.Part == 1
		}
		return d, true
	case r.Session().Away != nil:
		return since(*r.Session().Away, "seconds away"), true
	case r.Session().Taut != nil:
		return since(*r.Session().Taut, "s until it is loose"), true
	case r.Worried() != nil:
		return since(r.Worried().At, "s: itself again?"), true
	case r.Paces() > 0:
		n, made := r.Paces(), 0
		if o != nil {
			made = o.Counted.Paces
			return Dial{Big: strconv.Itoa(made), Of: "of " + say.Count(n, "pace"), Part: float64(made) / float64(n)}, true
		}
		return Dial{Big: strconv.Itoa(n), Of: strings.TrimPrefix(say.Count(n, "pace"), strconv.Itoa(n)+" ")}, true
	case r.Kind().Offers(r.Today().Criteria) && !(o != nil && r.Today().Criteria.Has(criteria.Duration)):
		return r.offersDial(at), true
	}
	return d, false
}

// offersDial is the rate of offers, those that were marked and those that were not.
func (r Screen) offersDial(at float64) Dial {
	d := Dial{Big: "0", Of: "offers a minute", Live: true}
	clock, begun := r.Clock()
	if !begun {
		return d
	}
	n := r.Block().Offers
	for t := range trial.Each(r.Session().Trials) {
		if t.Block == r.Block().ID {
			n++
		}
	}
	if active := clock.Active(at); active > 0 {
		d.Big = strconv.FormatFloat(float64(n)/(math.Max(active, 10)/60), 'f', 1, 64)
	}
	return d
}

func (r Screen) logLine(food string) string {
	n := 0
	for t := range trial.Each(r.Session().Trials) {
		if t.Outcome != trial.Void {
			n++
		}
	}
	line := say.Count(n, "trial")
	if food != "" {
		line += " · " + food
	} else if len(r.Session().Pays) > 0 {
		line += " · " + say.Count(len(r.Session().Pays), "pay")
	}
	if r.Aside() > 0 {
		line += " · " + say.Count(r.Aside(), "unreadable event") + " set aside"
	}
	return line
}

// targetLine says what this trial asks.
func (r Screen) targetLine() string {
	target := r.Target()
	if len(target) == 0 || r.Phase() != session.Idle && r.Phase() != session.Trying {
		return ""
	}
	if _, site := target[criteria.Site]; site && len(target) == 1 && r.Kind().HandsOn {
		return "" // it is what the line names anyway
	}
	return r.which() + ": " + strings.TrimSpace(r.say().Target(r.Ahead().Criteria, target))
}

// turnLine says what is worked in turn.
func (r Screen) turnLine() string {
	if n, of := r.Interlude(); of > 0 {
		if before := r.Session().Before(r.Block()); before != nil {
			return fmt.Sprintf("%d of %d, then back to %s", min(n+1, of), of, r.PackOf(before).SkillName)
		}
	}
	if _, on := r.Alternating(); on {
		return "In turn"
	}
	if r.Mixed() && r.Lanes()[0].Skill == r.Lanes()[len(r.Lanes())-1].Skill {
		return "Sides in turn"
	}
	if r.Mixed() {
		return "Mixed, " + say.Count(len(r.Lanes()), "skill")
	}
	if other := r.OtherDog(); other != nil {
		return r.PackOf(other).DogName + " rests"
	}
	return ""
}

// modeWhere says which step is asked in a block that does not teach.
func (r Screen) modeWhere(step, of int) string {
	switch r.Doing() {
	case record.Placing:
		return fmt.Sprintf("Placing · step %d of %d", step, of)
	case record.Baseline:
		return fmt.Sprintf("Baseline · step %d of %d · not paid", step, of)
	case record.Probe:
		return fmt.Sprintf("Probe · step %d of %d, cold", step, of)
	case record.Rehearsal:
		return fmt.Sprintf("Rehearsal · step %d of %d, %s", step, of, phrase.Rehearsed(r.Kind().HandsOn))
	}
	return ""
}

// row is the keys above the large one.
func (r Screen) row(at float64) []work.Button {
	if r.Phase() == session.Warming { // of a warm-up by tries
		return work.Outcomes("", "Slow", "Skip it", "Nothing")
	}
	row := r.Kind().Row(r.Moment(at))
	if o := r.Session().Trying; o != nil && o.Prompts > 0 {
		for i := range row {
			if row[i].Key == work.HelpKey {
				row[i].Label = fmt.Sprintf("%s %d", row[i].Label, o.Prompts)
			}
		}
	}
	return row
}

// beside are the keys of the moment, over that row: few, and only those that mean something.
func (r Screen) beside(phase session.Phase) (keys []work.Button) {
	add := func(key work.Key, label string, on bool) {
		if r.Means(key) {
			keys = append(keys, work.Button{Key: key, Label: label, On: on})
		}
	}
	for _, name := range r.Others() {
		add(session.Instead+work.Key(name), "Did: "+name, false)
	}
	if other := r.OtherDog(); other != nil {
		add(work.SwapKey, "Swap: "+r.PackOf(other).DogName+" works", false)
	}
	own := r.Kind().Beside(r.Moment(0))
	if phase == session.Idle || phase == session.Trying {
		keys = append(keys, own...)
	}
	if r.Armed().Done {
		add(work.DoneKey, "Really done", true)
	} else {
		add(work.DoneKey, "Rehearsal", false)
	}
	if t := r.Said(); t != nil && r.errs(t) {
		add(work.MistakeKey, "My mistake", false)
	}
	if r.Protects() {
		add(work.FetchedKey, "Fetched, didn’t call", false)
	}
	if to := r.Rehearsal(); to != nil && r.Means(work.RehearseKey) {
		_, steps := r.Position()
		label, at := "Rehearse", progression.Index(steps, to.ID)
		if r.Doing() == record.Rehearsal {
			label, at = "Teach", at-1
		}
		add(work.RehearseKey, fmt.Sprintf("%s step %d", label, at+1), false)
	}
	add(work.LoopKey, "Let out a loop", false)
	add(work.RealKey, "The real one", false)
	add(work.MarkedKey, "Marked on purpose", false)
	add(work.ReturnKey, "Back now", false)
	add(work.ItselfKey, "Itself again", false)
	if r.Troubled() || r.Session().Away != nil {
		add(work.RecoverKey, "Recover", false)
	}
	if r.Session().Away == nil && r.Kind().Leaves {
		add(work.LeftKey, "It left", false)
	}
	return keys
}

// measures is what the trial under way counts, in a line; what else is asked where nothing is under way.
func (r Screen) measures(at float64) string {
	if r.Session().Away != nil {
		return "It left, as it may. Wait until it comes back by itself."
	}
	if line := r.mealLine(); line != "" {
		return line
	}
	return r.Kind().Line(r.Moment(at))
}

// mealLine says in which phase of the easy one at the end the rest of a meal is fed, "" where in none.
func (r Screen) mealLine() string {
	if !r.Finishing() {
		return ""
	}
	phases := r.Block().Phases
	at := slices.IndexFunc(phases, func(p work.Phase) bool { return p.Meal })
	if at < 0 {
		return ""
	}
	return fmt.Sprintf("To finish: the rest of a meal in “%s”", phases[at].Name)
}
