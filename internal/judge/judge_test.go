//go:build !race

package judge_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/decision"
	"patientfox/core/fit"
	"patientfox/internal/judge"
)

// These are short forms of what `make judge` measures: pure arithmetic, and much of it, so the race detector is for the other tests. Bounds
// leave room for what chance adds to so few dogs.

// Of dogs on which nothing has an effect at most 7 in 100 are ever told of a condition, and most on which one has a large effect.
func TestConditionsAreClaimedSeldomInVain(t *testing.T) {
	for _, mood := range []float64{0.4, 0.65} {
		told, _ := judge.Conditions(200, mood, 0, 1)
		require.LessOrEqual(t, told, 22, "mood %g", mood) // 7 in 100: 22 or more in 1 of 50 such tests
		_, right := judge.Conditions(100, mood, 1.6, 2)
		require.GreaterOrEqual(t, right, 60, "mood %g", mood)
	}
}

func TestColdTrialsAreClaimedSeldomInVain(t *testing.T) {
	require.LessOrEqual(t, judge.Cold(1000, 0, 9), 50)
	require.GreaterOrEqual(t, judge.Cold(200, -1.5, 9), 140)
}

// A dog that does not tire is ever told so in at most 7 of 100, and where one does, the trial is found.
func TestTiringIsClaimedSeldomInVain(t *testing.T) {
	told, _ := judge.Tired(300, 0, []int{2, 3, judge.Never}, 11)
	require.LessOrEqual(t, told, 31) // 7 in 100: 31 or more in 1 of 50 such tests
	told, near := judge.Tired(60, 0.3, []int{judge.Never}, 11)
	require.GreaterOrEqual(t, told, 45)
	require.GreaterOrEqual(t, near, told*7/10)
}

func TestDaysOffAreClaimedSeldomInVain(t *testing.T) {
	require.LessOrEqual(t, judge.Lost(300, 0, 11), 31)
	require.GreaterOrEqual(t, judge.Lost(100, 0.8, 11), 35)
}

// Of households who count right at most 6 in 100 are ever told of within 12 weeks that home and visit differ, of kind ones most.
func TestHomeAndVisitDifferSeldomInVain(t *testing.T) {
	for _, mood := range []float64{0, 0.4} {
		require.LessOrEqual(t, judge.Homes(1000, mood, 0, 13), 60, "mood %g", mood)
	}
	require.GreaterOrEqual(t, judge.Homes(300, 0.4, 2, 13), 240)
}

// Stop signs of statistics speak in at most 8 of 100 sessions of a dog of constant rate and speed, and in half of those that fall at once.
func TestStopSignsSpeakSeldomInVain(t *testing.T) {
	const sessions = 1500
	for _, rate := range []float64{0.7, 0.8, 0.9} {
		require.LessOrEqual(t, judge.Stops(sessions, 60, judge.Steady(rate), judge.Steady(1), 3), sessions*8/100, "of a dog of %v", rate)
	}
	require.GreaterOrEqual(t, judge.Stops(sessions, 30, judge.Falls, judge.Steady(1), 3), sessions/2)
	require.GreaterOrEqual(t, judge.Stops(sessions, 30, judge.Steady(0.95), judge.Tires, 3), sessions/4)
}

// A dog that is right just as often as the target passes in at most one of ten within 40 sessions.
func TestProofHoldsItsError(t *testing.T) {
	for _, perSession := range []int{8, 15} {
		passed, _ := judge.Proofs(400, perSession, 0.95, 0, 19)
		require.LessOrEqual(t, passed, 40, "%d a session", perSession)
		passed, median := judge.Proofs(400, perSession, 0.99, 0, 19)
		require.GreaterOrEqual(t, passed, 360, "%d a session", perSession)
		require.LessOrEqual(t, median, 20)
	}
}

// The threshold and each lever that was tried lie within their 80 % range in 70 to 92 of 100, and a lever that does nothing is left
// unclaimed in 93 of 100.
func TestRangesHoldWhatIsTrue(t *testing.T) {
	l := judge.Load(400)
	within := func(name any, h judge.Held) {
		require.Greater(t, h.N, 60, name)
		require.GreaterOrEqual(t, h.Share(), 0.70, "%v: %+v", name, h)
		require.LessOrEqual(t, h.Share(), 0.92, "%v: %+v", name, h)
	}
	within("threshold", l.Threshold)
	for term, h := range l.Levers {
		within(term, h)
	}
	require.GreaterOrEqual(t, l.Harmless.Share(), 0.93)
}

// What is predicted comes true as often as was said, and is no worse than the running rate of the step.
func TestPredictionsComeTrue(t *testing.T) {
	all, model, running := judge.Predictions(60)
	require.LessOrEqual(t, model, running)
	for i, tenth := range fit.Tenths(all) {
		if tenth.N >= 500 {
			require.InDelta(t, float64(tenth.Met)/float64(tenth.N), tenth.Mean, 0.05, "tenth %d", i)
		}
	}
}

// No rule of new plans but counting up asks for more errors than one in four, on average over the kinds of dogs.
func TestNewPlansAskForFewErrors(t *testing.T) {
	for _, r := range judge.Rules(12, 300, 5) {
		if r.New && r.Kind != decision.CountUp {
			require.LessOrEqual(t, r.Wrong(), 0.25, r.Kind)
		} else if r.New {
			require.Greater(t, r.Wrong(), 0.4, "its page says so")
		}
	}
}
