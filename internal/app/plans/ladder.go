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
}

func ladderView(made []criteria.Criteria, c progression.Case, words phrase.Words) LadderView {
	steps := app.NewSteps(made)
	v := LadderView{Steps: app.StepsOf(steps, words)}
	for _, l := range progression.Lints(steps, c) {
		says, fix := words.Lint(l)
		at := &v.Steps[l.Step]
		if len(at.Lints) == 0 {
			v.Odd++
		}
		at.Lints = append(at.Lints, app.LintView{Code: string(l.Code), Says: says, Fix: fix})
	}
	return v
}
