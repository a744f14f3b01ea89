package session_test

import (
	"encoding/json"
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/pack"
	"patientfox/core/progression"
	"patientfox/core/reinforce"
	"patientfox/core/screen"
	"patientfox/core/session"
	"patientfox/core/trial"
	"patientfox/core/work"
)

func ids() func() string {
	n := 0
	return func() string {
		n++
		return fmt.Sprintf("00000000-0000-7000-8000-%012d", n)
	}
}

func stepID(i int) string { return fmt.Sprintf("00000000-0000-7000-9000-%012d", i) }

// pack is a plan of holds of 2, 4, 8 … s, the dog standing at the step with index at.
func plan(kind work.Kind, steps, at int) pack.Pack {
	p := pack.Pack{
		V: 1, Plan: "plan", PlanVersion: 1, Dog: "dog", DogName: "Tansy", Skill: "skill", SkillName: "Wait at the ramp",
		Kind: kind, DefVersion: 1, Rule: decision.Defaults(decision.Set), Pay: reinforce.Strategy{Band: reinforce.Band{Lo: 4, Hi: 6}, Pieces: 1},
		Places: []pack.Option{{ID: "shed", Name: "the shed", Known: true}, {ID: "quay", Name: "the north quay"}},
		People: []pack.Option{{ID: "maren", Name: "Maren Oduya", Known: true}}, Person: "maren", Days: 1,
	}
	for i := range steps {
		c := criteria.Criteria{}.With(criteria.Duration, float64(int(2)<<i))
		if kind == work.Cued {
			c = criteria.Criteria{}.With(criteria.Handler, float64(1+i)).With(criteria.Latency, 3)
		}
		p.Steps = append(p.Steps, progression.Step{ID: stepID(i), Rev: 1, Criteria: c})
	}
	p.Position = progression.Position{Reached: stepID(at), Today: stepID(at)}
	return p
}

func begin(t *testing.T, p pack.Pack, c session.Choice) *session.Hand {
	t.Helper()
	run, err := session.Open(p)
	require.NoError(t, err)
	h := &session.Hand{Run: run, Session: "00000000-0000-7000-a000-000000000001", Dev: "phone", By: "maren", Handler: "maren", NewID: ids()}
	drafts, problem := run.Begin(c)
	require.Nil(t, problem)
	h.Do(0, drafts)
	return h
}

// hold runs n trials from a moment, each ended by key after held ms, and returns the time after.
func hold(h *session.Hand, at int64, n int, held int64, key work.Key) int64 {
	for range n {
		h.Press(work.Main, at)
		h.Press(key, at+held)
		at += held + 4000
	}
	return at
}

func TestFiveOfFiveStepsUpAndIsPaid(t *testing.T) {
	h := begin(t, plan(work.Held, 4, 1), session.Choice{Place: "shed", Pieces: "30"})
	at := hold(h, 1000, 5, 4000, work.Main)
	v := screen.Of(h.Run).View(at)
	require.Equal(t, session.Deciding, v.Phase)
	require.Equal(t, decision.StepUp, h.Run.Now().Verdict)
	require.Equal(t, "8 s", v.Main.Sub)
	require.Equal(t, "5 of 5 met", v.Verdict.Why)
	require.Equal(t, "None reported missing", v.Verdict.Coverage)
	require.Equal(t, "5 trials · 25 treats left", v.Log)
	require.Len(t, v.Set.Places, 5)
	for _, place := range v.Set.Places {
		require.Equal(t, screen.SetMember{Outcome: "met", Paid: true}, place)
	}
	h.Press(work.Main, at)
	v = screen.Of(h.Run).View(at)
	require.Equal(t, session.Idle, v.Phase)
	require.Equal(t, "8 s", v.Step)
	require.Equal(t, stepID(2), h.Run.Session().Blocks[0].Position.Reached)
	require.Empty(t, v.Set.Places[0].Outcome, "the new step begins with an empty set")
}

func TestOverrulingKeepsAdviceAndDeed(t *testing.T) {
	h := begin(t, plan(work.Held, 4, 1), session.Choice{Place: "shed"})
	at := hold(h, 1000, 5, 4000, work.Main)
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
	h := begin(t, plan(work.Held, 4, 1), session.Choice{Place: "shed"})
	at := hold(h, 1000, 4, 4000, work.Main)
	at = hold(h, at, 1, 1000, work.MissKey)
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
	h := begin(t, plan(work.Held, 4, 2), session.Choice{Place: "shed"})
	at := hold(h, 1000, 2, 1000, work.MissKey)
	require.Equal(t, decision.StepBack, h.Run.Now().Verdict)
	h = begin(t, plan(work.Held, 4, 2), session.Choice{Place: "shed"})
	for range 3 {
		at = hold(h, at+1000, 4, 8000, work.Main)
		at = hold(h, at, 1, 1000, work.MissKey)
	}
	v := screen.Of(h.Run).View(at)
	require.Equal(t, decision.Split, h.Run.Now().Verdict, v.Verdict.Why)
	h.Press(work.Main, at)
	v = screen.Of(h.Run).View(at)
	require.Equal(t, "5.7 s", v.Step, "half way between 4 and 8 s is their geometric mean")
	require.Contains(t, v.Where, "one below the one reached")
	b := h.Run.Session().Blocks[0]
	require.Len(t, b.Steps, 5)
	require.Equal(t, stepID(2), b.Position.Reached, "a split works below the step reached and does not lose it")
	// Three met in a row lead back to the step that was reached.
	at = hold(h, at+1000, 3, 6000, work.Main)
	require.Equal(t, decision.StepUp, h.Run.Now().Verdict)
	h.Press(work.Main, at)
	require.Equal(t, stepID(2), h.Run.Session().Blocks[0].Position.Today)
}

func TestAHoldReleasedEarlyWasEndedEarly(t *testing.T) {
	h := begin(t, plan(work.Held, 4, 1), session.Choice{Place: "shed"})
	at := hold(h, 1000, 1, 2500, work.Main)
	one := h.Run.Session().Trials[0]
	require.Equal(t, trial.LetGo, one.Outcome)
	require.False(t, one.Easy, "what is decided after the cue is an outcome")
	require.False(t, one.Counted())
	require.Equal(t, 1, one.Pays)
	require.Empty(t, screen.Of(h.Run).View(at).Set.Places[0].Outcome)
}

func TestLatencyAndASecondCueTurnMetIntoLate(t *testing.T) {
	h := begin(t, plan(work.Cued, 4, 1), session.Choice{Place: "shed"})
	at := hold(h, 1000, 1, 2900, work.Main)
	at = hold(h, at, 1, 3400, work.Main)
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
	p := plan(work.Held, 10, 6)
	h := begin(t, p, session.Choice{Place: "quay"})
	b := h.Run.Session().Blocks[0]
	require.Equal(t, stepID(4), b.Position.Today, "a fifth of ten steps")
	require.Equal(t, stepID(6), b.Position.Reached)
	setup := screen.Of(h.Run).Setup(session.Choice{Place: "quay"})
	require.Contains(t, setup.Start, "two steps down")
	require.Contains(t, setup.Start, "the north quay")
	at := hold(h, 1000, 3, 40000, work.Main)
	h.Press(work.Main, at)
	b = h.Run.Session().Blocks[0]
	require.Equal(t, stepID(5), b.Position.Today)
	require.Equal(t, stepID(6), b.Position.Reached, "regain changes only today's step")
}

func TestUndoTakesAWholePressBack(t *testing.T) {
	h := begin(t, plan(work.Held, 4, 1), session.Choice{Place: "shed"})
	at := hold(h, 1000, 1, 4000, work.Main)
	h.Press(work.UndoKey, at)
	s := h.Run.Session()
	require.Empty(t, s.Trials)
	require.Empty(t, s.Pays)
	require.NotNil(t, s.Trying, "the hold is under way again")
	h.Press(work.UndoKey, at+1)
	require.Nil(t, h.Run.Session().Trying)
	require.Empty(t, h.Run.Press(work.UndoKey, at+2), "the opening is not taken back")
}

func TestPayGoesFromOnPaceToOverdue(t *testing.T) {
	h := begin(t, plan(work.Held, 4, 1), session.Choice{Place: "shed"})
	require.Empty(t, screen.Of(h.Run).View(90000).Pay.Word, "nothing is overdue before the dog works")
	hold(h, 100000, 1, 4000, work.Main)
	require.Equal(t, screen.PayView{Word: "on pace", Since: "last 10 s ago", Gap: 12, Key: "Pay"}, screen.Of(h.Run).View(114000).Pay)
	require.Equal(t, "slow", screen.Of(h.Run).View(104000+16000).Pay.Word)
	require.Equal(t, "overdue", screen.Of(h.Run).View(104000+23000).Pay.Word)
	h.Press(work.BreakKey, 115000)
	h.Press(work.BreakKey, 215000)
	require.Equal(t, "last 11 s ago", screen.Of(h.Run).View(215000).Pay.Since, "a break is no active time")
}

func TestTwoStepsUpAreOfferedAfterTwoCleanFirstSets(t *testing.T) {
	h := begin(t, plan(work.Held, 6, 0), session.Choice{Place: "shed"})
	at := hold(h, 1000, 5, 2000, work.Main)
	require.Len(t, screen.Of(h.Run).View(at).Verdict.Others, 1)
	h.Press(work.Main, at)
	at = hold(h, at+1000, 5, 4000, work.Main)
	others := screen.Of(h.Run).View(at).Verdict.Others
	require.Equal(t, work.TwoUpKey, others[len(others)-1].Key)
	h.Press(work.TwoUpKey, at)
	require.Equal(t, stepID(3), h.Run.Session().Blocks[0].Position.Reached)
}

func TestClosingSaysWhatWasNotLogged(t *testing.T) {
	h := begin(t, plan(work.Held, 4, 1), session.Choice{Place: "shed", Pieces: "20"})
	at := hold(h, 1000, 5, 4000, work.Main)
	for _, typed := range []string{"ten", "-3", "1e9", "501"} {
		_, problem := h.Run.Close(session.Closing{Unlogged: typed})
		require.NotNil(t, problem, typed)
		require.Equal(t, "unlogged", problem.Field)
	}
	require.Contains(t, screen.Of(h.Run).CrossCheck(""), "15 ")
	require.Contains(t, screen.Of(h.Run).CrossCheck("ten"), "15 ")
	require.Contains(t, screen.Of(h.Run).CrossCheck("12"), "3 treats more eaten")
	require.Contains(t, screen.Of(h.Run).CrossCheck("16"), "1 treat more in the log")
	require.NotContains(t, screen.Of(h.Run).CrossCheck("15"), "more")
	_, problem := h.Run.Close(session.Closing{Left: "21"})
	require.Equal(t, "left", problem.Field)
	drafts, problem := h.Run.Close(session.Closing{Unlogged: "2", Left: "12", Next: "nearer the gulls", Reason: "done", Take: true, End: true})
	require.Nil(t, problem)
	h.Do(at, drafts)
	s := h.Run.Session()
	require.NotNil(t, s.Ended)
	require.Equal(t, 2, s.Blocks[0].Unlogged)
	require.InDelta(t, 5.0/7, s.Blocks[0].Coverage(), 1e-12)
	require.Equal(t, stepID(2), s.Blocks[0].Position.Reached, "a verdict that waited was taken")
	require.Equal(t, session.Over, screen.Of(h.Run).View(at).Phase)
	require.Equal(t, "Reached: step 3 of 4, 8 s.", screen.Of(h.Run).View(at).Closing.Next)
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
	require.Nil(t, ask("open", plan(work.Held, 3, 0), 0)["error"])
	require.Contains(t, ask("setup", session.Choice{}, 0)["setup"], "step_id")
	begun := ask("begin", session.Choice{Pieces: "many"}, 0)
	require.Equal(t, "pieces", begun["problem"].(map[string]any)["field"])
	require.Len(t, ask("begin", session.Choice{}, 0)["drafts"], 2)
	require.NotNil(t, ask("note", strings.Repeat("🦊", 10001), 0)["problem"])
	require.Len(t, ask("note", "a line", 0)["drafts"], 1)
	require.NotEmpty(t, ask("fly", nil, 0)["error"])
	require.NotEmpty(t, ask("open", "no pack", 0)["error"])
}

func BenchmarkTap(b *testing.B) {
	run, err := session.Open(plan(work.Held, 4, 1))
	require.NoError(b, err)
	h := &session.Hand{Run: run, Session: "00000000-0000-7000-a000-000000000001", Dev: "phone", NewID: ids()}
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
