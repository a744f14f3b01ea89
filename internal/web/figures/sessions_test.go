package figures_test

import (
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"patientfox/internal/web/figures"
)

func TestDogsWithAsManySessionsShareADot(t *testing.T) {
	f := figures.DrawSessions(240, 22, 12, []int{2, 5, 5, 12}, []bool{false, false, true, false})
	require.Len(t, f.Dots, 3)
	require.Greater(t, f.Dots[1].R, f.Dots[0].R)
	require.True(t, f.Dots[1].Ring)
	require.False(t, f.Dots[2].Ring)
	var ticks []string
	for _, one := range f.Ticks {
		ticks = append(ticks, one.Text)
	}
	require.Equal(t, []string{"0", "1", "3", "10"}, ticks)
}

// Whatever was foreseen and came, it is drawn within its width, and ringed where the one does not hold the other.
func TestWhatWasForeseenStaysInside(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		draw := func(name string) int { return rapid.IntRange(0, 300).Draw(t, name) }
		lo := draw("lo")
		hi := lo + draw("hi")
		took, most := draw("took"), max(1, draw("most"))
		f := figures.DrawForeseen(240, 22, most, lo, (lo+hi)/2, hi, took)
		require.Equal(t, took < lo || took > hi, f.Dots[0].Ring)
		for _, x := range []float64{f.From, f.From + f.Wide, f.Mid, f.Dots[0].X} {
			require.True(t, x >= 0 && x <= 240, "%v", x)
		}
	})
}
