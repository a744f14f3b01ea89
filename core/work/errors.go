package work

import "patientfox/core/criteria"

// Error is something that a dog does wrong in a trial, as a plan names it. It has a key after the trial, and is counted by step.
type Error struct {
	Name   string `json:"name"`
	Spoils bool   `json:"spoils,omitempty"` // a trial with it is not met
}

// ToyIgnored is an error that says more than of one trial: what the dog usually wants does not matter to it now.
const ToyIgnored = "toy ignored"

// MaxErrors is how many errors a plan names at most: as many as fit the board.
const MaxErrors = 6

// Errors are those that a plan of the kind begins with; none where a trial has a state and no right answer.
func (w *Work) Errors() []Error { return w.errors }

// Spoiling names the errors with which a trial is not met.
func Spoiling(errors []Error) (names []string) {
	for _, e := range errors {
		if e.Spoils {
			names = append(names, e.Name)
		}
	}
	return names
}

// Prompts are the kinds of help within a trial that have a key. What a step plans as help is one more.
var Prompts = []string{"word again", "step in", "lure", "hand", "prop"}

// Prompted tells whether help that is given within a trial is counted, and the trial goes on. A free minute ends with it, shaping has
// none, and an exposure has no right answer that could be helped.
func (w *Work) Prompted() bool { return !w.Minutes && !w.Shapes && !w.ByState }

// Planned is the help that a step names, in the plan's words; "" where it names none, or has come to the end of the list.
func PlannedHelp(c criteria.Criteria) string {
	d, ok := c.Dimension(criteria.Help)
	if !ok || int(c.Get(criteria.Help)) >= len(d.Items)-1 {
		return ""
	}
	return c.Item(criteria.Help)
}

// PauseForHelp is how long a step lets the dog try before the help that it plans, s; planned is false where it plans none so.
func PauseForHelp(c criteria.Criteria) (s float64, planned bool) {
	return c.Get(criteria.HelpAfter), c.Has(criteria.HelpAfter)
}

// Mistakes are the handler's own that have a key. A repeated cue is one more; that is read from the cues.
var Mistakes = []string{"late mark", "early hand", "late food", "wrong hand", "moved"}

// MistakeNotSaid is one of which nobody said more.
const MistakeNotSaid = "mistake"

// Engaged is what an engaged dog looks like, where a plan says nothing else; a plan names at most MaxErrors.
var Engaged = []string{"eyes on you", "ears soft", "mouth loose", "tail loose", "takes food"}

// Phase is one part of a trial, as a plan names it.
type Phase struct {
	Name    string  `json:"name"`
	Seconds float64 `json:"seconds,omitempty"` // that it is to last, 0 where that is not asked
	Step    bool    `json:"step,omitempty"`    // it is to last as long as the step asks; the others take the time they take
	Meal    bool    `json:"meal,omitempty"`    // to finish on, the rest of a meal is fed in it
}

// MaxPhases is how many parts a trial has at most.
const MaxPhases = 4

// Phased tells whether trials of the kind can have phases: what is counted within one, or picked from a list, has parts already.
func (w *Work) Phased() bool { return !w.Walks && !w.Minutes && !w.Shapes }

// Reactions are what a dog can show to a decoy.
var Reactions = []string{"none", "looks", Withdraws}

// Withdraws is the reaction that says most: the hand has become a warning.
const Withdraws = "withdraws"

// JackpotReasons and OtherReasons are why a jackpot was paid, and what was paid for beside the trials.
var (
	JackpotReasons = []string{"hardest yet", "first time", "very fast", "its own idea", "after a bad patch"}
	OtherReasons   = []string{"looked at you", "calm", "came back", "left it alone", "lay down"}
)

// TheLine is help that the line gave, and ByTheLine what was done after an error where the dog was reeled in.
const (
	TheLine   = "the line"
	ByTheLine = "guided by the line"
)

// WasReset is what was done after an error where the dog was put back to where it began.
const WasReset = "reset"

// The arousal that is noted beside a state.
const (
	Settled = iota
	Lively
	OverExcited
)

// ArousalNames names them.
var ArousalNames = []string{"Settled", "Lively", "Over-excited"}
