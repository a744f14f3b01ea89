package templates_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/progression"
	"patientfox/core/work"
	"patientfox/internal/exchange"
	"patientfox/internal/templates"
)

func TestEveryTemplateIsWholeAndSound(t *testing.T) {
	all := templates.All()
	require.GreaterOrEqual(t, len(all), 24)
	names, perKind := map[string]bool{}, map[work.Kind]int{}
	for _, one := range all {
		names[one.Name] = true
		perKind[one.Kind]++
	}
	for _, kind := range work.All {
		require.GreaterOrEqual(t, perKind[kind.Kind], 3, kind.Kind)
	}
	for _, one := range all {
		t.Run(one.Key, func(t *testing.T) {
			require.Empty(t, one.Check())
			require.NotEmpty(t, one.About)
			require.NotEmpty(t, one.Body.Method)
			require.NotEmpty(t, one.Body.Wrong)
			require.NotEmpty(t, one.Body.Cautions)
			require.NotEmpty(t, one.Body.Pay.Where)
			require.Positive(t, one.Body.Pay.Tier)
			require.NotEmpty(t, one.Body.Pay.Purpose)
			ladder, problems := one.Ladder()
			require.Empty(t, problems)
			require.GreaterOrEqual(t, len(ladder), 4)
			require.LessOrEqual(t, len(ladder), 45)
			require.Empty(t, work.Of(one.Kind).Missing(one.Definition, ladder))
			steps := make([]progression.Step, len(ladder))
			for i, c := range ladder {
				steps[i] = progression.Step{ID: string(rune('a' + i)), Rev: 1, Criteria: c}
			}
			for _, l := range progression.Lints(steps, progression.Case{}) {
				t.Errorf("step %d: %s %v", l.Step+1, l.Code, steps[l.Step].Criteria.Values)
			}
			for _, need := range one.Body.Needs {
				require.True(t, names[need.Skill], "%s is a template of its own", need.Skill)
			}
			// A template leaves as a file and comes back as the same plan.
			file, err := exchange.WriteTemplate(one)
			require.NoError(t, err)
			back, bad := exchange.ReadTemplate(file)
			require.Empty(t, bad)
			again, _ := back.Ladder()
			require.Len(t, again, len(ladder))
			for i := range ladder {
				require.True(t, ladder[i].Equal(again[i]), "step %d: %v and %v", i+1, ladder[i], again[i])
			}
			require.Equal(t, one.Body, back.Body)
			require.Equal(t, one.Definition, back.Definition)
			require.Equal(t, one.Tracks, back.Tracks)
		})
	}
}
