package decision

// The answers of a warm-up, beside those of a rule.
const (
	WorkHere    Verdict = "work_here"
	MakeEasier  Verdict = "make_easier"
	GoElsewhere Verdict = "go_elsewhere"
)

// Answer is how a dog took one try of a warm-up.
type Answer string

// The answers.
const (
	AnswerEager Answer = "eager" // offered itself, and ate at once
	AnswerSlow  Answer = "slow"  // late, or ate slowly
	AnswerNone  Answer = "none"  // did not answer, or did not eat
)

// Valid tells whether a is one of the answers.
func (a Answer) Valid() bool { return a == AnswerEager || a == AnswerSlow || a == AnswerNone }

// ReadyTries is how many tries a warm-up has.
const ReadyTries = 3

// Ready says from the tries of a warm-up whether a dog can work here: three eager ones, work here; two without
// an answer, go elsewhere; anything else, make it easier. due is false while more tries are needed.
func Ready(answers []Answer) (verdict Verdict, due bool) {
	eager, none := 0, 0
	for _, a := range answers {
		switch a {
		case AnswerEager:
			eager++
		case AnswerNone:
			none++
		}
	}
	switch {
	case none >= 2:
		return GoElsewhere, true
	case len(answers) < ReadyTries:
		return Repeat, false
	case eager == len(answers):
		return WorkHere, true
	}
	return MakeEasier, true
}
