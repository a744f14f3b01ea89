package pack_test

import (
	"fmt"

	"patientfox/core/criteria"
	"patientfox/core/pack"
	"patientfox/core/progression"
	"patientfox/core/standing"
	"patientfox/core/trial"
	"patientfox/core/work"
)

// What a phone carries of a plan whose dog has done one set at its first step.
func ExampleMake() {
	steps := []progression.Step{
		{ID: "3 s", Rev: 1, Criteria: criteria.Criteria{}.With(criteria.Duration, 3)},
		{ID: "5 s", Rev: 1, Criteria: criteria.Criteria{}.With(criteria.Duration, 5)},
	}
	var done []trial.Trial
	for _, outcome := range []trial.Outcome{trial.Met, trial.Met, trial.Missed} {
		done = append(done, trial.Trial{Step: "3 s", Rev: 1, Outcome: outcome})
	}
	visits := []standing.Visit{{Session: "monday", Place: "shed"}}
	stands := standing.Of(standing.Ladder{All: steps, Now: steps, MaxRung: 5}, steps, visits, nil)
	record := pack.RecordOf(steps, stands.Position.Reached, done, done, nil)
	p := pack.Make(pack.Pack{Plan: "ramp", Kind: work.Held, Steps: steps}, stands, record)
	fmt.Println(p.Position.Reached, p.Visits, "session,", len(p.Stretch), "trials for the rule,", p.LastPlace)
	// Output: 3 s 1 session, 3 trials for the rule, shed
}
