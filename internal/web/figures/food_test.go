package figures_test

import (
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"patientfox/internal/web/figures"
)

func TestStrengthsLieOnTheScaleOfFiveTiers(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var rows []figures.Strength
		for range rapid.IntRange(1, 6).Draw(t, "rows") {
			lo := rapid.Float64Range(0, 0.9).Draw(t, "lo")
			hi := rapid.Float64Range(lo, 1).Draw(t, "hi")
			rows = append(rows, figures.Strength{Name: "x", Lo: lo, At: (lo + hi) / 2, Hi: hi})
		}
		f := figures.DrawStrengths(360, rows)
		require.Len(t, f.Edges, 4)
		require.Len(t, f.Names, 5)
		last := -1.0
		for i, r := range f.Rows {
			require.GreaterOrEqual(t, r.X, 0.0)
			require.LessOrEqual(t, r.X+r.Wide, 360+3.0)
			require.InDelta(t, 360*rows[i].At, r.Dot, 1e-9)
			require.Greater(t, r.Y, last, "one below the other")
			last = r.TextY
		}
		require.Less(t, last, f.TextY)
		require.Less(t, f.TextY, f.H)
	})
}

func TestADayOfFoodFitsItsBar(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		need := rapid.Float64Range(0, 2000).Draw(t, "need")
		allowed := need * rapid.SampledFrom([]float64{0.1, 0.3, 1}).Draw(t, "part")
		eaten, planned := rapid.Float64Range(0, 900).Draw(t, "eaten"), rapid.Float64Range(0, 900).Draw(t, "planned")
		f := figures.DrawDay(640, need, allowed, eaten, planned)
		require.LessOrEqual(t, f.Planned.X+f.Planned.W, 640+1e-9)
		require.LessOrEqual(t, f.Allowed.X, 640+1e-9)
		require.InDelta(t, f.Eaten.W, f.Planned.X, 1e-9, "planned goes on where eaten ends")
		if allowed > 0 {
			require.Equal(t, eaten+planned > allowed, f.Over)
			require.Equal(t, f.Over, f.Planned.X+f.Planned.W > f.Allowed.X)
		}
	})
}
