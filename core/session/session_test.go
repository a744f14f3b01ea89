package session_test

import (
	"encoding/json"
	"math"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/screen"
	"patientfox/core/session"
	"patientfox/core/trial"
	"patientfox/core/work"
	"patientfox/internal/sessiontest"
)

func TestFiveOfFiveStepsUpAndIsPaid(t *testing.T) {
	h := sessiontest.Begin(t, sessiontest.Plan(work.Held, 4, 1), session.Choice{Place: "shed", Pieces: "30"})
	at := sessiontest.Hold(h, 1000, 5, 4000, work.Main)
	v := screen.Of(h.Run).View(at)
	require.Equal(t, session.Deciding, v.Phase)
	require.Equal(t, decision.StepUp, h.Run.Now().Verdict)
	require.Equal(t, []decision.Reason{{Code: decision.FullSet, Of: 5, Out: 5}}, h.Run.Now().Reasons)
	left, counted := h.Run.Left()
	require.Equal(t, []any{25, true}, []any{left, counted})
	require.Len(t, v.Set.Places, 5)
	for _, place := range v.Set.Places {
		require.Equal(t, screen.SetMember{Outcome: "met", Paid: true}, place)
	}
	h.Press(work.Main, at)
	v = screen.Of(h.Run).View(at)
	require.Equal(t, session.Idle, v.Phase)
	require.Equal(t, "8 s", v.Step)
	require.Equal(t, sessiontest.StepID(2), h.Run.Session().Blocks[0].Position.Reached)
	require.Empty(t, v.Set.Places[0].Outcome, "the new step begins with an empty set")
}

func TestOverrulingKeepsAdviceAndDeed(t *testing.T) {
	h := sessiontest.Begin(t, sessiontest.Plan(work.Held, 4, 1), session.Choice{Place: "shed"})
	at := sessiontest.Hold(h, 1000, 5, 4000, work.Main)
	h.Press(work.StayKey, at)
	verdicts := h.Run.Session().Verdicts
	require.Len(t, verdicts, 1)
	require.Equal(t, "step_up", verdicts[0].Recommended)
	require.Equal(t, "repeat", verdicts[0].Action)
	require.Len(t, verdicts[0].TrialIDs, 5)
	require.Equal(t, "4 s", screen.Of(h.Run).View(at).Step)
	require.Equal(t, session.Idle, screen.Of(h.Run).View(at).Phase)
}

func TestGoingOnAfterARepeatTakesIt(t *testing.T) {
	h := sessiontest.Begin(t, sessiontest.Plan(work.Held, 4, 1), session.Choice{Place: "shed"})
	at := sessiontest.Hold(h, 1000, 4, 4000, work.Main)
	at = sessiontest.Hold(h, at, 1, 1000, work.MissKey)
	v := screen.Of(h.Run).View(at)
	require.Equal(t, session.Idle, v.Phase)
	require.Equal(t, decision.Repeat, h.Run.Now().Verdict)
	h.Press(work.Main, at)
	verdicts := h.Run.Session().Verdicts
	require.Len(t, verdicts, 1)
	require.Equal(t, "repeat", verdicts[0].Action)
	require.False(t, screen.Of(h.Run).View(at).Verdict.Show)
}

func TestTwoMissesSendBackAtOnceAndThreeRepeatsSplit(t *testing.T) {
	h := sessiontest.Begin(t, sessiontest.Plan(work.Held, 4, 2), session.Choice{Place: "shed"})
	at := sessiontest.Hold(h, 1000, 2, 1000, work.MissKey)
	require.Equal(t, decision.StepBack, h.Run.Now().Verdict)
	h = sessiontest.Begin(t, sessiontest.Plan(work.Held, 4, 2), session.Choice{Place: "shed"})
	for range 3 {
		at = sessiontest.Hold(h, at+1000, 4, 8000, work.Main)
		at = sessiontest.Hold(h, at, 1, 1000, work.MissKey)
	}
	v := screen.Of(h.Run).View(at)
	require.Equal(t, decision.Split, h.Run.Now().Verdict, v.Verdict.Why)
	h.Press(work.Main, at)
	v = screen.Of(h.Run).View(at)
	require.InDelta(t, math.Sqrt(4*8), h.Run.Today().Criteria.Get(criteria.Duration), 0.05, "half way is the geometric mean")
	b := h.Run.Session().Blocks[0]
	require.Len(t, b.Steps, 5)
	require.Equal(t, sessiontest.StepID(2), b.Position.Reached, "a split works below the step reached and does not lose it")
	// Three met in a row lead back to the step that was reached.
	at = sessiontest.Hold(h, at+1000, 3, 6000, work.Main)
	require.Equal(t, decision.StepUp, h.Run.Now().Verdict)
	h.Press(work.Main, at)
	require.Equal(t, sessiontest.StepID(2), h.Run.Session().Blocks[0].Position.Today)
}

func TestAHoldReleasedEarlyWasEndedEarly(t *testing.T) {
	h := sessiontest.Begin(t, sessiontest.Plan(work.Held, 4, 1), session.Choice{Place: "shed"})
	at := sessiontest.Hold(h, 1000, 1, 2500, work.Main)
	one := h.Run.Session().Trials[0]
	require.Equal(t, trial.LetGo, one.Outcome)
	require.False(t, one.Easy, "what is decided after the cue is an outcome")
	require.False(t, one.Counted())
	require.Equal(t, 1, one.Pays)
	require.Empty(t, screen.Of(h.Run).View(at).Set.Places[0].Outcome)
}

func TestLatencyAndASecondCueTurnMetIntoLate(t *testing.T) {
	h := sessiontest.Begin(t, sessiontest.Plan(work.Cued, 4, 1), session.Choice{Place: "shed"})
	at := sessiontest.Hold(h, 1000, 1, 2900, work.Main)
	at = sessiontest.Hold(h, at, 1, 3400, work.Main)
	h.Press(work.Main, at)
	h.Press(work.CueKey, at+1000)
	h.Press(work.Main, at+1500)
	trials := h.Run.Session().Trials
	require.Equal(t, "met", string(trials[0].Outcome))
	require.InDelta(t, 2.9, *trials[0].LatencyS, 1e-9)
	require.Equal(t, "late", string(trials[1].Outcome))
	require.Equal(t, "late", string(trials[2].Outcome))
	require.Equal(t, 2, trials[2].Cues)
	require.Equal(t, "met", string(trials[2].Tapped), "what was tapped stays beside the measures")
}

func TestANewPlaceOpensLowerAndRegains(t *testing.T) {
	p := sessiontest.Plan(work.Held, 10, 6)
	h := sessiontest.Begin(t, p, session.Choice{Place: "quay"})
	b := h.Run.Session().Blocks[0]
	require.Equal(t, sessiontest.StepID(4), b.Position.Today, "a fifth of ten steps")
	require.Equal(t, sessiontest.StepID(6), b.Position.Reached)
	_, drops := h.Run.Pack().StartAt("quay", "")
	require.Equal(t, []decision.Drop{{Code: decision.NewPlace, Steps: 2}}, drops)
	at := sessiontest.Hold(h, 1000, 3, 40000, work.Main)
	h.Press(work.Main, at)
	b = h.Run.Session().Blocks[0]
	require.Equal(t, sessiontest.StepID(5), b.Position.Today)
	require.Equal(t, sessiontest.StepID(6), b.Position.Reached, "regain changes only today's step")
}

func TestUndoTakesAWholePressBack(t *testing.T) {
	h := sessiontest.Begin(t, sessiontest.Plan(work.Held, 4, 1), session.Choice{Place: "shed"})
	at := sessiontest.Hold(h, 1000, 1, 4000, work.Main)
	h.Press(work.UndoKey, at)
	s := h.Run.Session()
	require.Empty(t, s.Trials)
	require.Empty(t, s.Pays)
	require.NotNil(t, s.Trying, "the hold is under way again")
	h.Press(work.UndoKey, at+1)
	require.Nil(t, h.Run.Session().Trying)
	require.Empty(t, h.Run.Press(work.UndoKey, at+2), "the opening is not taken back")
}

func TestTwoStepsUpAreOfferedAfterTwoCleanFirstSets(t *testing.T) {
	h := sessiontest.Begin(t, sessiontest.Plan(work.Held, 6, 0), session.Choice{Place: "shed"})
	at := sessiontest.Hold(h, 1000, 5, 2000, work.Main)
	require.Len(t, screen.Of(h.Run).View(at).Verdict.Others, 1)
	h.Press(work.Main, at)
	at = sessiontest.Hold(h, at+1000, 5, 4000, work.Main)
	others := screen.Of(h.Run).View(at).Verdict.Others
	require.Equal(t, work.TwoUpKey, others[len(others)-1].Key)
	h.Press(work.TwoUpKey, at)
	require.Equal(t, sessiontest.StepID(3), h.Run.Session().Blocks[0].Position.Reached)
}

func TestTheDoorAnswersInJSON(t *testing.T) {
	var door screen.Door
	ask := func(method string, arg any, at int64) map[string]any {
		raw, err := json.Marshal(arg)
		require.NoError(t, err)
		var answer map[string]any
		require.NoError(t, json.Unmarshal(door.Call(method, raw, at), &answer))
		return answer
	}
	require.Equal(t, "nothing is open", ask("view", nil, 0)["error"])
	require.Nil(t, ask("open", sessiontest.Plan(work.Held, 3, 0), 0)["error"])
	require.Contains(t, ask("setup", session.Choice{}, 0)["setup"], "step_id")
	begun := ask("begin", session.Choice{Pieces: "many"}, 0)
	require.Equal(t, "pieces", begun["problem"].(map[string]any)["field"])
	require.Len(t, ask("begin", session.Choice{}, 0)["drafts"], 2)
	require.NotNil(t, ask("note", strings.Repeat("🦊", 10001), 0)["problem"])
	require.Len(t, ask("note", "a line", 0)["drafts"], 1)
	require.NotNil(t, ask("look", nil, 0)["view"])
	looked := ask("look", nil, 0)
	require.Nil(t, looked["view"], "nothing but the dial can have changed")
	require.Contains(t, looked["dial"], "big")
	require.Contains(t, looked["dial"], "since")
	require.NotNil(t, ask("view", nil, 0)["view"])
	require.NotNil(t, ask("look", nil, 0)["view"], "what was shown meanwhile may be another one")
	require.NotEmpty(t, ask("fly", nil, 0)["error"])
	require.NotEmpty(t, ask("open", "no pack", 0)["error"])
}

func BenchmarkTap(b *testing.B) {
	run, err := session.Open(sessiontest.Plan(work.Held, 4, 1))
	require.NoError(b, err)
	h := &session.Hand{Run: run, Session: "00000000-0000-7000-a000-000000000001", Dev: "phone", NewID: sessiontest.IDs()}
	drafts, _ := run.Begin(session.Choice{})
	h.Do(0, drafts)
	at := int64(1000)
	for len(h.Events) < 500 {
		h.Press(work.Main, at)
		at += 1500
	}
	b.ResetTimer()
	for range b.N {
		run.Press(work.Main, at)
		run.Apply(h.Events[len(h.Events)-4:])
		screen.Of(run).View(at)
	}
}
