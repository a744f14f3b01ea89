package progression_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"patientfox/core/criteria"
	p "patientfox/core/progression"
)

type values = map[criteria.Key]float64

func codes(lints []p.Lint) []p.LintCode {
	var list []p.LintCode
	for _, l := range lints {
		list = append(list, l.Code)
	}
	return list
}

func TestWhatIsNotSoundIsNamed(t *testing.T) {
	base := values{criteria.Duration: 10, criteria.Handler: 2}
	for name, pair := range map[string]struct {
		below, here values
		want        []p.LintCode
	}{
		"one thing, a little":         {base, values{criteria.Duration: 15, criteria.Handler: 2}, nil},
		"a jump":                      {base, values{criteria.Duration: 15.1, criteria.Handler: 2}, []p.LintCode{p.LintJump}},
		"short holds may grow by two": {values{criteria.Duration: 1}, values{criteria.Duration: 3}, nil},
		"metres by one":               {base, values{criteria.Duration: 10, criteria.Handler: 3}, nil},
		"two things":                  {base, values{criteria.Duration: 12, criteria.Handler: 3}, []p.LintCode{p.LintTwoRaised}},
		"nothing harder":              {base, values{criteria.Duration: 10, criteria.Handler: 1}, []p.LintCode{p.LintNoHarder}},
		"a trigger, nothing eased":    {base, values{criteria.Duration: 10, criteria.Handler: 2, criteria.Trigger: 40, criteria.Intensity: 2}, []p.LintCode{p.LintNew}},
		"a trigger, paid for":         {base, values{criteria.Duration: 6, criteria.Handler: 2, criteria.Trigger: 40, criteria.Intensity: 2}, nil},
		"nearer by a third":           {values{criteria.Trigger: 27}, values{criteria.Trigger: 18}, nil},
		"nearer by half":              {values{criteria.Trigger: 40}, values{criteria.Trigger: 20}, []p.LintCode{p.LintJump}},
		"stronger by two":             {values{criteria.Intensity: 1, criteria.Trigger: 40}, values{criteria.Intensity: 3, criteria.Trigger: 40}, []p.LintCode{p.LintJump}},
	} {
		require.Equal(t, pair.want, codes(p.Lints(steps(c(pair.below), c(pair.here)), 0)), name)
	}
	worded := c(base)
	worded.Text = "the other hand lifts the ear"
	require.Empty(t, p.Lints(steps(c(base), worded), 0), "what is harder may stand in words")
}

func TestHoldsByAge(t *testing.T) {
	require.InDelta(t, 10, p.HoldLimit(10), 1e-9)
	require.InDelta(t, 16, p.HoldLimit(16), 1e-9)
	require.InDelta(t, 32, p.HoldLimit(20), 1e-9)
	require.InDelta(t, 64, p.HoldLimit(24), 1e-9)
	require.True(t, math.IsInf(p.HoldLimit(52), 1))
	require.True(t, math.IsInf(p.HoldLimit(0), 1), "an unknown age limits nothing")
	lints := p.Lints(steps(c(values{criteria.Duration: 12})), 10)
	require.Equal(t, p.LintAge, lints[0].Code)
	require.Equal(t, 10.0, lints[0].To.Get(criteria.Duration))
	require.Empty(t, p.Lints(steps(c(values{criteria.Duration: 12})), 12))
}

// Whatever is found, doing its fix again and again comes to an end with nothing left to fix.
func TestFixesEnd(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var ladder []p.Step
		for i := range rapid.IntRange(1, 5).Draw(t, "steps") {
			v := values{criteria.Duration: rapid.Float64Range(1, 60).Draw(t, "s")}
			if rapid.Bool().Draw(t, "away") {
				v[criteria.Handler] = rapid.Float64Range(0, 10).Draw(t, "m")
			}
			if rapid.Bool().Draw(t, "trigger") {
				v[criteria.Trigger] = rapid.Float64Range(5, 80).Draw(t, "t")
			}
			ladder = append(ladder, p.Step{ID: string(rune('a' + i)), Rev: 1, Criteria: c(v)})
		}
		for round := 0; ; round++ {
			lints := p.Lints(ladder, 0)
			if len(lints) == 0 {
				return
			}
			require.Less(t, round, 200, "%+v", lints[0])
			ladder = p.Mend(ladder, lints[0], string(rune(1000+round)))
		}
	})
}
