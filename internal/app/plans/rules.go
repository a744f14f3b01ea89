package plans

import (
	"context"

	"patientfox/core/decision"
	"patientfox/core/library"
	"patientfox/core/progression"
	"patientfox/internal/app/form"
)

// SaveRule changes when to step up.
func (p *Cases) SaveRule(ctx context.Context, plan string, t form.Typed) error {
	ps := form.Problems{}
	rule := form.ReadRule(ps, t)
	if err := ps.Err(); err != nil {
		return err
	}
	return p.ChangePlan(ctx, plan, t, "rule", func(b *library.Body, steps []progression.Step) ([]progression.Step, error) {
		b.Rule = rule
		return steps, nil
	})
}

// stepRule changes the rule of one step: the plan's, or another one with its default figures.
func stepRule(b *library.Body, step, kind string) {
	rules := map[string]decision.Rule{}
	for id, rule := range b.StepRules {
		rules[id] = rule
	}
	delete(rules, step)
	switch kind {
	case "":
	case "plan":
		rules[step] = b.Rule
	default:
		rules[step] = decision.Usual(decision.Kind(kind))
	}
	if b.StepRules = rules; len(rules) == 0 {
		b.StepRules = nil
	}
}
