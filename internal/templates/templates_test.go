package templates_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/homework"
	"patientfox/core/library"
	"patientfox/core/programme"
	"patientfox/core/progression"
	"patientfox/core/work"
	"patientfox/internal/exchange"
	"patientfox/internal/templates"
)

func TestEveryTemplateIsWholeAndSound(t *testing.T) {
	all := templates.All()
	require.GreaterOrEqual(t, len(all), 45)
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
			require.NotEmpty(t, one.For)
			require.NotEmpty(t, one.Bring)
			require.NotEmpty(t, one.Body.Method)
			require.NotEmpty(t, one.Body.Wrong)
			require.NotEmpty(t, one.Body.Cautions)
			require.NotEmpty(t, one.Body.Pay.Where)
			require.Positive(t, one.Body.Pay.Tier)
			require.NotEmpty(t, one.Body.Pay.Purpose)
			d := one.Definition
			require.Empty(t, homework.HardOf(d.Position, d.Break, d.AfterText, d.Release), "its words go home with the dog")
			ladder, problems := one.Ladder()
			require.Empty(t, problems)
			require.GreaterOrEqual(t, len(ladder), 4)
			require.LessOrEqual(t, len(ladder), 45)
			require.Empty(t, work.Of(one.Kind).Missing(one.Definition, ladder))
			for age, weeks := range map[string]float64{"nine weeks": 9, "five months": 22, "three years": 156, "eleven years": 572} {
				for _, space := range []float64{0, 5} {
					c := progression.Case{Weeks: weeks, Space: space, MaxHeight: progression.HeightLimit(weeks, 0, false)}
					for _, fault := range faults(t, one, c) {
						t.Errorf("%s, %v m: %s", age, space, fault)
					}
				}
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

// faults are what is not sound about a template's ladder in a case.
func faults(t *testing.T, one library.Template, c progression.Case) (list []string) {
	t.Helper()
	ladder, problems := one.LadderFor(c)
	require.Empty(t, problems)
	require.NotEmpty(t, ladder)
	steps := make([]progression.Step, len(ladder))
	for i, c := range ladder {
		steps[i] = progression.Step{ID: string(rune('a' + i)), Rev: 1, Criteria: c}
	}
	for _, l := range progression.Lints(steps, one.Case(c)) {
		list = append(list, fmt.Sprintf("step %d is %s: %v", l.Step+1, l.Code, steps[l.Step].Criteria.Values))
	}
	return list
}

func TestProgrammesStand(t *testing.T) {
	all := templates.Programmes()
	require.Len(t, all, 6)
	for _, p := range all {
		for _, r := range p.Rows {
			last, ok := r.Aim(p.Weeks)
			require.True(t, ok, "%s: %s", p.Name, r.Skill)
			tmpl, _ := templates.Find(r.From)
			ladder, _ := tmpl.Ladder()
			require.Equal(t, r.Aims[p.Weeks-1]-1, programme.Aimed(ladder, last), "%s: %s", p.Name, r.Skill)
		}
	}
	p := all[0]
	p.Rows = nil
	_, err := templates.Aimed(p)
	require.Error(t, err)
}
