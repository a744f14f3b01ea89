package evidence_test

import (
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/evidence"
)

// visited simulates a dog's sessions: it learns within a step, has its days (mood, sd on the logit), works three places one after
// another, and of three other conditions each comes and goes by the day. effect is what the first of these does to the logit.
func visited(rng *rand.Rand, sessions int, mood, effect float64) (visits []evidence.Visit) {
	order, inStep := 0, 0
	for i := range sessions {
		with := []bool{i*3/sessions == 0, i*3/sessions == 1, i*3/sessions == 2, rng.IntN(2) == 0, rng.IntN(3) == 0, rng.IntN(4) == 0}
		day := mood * rng.NormFloat64()
		if with[3] {
			day += effect
		}
		p := evidence.Visit{With: with}
		for range 12 {
			eta := 0.2 + 0.03*float64(order) + day
			if rng.Float64() < 1/(1+math.Exp(-eta)) {
				p.Met++
			}
			p.N++
			p.Order += float64(order)
			order++
		}
		p.Order /= float64(p.N)
		visits = append(visits, p)
		if inStep++; p.Met >= 10 || inStep == 6 {
			order, inStep = 0, 0
		}
	}
	return visits
}

func TestConditionsAreLookedAtNowAndThen(t *testing.T) {
	rng := rand.New(rand.NewPCG(3, 3))
	visits := visited(rng, 60, 0.4, 1.6)
	for n, want := range map[int][2]int{
		0: {0, 12}, 11: {0, 12}, 12: {12, 18}, 17: {12, 18}, 30: {27, 40}, 40: {40, 52}, 45: {40, 52}, 52: {12, 18}, 59: {18, 27},
	} {
		a := evidence.Associate(visits[:n], 6, 1)
		require.Equal(t, want, [2]int{a.Visits, a.Next}, "%d sessions", n)
		require.Equal(t, a, evidence.Associate(visits[:n], 6, 1), "the same seed gives the same answer")
	}
	a := evidence.Associate(visits[:40], 6, 1)
	require.Positive(t, a.Needed)
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
