package load_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/criteria"
	"patientfox/core/load"
	"patientfox/core/trial"
)

// The conditions of a step are what it names; as it was worked, what people had instead.
func TestConditionsOfAStep(t *testing.T) {
	c := criteria.Criteria{Trig: "gulls"}.With(criteria.Trigger, 20).With(criteria.Duration, 8).With(criteria.Help, 1)
	require.Equal(t, load.Conditions{TriggerM: 20, Intensity: load.Unsaid, DurationS: 8, Help: 0.75}, load.Step(c))
	require.Zero(t, load.Step(c.With(criteria.Intensity, 0)).Intensity, "it is not there")
	one := trial.Trial{
		Asked: map[criteria.Key]float64{criteria.Duration: 5}, Worked: map[criteria.Key]float64{criteria.Trigger: 30, criteria.Moving: 1},
	}
	want := load.Conditions{TriggerM: 30, Intensity: load.Unsaid, Moving: true, DurationS: 5, Help: 0.75}
	require.Equal(t, want, load.Step(load.AsWorked(c, &one)))
	require.Equal(t, 20.0, c.Get(criteria.Trigger), "the step is as it was")
	been := load.Experience{Counted: 70, Opened: 3, There: map[string]int{"shed": 2, "quay": 1}}
	for place, novelty := range map[string]float64{"shed": 0, "quay": 1, "deck": 2} {
		ahead := been.Ahead(c, place, 4, 6)
		require.Equal(t, []float64{novelty, 4, 6, 70}, []float64{ahead.Novelty, ahead.Value, ahead.Rate, float64(ahead.Practice)}, place)
	}
	require.Zero(t, load.Experience{}.Ahead(c, "deck", 0, 0).Novelty, "the very first session is nowhere new")
	require.Equal(t, 3.0, been.Ahead(c.With(criteria.Novelty, 3), "shed", 0, 0).Novelty, "the step says so")
}

// A page speaks of what the skill has: a recall without seconds is not made easier by fewer of them.
func TestWhatMatters(t *testing.T) {
	var tried load.Tried
	tried.Add(load.Conditions{HandlerM: 4, Value: 3})
	for term, want := range map[load.Term]bool{
		load.Distance: false, load.Moving: false, load.Duration: false, load.Handler: true, load.Help: false, load.Value: true, load.Cold: true,
	} {
		require.Equal(t, want, tried.Matters(term, load.Conditions{}), "%d", term)
	}
	require.True(t, tried.Matters(load.Distance, load.Conditions{Intensity: 1}))
	require.True(t, tried.Matters(load.Help, load.Conditions{Help: 0.5}))
}
