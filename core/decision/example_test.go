package decision_test

import (
	"fmt"

	"patientfox/core/decision"
	"patientfox/core/trial"
)

// A set of five, in which the fourth was missed and a spoiled trial counts for nothing.
func ExampleDecide() {
	var stretch []trial.Trial
	for i, outcome := range []trial.Outcome{trial.Met, trial.Met, trial.Void, trial.Met, trial.Missed, trial.Met} {
		stretch = append(stretch, trial.Trial{ID: fmt.Sprint(i + 1), Outcome: outcome})
	}
	rule := decision.Defaults(decision.Set)
	d := decision.Decide(rule, decision.Question{Trials: stretch, Step: 2, Last: 9})
	fmt.Println(d.Verdict, d.Due, d.Reasons[0].Code, d.Reads)

	d = decision.Decide(rule, decision.Question{Trials: stretch[:4], Step: 2, Last: 9})
	fmt.Println(d.Due)
	// Output:
	// repeat true between [1 2 4 5 6]
	// false
}
