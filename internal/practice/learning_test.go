package practice_test

import (
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"patientfox/core/session"
	"patientfox/internal/app"
	"patientfox/internal/app/forecasts"
	"patientfox/internal/app/learning"
	"patientfox/internal/practicetest"
)

func learningOf(t *testing.T, o *practicetest.Opened, dog string) learning.DogView {
	t.Helper()
	var v learning.DogView
	require.Eventually(t, func() bool {
		var err error
		v, err = o.DogLearning(ctx, dog)
		require.NoError(t, err)
		return !v.Running
	}, 20*time.Second, 10*time.Millisecond)
	require.False(t, v.Failed)
	return v
}

// A dog's page of learning counts all its skills, by where in a session trials were and by the days off before it.
func TestADogsSessionsAreReadTogether(t *testing.T) {
	o := practicetest.Empty(t)
	plan := cued(t, o, "1, 2, 4, 8, 16", nil)
	row, err := o.Plan(ctx, plan)
	require.NoError(t, err)
	dog := row.Row.DogID
	require.True(t, learningOf(t, o, dog).None)
	for _, days := range []int{0, 0, 3, 0} {
		worked(t, o, plan, "mxmxmxmxmx", session.Choice{})
		o.Clock.Add(time.Duration(days) * 24 * time.Hour)
	}
	worked(t, o, plan, "mxmxmx", session.Choice{})
	v := learningOf(t, o, dog)
	require.False(t, v.None)
	met := func(s app.Section) (all [][2]int) {
		for _, r := range s.Rates {
			for _, one := range r.Rates {
				all = append(all, [2]int{one.Met, one.N})
			}
		}
		return all
	}
	require.Equal(t, [2]int{5 * 3, 5 * 5}, met(v.Within)[0], "the first five of each session")
	require.Positive(t, v.Predictions.N)
	labels := []string{}
	for _, r := range v.Between.Rates {
		labels = append(labels, r.Label)
		require.Equal(t, []string{"ended", "began"}, []string{r.Rates[0].Name, r.Rates[1].Name})
	}
	require.Equal(t, []string{"A day", "4 to 7 days"}, labels)
	_, err = o.DogLearning(ctx, "nobody")
	require.ErrorIs(t, err, app.ErrNotFound)
}

// Over the practice: where the dogs of a skill spent their sessions, and how forecasts came true.
func TestAPracticeLearnsFromAllItsDogs(t *testing.T) {
	o := practicetest.Empty(t)
	look := func() (v learning.PracticeView, came forecasts.CameView) {
		require.Eventually(t, func() bool {
			var err error
			v, err = o.PracticeLearning()
			require.NoError(t, err)
			came, err = o.ForecastsCame()
			require.NoError(t, err)
			return !v.Running && !came.Running
		}, 60*time.Second, 10*time.Millisecond)
		require.False(t, v.Failed || came.Failed)
		return v, came
	}
	v, came := look()
	require.Empty(t, v.Skills)
	require.Empty(t, came.Plans)
	for _, sessions := range []int{2, 4} {
		plan := cued(t, o, "1, 2, 4, 8", nil)
		for range sessions - 1 {
			worked(t, o, plan, "mmmmxmmmmx", session.Choice{})
		}
		worked(t, o, plan, "mmmmxmmmmmmmmmm", session.Choice{})
	}
	v, came = look()
	require.Len(t, v.Skills, 1, "both dogs learn the same skill")
	require.Equal(t, 2, v.Skills[0].Dogs)
	first := v.Skills[0].Steps[0]
	require.Equal(t, []int{2, 4}, []int{first.Dogs[0].Sessions, first.Dogs[1].Sessions})
	require.Equal(t, 2*10+3*10+2*15-10, v.Predictions.N)
	require.Len(t, came.Plans, 2)
	require.Equal(t, 2, came.Held+came.Sooner+came.Later)
	took := []int{came.Plans[0].Took, came.Plans[1].Took}
	slices.Sort(took)
	require.Equal(t, []int{2, 4}, took)
}
