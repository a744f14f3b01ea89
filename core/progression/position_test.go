package progression_test

import (
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"patientfox/core/criteria"
	"patientfox/core/progression"
)

// A half step is where sessions open until it has led back up, whatever else moves the dog in between.
func TestAHalfStepStaysUntilItLedBackUp(t *testing.T) {
	steps := []progression.Step{{ID: "a"}, {ID: "half"}, {ID: "b"}, {ID: "c"}}
	for i := range steps {
		steps[i].Criteria = criteria.Criteria{}.With(criteria.Duration, float64(i+1))
	}
	rapid.Check(t, func(t *rapid.T) {
		p := progression.Position{Reached: "b", Today: "b"}
		apply := func(to string, why progression.Why) {
			var ok bool
			p, ok = p.Apply(steps, progression.Move{ID: "m", From: p.Today, To: to, Why: why})
			require.True(t, ok)
		}
		apply("half", progression.WhySplit)
		require.Equal(t, []int{1, 1}, []int{p.Halved(steps), p.Splits})
		for range rapid.IntRange(0, 5).Draw(t, "moves") {
			p = p.Open()
			require.Equal(t, "b", p.Today, "a session's block begins at the reached step")
			apply("half", progression.WhyStart)
			why := rapid.SampledFrom([]progression.Why{
				progression.WhyFinish, progression.WhyCeiling, progression.WhyHand, progression.WhyRegain, progression.WhyTurn,
			}).Draw(t, "why")
			apply("a", why)
			require.Equal(t, 1, p.Halved(steps))
		}
		splits := 0 // the reached step became that anew
		switch why := rapid.SampledFrom([]progression.Why{
			progression.WhyRegain, progression.WhyHand, progression.WhyStepUp, progression.WhyStepBack, progression.WhyPlaced,
		}).Draw(t, "ends by"); why {
		case progression.WhyStepUp:
			apply("c", why)
		case progression.WhyStepBack:
			apply("a", why)
		case progression.WhyPlaced:
			apply("b", why)
		default:
			apply("b", why)
			splits = 1
		}
		require.Equal(t, []int{0, splits}, []int{p.Halved(steps), p.Splits})
	})
}

func TestAHalfStepThatWasTakenOutIsForgotten(t *testing.T) {
	all := []progression.Step{{ID: "a"}, {ID: "half"}, {ID: "b"}}
	p := progression.Position{Reached: "b", Today: "b", Half: "half"}
	now := []progression.Step{all[0], all[2]}
	require.Zero(t, p.Settle(all, now).Halved(now))
	require.Zero(t, p.Settle(all, now).Halved(all), "for good")
}

// Half of a faint trigger is one further off, and not none.
func TestHalfOfAFaintTriggerIsFurtherOff(t *testing.T) {
	faint := criteria.Criteria{}.With(criteria.Trigger, 30).With(criteria.Intensity, 1)
	half := progression.Half([]progression.Step{{ID: "a", Criteria: faint}}, 0)
	require.InDelta(t, 60, half.Get(criteria.Trigger), 1e-9)
	require.InDelta(t, 1, half.Get(criteria.Intensity), 1e-9)
	alone := []progression.Step{{ID: "a", Criteria: criteria.Criteria{}.With(criteria.Intensity, 1)}}
	require.False(t, progression.Halves(alone, 0), "nothing to halve")
}
