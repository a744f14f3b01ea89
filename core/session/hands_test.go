package session_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/decision"
	"patientfox/core/pack"
	"patientfox/core/progression"
	"patientfox/core/screen"
	"patientfox/core/session"
	"patientfox/core/work"
	"patientfox/internal/sessiontest"
)

// shared is a plan of six steps that Maren has taken to the fifth; Kes has not handled it yet.
func shared() pack.Pack {
	p := sessiontest.Plan(work.Cued, 6, 4)
	p.Founder, p.Main, p.Today = "maren", "maren", "2026-11-29"
	p.People = []pack.Option{
		{ID: "maren", Name: "Maren Oduya", Role: pack.RoleTrainer, Known: true, LastDay: "2026-11-28"}, {ID: "kes", Name: "Kes", Role: "family"},
	}
	return p
}

// over hands the dog over.
func over(t *testing.T, h *session.Hand, at int64, to string) {
	t.Helper()
	drafts, problem := h.Run.HandOver(to)
	require.Nil(t, problem)
	h.Handler = to
	h.Do(at, drafts)
}

// In one session the trainer works at her step, her client at his; a full set of his moves his level alone.
func TestEachHandlerWorksAtTheirOwnStep(t *testing.T) {
	h := sessiontest.Begin(t, shared(), session.Choice{Place: "shed", Pieces: "60"})
	at := sessiontest.Cued(h, 1000, 500)
	require.True(t, h.Run.HandsOver("kes"))
	require.False(t, h.Run.HandsOver("maren"))
	over(t, h, at, "kes")
	require.Equal(t, sessiontest.StepID(2), h.Run.Today().ID, "half way up")
	require.Contains(t, screen.Of(h.Run).View(at).Where, "with Kes")
	for range 5 {
		at = sessiontest.Cued(h, at+2000, 500)
	}
	require.Equal(t, decision.StepUp, h.Run.Now().Verdict)
	h.Press(work.Main, at)
	require.Equal(t, sessiontest.StepID(3), h.Run.Today().ID)
	over(t, h, at+1000, "maren")
	require.Equal(t, sessiontest.StepID(4), h.Run.Today().ID)
	require.Empty(t, h.Run.Now().Trials[0].Easy)
	require.Len(t, h.Run.Now().Trials, 1, "her stretch has her trial alone")
	over(t, h, at+2000, "kes")
	require.Equal(t, sessiontest.StepID(3), h.Run.Today().ID, "where he was")

	drafts, problem := h.Run.Close(session.Closing{End: true, Reason: "done"})
	require.Nil(t, problem)
	h.Do(at+3000, drafts)
	left := h.Run.After()[0]
	require.Equal(t, sessiontest.StepID(4), left.Position.Reached)
	require.Equal(t, sessiontest.StepID(3), left.Levels["kes"].Position.Reached)
	require.Len(t, left.Stretch, 1)

	next := sessiontest.Begin(t, left, session.Choice{Handler: "kes"})
	require.Equal(t, sessiontest.StepID(3), next.Run.Today().ID, "the next session opens there for him")
	require.Empty(t, next.Run.Session().Moves, "his level is known")
	again, err := session.Open(left)
	require.NoError(t, err)
	require.Equal(t, "With Kes it has reached step 4, with Maren Oduya step 5.", screen.Of(again).Setup(session.Choice{Handler: "kes"}).Start)
}

// Who begins a plan is its main handler from the first trial on, before any server knows.
func TestTheFirstSessionOfAPlanCanChangeHands(t *testing.T) {
	p := shared()
	p.Founder, p.Main, p.First = "", "", true
	h := sessiontest.Begin(t, p, session.Choice{Place: "shed"})
	at := sessiontest.Cued(h, 1000, 500)
	over(t, h, at, "kes")
	require.Equal(t, sessiontest.StepID(2), h.Run.Today().ID)
	require.Equal(t, "kes", h.Run.Block().Level)
	drafts, problem := h.Run.Close(session.Closing{End: true, Reason: "done"})
	require.Nil(t, problem)
	h.Do(at+3000, drafts)
	left := h.Run.After()[0]
	require.Equal(t, []string{"maren", "maren"}, []string{left.Founder, left.Main})
	require.Equal(t, sessiontest.StepID(2), left.Levels["kes"].Position.Reached)
}

func TestNobodyIsTakenAboveTheMainHandler(t *testing.T) {
	p := shared()
	p.Levels = map[string]pack.Level{"kes": {Position: progression.Position{Reached: sessiontest.StepID(5), Today: sessiontest.StepID(5)}}}
	h := sessiontest.Begin(t, p, session.Choice{Place: "shed", Handler: "kes"})
	require.Equal(t, sessiontest.StepID(4), h.Run.Today().ID)
	require.Equal(t, progression.WhyHands, h.Run.Session().Moves[0].Why)
	at := int64(1000)
	for range 5 {
		at = sessiontest.Cued(h, at, 500)
	}
	require.Equal(t, decision.Repeat, h.Run.Now().Verdict)
	require.Equal(t, decision.AboveMain, h.Run.Now().Reasons[len(h.Run.Now().Reasons)-1].Code)
	require.Nil(t, h.Run.StepBy(+1))
	fresh, err := session.Open(p)
	require.NoError(t, err)
	_, problem := fresh.Begin(session.Choice{Place: "shed", Handler: "kes", Step: sessiontest.StepID(5)})
	require.Equal(t, session.AboveMain, problem.Code)
	require.Len(t, screen.Of(fresh).Setup(session.Choice{Handler: "kes"}).Steps, 5, "only steps up to hers are offered")
}

func TestASafetyStepIsShownToAHandlerFirst(t *testing.T) {
	p := shared()
	p.Steps[3].Safety = true
	h := sessiontest.Begin(t, p, session.Choice{Place: "shed", Handler: "kes"})
	require.Equal(t, sessiontest.StepID(2), h.Run.Today().ID)
	at := int64(1000)
	for range 5 {
		at = sessiontest.Cued(h, at, 500)
	}
	require.Equal(t, decision.Repeat, h.Run.Now().Verdict)
	require.Equal(t, decision.NotShown, h.Run.Now().Reasons[len(h.Run.Now().Reasons)-1].Code)
	begin := func(step string) session.ProblemCode {
		fresh, err := session.Open(p)
		require.NoError(t, err)
		if _, problem := fresh.Begin(session.Choice{Place: "shed", Handler: "kes", Step: step}); problem != nil {
			return problem.Code
		}
		return ""
	}
	require.Equal(t, session.NotShown, begin(sessiontest.StepID(4)))
	p.Shown = map[string][]string{"kes": {sessiontest.StepID(3)}}
	require.Equal(t, session.NoRecord, begin(sessiontest.StepID(3)), "shown, but never worked at the step below")
	p.Steps[0].Safety = true
	p.Steps[0].Criteria = held(p.Steps[0].Criteria, "long line")
	require.Equal(t, session.NotShown, begin(""), "no step is below the first, and it is on a line already")
	mine := sessiontest.Begin(t, p, session.Choice{Place: "shed"})
	_, problem := mine.Run.HandOver("kes")
	require.Equal(t, session.Problem{Field: "handles", Code: session.NotShown}, *problem, "said where it was chosen")
}

func TestTheDogIsHandedOverBetweenTrials(t *testing.T) {
	h := sessiontest.Begin(t, shared(), session.Choice{Place: "shed"})
	h.Press(work.Main, 1000)
	_, problem := h.Run.HandOver("kes")
	require.Equal(t, session.NotBetween, problem.Code)
	h.Press(work.MissKey, 2000)
	over(t, h, 3000, "kes")
	h.Press(work.UndoKey, 4000)
	require.Equal(t, sessiontest.StepID(2), h.Run.Today().ID, "an undo is of trials")
	over(t, h, 5000, "maren")
	require.Equal(t, sessiontest.StepID(4), h.Run.Today().ID)

	mixed := sessiontest.Begin(t, shared(), session.Choice{Place: "shed"})
	with(t, mixed, 100, sessiontest.Other(shared(), "down", "dog", "Down"))
	require.False(t, mixed.Run.HandsOver("kes"), "skills in turn stay at the levels at which they were begun")
}
