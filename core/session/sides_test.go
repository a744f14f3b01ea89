package session_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/pack"
	"patientfox/core/screen"
	"patientfox/core/session"
	"patientfox/core/work"
)

// sided is a plan with two sides, and the pack of the other one.
func sided() (left, right pack.Pack) {
	left = plan(work.Cued, 4, 1)
	left.V, left.Track, left.Tracks = pack.Version, "left", []pack.Option{{ID: "right", Name: "right"}}
	right = other(left, "right", left.Dog, left.SkillName)
	right.Skill, right.Track, right.Tracks = left.Skill, "right", []pack.Option{{ID: left.Plan, Name: "left"}}
	return left, right
}

// A number of trials a side, or half of the food, says when to change; the next block offers the other side first.
func TestBothSidesInOneVisit(t *testing.T) {
	left, right := sided()
	for typed, code := range map[string]session.ProblemCode{"0": session.NotOneUp, "-1": session.NotWhole, "many": session.NotWhole} {
		r, err := session.Open(left)
		require.NoError(t, err)
		_, problem := r.Begin(session.Choice{Place: "shed", Quota: typed})
		require.NotNil(t, problem)
		require.Equal(t, []any{"quota", code}, []any{problem.Field, problem.Code}, typed)
	}
	h := begin(t, left, session.Choice{Place: "shed", Pieces: "60", Quota: "2"})
	at := cued(h, 1000, 900)
	v := screen.Of(h.Run).View(at).Sheet
	require.Equal(t, []any{"Left 1 of 2 · Right 0", false}, []any{v.Line, v.Done})
	at = cued(h, at, 900)
	v = screen.Of(h.Run).View(at).Sheet
	require.Equal(t, []any{true, "right", true}, []any{v.Done, v.Parts[0].Plan, v.Parts[0].First})
	require.NoError(t, h.Run.Renew(right))
	drafts, problem := h.Run.Begin(session.Choice{}) // as many as the other side
	require.Nil(t, problem)
	h.Do(at, drafts)
	at = cued(h, at+1000, 900)
	require.Equal(t, "Right 1 of 2 · Left 2", screen.Of(h.Run).View(at).Sheet.Line)
	require.False(t, screen.Of(h.Run).View(at).Sheet.Done)

	h = begin(t, left, session.Choice{Place: "shed", Pieces: "4"})
	at = cued(h, 1000, 900)
	_, due := h.Run.OtherSide()
	require.False(t, due)
	at = cued(h, at, 900)
	side, due := h.Run.OtherSide()
	require.True(t, due, "half of the food has gone")
	require.Equal(t, "right", side.ID)
	require.Equal(t, "Half the treats are gone. Change sides: right.", screen.Of(h.Run).View(at).Sheet.Next)
}

// In turn, the sides of one skill are no errors of each other, and what went wrong is said as of one side alone.
func TestSidesInTurn(t *testing.T) {
	left, right := sided()
	left.Errors = work.Of(work.Cued).Errors()
	right.Errors = left.Errors
	h := begin(t, left, session.Choice{Place: "shed", Pieces: "60"})
	with(t, h, 100, right)
	sides := map[string]int{}
	at := int64(1000)
	for range 20 {
		require.Contains(t, screen.Of(h.Run).View(at).Where, "Sides in turn")
		h.Press(work.Main, at)
		h.Press(work.MissKey, at+2000)
		require.Empty(t, h.Run.Others())
		require.True(t, h.Run.Means("error:crooked"))
		if h.Run.Phase() == session.Deciding {
			h.Press(work.StayKey, at+3000)
		}
		at += 8000
	}
	for _, one := range trials(h) {
		sides[h.Run.Session().PlanOf(one.Block)]++
	}
	require.InDelta(t, sides["right"], sides[left.Plan], 2, "as often as each other")
}
