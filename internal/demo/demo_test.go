package demo_test

import (
	"context"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"patientfox/core/decision"
	"patientfox/core/work"
	"patientfox/internal/app/homework"
	"patientfox/internal/app/learning"
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
	lost, proved, levers := false, false, 0
	for _, plan := range plans {
		said, err := o.Store.Read().VerdictsOfPlan(ctx, plan.ID)
		require.NoError(t, err)
		for _, v := range said {
			verdicts[decision.Verdict(v.Recommended)] = true
			lost = lost || v.Recommended == string(decision.StepBack) && v.Rule != "" && containsCode(v.Reasons, decision.ProbeLost)
			proved = proved || containsCode(v.Reasons, decision.ProofPoints)
		}
		v, err := o.Evidence(ctx, plan.ID, "")
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
	require.True(t, proved, "a proof under way")
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

// Three traits of the demo's dogs are hidden in how their trials are made, and the pages find them, and no other: Pilchard tires after
// the fifteenth trial, Brine loses over days off, and a click does more for Pilchard than a word.
func TestWhatTheDemosDogsAreLikeIsFound(t *testing.T) {
	ctx := context.Background()
	o := practicetest.Demo(t)
	dogs, err := o.Dogs(ctx, "")
	require.NoError(t, err)
	within, between, past, running := map[string]bool{}, map[string]bool{}, 0, 0
	for _, d := range dogs.Dogs {
		var v learning.DogView
		require.Eventually(t, func() bool {
			v, err = o.DogLearning(ctx, d.ID)
			return err != nil || !v.Running
		}, time.Minute, time.Millisecond)
		require.NoError(t, err)
		within[d.Name] = strings.Contains(v.Within.Lines[0], "falls off after about trial 1")
		between[d.Name] = strings.Contains(v.Between.Lines[0], "Longer breaks cost more")
		dog, err := o.Dog(ctx, d.ID)
		require.NoError(t, err)
		for _, row := range dog.Plans {
			e, err := o.Experiments(ctx, row.ID)
			require.NoError(t, err)
			if e.Running != nil {
				running++
				require.Equal(t, "Brine", d.Name)
			}
			for _, one := range e.Past {
				past++
				require.Equal(t, "Pilchard", d.Name)
				require.Contains(t, strings.Join(one.Lines, " "), "The dog worked better with the click.")
			}
		}
	}
	require.Equal(t, map[string]bool{"Tansy": false, "Pilchard": true, "Quill": false, "Brine": false}, within)
	require.Equal(t, map[string]bool{"Tansy": false, "Pilchard": false, "Quill": false, "Brine": true}, between)
	require.Equal(t, 1, past)
	require.Equal(t, 1, running)
}

// Of two households who send back what they counted the trainer is told of the kind one alone.
func TestTheKindHouseholdIsFound(t *testing.T) {
	ctx := context.Background()
	o := practicetest.Demo(t)
	dogs, err := o.Dogs(ctx, "")
	require.NoError(t, err)
	told, came := map[string]int{}, map[string]int{}
	for _, d := range dogs.Dogs {
		v, err := o.Homework(ctx, d.ID, homework.Asked{})
		require.NoError(t, err)
		told[d.Name], came[d.Name] = len(v.Differs), len(v.Back)
	}
	require.Equal(t, map[string]int{"Tansy": 0, "Pilchard": 0, "Quill": 0, "Brine": 1}, told)
	require.Positive(t, came["Pilchard"])
}
