package session_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/session"
	"patientfox/core/work"
	"patientfox/internal/sessiontest"
)

// In turn, the sides of one skill are no errors of each other, and what went wrong is said as of one side alone.
func TestSidesInTurn(t *testing.T) {
	left, right := sessiontest.Sided()
	left.Errors = work.Of(work.Cued).Errors()
	right.Errors = left.Errors
	h := sessiontest.Begin(t, left, session.Choice{Place: "shed", Pieces: "60"})
	with(t, h, 100, right)
	sides := map[string]int{}
	at := int64(1000)
	for range 20 {
		require.Len(t, h.Run.Session().InTurn(h.Run.Block()), 2)
		h.Press(work.Main, at)
		h.Press(work.MissKey, at+2000)
		require.Empty(t, h.Run.Others())
		require.True(t, h.Run.Means("error:crooked"))
		if h.Run.Phase() == session.Deciding {
			h.Press(work.StayKey, at+3000)
		}
		at += 8000
	}
	for _, one := range sessiontest.Trials(h) {
		sides[h.Run.Session().PlanOf(one.Block)]++
	}
	require.InDelta(t, sides["right"], sides[left.Plan], 2, "as often as each other")
}

// A site that is picked is on the side that is worked, as the one that the step asks for is.
func TestASiteThatIsPickedIsOnItsSide(t *testing.T) {
	p := sessiontest.Plan(work.Handling, 3, 0)
	p.Track = "left"
	h := sessiontest.Begin(t, p, session.Choice{})
	for _, picked := range []string{"paw", "paw, left"} {
		h.Run.Arm(session.Armed{Site: picked})
		require.Equal(t, "paw, left", h.Run.Site())
	}
	h.Press(work.Main, 1000)
	h.Press(work.MetKey, 3000)
	require.Equal(t, "paw, left", sessiontest.Trials(h)[0].Site)
}
