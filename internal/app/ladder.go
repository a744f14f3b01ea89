package app

import (
	"patientfox/core/criteria"
	"patientfox/core/progression"
)

// newSteps gives a ladder its names for life.
func NewSteps(made []criteria.Criteria) []progression.Step {
	steps := make([]progression.Step, len(made))
	for i, c := range made {
		steps[i] = progression.Step{ID: NewID(), Rev: 1, Criteria: c}
	}
	return steps
}
