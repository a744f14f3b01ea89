package outlook_test

import (
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"patientfox/core/evidence"
	"patientfox/core/outlook"
)

func TestTheSameSeedIsTheSameDog(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		seed := rapid.Uint64().Draw(t, "seed")
		a, b := outlook.NewLearner(seed, 1), outlook.NewLearner(seed, 1)
		for i := range 30 {
			d := float64(i) / 10
			x, y := a.Try(d, "shed"), b.Try(d, "shed")
			require.Equal(t, x, y)
			a.Learn(x, d, "shed", true)
			b.Learn(y, d, "shed", true)
		}
		require.Equal(t, a.Ability, b.Ability)
	})
}

func TestHarderStrangerAndForgottenAreLessLikely(t *testing.T) {
	l := outlook.NewLearner(1, 1.5)
	home := l.ProbMet(0.5, "shed")
	require.Less(t, l.ProbMet(1.5, "shed"), home)
	l.Learn(outlook.Response{Outcome: evidence.Met}, 0.5, "shed", false)
	require.Less(t, l.ProbMet(0.5, "quay"), l.ProbMet(0.5, "shed"), "a new place costs")
	before := l.Ability
	l.Forget(2)
	require.Equal(t, before, l.Ability)
	l.Forget(20)
	require.Less(t, l.Ability, before)
}

func TestPaidSuccessTeachesAndMissesInARowCost(t *testing.T) {
	l := outlook.NewLearner(2, 1)
	met, missed := outlook.Response{Outcome: evidence.Met}, outlook.Response{Outcome: evidence.Missed}
	l.Learn(met, 1, "shed", false)
	require.Equal(t, 1.0, l.Ability, "unpaid, nothing is learned")
	l.Learn(met, 1, "shed", true)
	taught := l.Ability
	require.Greater(t, taught, 1.0)
	l.Learn(missed, 1, "shed", false)
	require.Equal(t, taught, l.Ability, "one miss costs nothing")
	l.Learn(missed, 1, "shed", false)
	require.Less(t, l.Ability, taught)
}

func TestRatesComeOutAsTheyWentIn(t *testing.T) {
	l := outlook.NewLearner(3, 0)
	met := 0
	const n = 4000
	for range n {
		if l.Try(-1, "shed").Outcome == evidence.Met {
			met++
		}
	}
	interval := evidence.Wilson(met, n, 0.999)
	p := l.ProbMet(-1, "shed")
	require.True(t, interval.Lo < p && p < interval.Hi, "%v of %d against %v", met, n, p)
}
