package plan

import (
	"patientfox/core/decision"
	"patientfox/internal/app/form"
	"patientfox/internal/web/shell"
)

var ruleOptions = []shell.Option{
	{Value: string(decision.Set), Label: "Sets: decide on each full set"},
	{Value: string(decision.Run), Label: "Runs: decide on the last few in a row"},
	{Value: string(decision.Gate), Label: "Gate: a rate, over sessions and places"},
	{Value: string(decision.Proof), Label: "Proof: for what must not fail"},
	{Value: string(decision.CountUp), Label: "Counting up: a miss begins again"},
	{Value: string(decision.Calm), Label: "Calm: by the dog's state"},
}

var restarts = []shell.Option{
	{Value: string(decision.RestartOne), Label: "one step down"}, {Value: string(decision.RestartHalf), Label: "half way down"},
	{Value: string(decision.RestartBottom), Label: "at the first step"},
}

// ruleGroup is the figures of one rule.
type ruleGroup struct {
	Kind   string
	Fields []form.RuleField
}

func ruleGroups() []ruleGroup {
	var groups []ruleGroup
	for _, kind := range decision.Kinds {
		g := ruleGroup{Kind: string(kind)}
		for _, f := range form.RuleFields {
			if f.Kind == kind {
				g.Fields = append(g.Fields, f)
			}
		}
		groups = append(groups, g)
	}
	return groups
}

// StepRuleOptions are what one step can be decided by.
func (pg page) StepRuleOptions() []shell.Option {
	return append([]shell.Option{{Value: "plan", Label: "As the plan, whatever it is"}}, ruleOptions...)
}
