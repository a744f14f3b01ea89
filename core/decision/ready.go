package decision

import "patientfox/core/record"

// The answers of a warm-up, beside those of a rule.
const (
	WorkHere    Verdict = "work_here"
	MakeEasier  Verdict = "make_easier"
	GoElsewhere Verdict = "go_elsewhere"
)

// ReadyTries is how many tries a warm-up has.
const ReadyTries = 3

// Ready says from the tries of a warm-up whether a dog can work here: three eager ones, work here; two without
// an answer, go elsewhere; anything else, make it easier. due is false while more tries are needed.
func Ready(answers []record.Answer) (verdict Verdict, due bool) {
	eager, none := 0, 0
	for _, a := range answers {
		switch a {
		case record.Eager:
			eager++
		case record.Nothing:
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
