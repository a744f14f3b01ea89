package experiment_test

import (
	"fmt"
	"math"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"patientfox/core/evidence"
	x "patientfox/core/experiment"
)

// With eight pairs that all point the same way the test gives 2 ÷ 256; the interval runs from the least mean of six to the greatest.
func TestReadIsExact(t *testing.T) {
	pairs := make([]x.Pair, 8)
	for i := range pairs {
		pairs[i] = x.Pair{A: x.Set{Met: 7, N: 8}, B: x.Set{Met: 6 - i%3, N: 8}}
	}
	r := x.Read(pairs, 8)
	require.InDelta(t, x.LeastP(8), r.P, 1e-12)
	require.True(t, r.Shows())
	require.InDelta(t, 7.0/8, r.RateA, 1e-12)
	require.InDelta(t, r.RateA-r.RateB, r.Difference, 1e-12)
	require.Greater(t, r.Lo, 0.0)
	require.Less(t, r.Hi, 3.0/8+1e-9)
	// By hand, three pairs: of eight signs two give a sum of 3 ÷ 4 or more either way, and no interval.
	few := []x.Pair{{x.Set{3, 4}, x.Set{2, 4}}, {x.Set{2, 4}, x.Set{1, 4}}, {x.Set{4, 4}, x.Set{3, 4}}}
	require.Equal(t, x.Reading{Pairs: 3, RateA: 0.75, RateB: 0.5, Difference: 0.25, Lo: -1, Hi: 1, P: 0.25}, x.Read(few, 4))
	require.Equal(t, x.Reading{Lost: 1, Lo: -1, Hi: 1, P: 1}, x.Read([]x.Pair{{x.Set{1, 1}, x.Set{4, 4}}}, 4), "one trial of four says nothing")
}

func drawPairs(t *rapid.T) (pairs []x.Pair) {
	set := func(name string) x.Set {
		n := rapid.IntRange(2, 8).Draw(t, name)
		return x.Set{Met: rapid.IntRange(0, n).Draw(t, "met"), N: n}
	}
	for range rapid.IntRange(1, 11).Draw(t, "pairs") {
		pairs = append(pairs, x.Pair{A: set("a"), B: set("b")})
	}
	return pairs
}

// Whichever way is called A, the same is read; the interval holds the difference, and leaves 0 out where one is shown.
func TestReadDoesNotDependOnNames(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		pairs := drawPairs(t)
		turned := make([]x.Pair, len(pairs))
		for i, p := range pairs {
			turned[i] = x.Pair{A: p.B, B: p.A}
		}
		r, other := x.Read(pairs, 4), x.Read(turned, 4)
		require.InDelta(t, r.P, other.P, 1e-12)
		require.InDelta(t, r.Difference, -other.Difference, 1e-12)
		require.InDelta(t, r.Lo, -other.Hi, 1e-9)
		require.InDelta(t, r.Hi, -other.Lo, 1e-9)
		require.GreaterOrEqual(t, r.P, x.LeastP(r.Pairs)-evidence.Epsilon)
		require.True(t, r.Lo <= r.Difference+1e-9 && r.Difference <= r.Hi+1e-9, "%+v", r)
		if r.Shows() {
			require.False(t, r.Lo < -1e-9 && r.Hi > 1e-9, "%+v", r)
		}
	})
}

// The order is drawn once and for good, and each way comes first about as often.
func TestTheOrderIsDrawnBeforehand(t *testing.T) {
	first := 0
	for seed := range uint64(200) {
		d := x.Design{Pairs: 12, Each: 8, Seed: seed}
		require.True(t, d.Sound())
		for pair := range d.Pairs {
			way, ok := d.At(pair, 0)
			require.True(t, ok)
			require.Equal(t, d.First(pair), way)
			last, ok := d.At(pair, 2*d.Each-1)
			require.True(t, ok)
			require.Equal(t, way.Other(), last)
			_, ok = d.At(pair, 2*d.Each)
			require.False(t, ok)
			first += int(way)
		}
	}
	require.InDelta(t, 1200, first, 100)
	for _, d := range []x.Design{{Pairs: 5, Each: 8}, {Pairs: 21, Each: 8}, {Pairs: 12, Each: 3}, {Pairs: 12, Each: 21}} {
		require.False(t, d.Sound(), "%+v", d)
	}
}

// A difference is shown in vain in at most one of twenty, and the larger it is the more often where there is one.
func TestPowerIsWhatItSays(t *testing.T) {
	for _, pairs := range []int{6, 12, 18} {
		d := x.Design{Pairs: pairs, Each: 8}
		require.LessOrEqual(t, d.Power(0.75, 0.5, 1, 3), 0.05+3*math.Sqrt(0.05*0.95/600), "%d pairs", pairs)
		last := 0.0
		for _, odds := range []float64{2, 3, 5} {
			power := d.Power(0.75, 0.5, odds, 3)
			require.Greater(t, power, last, "%d pairs at %v", pairs, odds)
			last = power
		}
	}
	require.Greater(t, x.Design{Pairs: 12, Each: 8}.Power(0.7, 0.3, 5, 3), 0.9)
}

func TestSpreadIsWhatGoesBeyondChance(t *testing.T) {
	require.InDelta(t, 0.4, x.Spread(nil), 1e-12)
	even := []x.Pair{{x.Set{6, 8}, x.Set{6, 8}}, {x.Set{6, 8}, x.Set{7, 8}}, {x.Set{5, 8}, x.Set{6, 8}}}
	require.Zero(t, x.Spread(even))
	wild := []x.Pair{{x.Set{8, 8}, x.Set{1, 8}}, {x.Set{0, 8}, x.Set{8, 8}}, {x.Set{8, 8}, x.Set{2, 8}}}
	require.InDelta(t, 1.5, x.Spread(wild), 1e-12)
}

func ExampleRead() {
	pairs := make([]x.Pair, 12)
	for i := range pairs {
		pairs[i] = x.Pair{A: x.Set{Met: 7, N: 8}, B: x.Set{Met: 5 + i%3, N: 8}}
	}
	r := x.Read(pairs, 8)
	fmt.Printf("%.0f %% against %.0f %%, %+.0f points (%.0f to %.0f), p = %.3f\n", 100*r.RateA, 100*r.RateB, 100*r.Difference, 100*r.Lo,
		100*r.Hi, r.P)
	// Output: 88 % against 75 %, +12 points (6 to 19), p = 0.008
}
