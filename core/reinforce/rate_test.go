package reinforce_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"patientfox/core/reinforce"
	"patientfox/internal/vectors"
)

func TestReferenceRates(t *testing.T) {
	seen := 0
	for _, c := range vectors.Load(t, "decisions.json") {
		if c.Fn != "rate" {
			continue
		}
		in := vectors.Read[struct {
			Pays, At []float64
			Breaks   [][2]float64
			End      float64
		}](t, c.In)
		var breaks []reinforce.Span
		for _, b := range in.Breaks {
			breaks = append(breaks, reinforce.Span{From: b[0], To: b[1]})
		}
		clock := reinforce.NewClock(0, breaks)
		var rates, gaps []any
		for _, at := range in.At {
			rates = append(rates, clock.Rolling(in.Pays, at))
		}
		for _, gap := range clock.Gaps(in.Pays, in.End) {
			gaps = append(gaps, gap)
		}
		vectors.Near(t, c, map[string]any{"rate": rates, "gaps": gaps})
		seen++
	}
	require.Positive(t, seen)
}

func TestGapsAddUpToActiveTime(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		end := rapid.Float64Range(1, 1800).Draw(t, "end")
		at := rapid.Float64Range(0, end)
		breaks := rapid.SliceOfN(rapid.Custom(func(t *rapid.T) reinforce.Span {
			from := at.Draw(t, "from")
			return reinforce.Span{From: from, To: rapid.Float64Range(from, end).Draw(t, "to")}
		}), 0, 4).Draw(t, "breaks")
		pays := rapid.SliceOfN(at, 0, 20).Draw(t, "pays")
		// Pays come in the order of the record.
		for i := 1; i < len(pays); i++ {
			pays[i] = math.Max(pays[i], pays[i-1])
		}
		clock := reinforce.NewClock(0, breaks)
		sum := 0.0
		for _, gap := range clock.Gaps(pays, end) {
			require.GreaterOrEqual(t, gap, -1e-9)
			sum += gap
		}
		require.InDelta(t, clock.Active(end), sum, 1e-6)
		require.LessOrEqual(t, clock.Rolling(pays, end), float64(len(pays))*6+1e-9)
	})
}

func TestOverdue(t *testing.T) {
	require.InDelta(t, 22.5, reinforce.Band{Lo: 4, Hi: 6}.Overdue(), 1e-12)
	require.True(t, math.IsInf(reinforce.Band{}.Overdue(), 1))
}
