package phrase

import (
	"patientfox/core/say"
	"patientfox/core/trial"
	"patientfox/core/work"
)

var outcomes = map[trial.Outcome]string{
	trial.Met: "met", trial.Late: "slow", trial.Helped: "helped", trial.Missed: "missed", trial.LetGo: "ended early",
	trial.Void: "doesn’t count",
}

// Shown names what a trial showed: the state of an exposure, else its outcome.
func Shown(t *trial.Trial) string {
	if t.State != nil {
		return say.Lower(work.StateNames[*t.State])
	}
	return Outcome(t.Outcome)
}

// Outcome names an outcome, or is the word itself where it is none.
func Outcome(o trial.Outcome) string {
	if word, ok := outcomes[o]; ok {
		return word
	}
	return string(o)
}
