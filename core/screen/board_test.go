package screen_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/criteria"
	"patientfox/core/screen"
	"patientfox/core/session"
	"patientfox/core/work"
	"patientfox/internal/sessiontest"
)

func TestWhatWasNotLoggedStandsInTheNextVerdict(t *testing.T) {
	h := sessiontest.Begin(t, sessiontest.Plan(work.Held, 4, 1), session.Choice{Place: "shed"})
	at := sessiontest.Hold(h, 1000, 3, 4000, work.Main)
	sessiontest.Another(t, h, at, nil, "2")
	at = sessiontest.Hold(h, at+1000, 5, 4000, work.Main)
	require.Equal(t, "80 % logged, about 2 not", screen.Of(h.Run).View(at).Verdict.Coverage)
}

// Of a trial that was not met more can be said, and of no other.
func TestMoreIsSaidOfWhatWasNotMet(t *testing.T) {
	h := sessiontest.Begin(t, sessiontest.Plan(work.Held, 4, 1), session.Choice{})
	require.Empty(t, screen.Of(h.Run).View(0).Tells)
	at := sessiontest.Hold(h, 1000, 1, 4000, work.Main)
	require.Empty(t, screen.Of(h.Run).View(at).Tells)
	at = sessiontest.Hold(h, at, 1, 1000, work.MissKey)
	require.Contains(t, screen.Of(h.Run).View(at).Tells, "missed")
	at = sessiontest.Hold(h, at, 1, 1000, work.VoidKey)
	require.Empty(t, screen.Of(h.Run).View(at).Tells)
}

func TestKeysMeanNothingWhereTheyMeanNothing(t *testing.T) {
	h := sessiontest.Begin(t, sessiontest.Plan(work.Held, 3, 1), session.Choice{Place: "shed"})
	require.Contains(t, screen.Of(h.Run).View(0).Off, work.UndoKey)
	require.Contains(t, screen.Of(h.Run).View(0).Off, work.CueKey)
	h.Press(work.BreakKey, 1000)
	for _, key := range []work.Key{work.MetKey, work.MissKey, work.PayKey, work.EasyKey, work.StayKey, "nonsense"} {
		require.Empty(t, h.Run.Press(key, 2000), key)
	}
	require.Equal(t, "Go on", screen.Of(h.Run).View(2000).Main.Label)
	h.Press(work.Main, 2000)
	require.Equal(t, session.Idle, screen.Of(h.Run).View(2000).Phase)
	at := sessiontest.Hold(h, 3000, 2, 1000, work.MissKey)
	require.Equal(t, session.Deciding, screen.Of(h.Run).View(at).Phase)
	require.Empty(t, h.Run.Press(work.MetKey, at), "the verdict is answered first")
	require.Equal(t, []work.Button{{Key: work.StayKey, Label: "Stay here"}, {Key: work.UpKey, Label: "Up one"}},
		screen.Of(h.Run).View(at).Verdict.Others)
}

func TestClosingSaysWhatWasNotLogged(t *testing.T) {
	h := sessiontest.Begin(t, sessiontest.Plan(work.Held, 4, 1), session.Choice{Place: "shed", Pieces: "20"})
	at := sessiontest.Hold(h, 1000, 5, 4000, work.Main)
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
	require.Equal(t, sessiontest.StepID(2), s.Blocks[0].Position.Reached, "a verdict that waited was taken")
	require.Equal(t, session.Over, screen.Of(h.Run).View(at).Phase)
	require.Equal(t, "Reached: step 3 of 4, 8 s.", screen.Of(h.Run).View(at).Closing.Next)
}

func TestWhatASessionIsForCanBeChosen(t *testing.T) {
	run, err := session.Open(sessiontest.Finished())
	require.NoError(t, err)
	v := screen.Of(run).Setup(session.Choice{})
	require.Equal(t, "probe", v.Mode)
	require.Len(t, v.Modes, 4)
	require.Equal(t, "train", screen.Of(run).Setup(session.Choice{Mode: "train"}).Mode)
	placing := screen.Of(run).Setup(session.Choice{Mode: "place", Step: sessiontest.StepID(4)})
	require.Equal(t, sessiontest.StepID(0), placing.StepID)
	require.Contains(t, placing.Start, "every third step")
	again := sessiontest.Finished()
	again.Days = 0
	run, err = session.Open(again)
	require.NoError(t, err)
	require.Equal(t, "train", screen.Of(run).Setup(session.Choice{}).Mode, "worked today already: nothing is cold")
}

// Steps to start at: near the advised one first, then the others; those of handling by site and tool.
func TestStartsAreGrouped(t *testing.T) {
	p := sessiontest.Plan(work.Handling, 12, 5)
	for i := range p.Steps {
		p.Steps[i].Criteria = p.Steps[i].Criteria.With(criteria.Site, float64(i/6)).With(criteria.Tool, float64(i%2))
	}
	run, err := session.Open(p)
	require.NoError(t, err)
	steps := screen.Of(run).Setup(session.Choice{Place: "shed"}).Steps
	require.Len(t, steps, 12)
	require.Equal(t, []string{sessiontest.StepID(7), sessiontest.StepID(3)}, []string{steps[0].ID, steps[4].ID})
	seen := map[string]bool{}
	for i, one := range steps {
		require.False(t, seen[one.Group] && steps[i-1].Group != one.Group, "a group stands together: %s", one.Group)
		seen[one.Group] = true
	}
	require.Len(t, seen, 5, "two sites with two tools, and those that are near")
	short := sessiontest.Plan(work.Held, 4, 1)
	run, err = session.Open(short)
	require.NoError(t, err)
	require.Empty(t, screen.Of(run).Setup(session.Choice{}).Steps[0].Group, "few are one list")
}

// A number of trials a side, or half of the food, says when to change; the next block offers the other side first.
func TestBothSidesInOneVisit(t *testing.T) {
	left, right := sessiontest.Sided()
	for typed, code := range map[string]session.ProblemCode{"0": session.NotOneUp, "-1": session.NotWhole, "many": session.NotWhole} {
		r, err := session.Open(left)
		require.NoError(t, err)
		_, problem := r.Begin(session.Choice{Place: "shed", Quota: typed})
		require.NotNil(t, problem)
		require.Equal(t, []any{"quota", code}, []any{problem.Field, problem.Code}, typed)
	}
	h := sessiontest.Begin(t, left, session.Choice{Place: "shed", Pieces: "60", Quota: "2"})
	at := sessiontest.Cued(h, 1000, 900)
	v := screen.Of(h.Run).View(at).Sheet
	require.Equal(t, []any{"Left 1 of 2 · Right 0", false}, []any{v.Line, v.Done})
	at = sessiontest.Cued(h, at, 900)
	v = screen.Of(h.Run).View(at).Sheet
	require.Equal(t, []any{true, "right", true}, []any{v.Done, v.Parts[0].Plan, v.Parts[0].First})
	require.NoError(t, h.Run.Renew(right))
	drafts, problem := h.Run.Begin(session.Choice{}) // as many as the other side
	require.Nil(t, problem)
	h.Do(at, drafts)
	at = sessiontest.Cued(h, at+1000, 900)
	require.Equal(t, "Right 1 of 2 · Left 2", screen.Of(h.Run).View(at).Sheet.Line)
	require.False(t, screen.Of(h.Run).View(at).Sheet.Done)

	h = sessiontest.Begin(t, left, session.Choice{Place: "shed", Pieces: "4"})
	at = sessiontest.Cued(h, 1000, 900)
	_, due := h.Run.OtherSide()
	require.False(t, due)
	at = sessiontest.Cued(h, at, 900)
	side, due := h.Run.OtherSide()
	require.True(t, due, "half of the food has gone")
	require.Equal(t, "right", side.ID)
	require.Equal(t, "Half the treats are gone. Change sides: right.", screen.Of(h.Run).View(at).Sheet.Next)
}

func TestABouncingThumbPressesOnce(t *testing.T) {
	h := sessiontest.Begin(t, sessiontest.Plan(work.Held, 3, 1), session.Choice{Place: "shed"})
	h.Press(work.Main, 1000)
	require.Empty(t, h.Press(work.Main, 1100), "no trial ends a tenth of a second after its start")
	h.Press(work.Main, 5000)
	require.True(t, screen.Of(h.Run).View(5100).Rests)
	require.Empty(t, h.Press(work.Main, 5150), "nor does the next one begin with the mark's second bounce")
	require.False(t, screen.Of(h.Run).View(5400).Rests)
	at := sessiontest.Hold(h, 6000, 4, 4000, work.Main)
	require.Equal(t, session.Deciding, screen.Of(h.Run).View(at).Phase)
	require.Empty(t, h.Press(work.Main, at-3900), "and no verdict is taken unread")
	require.NotEmpty(t, h.Press(work.Main, at))
}

// A rate over two skills is of neither: the end says how each went.
func TestASessionOverTwoSkillsSaysHowEachWent(t *testing.T) {
	one := sessiontest.Plan(work.Held, 4, 1)
	two := sessiontest.Other(one, "second", one.Dog, "Settle on deck")
	h := sessiontest.Begin(t, one, session.Choice{Place: "shed", Pieces: "20"})
	at := sessiontest.Hold(h, 1000, 3, 4000, work.Main)
	require.Equal(t, "3 of 3 met, likely 44–100 %.", screen.Of(h.Run).View(at).Closing.Summary)
	sessiontest.Another(t, h, at, &two, "")
	at = sessiontest.Hold(h, at+1000, 2, 1000, work.MissKey)
	closing := screen.Of(h.Run).View(at).Closing
	require.Equal(t, "5 trials in 2 skills.", closing.Summary)
	require.Contains(t, closing.Next, "Settle on deck: 0 of 2 met, step 2 of 4")
	require.Contains(t, closing.Next, ": 3 of 3 met, step 2 of 4")
}
