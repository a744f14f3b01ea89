package figures_test

import (
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"patientfox/internal/web/figures"
)

func TestAClimbShowsWhatWasGainedAndLost(t *testing.T) {
	classes := func(c figures.Climb) (list []string) {
		for _, one := range c.Steps {
			list = append(list, one.Class)
		}
		return list
	}
	require.Equal(t, []string{"stood", "gained", "gained", "ahead"}, classes(figures.DrawClimb(4, 0, 2)))
	require.Equal(t, []string{"stood", "lost", "ahead"}, classes(figures.DrawClimb(3, 1, 0)))
	require.Equal(t, []string{"stood", "ahead"}, classes(figures.DrawClimb(2, -1, 0)), "the step of before is gone")
	require.Empty(t, figures.DrawClimb(3, 0, -1).Steps)
	require.Equal(t, "Step 3 of 4; a week before, step 1", figures.DrawClimb(4, 0, 2).Says)
	rapid.Check(t, func(t *rapid.T) {
		steps := rapid.IntRange(1, 200).Draw(t, "steps")
		at := rapid.IntRange(0, steps-1)
		c := figures.DrawClimb(steps, at.Draw(t, "was"), at.Draw(t, "now"))
		require.Len(t, c.Steps, steps)
		for _, one := range c.Steps {
			require.Positive(t, one.W)
			require.InDelta(t, c.H, one.Y+one.H, 1e-9)
			require.LessOrEqual(t, one.X+one.W, c.W+1e-9)
			require.GreaterOrEqual(t, one.Y, -1e-9)
		}
	})
}
