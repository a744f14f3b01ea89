package figures_test

import (
	"fmt"
	"math"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"patientfox/internal/web/figures"
)

// trends makes one session for each that the sets below name.
func trends(n int) []figures.TrendSession {
	var list []figures.TrendSession
	for i := range n {
		s := figures.TrendSession{
			Session: fmt.Sprint(i), Day: fmt.Sprintf("%d Nov", i+1), Place: []string{"the net shed", "the ferry ramp"}[i/2%2],
			Met: 7, Right: 8, N: 10, Lo: 0.4, Hi: 0.9, Median: 1.2, P90: 2.1, Cold: []string{"met", "missed", ""}[i%3],
			ColdSays: []string{"met", "missed", ""}[i%3], Helped: i % 2,
		}
		if i == 1 {
			s.Median, s.P90 = math.NaN(), math.NaN()
		}
		list = append(list, s)
	}
	return list
}

func TestTrend(t *testing.T) {
	levels := figures.DrawLevels(wide, ladder(4, 2), sets(0, 0, 1, 1, 2, 2, 2))
	f := figures.DrawTrend(levels, trends(3), []figures.SetbackAt{{Session: "1", Title: "a horn"}, {Session: "gone", Title: "before"}})
	golden(t, "trend-wide", f)
	require.Len(t, f.Setbacks, 1, "one before what is drawn has no place")
	narrow := figures.DrawLevels(figures.Look{Width: 358, Narrow: true, Today: "now", Word: "met"}, ladder(4, 2), sets(0, 0, 1, 1, 2, 2, 2))
	golden(t, "trend-narrow", figures.DrawTrend(narrow, trends(3), nil))
	held := trends(2)
	held[0].Median = math.NaN()
	quiet := figures.DrawTrend(levels, held, nil)
	require.False(t, quiet.Latency)
	require.Less(t, quiet.H, f.H, "no room is kept for what is not there")
}

// A session's figures are below the middle of its sets, inside the panel, whatever they are.
func TestATrendStandsBelowItsSets(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		steps := rapid.SliceOfN(rapid.IntRange(0, 5), 1, 60).Draw(t, "steps")
		levels := figures.DrawLevels(wide, ladder(6, 2), sets(steps...))
		f := figures.DrawTrend(levels, trends((len(steps)+2)/3), nil)
		for _, p := range f.Points {
			low, high := math.Inf(1), math.Inf(-1)
			for _, set := range levels.Points {
				if set.Session == p.Session {
					low, high = min(low, set.X), max(high, set.X)
				}
			}
			require.InDelta(t, (low+high)/2, p.X, 1e-9)
			for _, y := range []float64{p.Strict, p.Lenient, p.Lo, p.Hi} {
				require.True(t, f.RateTop <= y && y <= f.RateLow)
			}
			require.LessOrEqual(t, p.Hi, p.Lo, "the upper end of the range is drawn higher")
		}
		for _, b := range f.Bands {
			require.Positive(t, b.W)
			require.LessOrEqual(t, b.X+b.W, f.Plot+1)
		}
	})
}

func TestRanges(t *testing.T) {
	golden(t, "ranges", figures.DrawRanges(760, []figures.RangeIn{
		{Label: "This plan: sets", Lo: 9, Mid: 12, Hi: 15, Own: true}, {Label: "Proof", Lo: 60, Mid: 120, Hi: 300, Open: true},
	}))
}

func TestARangeIsNoWiderThanItsAxis(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		lo := rapid.IntRange(0, 400).Draw(t, "lo")
		mid := lo + rapid.IntRange(0, 200).Draw(t, "mid")
		hi := mid + rapid.IntRange(0, 200).Draw(t, "hi")
		f := figures.DrawRanges(760, []figures.RangeIn{{Label: "One", Lo: lo, Mid: mid, Hi: hi}})
		row, last := f.Rows[0], f.Ticks[len(f.Ticks)-1]
		require.LessOrEqual(t, row.X+row.Wide, last.X+3)
		require.True(t, row.X <= row.Middle && row.Middle <= row.X+row.Wide)
		require.GreaterOrEqual(t, len(f.Ticks), 2)
		require.LessOrEqual(t, len(f.Ticks), 12)
	})
}
