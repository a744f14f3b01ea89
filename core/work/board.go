package work

import (
	"slices"
	"strconv"

	"patientfox/core/criteria"
	"patientfox/core/say"
	"patientfox/core/trial"
)

// Moment is what a board is asked about: the step, and the trial under way.
type Moment struct {
	At       float64           // s of the session's clock
	Criteria criteria.Criteria // of today's step
	Seconds  float64           // that the trial is to last, 0 where that is not asked
	Limit    float64           // s in which the answer is right, 0 without a limit
	Paces    int               // that make the trial, 0 where they are not counted
	Trial    *trial.UnderWay   // nil between trials
	Closed   int               // trials of the session so far
	Taut     bool              // the line
	Site     string            // that is handled next
	OnLine   bool              // a cue that must not fail, with the dog on a line
	Pay      MarkPay           // what a mark is paid with
	Marks    string            // what a mark means, with its pay
}

// MarkPay is how the trial under way is paid when it is marked.
type MarkPay int

// The ways to pay a mark.
const (
	PaidNow    MarkPay = iota
	PaidHelped         // it is paid, and was helped
	PaidBefore         // in the trial already
	PaidNot            // praise alone
)

// Do says what an act does.
type Do int

// What a press can do. A session makes events of it.
const (
	Cue         Do = iota // a cue, or the start of a hold
	Stimulus              // the stimulus of an exposure, or the distraction where it comes first: a trial begins
	Distraction           // a distraction comes
	Away                  // it is gone
	Count                 // What is counted
	Reward                // paid where the block teaches
	Pay                   // paid
	Taut                  // the line goes tight
	Close                 // the trial, with Outcome; "" leaves it to the measures
	Expose                // the exposure closes with State and Touch
	Answered              // the answer to the cue, where something is to be held after it
	Offers                // the dog offers the approximation at Item
)

// Act is one thing that a press means.
type Act struct {
	Do      Do
	What    string
	Outcome trial.Outcome
	State   int
	Touch   trial.Touch
	Item    int
}

// Start is what the large key means between trials.
func (w *Work) Start(m *Moment) []Act {
	if w.start != nil {
		return w.start(m)
	}
	return []Act{{Do: Cue}}
}

// Main is what the large key means while a trial is under way.
func (w *Work) Main(m *Moment) []Act {
	switch {
	case w.main != nil:
		return w.main(m)
	case w.holdsAfter(m):
		return []Act{{Do: Answered}}
	}
	return met
}

// Lasting tells whether the trial of a moment is to last for some seconds, as a hold and a free minute are.
func (w *Work) Lasting(m *Moment) bool { return w.Lasts && !(w.Minutes && m.returns()) }

// holdsAfter tells whether the trial under way still waits for the answer after which something is held for some seconds.
func (w *Work) holdsAfter(m *Moment) bool {
	return w.OnCue && m.Criteria.Has(criteria.Duration) && m.Trial.Mark == nil
}

var met = []Act{{Do: Close, Outcome: trial.Met}}

// Starting is the large key between trials.
func (w *Work) Starting(m *Moment) Button {
	if w.starting != nil {
		return w.starting(m)
	}
	return Button{Key: Main, Label: "Start", Sub: w.begin}
}

// Marking is the large key while a trial is under way.
func (w *Work) Marking(m Moment) Button {
	m.Marks = map[MarkPay]string{
		PaidNow: w.mark + ", paid", PaidHelped: "helped, and paid", PaidBefore: w.mark, PaidNot: w.mark + ": praise, no food",
	}[m.Pay]
	switch {
	case w.marking != nil:
		return w.marking(&m)
	case w.holdsAfter(&m):
		return Button{Key: Main, Label: "It answers", Sub: "then it is held for " + say.Seconds(m.Seconds)}
	}
	return mark(&m)
}

func mark(m *Moment) Button { return Button{Key: Main, Label: "Mark", Sub: m.Marks} }

// Row is the keys above the large one: outcomes, states, or what else can be offered.
func (w *Work) Row(m *Moment) []Button {
	if w.row != nil {
		return w.row(m)
	}
	return Outcomes("Met", "Slow", "Helped", "Missed")
}

// Outcomes is a row of outcomes from best to worst, in the words given, without those that have none. Each has the same number in
// every kind of work.
func Outcomes(met, late, helped, missed string) (row []Button) {
	for i, one := range []Button{
		{Key: MetKey, Label: met, Shape: "met"}, {Key: LateKey, Label: late, Shape: "late"},
		{Key: HelpKey, Label: helped, Shape: "helped"}, {Key: MissKey, Label: missed, Shape: "missed"},
	} {
		if one.Label != "" {
			one.Kbd = strconv.Itoa(i + 1)
			row = append(row, one)
		}
	}
	return row
}

// Wrong is the key of the row for what went wrong: missed, pulled, worried. A remote has one for all kinds of work.
func (w *Work) Wrong(m *Moment) Key {
	key := MissKey
	for _, b := range w.Row(m) {
		if b.Shape == "missed" || b.Shape == "state3" {
			key = b.Key
		}
	}
	return key
}

// States is a row of the states of an exposure, from expects good to over threshold, numbered as they are shown.
func States() (row []Button) {
	for i, key := range []Key{ExpectKey, MetKey, LateKey, HelpKey, MissKey} {
		row = append(row, Button{Key: key, Label: StateNames[i], Shape: "state" + strconv.Itoa(i), Kbd: strconv.Itoa(i + 1)})
	}
	return row
}

// StateNames names what a dog shows of an exposure, 0 to 4.
var StateNames = []string{"Expects good", "At ease", "Wary", "Worried", "Over"}

// StateTicks says what each state looks like, for everybody who has to call it.
var StateTicks = []string{
	"looks from the thing to you, loose",
	"notices it, eats",
	"ears or weight back, eats",
	"one bark, freezes, leaves or snatches food, but can be fed away",
	"barks or lunges on, won’t eat, can’t turn away",
}

// Looks is what each state looks like, as a practice describes it; "" there is the usual.
func Looks(own []string) []string {
	list := slices.Clone(StateTicks)
	for i, words := range own[:min(len(own), len(list))] {
		if words != "" {
			list[i] = words
		}
	}
	return list
}

// Notes are the keys of a state that is noted beside work whose trials have none themselves.
func (w *Work) Notes() (keys []Button) {
	for i, name := range StateNames {
		if !w.ByState {
			keys = append(keys, Button{Key: Noted + Key(strconv.Itoa(i)), Label: name, Shape: "state" + strconv.Itoa(i)})
		}
	}
	return keys
}

// ownKey is a key that only some kinds of work have.
type ownKey struct {
	key    Key
	beside string // its label over the row; "" where it is elsewhere
	when   func(m *Moment) bool
	acts   func(m *Moment) []Act
}

// Own is what a key of the kind's own means, none where it means nothing now.
func (w *Work) Own(key Key, m *Moment) []Act {
	for _, one := range w.own {
		if one.key == key && one.when(m) {
			return one.acts(m)
		}
	}
	return nil
}

// Beside are the kind's own keys over the row now.
func (w *Work) Beside(m *Moment) (keys []Button) {
	for _, one := range w.own {
		if one.beside != "" && one.when(m) {
			keys = append(keys, Button{Key: one.key, Label: one.beside})
		}
	}
	return keys
}

// Line is what the trial under way counts, or what is asked where none is; "" where there is nothing to say.
func (w *Work) Line(m *Moment) string {
	if w.line == nil {
		return ""
	}
	return w.line(m)
}

func idle(m *Moment) bool   { return m.Trial == nil }
func trying(m *Moment) bool { return m.Trial != nil }
func always(*Moment) bool   { return true }

// act makes one act of a key.
func act(one Act) func(*Moment) []Act { return func(*Moment) []Act { return []Act{one} } }

// Success is what a trial that went well is called.
func (w *Work) Success() string {
	if w.ByState {
		return "at ease"
	}
	return "met"
}
