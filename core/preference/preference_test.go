package preference_test

import (
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"patientfox/core/preference"
	"patientfox/internal/vectors"
)

func TestReferenceStrengths(t *testing.T) {
	seen := 0
	for _, c := range vectors.Load(t, "statistics.json") {
		if c.Fn != "bradley_terry" {
			continue
		}
		in := vectors.Read[struct{ Wins [][]int }](t, c.In)
		fit, err := preference.Strengths(in.Wins)
		require.NoError(t, err)
		var strength []any
		for _, s := range fit.Strength {
			strength = append(strength, s)
		}
		vectors.Near(t, c, map[string]any{"strength": strength})
		seen++
	}
	require.Positive(t, seen)
	_, err := preference.Strengths([][]int{{0, 1}})
	require.Error(t, err)
	_, err = preference.Strengths([][]int{{0, -1}, {0, 0}})
	require.Error(t, err)
}

func TestTiersFollowTheStrength(t *testing.T) {
	require.Equal(t, 3, preference.Tier(0))
	require.Equal(t, 5, preference.Tier(1.4), "logistic is 0.802")
	require.Equal(t, 4, preference.Tier(1.38), "logistic is 0.799")
	require.Equal(t, 1, preference.Tier(-3))
	rapid.Check(t, func(t *rapid.T) {
		n := rapid.IntRange(2, 6).Draw(t, "rewards")
		wins := make([][]int, n)
		for i := range wins {
			wins[i] = make([]int, n)
			for j := range wins[i] {
				if i != j {
					wins[i][j] = rapid.IntRange(0, 9).Draw(t, "wins")
				}
			}
		}
		fit, err := preference.Strengths(wins)
		require.NoError(t, err)
		sum := 0.0
		for i, s := range fit.Strength {
			sum += s
			lo, hi := fit.Range(i)
			require.LessOrEqual(t, lo, preference.Tier(s))
			require.GreaterOrEqual(t, hi, preference.Tier(s))
			require.Positive(t, fit.SD(i))
			require.LessOrEqual(t, fit.SD(i), 1+1e-9, "never less sure than before the test")
		}
		require.InDelta(t, 0, sum, 1e-8, "what one wins another loses")
		rank := fit.Rank()
		for k := 1; k < n; k++ {
			require.GreaterOrEqual(t, fit.Better(rank[k-1], rank[k]), 0.5-1e-9)
		}
	})
}

func TestOffersAreBalanced(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		n := rapid.IntRange(preference.Min, preference.Max).Draw(t, "rewards")
		plan := preference.Plan(n, rapid.Uint64().Draw(t, "seed"))
		require.Len(t, plan, n*(n-1))
		left, right, seen := map[int]int{}, map[int]int{}, map[preference.Pair]int{}
		for k, p := range plan {
			require.NotEqual(t, p.Left, p.Right)
			left[p.Left]++
			right[p.Right]++
			seen[p]++
			if k > 0 && n > 2 {
				last := plan[k-1]
				require.False(t, p == last || p == preference.Pair{Left: last.Right, Right: last.Left}, "a pair twice running")
			}
		}
		for i := range n {
			require.Equal(t, n-1, left[i])
			require.Equal(t, n-1, right[i])
		}
		for p, times := range seen {
			require.Equal(t, 1, times, p)
		}
	})
}

// A test with a dog of known taste comes to the true order, asking for more only while it is unsure.
func TestMorePairsTellThemApart(t *testing.T) {
	rng := rand.New(rand.NewPCG(4, 4))
	taste := []float64{2.5, 1.2, -0.2, -2}
	wins := make([][]int, 4)
	offered := map[preference.Pair]int{}
	for i := range wins {
		wins[i] = make([]int, 4)
	}
	offer := func(p preference.Pair) {
		offered[p]++
		if d := taste[p.Left] - taste[p.Right]; rng.NormFloat64()*0.8 < d {
			wins[p.Left][p.Right]++
		} else {
			wins[p.Right][p.Left]++
		}
	}
	for _, p := range preference.Plan(4, 1) {
		offer(p)
	}
	for range 10 {
		fit, err := preference.Strengths(wins)
		require.NoError(t, err)
		doubts := fit.Doubts(wins)
		if len(doubts) == 0 {
			require.Equal(t, []int{0, 1, 2, 3}, fit.Rank())
			return
		}
		pairs := preference.More(doubts, func(left, right int) int { return offered[preference.Pair{Left: left, Right: right}] })
		require.Len(t, pairs, 3)
		for _, p := range pairs {
			offer(p)
		}
	}
	t.Fatal("never sure")
}

func TestTwoThatAreAlikeEndTheTest(t *testing.T) {
	wins := [][]int{{0, 4}, {4, 0}}
	fit, err := preference.Strengths(wins)
	require.NoError(t, err)
	require.Empty(t, fit.Doubts(wins), "as good as each other")
	wins = [][]int{{0, 2}, {1, 0}}
	fit, err = preference.Strengths(wins)
	require.NoError(t, err)
	doubts := fit.Doubts(wins)
	require.Len(t, doubts, 1)
	require.Equal(t, 0, doubts[0].Better)
	sides := map[preference.Pair]int{}
	for _, p := range preference.More(doubts, func(left, right int) int { return sides[preference.Pair{Left: left, Right: right}] }) {
		sides[p]++
	}
	require.InDelta(t, sides[preference.Pair{Left: 0, Right: 1}], sides[preference.Pair{Left: 1, Right: 0}], 1, "sides in turn")
}

func TestSideBias(t *testing.T) {
	p, biased := preference.SideBias(9, 1)
	require.InDelta(t, 2*11.0/1024, p, 1e-9)
	require.True(t, biased)
	_, biased = preference.SideBias(7, 5)
	require.False(t, biased)
	p, biased = preference.SideBias(0, 0)
	require.InDelta(t, 1, p, 0)
	require.False(t, biased)
}
