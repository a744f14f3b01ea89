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

// past is a grown dog that is beyond the first step.
var past = p.Case{Reached: 1}

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
		"a trigger, nothing eased": {
			base, values{criteria.Duration: 10, criteria.Handler: 2, criteria.Trigger: 40, criteria.Intensity: 2},
			[]p.LintCode{p.LintNew},
		},
		"a trigger, paid for": {base, values{criteria.Duration: 6, criteria.Handler: 2, criteria.Trigger: 40, criteria.Intensity: 2}, nil},
		"nearer by a third":   {values{criteria.Trigger: 27}, values{criteria.Trigger: 18}, nil},
		"nearer by half":      {values{criteria.Trigger: 40}, values{criteria.Trigger: 20}, []p.LintCode{p.LintJump}},
		"stronger by two": {
			values{criteria.Intensity: 1, criteria.Trigger: 40}, values{criteria.Intensity: 3, criteria.Trigger: 40},
			[]p.LintCode{p.LintJump},
		},
	} {
		require.Equal(t, pair.want, codes(p.Lints(steps(c(pair.below), c(pair.here)), past)), name)
	}
	worded := c(base)
	worded.Text = "the other hand lifts the ear"
	require.Empty(t, p.Lints(steps(c(base), worded), past), "what is harder may stand in words")
}

// A step that names no measure of its work cannot be judged. An answer with a limit, or a distraction with a time, is one.
func TestAStepHasSomethingToMeasure(t *testing.T) {
	held := p.Case{Reached: 1, Least: c(values{criteria.Duration: 1})}
	bare := steps(c(values{criteria.Handler: 1}))
	lints := p.Lints(bare, held)
	require.Equal(t, []p.LintCode{p.LintMeasure}, codes(lints))
	mended := p.Mend(bare, lints[0], "new")
	require.Equal(t, 1.0, mended[0].Criteria.Get(criteria.Duration))
	require.Equal(t, 1.0, mended[0].Criteria.Get(criteria.Handler), "and what it asked stays")
	require.Empty(t, p.Lints(mended, held))
	require.Empty(t, p.Lints(bare, past), "work that measures by itself")
	require.Empty(t, p.Lints(steps(c(values{criteria.Latency: 2})), held))
	resting := p.Case{Weeks: 9, Reached: 1, Rests: true}
	require.Empty(t, p.Lints(steps(c(values{criteria.Duration: 300})), resting), "age sets no limit to rest")
	require.Equal(t, []p.LintCode{p.LintAge}, codes(p.Lints(steps(c(values{criteria.Duration: 300})), p.Case{Weeks: 9, Reached: 1})))
}

// One change to several steps, and one press for all faults of a sort.
func TestManyStepsAtOnce(t *testing.T) {
	ladder := steps(
		c(values{criteria.Duration: 2}), c(values{criteria.Duration: 9}), c(values{criteria.Handler: 3}), c(values{criteria.Duration: 60}),
	)
	seconds := of(criteria.Duration)
	for _, one := range []struct {
		how  p.Change
		x    float64
		want []float64
	}{
		{p.ChangeShift, 1.5, []float64{2, 10.5, 0, 61.5}}, {p.ChangeScale, 0.5, []float64{2, 4.5, 0, 30}},
		{p.ChangeSet, 7, []float64{2, 7, 7, 7}},
	} {
		out, problems := p.Changed(ladder, []int{1, 2, 3}, seconds, one.how, one.x)
		require.Empty(t, problems)
		for i, want := range one.want {
			require.InDelta(t, want, out[i].Criteria.Get(criteria.Duration), 1e-9, "%s, step %d", one.how, i+1)
		}
		require.Equal(t, ladder[0], out[0])
	}
	same, problems := p.Changed(ladder, []int{0, 3}, seconds, p.ChangeScale, 1e4)
	require.Len(t, problems, 2)
	require.Equal(t, ladder, same, "with a problem nothing is changed")
	n := 0
	id := func() string { n++; return string(rune('A' + n)) }
	fits := steps(c(values{criteria.Duration: 2}), c(values{criteria.Duration: 9}), c(values{criteria.Duration: 60}))
	mended := p.MendAll(fits, past, p.LintJump, 60, id)
	require.Empty(t, p.Lints(mended, past))
	require.Len(t, p.MendAll(fits, past, p.LintJump, 4, id), 4, "no more than there may be")
}

func TestHoldsByAge(t *testing.T) {
	require.InDelta(t, 10, p.HoldLimit(10), 1e-9)
	require.InDelta(t, 16, p.HoldLimit(16), 1e-9)
	require.InDelta(t, 32, p.HoldLimit(20), 1e-9)
	require.InDelta(t, 64, p.HoldLimit(24), 1e-9)
	require.True(t, math.IsInf(p.HoldLimit(52), 1))
	require.True(t, math.IsInf(p.HoldLimit(0), 1), "an unknown age limits nothing")
	lints := p.Lints(steps(c(values{criteria.Duration: 12})), p.Case{Weeks: 10, Reached: 1})
	require.Equal(t, p.LintAge, lints[0].Code)
	require.Equal(t, 10.0, lints[0].To.Get(criteria.Duration))
	require.Empty(t, p.Lints(steps(c(values{criteria.Duration: 12})), p.Case{Weeks: 12, Reached: 1}))
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
			lints := p.Lints(ladder, past)
			if len(lints) == 0 {
				return
			}
			require.Less(t, round, 200, "%+v", lints[0])
			ladder = p.Mend(ladder, lints[0], string(rune(1000+round)))
		}
	})
}

func of(key criteria.Key, items ...string) criteria.Dimension {
	d, _ := criteria.Find(key)
	if len(items) > 0 {
		d.Items = items
	}
	return d
}

func TestGearIsNeverSkipped(t *testing.T) {
	on := func(at float64) criteria.Criteria {
		return c(values{criteria.Handler: 5}).WithDimension(of(criteria.Gear), at)
	}
	require.Empty(t, p.Lints(steps(on(0), on(1)), past))
	lints := p.Lints(steps(on(0), on(3)), past)
	require.Equal(t, []p.LintCode{p.LintGear}, codes(lints))
	require.Equal(t, "short line", lints[0].To.Item(criteria.Gear))
	lints = p.Lints(steps(on(0), on(0).Without(criteria.Gear)), past)
	require.Equal(t, []p.LintCode{p.LintGear}, codes(lints), "gear that is not named any more is gone")
	mended := p.Mend(steps(on(0), on(3)), p.Lints(steps(on(0), on(3)), past)[0], "new")
	require.Len(t, mended, 3)
	require.Equal(t, []p.LintCode{p.LintGear}, codes(p.Lints(mended, past)), "then from the short line to the tab")
}

func TestPuppiesGrowByHalfInADay(t *testing.T) {
	two := steps(c(values{criteria.Duration: 2}), c(values{criteria.Duration: 4}))
	require.Empty(t, p.Lints(two, p.Case{Weeks: 80, Reached: 1}))
	lints := p.Lints(two, p.Case{Weeks: 14, Reached: 1})
	require.Equal(t, []p.LintCode{p.LintGrowth}, codes(lints))
	require.InDelta(t, 3, lints[0].Limit, 1e-9)
	require.Empty(t, p.Lints(steps(c(values{criteria.Duration: 2}), c(values{criteria.Duration: 3})), p.Case{Weeks: 14, Reached: 1}))
}

func TestTheFirstStepIsEasy(t *testing.T) {
	hard := steps(c(values{criteria.Duration: 20, criteria.Trigger: 5, criteria.Intensity: 3}))
	lints := p.Lints(hard, p.Case{})
	require.Equal(t, []p.LintCode{p.LintFirst}, codes(lints))
	require.Len(t, lints[0].Dims, 3)
	mended := p.Mend(hard, lints[0], "new")
	require.Equal(t, "new", mended[0].ID)
	require.NotContains(t, codes(p.Lints(mended, p.Case{})), p.LintFirst)
	require.NotContains(t, codes(p.Lints(hard, past)), p.LintFirst, "a dog that is past it can do it")
	require.Empty(t, p.Lints(steps(c(values{criteria.Duration: 5, criteria.Handler: 0})), p.Case{}))
}

func TestWhatMustStandFirst(t *testing.T) {
	two := steps(c(values{criteria.Duration: 2}), c(values{criteria.Duration: 3}))
	lints := p.Lints(two, p.Case{Reached: 1, Missing: []p.Need{{Skill: "Stay", Step: 3, Before: "b"}}})
	require.Equal(t, []p.LintCode{p.LintNeed}, codes(lints))
	require.Equal(t, 1, lints[0].Step)
	require.Equal(t, two, p.Mend(two, lints[0], "new"), "its fix lies outside the ladder")
	require.Empty(t, p.Lints(two, past))
}

func TestUnrankedChangesCountAsOneThingRaised(t *testing.T) {
	at := func(direction float64, metres float64) criteria.Criteria {
		return c(values{criteria.Handler: metres}).WithDimension(of(criteria.Direction), direction)
	}
	require.Empty(t, p.Lints(steps(at(0, 2), at(1, 2)), past))
	require.Equal(t, []p.LintCode{p.LintTwoRaised}, codes(p.Lints(steps(at(0, 2), at(1, 3)), past)))
}
