package evidence_test

import (
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/evidence"
)

// visited are sessions in which a condition comes and goes by the day, and with it more is met.
func visited(rng *rand.Rand, sessions int) (visits []evidence.Visit) {
	for i := range sessions {
		with := rng.IntN(2) == 0
		v := evidence.Visit{N: 12, Order: float64(i % 5), With: []bool{with, rng.IntN(3) == 0, i*2 < sessions}}
		v.Met = 5 + rng.IntN(3)
		if with {
			v.Met += 3
		}
		visits = append(visits, v)
	}
	return visits
}

func TestConditionsAreLookedAtNowAndThen(t *testing.T) {
	rng := rand.New(rand.NewPCG(3, 3))
	visits := visited(rng, 60)
	for n, want := range map[int][2]int{
		0: {0, 12}, 11: {0, 12}, 12: {12, 18}, 17: {12, 18}, 30: {27, 40}, 40: {40, 52}, 45: {40, 52}, 52: {12, 18}, 59: {18, 27},
	} {
		a := evidence.Associate(visits[:n], 3, 1)
		require.Equal(t, want, [2]int{a.Visits, a.Next}, "%d sessions", n)
		require.Equal(t, a, evidence.Associate(visits[:n], 3, 1), "the same seed gives the same answer")
	}
	a := evidence.Associate(visits[:40], 3, 1)
	require.Positive(t, a.Needed)
	require.Equal(t, 0, a.Conditions[0].Index)
	require.True(t, a.Conditions[0].Claimed)
	require.Positive(t, a.Conditions[0].Difference)
	for _, c := range a.Conditions {
		require.Equal(t, 40, c.With+c.Without)
		require.False(t, c.Claimed && (c.Few || c.Time))
	}
	seldom := visits[:12]
	for i := range seldom {
		seldom[i].With = []bool{i < 2, i < 6}
	}
	few := evidence.Associate(seldom, 2, 1).Conditions
	for _, c := range few {
		require.Equal(t, c.Index == 0, c.Few, "two sessions are too few")
		require.Equal(t, c.Index == 1, c.Time, "the first half cannot be told apart from time")
		require.Equal(t, 1.0, c.P)
	}
}
