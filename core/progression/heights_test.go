package progression_test

import (
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"patientfox/core/progression"
)

func stepsNamed(ids ...string) (steps []progression.Step) {
	for _, id := range ids {
		steps = append(steps, progression.Step{ID: id})
	}
	return steps
}

func TestAHalfStepStandsHalfWay(t *testing.T) {
	laid := [][]string{{"a", "b", "c"}, {"a", "ab", "b", "c"}, {"below", "a", "ab", "b", "c", "top"}}
	require.Equal(t, []float64{-0.5, 0, 0.5, 1, 2, 3}, progression.Heights(laid, stepsNamed("below", "a", "ab", "b", "c", "top")))
	require.Equal(t, []float64{0, 2}, progression.Heights(laid, stepsNamed("a", "c")), "what is gone leaves its room")
	require.Equal(t, []float64{2, 2.5}, progression.Heights(laid, stepsNamed("c", "a")), "put in another order")
	require.Equal(t, []float64{0, 1}, progression.Heights(nil, stepsNamed("x", "y")))
}

func TestHeightsOnlyRise(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		ids := []string{"a", "b", "c", "d", "e", "f"}
		var versions [][]string
		for range rapid.IntRange(1, 4).Draw(t, "versions") {
			versions = append(versions, rapid.Permutation(ids).Draw(t, "order")[:rapid.IntRange(1, 6).Draw(t, "steps")])
		}
		heights := progression.Heights(versions, stepsNamed(versions[len(versions)-1]...))
		for i := 1; i < len(heights); i++ {
			require.Greater(t, heights[i], heights[i-1])
		}
	})
}

func TestASetbackNeverFallsBelowTheFirstStep(t *testing.T) {
	steps := stepsNamed("a", "b", "c", "d")
	place := progression.Position{Reached: "c", Today: "b", Given: true, Since: "move"}
	require.Equal(t, progression.Position{Reached: "a", Today: "a", Since: "horn"}, place.Fall(steps, 2, "horn"))
	require.Equal(t, "a", place.Fall(steps, 9, "horn").Reached)
	require.Equal(t, "b", place.Fall(steps, 1, "horn").Reached)
}
