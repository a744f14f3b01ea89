package session_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/decision"
	"patientfox/core/pack"
	"patientfox/core/progression"
	"patientfox/core/screen"
	"patientfox/core/session"
	"patientfox/core/trial"
	"patientfox/core/work"
	"patientfox/internal/sessiontest"
)

// with begins a further plan's block in turn with the running one.
func with(t *testing.T, h *session.Hand, at int64, p pack.Pack) {
	t.Helper()
	require.NoError(t, h.Run.Renew(p))
	drafts, problem := h.Run.Begin(session.Choice{With: true})
	require.Nil(t, problem)
	h.Do(at, drafts)
}

// Mixed skills come in a balanced order by chance; a miss says what the dog did instead; each keeps its own stretch.
func TestMixedSkillsComeInABalancedOrder(t *testing.T) {
	p := sessiontest.Plan(work.Cued, 4, 1)
	p.Rule = decision.Defaults(decision.Run)
	h := sessiontest.Begin(t, p, session.Choice{Place: "shed", Pieces: "90"})
	with(t, h, 100, sessiontest.Other(p, "down", "dog", "Down"))
	with(t, h, 200, sessiontest.Other(p, "stand", "dog", "Stand"))
	at := int64(1000)
	asked := map[string]int{}
	var order []string
	for i := range 30 {
		v := screen.Of(h.Run).View(at)
		if v.Phase == session.Deciding {
			h.Press(work.StayKey, at)
			at += 1000
			v = screen.Of(h.Run).View(at)
		}
		require.Contains(t, v.Where, "Mixed, 3 skills")
		h.Press(work.Main, at)
		require.Equal(t, v.Skill, screen.Of(h.Run).View(at).Skill, "what is shown is what is asked")
		key := work.Main
		if i == 7 {
			key = work.MissKey
		}
		h.Press(key, at+1000)
		asked[v.Skill]++
		order = append(order, v.Skill)
		at += 6000
		if i == 7 {
			beside := screen.Of(h.Run).View(at).Beside
			require.Len(t, beside, 3)
			h.Press(beside[0].Key, at)
			require.NotEmpty(t, sessiontest.Trials(h)[7].Instead)
			require.NotEqual(t, v.Skill, sessiontest.Trials(h)[7].Instead)
			require.Empty(t, screen.Of(h.Run).View(at+1).Beside)
		}
	}
	require.Len(t, asked, 3)
	for skill, n := range asked {
		require.InDelta(t, 10, n, 4, skill)
	}
	for i := 2; i < len(order); i++ {
		require.False(t, order[i] == order[i-1] && order[i-1] == order[i-2], "never three running")
	}
	for _, one := range sessiontest.Trials(h) {
		require.NotEmpty(t, one.Skill)
	}
	blocks := h.Run.Session().Blocks
	require.Len(t, blocks, 3)
	require.NotEmpty(t, blocks[0].Rests)
	require.Empty(t, h.Run.Session().Flags)
	require.Len(t, h.Run.After(), 3)

	again := h.Run.Log().Fold(h.Run)
	require.Len(t, again.Trials, len(h.Run.Session().Trials))
	for i, one := range h.Run.Session().Trials {
		again.Trials[i].Cold = one.Cold // which is no matter of the log alone
		require.Equal(t, one, again.Trials[i])
	}
}

// Two dogs in one session: one works and one rests; each has its own place, pays and time.
func TestTwoDogsTakeTurns(t *testing.T) {
	p := sessiontest.Plan(work.Held, 4, 1)
	h := sessiontest.Begin(t, p, session.Choice{Place: "shed", Pieces: "90"})
	sessiontest.Hold(h, 1000, 2, 4000, work.Main)
	with(t, h, 20000, sessiontest.Other(p, "pilchard", "Pilchard", "Settle"))
	v := screen.Of(h.Run).View(20000)
	require.Equal(t, "Pilchard", v.Dog)
	require.Len(t, h.Run.Session().InTurn(h.Run.Block()), 2)
	sessiontest.Hold(h, 21000, 1, 4000, work.Main)
	h.Press(work.SwapKey, 40000)
	v = screen.Of(h.Run).View(45000)
	require.Equal(t, "Tansy", v.Dog)
	require.Equal(t, "last 12 s ago", v.Pay.Since, "while it rested no time went by")
	require.Len(t, v.Set.Places, 5)
	require.Equal(t, "met", v.Set.Places[1].Outcome, "its set goes on")
	sessiontest.Hold(h, 46000, 3, 4000, work.Main)
	require.Equal(t, decision.StepUp, h.Run.Now().Verdict)
	h.Press(work.SwapKey, 91000)
	require.Equal(t, "open", h.Run.Session().Verdicts[0].Action, "nobody answered")
	require.Equal(t, "Pilchard", screen.Of(h.Run).View(92000).Dog)
}

// Two steps in turn: each trial asks the other step; only the reached one's trials decide, and it keeps its stretch.
func TestTwoStepsInTurnKeepTheirOwnStretch(t *testing.T) {
	p := sessiontest.Plan(work.Held, 4, 2)
	p.Rule = decision.Defaults(decision.Run)
	h := sessiontest.Begin(t, p, session.Choice{Place: "shed"})
	h.Press(work.AlternateKey, 500)
	at := int64(1000)
	var steps []string
	for range 5 {
		_, inTurn := h.Run.Alternating()
		require.True(t, inTurn)
		h.Press(work.Main, at)
		h.Press(work.Main, at+8500)
		at += 15000
		steps = append(steps, sessiontest.Trials(h)[len(sessiontest.Trials(h))-1].Step)
	}
	below, above := sessiontest.StepID(1), sessiontest.StepID(2)
	require.Equal(t, []string{below, above, below, above, below}, steps)
	require.Equal(t, session.Idle, screen.Of(h.Run).View(at).Phase, "three met below decide nothing")
	h.Press(work.Main, at)
	h.Press(work.Main, at+8500)
	require.Equal(t, decision.StepUp, h.Run.Now().Verdict, "the third met at the reached step")
	h.Press(work.AlternateKey, at+10000)
	require.Equal(t, sessiontest.StepID(2), h.Run.Session().At.Position.Today)
	require.Equal(t, progression.WhyRegain, h.Run.Session().Moves[len(h.Run.Session().Moves)-1].Why)
	_, inTurn := h.Run.Alternating()
	require.False(t, inTurn)
	require.Equal(t, trial.Met, sessiontest.Trials(h)[0].Outcome)
}
