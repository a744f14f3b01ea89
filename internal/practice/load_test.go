package practice_test

import (
	"maps"
	"math"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"patientfox/core/fit"
	"patientfox/core/load"
	"patientfox/core/say"
	"patientfox/core/session"
	"patientfox/internal/app/form"
	"patientfox/internal/app/loads"
	"patientfox/internal/app/plans"
	"patientfox/internal/practicetest"
)

func loadOf(t *testing.T, o *practicetest.Opened, plan, step string) loads.View {
	t.Helper()
	var v loads.View
	require.Eventually(t, func() bool {
		var err error
		v, err = o.Load(ctx, plan, step, "")
		require.NoError(t, err)
		return !v.Running
	}, 20*time.Second, 10*time.Millisecond)
	require.False(t, v.Failed)
	return v
}

// What a dog did moves what is expected of it: on the page, and in the pack that a phone carries.
func TestLoadIsWhatTheDogDid(t *testing.T) {
	o := practicetest.Empty(t)
	plan := cued(t, o, "1, 2, 4, 8, 16", nil)
	v := loadOf(t, o, plan, "")
	require.Zero(t, v.N)
	require.Nil(t, v.Field, "there is no trigger")
	usual := v.Sentence
	carried, err := o.Pack(ctx, plan)
	require.NoError(t, err)
	require.Equal(t, fit.Usual().Coef, carried.Load.Coef)
	before, known := carried.ChanceAt(carried.Steps[2], "", "")
	require.True(t, known)

	for range 8 {
		worked(t, o, plan, "mmmm", session.Choice{})
	}
	v = loadOf(t, o, plan, "")
	require.Equal(t, 32, v.N)
	require.NotEqual(t, usual, v.Sentence)
	require.Equal(t, 32, v.Predictions.N, "each trial was predicted from earlier sessions")
	carried, err = o.Pack(ctx, plan)
	require.NoError(t, err)
	require.Equal(t, 32, carried.Load.N)
	require.Equal(t, load.Experience{Counted: 32, Opened: 8, There: map[string]int{"": 8}}, carried.Load.Experience)
	after, _ := carried.ChanceAt(carried.Steps[2], "", "")
	require.Greater(t, after.P, before.P, "none was missed")
	require.Less(t, after.Hi-after.Lo, before.Hi-before.Lo, "and more is known")

	_, err = o.Load(ctx, "nothing", "", "")
	require.Error(t, err)
}

// Trials near a trigger tell what distance does to this dog; the circles of the drawing are those trials.
func TestLoadOfADogThatWorksNearGulls(t *testing.T) {
	o := practicetest.Demo(t)
	v := loadOf(t, o, tansyAtTheRamp(t, o), "")
	require.NotNil(t, v.Field)
	n := 0
	for _, s := range v.Field.Spots {
		require.LessOrEqual(t, s.Met, s.N)
		n += s.N
	}
	require.Positive(t, n)
	require.Less(t, n, v.N, "the first steps had no gulls")
	require.Positive(t, v.Field.PerDoubling)
	require.Negative(t, v.Field.PerLevel)
	require.NotNil(t, v.Field.At)
	at := v.Field.Base + v.Field.PerDoubling*math.Log2(v.Field.At.Metres/10) + v.Field.PerLevel*v.Field.At.Level
	require.Contains(t, v.Sentence, say.Percent(load.Logistic(at)), "the drawing and the sentence say the same")
	total := 0
	for _, one := range v.Predictions.Tenths {
		require.True(t, one.Lo <= one.Came && one.Came <= one.Hi)
		total += one.N
	}
	require.Equal(t, v.Predictions.N, total)
}

func tansyAtTheRamp(t *testing.T, o *practicetest.Opened) string {
	t.Helper()
	rows, err := o.Store.Read().Plans(ctx, nil, 100)
	require.NoError(t, err)
	for _, r := range rows {
		if r.DogName == "Tansy" && r.SkillName == "Wait at the ramp" {
			return r.ID
		}
	}
	require.Fail(t, "no such plan")
	return ""
}

// A new plan near a trigger says from where on the dog is right in its other skills, and when it begins nearer.
func TestANewPlanKnowsHowFarTheDogKeepsElsewhere(t *testing.T) {
	o := practicetest.Empty(t)
	near := form.Typed{
		"leg1_make": "approach", "leg1_from": "20", "leg1_to": "12", "leg1_trig": "gulls", "leg1_level": "1", "leg1_items": "", "leg1_what": "",
	}
	plan := cued(t, o, "", near)
	for range 4 {
		worked(t, o, plan, "xmxmxmxm", session.Choice{})
	}
	row, err := o.Plan(ctx, plan)
	require.NoError(t, err)
	fresh := form.Typed{"skill": "Wait at the ramp", "kind": "cued"}
	maps.Copy(fresh, near)
	look := func(metres string) plans.Elsewhere {
		fresh["leg1_from"], fresh["leg1_to"] = metres, "2"
		v, err := o.NewPlan(ctx, row.Row.DogID, fresh)
		require.NoError(t, err)
		require.NotNil(t, v.Preview, v.NotYet)
		return v.Preview.Elsewhere
	}
	require.Eventually(t, func() bool { return len(look("8").Lines) == 1 }, 20*time.Second, 10*time.Millisecond)
	require.NotEmpty(t, look("8").Nearer)
	require.Equal(t, "faint", look("8").Strength)
	fresh["skill"] = "nose to the yellow bollard"
	require.Empty(t, look("8").Lines, "its own skill is no other one")
}
