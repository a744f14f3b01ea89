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
	require.InDelta(t, x.MinP(8), r.P, 1e-12)
	require.True(t, r.Shows())
	require.InDelta(t, 7.0/8, r.RateA, 1e-12)
	require.InDelta(t, r.RateA-r.RateB, r.Difference, 1e-12)
	require.Greater(t, r.Lo, 0.0)
	require.Less(t, r.Hi, 3.0/8+1e-9)
	// By hand, three pairs: of eight signs two give a sum of 3 ÷ 4 or more either way, and no interval.
	few := []x.Pair{{A: x.Set{Met: 3, N: 4}, B: x.Set{Met: 2, N: 4}}, {A: x.Set{Met: 2, N: 4}, B: x.Set{Met: 1, N: 4}}}
	few = append(few, x.Pair{A: x.Set{Met: 4, N: 4}, B: x.Set{Met: 3, N: 4}})
	require.Equal(t, x.Reading{Pairs: 3, RateA: 0.75, RateB: 0.5, Difference: 0.25, Lo: -1, Hi: 1, P: 0.25}, x.Read(few, 4))
	lost := x.Read([]x.Pair{{A: x.Set{Met: 1, N: 1}, B: x.Set{Met: 4, N: 4}}}, 4)
	require.Equal(t, x.Reading{Lost: 1, Lo: -1, Hi: 1, P: 1}, lost, "one trial of four says nothing")
}

// Trials go to their sets in the order in which they were worked, as many as a set has.
func TestTrialsGoToTheirSets(t *testing.T) {
	met := []bool{true, false, true, true, true, false, false, true, true, true}
	a := x.Assigned{First: x.B, Each: 4}
	require.Equal(t, x.Pair{A: x.Set{Met: 2, N: 4}, B: x.Set{Met: 3, N: 4}}, a.Of(met))
	require.Equal(t, x.Pair{A: x.Set{N: 0}, B: x.Set{Met: 1, N: 2}}, a.Of(met[:2]))
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
		require.GreaterOrEqual(t, r.P, x.MinP(r.Pairs)-evidence.Epsilon)
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
		r := &x.Running{ID: "e", Design: x.Design{Pairs: 12, Each: 8, Seed: seed}}
		require.True(t, r.Sound())
		for pair := range r.Pairs {
			given := r.Next()
			require.Equal(t, pair, given.Pair)
			way, ok := given.At(0)
			require.True(t, ok)
			require.Equal(t, r.First(pair), way)
			last, ok := given.At(2*given.Each - 1)
			require.True(t, ok)
			require.Equal(t, way.Other(), last)
			_, ok = given.At(2 * given.Each)
			require.False(t, ok)
			first += int(way)
			require.Same(t, r, r.After(nil), "a session without one leaves it as it is")
			r = r.After(given)
			require.Same(t, r, r.After(given), "a second block of the session too")
		}
		require.Nil(t, r.Next(), "all pairs are there")
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
		require.LessOrEqual(t, d.Power(0.75, 0.5, 1, 3), 0.05+3*math.Sqrt(0.05*0.95/400), "%d pairs", pairs)
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
	of := func(a, b int) x.Pair { return x.Pair{A: x.Set{Met: a, N: 8}, B: x.Set{Met: b, N: 8}} }
	even := []x.Pair{of(6, 6), of(6, 7), of(5, 6)}
	require.Zero(t, x.Spread(even))
	wild := []x.Pair{of(8, 1), of(0, 8), of(8, 2)}
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
