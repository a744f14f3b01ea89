package session_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/pack"
	"patientfox/core/session"
	"patientfox/core/work"
	"patientfox/internal/sessiontest"
)

func entering(t *testing.T, p pack.Pack) *session.Hand {
	t.Helper()
	run, err := session.Open(p)
	require.NoError(t, err)
	return &session.Hand{
		Run: run, Session: "00000000-0000-7000-a000-000000000001", Dev: "entered", By: "maren", Handler: "maren", NewID: sessiontest.IDs(),
	}
}

func counted(step int, met, late string) session.SetTyped {
	set := session.SetTyped{TallyTyped: session.TallyTyped{Met: met, Late: late}}
	if step >= 0 {
		set.Step = sessiontest.StepID(step)
	}
	return set
}

// Sets that were counted on another day: a step up that was due and made is one that was earned, anything else is by hand and says no
// verdict, and nothing is said of when it was paid.
func TestASessionWrittenDownAfterwards(t *testing.T) {
	h := entering(t, sessiontest.Plan(work.Held, 4, 0))
	problem := h.Enter(session.Afterwards{
		Begins: session.Choice{Place: "shed"}, Note: "windy", Ends: session.Closing{Unlogged: "3", Reason: "done"}, MS: 600_000,
		Sets: []session.SetTyped{counted(-1, "5", ""), counted(1, "5", ""), {}, counted(-1, "4", "1"), counted(3, "2", "3")},
	})
	require.Nil(t, problem)
	s := h.Run.Session()
	require.NotNil(t, s.Ended)
	b := s.Blocks[0]
	require.Equal(t, []any{20, 3, 1}, []any{len(s.Trials), b.Unlogged, len(s.Verdicts)})
	require.Equal(t, []any{string(decision.StepUp), string(decision.StepUp)}, []any{string(s.Verdicts[0].Recommended), s.Verdicts[0].Action})
	require.Equal(t, []string{sessiontest.StepID(0), sessiontest.StepID(1), sessiontest.StepID(1), sessiontest.StepID(3)},
		[]string{s.Trials[0].Step, s.Trials[5].Step, s.Trials[10].Step, s.Trials[15].Step})
	require.True(t, b.Position.Given, "the last one was gone to by hand")
	require.InDelta(t, 120, s.Trials[0].At, 1e-9, "four sets in ten minutes")
	require.Zero(t, s.ActiveIn(b.ID), "in no rate of pay")
}

func TestWhatCannotBeWrittenDownAfterwards(t *testing.T) {
	calm, held := sessiontest.Plan(work.Counter, 4, 1), sessiontest.Plan(work.Held, 4, 1)
	for name, c := range map[string]struct {
		pack  pack.Pack
		typed session.Afterwards
		field string
		code  session.ProblemCode
	}{
		"not a set":   {held, session.Afterwards{Sets: []session.SetTyped{{}, counted(-1, "4", "2")}}, "set2", session.NotASet},
		"no figure":   {held, session.Afterwards{Sets: []session.SetTyped{counted(-1, "five", "")}}, "set1_met", session.NotWhole},
		"no step":     {held, session.Afterwards{Sets: []session.SetTyped{counted(9, "5", "")}}, "set1_step", session.StepGone},
		"exposures":   {calm, session.Afterwards{Sets: []session.SetTyped{counted(-1, "5", "")}}, "set1", session.NoTallyHere},
		"no place":    {held, session.Afterwards{Begins: session.Choice{Place: "nowhere"}}, "place", session.NotInList},
		"a long note": {held, session.Afterwards{Note: strings.Repeat("a", criteria.MaxNote+1)}, "note", session.TooLong},
		"too many":    {held, session.Afterwards{Ends: session.Closing{Unlogged: "501"}}, "unlogged", session.NotWhole},
	} {
		problem := entering(t, c.pack).Enter(c.typed)
		require.NotNil(t, problem, name)
		require.Equal(t, []any{c.field, c.code}, []any{problem.Field, problem.Code}, name)
	}
}
