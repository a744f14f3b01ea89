package criteria

// Kind is the kind of work a skill is, which decides what a trial is and what is measured.
type Kind string

// The kinds of work.
const (
	Held       Kind = "held"       // start → release or break; seconds are watched
	Cued       Kind = "cued"       // cue → response; latency is watched
	Walking    Kind = "walking"    // paces to the next mark; pulls are watched
	Shaping    Kind = "shaping"    // an approximation offered
	Attention  Kind = "attention"  // a free minute; check-ins are watched
	Counter    Kind = "counter"    // stimulus → food; the state is watched
	Handling   Kind = "handling"   // site × tool × seconds; the state is watched
	Steadiness Kind = "steadiness" // signal and distraction; position kept until release
)

// KindOf describes a kind for pages.
type KindOf struct {
	Kind  Kind
	Label string
	Hint  string
	Keys  []Key // the dimensions that its steps usually have
}

// Kinds lists the kinds with their meaning.
var Kinds = []KindOf{
	{Held, "Held: a stay, a wait, a settle", "A trial runs from the start to your release, or until the dog breaks", []Key{Duration, Handler, Trigger, Intensity, Moving}},
	{Cued, "Cued: a recall, a stop, a touch", "A trial is one cue and the dog's answer; its latency is timed", []Key{Handler, Latency, Trigger, Intensity, Help}},
	{Walking, "Walking: a loose line, beside you", "A trial is so many paces to the next mark without a pull", []Key{Paces, Pace, Direction, Trigger, Intensity}},
	{Shaping, "Shaping: nearer step by step", "A trial is what the dog offers, against the approximation that is marked now", []Key{Approx, Duration, Help}},
	{Attention, "Attention: a free minute", "A trial is a minute in which the dog may do as it likes; check-ins are counted", []Key{CheckIns, Handler, Trigger, Intensity, Novelty}},
	{Counter, "Counter-conditioning: worried by something", "Stimulus first, then food, whatever the dog does; its state is watched", []Key{Trigger, Intensity, Moving, Part, Duration}},
	{Handling, "Handling and care: touched, groomed, treated", "A place on the body, a tool, some seconds; the dog may leave", []Key{Site, Tool, Duration, Help}},
	{Steadiness, "Steadiness: keeping position for a signal", "A signal and a distraction; position is kept until the release", []Key{Lead, Intensity, Out, Duration, Trigger}},
}

// OfKind returns the description of a kind.
func OfKind(kind Kind) (KindOf, bool) {
	for _, k := range Kinds {
		if k.Kind == kind {
			return k, true
		}
	}
	return KindOf{}, false
}

// IsHeld tells whether a trial is timed from the start to the release.
func (k Kind) IsHeld() bool { return k == Held }

// ByState tells whether a trial is an exposure, which has a state and no right answer.
func (k Kind) ByState() bool { return k == Counter || k == Handling }
