package trial

// Outcome is how one trial ended. The zero value is "not yet known".
type Outcome string

// The outcomes.
const (
	Met    Outcome = "met"    // every criterion, unhelped, on the first cue, inside the latency limit
	Late   Outcome = "late"   // right, but over the limit or on a repeated cue
	Helped Outcome = "helped" // right only after help that the step did not plan
	Missed Outcome = "missed" // wrong, none, or broken before the release
	LetGo  Outcome = "let_go" // ended early by the trainer, after the cue: in no rate
	Void   Outcome = "void"   // spoiled from outside, never counted
)

// Valid tells whether o is one of the outcomes.
func (o Outcome) Valid() bool {
	switch o {
	case Met, Late, Helped, Missed, LetGo, Void:
		return true
	}
	return false
}

// Unread tells whether rates and guards pass over the outcome: spoiled from outside, or ended early.
func (o Outcome) Unread() bool { return o == Void || o == LetGo }

// Right tells whether the response was right, be it slow.
func (o Outcome) Right() bool { return o == Met || o == Late }
