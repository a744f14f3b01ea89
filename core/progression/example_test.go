package progression_test

import (
	"fmt"

	"patientfox/core/criteria"
	"patientfox/core/progression"
)

// Duration is built first, a third of the way; then distance comes in, and duration eases while it does.
func ExampleLayout_Steps() {
	duration, _ := criteria.Find(criteria.Duration)
	distance, _ := criteria.Find(criteria.Handler)
	layout := progression.Layout{Generators: []progression.Generator{
		{Make: progression.MakeRamp, What: duration, From: 3, To: 12},
		{Make: progression.MakeRamp, What: distance, From: 1, To: 4},
	}}
	steps, problems := layout.Steps(60)
	fmt.Println(len(steps), "steps,", len(problems), "problems")
	last := steps[len(steps)-1]
	fmt.Println(last.Get(criteria.Duration), "s,", last.Get(criteria.Handler), "m")
	// Output:
	// 12 steps, 0 problems
	// 12 s, 4 m
}

// A ladder that asks for too much at once, and its fix.
func ExampleLints() {
	low := criteria.Criteria{}.With(criteria.Duration, 5)
	steps := []progression.Step{
		{ID: "a", Rev: 1, Criteria: low},
		{ID: "b", Rev: 1, Criteria: low.With(criteria.Duration, 30)},
	}
	for _, lint := range progression.Lints(steps, progression.Case{}) {
		fmt.Println("step", lint.Step+1, lint.Code, "→", lint.Fix, criteria.Figure(lint.To.Get(criteria.Duration)), "s")
	}
	// Output: step 2 jump → insert 12.2 s
}
