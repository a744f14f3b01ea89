package outlook_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"patientfox/core/evidence"
	"patientfox/core/outlook"
	"patientfox/core/trial"
)

func gradual(ability float64) outlook.Traits {
	return outlook.Traits{Form: outlook.Gradual, Ability: ability, Gain: 0.03, Loss: 0.05, Strange: 0.9, Forget: 0.012}
}

func TestTheSameSeedIsTheSameDog(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		seed := rapid.Uint64().Draw(t, "seed")
		traits := gradual(1)
		traits.Form = rapid.SampledFrom(outlook.Forms).Draw(t, "form")
		traits.Catch, traits.Known = 0.1, 3
		a, b := outlook.NewLearner(seed, traits), outlook.NewLearner(seed, traits)
		for i := range 30 {
			level, twin := &outlook.Level{Hard: float64(i) / 10}, &outlook.Level{Hard: float64(i) / 10}
			x, y := a.Try(level, 0), b.Try(twin, 0)
			require.Equal(t, x, y)
			a.Take(x, level, 0, true)
			b.Take(y, twin, 0, true)
		}
		require.Equal(t, a.Ability, b.Ability)
	})
}

func TestHarderStrangerAndForgottenAreLessLikely(t *testing.T) {
	l := outlook.NewLearner(1, gradual(1.5))
	easy, hard := &outlook.Level{Hard: 0.5}, &outlook.Level{Hard: 1.5}
	l.Enter(0)
	require.Less(t, l.ProbMet(hard, 0), l.ProbMet(easy, 0))
	l.Enter(1)
	require.Less(t, l.ProbMet(easy, 1), l.ProbMet(easy, 0), "a new place costs")
	before := l.Ability
	l.Rest(2)
	require.Equal(t, before, l.Ability)
	l.Rest(20)
	require.Less(t, l.Ability, before)
}

func TestPaidSuccessTeachesAndMissesInARowCost(t *testing.T) {
	for _, form := range []outlook.Form{outlook.Gradual, outlook.Context} {
		traits := gradual(1)
		traits.Form = form
		l, level := outlook.NewLearner(2, traits), &outlook.Level{Hard: 1}
		met, missed := outlook.Response{Outcome: trial.Met}, outlook.Response{Outcome: trial.Missed}
		l.Take(met, level, 0, false)
		require.Equal(t, 1.0, l.Ability, "unpaid, nothing is learned")
		l.Take(met, level, 0, true)
		taught := l.Ability
		require.Greater(t, taught, 1.0)
		l.Take(missed, level, 0, false)
		require.Equal(t, taught, l.Ability, "one miss costs nothing")
		l.Take(missed, level, 0, false)
		require.Less(t, l.Ability, taught)
	}
}

func TestWhatIsGotIsGotAtOnce(t *testing.T) {
	l := outlook.NewLearner(4, outlook.Traits{Form: outlook.AllOrNone, Known: 3, Catch: 1})
	level, next := &outlook.Level{}, &outlook.Level{}
	before := l.ProbMet(level, 0)
	l.Take(outlook.Response{Outcome: trial.Met}, level, 0, true)
	require.InDelta(t, 0.5, before, 1e-9)
	require.Greater(t, l.ProbMet(level, 0), 0.95)
	require.InDelta(t, 0.5, l.ProbMet(next, 0), 1e-9, "the next step is not")
}

func TestWhatWasLearnedHereIsPartlyOfHereAndOfToday(t *testing.T) {
	traits := gradual(0)
	traits.Form, traits.Forget, traits.Gain = outlook.Context, 0.3, 0.3
	l, level := outlook.NewLearner(5, traits), &outlook.Level{}
	l.Enter(0)
	for range 10 {
		l.Take(outlook.Response{Outcome: trial.Met}, level, 0, true)
	}
	today := l.ProbMet(level, 0)
	require.Greater(t, today, l.ProbMet(level, 1), "elsewhere it is worth less")
	l.Rest(3)
	require.Less(t, l.ProbMet(level, 0), today)
}

func TestRatesComeOutAsTheyWentIn(t *testing.T) {
	l, level := outlook.NewLearner(3, gradual(0)), &outlook.Level{Hard: -1}
	met := 0
	const n = 4000
	for range n {
		if l.Try(level, 0).Outcome == trial.Met {
			met++
		}
	}
	interval := evidence.Wilson(met, n, 0.999)
	p := l.ProbMet(level, 0)
	require.True(t, interval.Lo < p && p < interval.Hi, "%v of %d against %v", met, n, p)
}

// The chance of success is the logistic function of the logits, to a millionth, and never leaves 0…1.
func TestTheChanceIsLogistic(t *testing.T) {
	rapid.Check(t, func(rt *rapid.T) {
		ability, hard := rapid.Float64Range(-30, 30).Draw(rt, "ability"), rapid.Float64Range(-30, 30).Draw(rt, "hard")
		p := outlook.NewLearner(1, outlook.Traits{Form: outlook.Gradual, Ability: ability}).ProbMet(&outlook.Level{Hard: hard}, 0)
		require.InDelta(rt, 1/(1+math.Exp(hard-ability)), p, 1e-6)
	})
}
