package evidence_test

import (
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"patientfox/core/evidence"
)

func TestIntervalsHoldTheRateAndNarrow(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		n := rapid.IntRange(1, 400).Draw(t, "n")
		met := rapid.IntRange(0, n).Draw(t, "met")
		rate := float64(met) / float64(n)
		for _, interval := range []func(int, int, float64) evidence.Interval{evidence.Wilson, evidence.Jeffreys} {
			narrow, wide := interval(met, n, 0.8), interval(met, n, 0.95)
			require.LessOrEqual(t, wide.Lo, narrow.Lo+1e-9)
			require.GreaterOrEqual(t, wide.Hi, narrow.Hi-1e-9)
			require.LessOrEqual(t, wide.Lo, rate+1e-9)
			require.GreaterOrEqual(t, wide.Hi, rate-1e-9)
			times := rapid.IntRange(2, 12).Draw(t, "times")
			more := interval(met*times, n*times, 0.95)
			require.Less(t, more.Hi-more.Lo, wide.Hi-wide.Lo+1e-9, "more evidence at the same rate never widens the interval")
		}
	})
}

func TestNeededIsTheLeastThatIsEnough(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		target := rapid.Float64Range(0.3, 0.95).Draw(t, "target")
		conf := rapid.Float64Range(0.5, 0.95).Draw(t, "conf")
		misses := rapid.IntRange(0, 4).Draw(t, "misses")
		n := evidence.TrialsNeeded(target, conf, misses)
		require.GreaterOrEqual(t, evidence.ProbAtLeast(n-misses, n, target), conf-1e-9)
		if n > misses {
			require.Less(t, evidence.ProbAtLeast(n-1-misses, n-1, target), conf)
		}
		exact := evidence.ExactNeeded(target, conf, misses)
		require.True(t, evidence.ExactPass(exact-misses, exact, target, conf))
		require.False(t, exact-1 > misses && evidence.ExactPass(exact-1-misses, exact-1, target, conf))
	})
}

// Against a plain sum over the first rate, on a grid fine enough for four digits.
func TestDeclineAgreesWithAPlainSum(t *testing.T) {
	for _, c := range [][4]int{
		{5, 5, 4000, 5000}, {4000, 5000, 5, 5}, {0, 3, 0, 3}, {12, 12, 3, 4}, {900, 1000, 850, 1000}, {1, 2, 600, 600},
	} {
		sum, below := 0.0, 0.0
		const grid = 20000
		for i := range grid {
			// P(first in this cell) × P(second below it)
			to := evidence.ProbAtLeast(c[0], c[1], float64(i+1)/grid)
			weight := evidence.ProbAtLeast(c[0], c[1], float64(i)/grid) - to
			next := 1 - evidence.ProbAtLeast(c[2], c[3], float64(i+1)/grid)
			sum += weight * (below + next) / 2
			below = next
		}
		require.InDelta(t, sum, evidence.ProbDecline(c[0], c[1], c[2], c[3]), 2e-4, "%v", c)
	}
}

func TestDeclineIsSymmetric(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		n1, n2 := rapid.IntRange(0, 9000).Draw(t, "n1"), rapid.IntRange(0, 400).Draw(t, "n2")
		met1, met2 := rapid.IntRange(0, n1).Draw(t, "met1"), rapid.IntRange(0, n2).Draw(t, "met2")
		there, back := evidence.ProbDecline(met1, n1, met2, n2), evidence.ProbDecline(met2, n2, met1, n1)
		require.InDelta(t, 1, there+back, 1e-9)
	})
}
