package phrase

import "patientfox/core/trial"

var outcomes = map[trial.Outcome]string{
	trial.Met: "met", trial.Late: "slow", trial.Helped: "helped", trial.Missed: "missed", trial.LetGo: "ended early",
	trial.Void: "doesn’t count",
}

// Outcome names an outcome, or is the word itself where it is none.
func Outcome(o trial.Outcome) string {
	if word, ok := outcomes[o]; ok {
		return word
	}
	return string(o)
}
