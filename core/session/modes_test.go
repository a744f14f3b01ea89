package session_test

import (
	"testing"

	"patientfox/core/phrase"

	"github.com/stretchr/testify/require"

	"patientfox/core/decision"
	"patientfox/core/progression"
	"patientfox/core/record"
	"patientfox/core/screen"
	"patientfox/core/session"
	"patientfox/core/work"
	"patientfox/internal/sessiontest"
)

func moves(h *session.Hand) (list []record.Move) {
	return h.Run.Session().Moves
}

// one tries one trial of a cued skill: start, then the key.
func one(h *session.Hand, at int64, key work.Key) int64 {
	h.Press(work.Main, at)
	h.Press(key, at+800)
	return at + 5000
}

func TestADogIsPlacedOneEasyTrialAtEveryThirdStep(t *testing.T) {
	h := sessiontest.Begin(t, sessiontest.Plan(work.Cued, 12, 0), session.Choice{Mode: "place"})
	at := int64(1000)
	require.Equal(t, sessiontest.StepID(0), h.Run.Today().ID)
	at = one(h, at, work.Main)
	require.Equal(t, sessiontest.StepID(3), h.Run.Ahead().ID, "what comes next is shown before it is asked")
	at = one(h, at, work.Main)
	at = one(h, at, work.Main)
	at = one(h, at, work.MissKey) // step 10
	v := screen.Of(h.Run).View(at)
	require.Equal(t, session.Deciding, v.Phase)
	require.Equal(t, phrase.Why(h.Run.Now().Reasons), v.Verdict.Why)
	for _, trial := range h.Run.Session().Trials {
		require.False(t, trial.Counted(), "easy, in no rate")
	}
	h.Press(work.Main, at)
	place := h.Run.Session().Blocks[0].Position
	require.Equal(t, sessiontest.StepID(4), place.Reached)
	require.True(t, place.Given, "given, not earned")
	one(h, at+3000, work.Main)
	last := h.Run.Session().Trials[4]
	require.True(t, last.Counted(), "from then on it is taught")
	require.Equal(t, sessiontest.StepID(4), last.Step)
}

func TestWhereADogIsPlacedCanBeChanged(t *testing.T) {
	for key, want := range map[work.Key]int{work.UpKey: 5, work.BackKey: 3} {
		h := sessiontest.Begin(t, sessiontest.Plan(work.Cued, 8, 0), session.Choice{Mode: "place"})
		at := int64(1000)
		for _, tap := range []work.Key{work.Main, work.Main, work.Main, work.MissKey} {
			at = one(h, at, tap)
		}
		v := screen.Of(h.Run).View(at)
		require.Equal(t, session.Deciding, v.Phase)
		require.Len(t, v.Verdict.Others, 2)
		require.False(t, v.Verdict.More, "it rests on easy trials, of which no rate speaks")
		h.Press(key, at)
		s := h.Run.Session()
		require.Equal(t, sessiontest.StepID(want), s.Blocks[0].Position.Reached)
		require.Equal(t, "placed", s.Verdicts[0].Recommended)
		require.NotEqual(t, "placed", s.Verdicts[0].Action, "advice and deed are both kept")
		require.Equal(t, session.Idle, screen.Of(h.Run).View(at).Phase)
	}
}

func TestPlacingLeavesTheReachedStepUntilItIsTaken(t *testing.T) {
	h := sessiontest.Begin(t, sessiontest.Plan(work.Cued, 12, 3), session.Choice{Mode: "place"})
	at := one(h, 1000, work.Main)
	one(h, at, work.Main)
	require.Equal(t, sessiontest.StepID(3), h.Run.Session().Blocks[0].Position.Reached)
	for _, m := range moves(h) {
		require.Equal(t, progression.WhyTry, m.Why)
		require.True(t, m.Followed)
	}
}

func TestABaselineTeachesNothing(t *testing.T) {
	h := sessiontest.Begin(t, sessiontest.Plan(work.Cued, 6, 2), session.Choice{Mode: "baseline", Step: sessiontest.StepID(5)})
	at := int64(1000)
	for range 6 {
		at = one(h, at, work.MissKey)
	}
	one(h, at, work.Main)
	s := h.Run.Session()
	require.Empty(t, s.Verdicts, "six misses, and no rule says anything")
	require.Empty(t, s.Pays)
	require.Len(t, s.Trials, 7)
	require.False(t, s.Trials[6].Counted())
	require.Equal(t, sessiontest.StepID(5), s.Trials[0].Step)
	require.Equal(t, sessiontest.StepID(2), s.Blocks[0].Position.Reached, "looking at a harder step gives nothing")
	require.Contains(t, screen.Of(h.Run).View(at).Where, "Baseline")
}

func TestAFinishedSkillIsProbedCold(t *testing.T) {
	h := sessiontest.Begin(t, sessiontest.Finished(), session.Choice{})
	at := int64(1000)
	require.Contains(t, screen.Of(h.Run).View(at).Where, "Probe")
	at = one(h, at, work.Main)
	v := screen.Of(h.Run).View(at)
	require.Equal(t, decision.Held, h.Run.Now().Verdict)
	require.Empty(t, v.Verdict.Others)
	require.True(t, v.Verdict.More)
	require.Contains(t, screen.Of(h.Run).Reckoning(), "1 of 1 met: the rate is likely 21–100 %.")
	h.Press(work.Main, at)
	said := h.Run.Session().Verdicts
	require.Equal(t, string(decision.Held), said[len(said)-1].Action)
	at = one(h, at+2000, work.MissKey)
	require.NotEqual(t, session.Deciding, screen.Of(h.Run).View(at).Phase, "the probe is over")
}

func TestAProbeThatFailsGoesBackTwo(t *testing.T) {
	h := sessiontest.Begin(t, sessiontest.Finished(), session.Choice{})
	at := one(h, 1000, work.MissKey)
	require.Contains(t, screen.Of(h.Run).View(at).Verdict.Why, "repeat it")
	at = one(h, at, work.MissKey)
	require.Equal(t, decision.StepBack, h.Run.Now().Verdict)
	h.Press(work.Main, at)
	require.Equal(t, sessiontest.StepID(3), h.Run.Session().Blocks[0].Position.Reached)
	one(h, at+2000, work.Main)
}

func TestAnOfferWithoutACueIsCounted(t *testing.T) {
	h := sessiontest.Begin(t, sessiontest.Plan(work.Cued, 3, 0), session.Choice{})
	h.Press(work.OfferKey, 1000)
	h.Press(work.OfferKey, 3000)
	h.Press(work.UndoKey, 4000)
	require.Equal(t, 1, h.Run.Session().Blocks[0].Offers)
	require.Empty(t, h.Run.Session().Trials)
}
