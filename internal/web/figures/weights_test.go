package figures_test

import (
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"patientfox/internal/web/figures"
)

func TestWeightsStayInsideAndHeavierIsHigher(t *testing.T) {
	require.Empty(t, figures.DrawWeights(300, 90, []figures.WeightIn{{Kg: 9}}).Path, "one weight is no line")
	rapid.Check(t, func(t *rapid.T) {
		var in []figures.WeightIn
		day := 0
		for range rapid.IntRange(2, 40).Draw(t, "n") {
			day += rapid.IntRange(0, 90).Draw(t, "days")
			in = append(in, figures.WeightIn{Day: day, Kg: rapid.Float64Range(0.3, 120).Draw(t, "kg")})
		}
		fig := figures.DrawWeights(300, 90, in)
		require.Len(t, fig.Points, len(in))
		for i, p := range fig.Points {
			require.True(t, p.X >= 0 && p.X <= 300 && p.Y >= 0 && p.Y <= 90, "%v", p)
			for j, q := range fig.Points {
				require.False(t, in[i].Kg > in[j].Kg && p.Y > q.Y)
			}
		}
	})
}
