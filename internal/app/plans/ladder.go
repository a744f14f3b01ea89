package plans

import (
	"patientfox/core/criteria"
	"patientfox/core/phrase"
	"patientfox/core/progression"
	"patientfox/internal/app"
)

// LadderView is a ladder before anything of it is saved.
type LadderView struct {
	Steps []app.StepView // easiest first
	Odd   int            // steps about which something is not sound
	Fits  []string       // what starts or ends easier than it was asked

	Elsewhere Elsewhere // of a new plan
}

// ladderView shows a ladder, laid out on the step below, if any.
func ladderView(below *progression.Step, made []criteria.Criteria, c progression.Case, words phrase.Words) LadderView {
	steps, first := app.NewSteps(made), 0
	v := LadderView{Steps: app.StepsOf(steps, words)}
	if below != nil && c.Reached > 0 {
		steps, first = append([]progression.Step{*below}, steps...), 1
	}
	for _, l := range progression.Lints(steps, c) {
		if l.Step < first {
			continue
		}
		says, fix := words.Lint(l)
		at := &v.Steps[l.Step-first]
		if len(at.Lints) == 0 {
			v.Odd++
		}
		at.Lints = append(at.Lints, app.LintView{Code: string(l.Code), Says: says, Fix: fix})
	}
	return v
}
