package demo_test

import (
	"context"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/decision"
	"patientfox/core/work"
	"patientfox/internal/practicetest"
)

// Whoever looks at the demo sees everything that the rules can say.
func TestTheDemoShowsEveryVerdictAndEveryStuckReason(t *testing.T) {
	ctx := context.Background()
	o := practicetest.Demo(t)
	_, err := o.Today(ctx)
	require.NoError(t, err)
	plans, err := o.Store.Read().Plans(ctx, nil, 100)
	require.NoError(t, err)
	verdicts, stuck := map[decision.Verdict]bool{}, map[string]bool{}
	lost, levers := false, 0
	for _, plan := range plans {
		said, err := o.Store.Read().VerdictsOfPlan(ctx, plan.ID)
		require.NoError(t, err)
		for _, v := range said {
			verdicts[decision.Verdict(v.Recommended)] = true
			lost = lost || v.Recommended == string(decision.StepBack) && v.Rule != "" && containsCode(v.Reasons, decision.ProbeLost)
		}
		v, err := o.Evidence(ctx, plan.ID)
		require.NoError(t, err)
		for _, s := range v.Stuck {
			stuck[s.Code] = true
			t.Log(plan.DogName, plan.SkillName, s.Code, s.Because)
		}
		t.Log(plan.DogName, plan.SkillName, v.Ahead, v.Levers)
		levers += len(v.Levers)
	}
	for _, verdict := range []decision.Verdict{
		decision.StepUp, decision.Repeat, decision.StepBack, decision.Split, decision.Stop, decision.Finished, decision.Held, decision.Placed,
	} {
		require.True(t, verdicts[verdict], verdict)
	}
	for _, code := range decision.StuckCodes {
		require.True(t, stuck[string(code)], code)
	}
	require.True(t, lost, "a probe that failed")
	require.Positive(t, levers, "what alone would make a stuck step likely enough")
}

func containsCode(reasons string, code decision.Code) bool {
	return strings.Contains(reasons, `"`+string(code)+`"`)
}

// Every kind of work has a history, and no step of the demo is one that a lint advises against.
func TestEveryKindOfWorkHasAHistoryAndEveryStepIsSound(t *testing.T) {
	ctx := context.Background()
	o := practicetest.Demo(t)
	o.CatchUp(t)
	dogs, err := o.Dogs(ctx, "")
	require.NoError(t, err)
	worked := map[string]int{}
	for _, d := range dogs.Dogs {
		dog, err := o.Dog(ctx, d.ID)
		require.NoError(t, err)
		for _, row := range dog.Plans {
			v, err := o.Plan(ctx, row.ID)
			require.NoError(t, err)
			worked[v.Kind] = max(worked[v.Kind], len(v.Sessions))
			for _, step := range v.Steps {
				for _, lint := range step.Lints {
					require.Equal(t, "need", lint.Code, "%s, %s, step %d: %s", d.Name, row.Skill, step.Number, lint.Says)
				}
			}
		}
	}
	for _, kind := range work.All {
		require.GreaterOrEqual(t, worked[kind.Label]+worked[string(kind.Kind)], 2, "%v", worked)
	}
}
