package session_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/screen"
	"patientfox/core/session"
	"patientfox/core/work"
	"patientfox/internal/sessiontest"
)

// on shows and presses a session as one of its devices does.
func on(h *session.Hand, dev string, key work.Key, at int64) screen.View {
	h.Dev = dev
	h.Run.On(dev)
	if key != "" {
		h.Press(key, at)
	}
	return screen.Of(h.Run).View(at)
}

// A helper's trials stand beside the session until they are accepted; a helper that takes the pen runs it from there on, and
// who held it helps.
func TestTheDeviceThatHoldsThePenCounts(t *testing.T) {
	h := sessiontest.Begin(t, sessiontest.Plan(work.Cued, 4, 1), session.Choice{})
	own := h.Dev
	require.Empty(t, on(h, own, work.PenKey, 1000).Helps, "the pen's own device has nothing to take")
	v := on(h, "helper", work.MissKey, 5000)
	require.Contains(t, v.Helps, "1 trial of helpers not accepted yet")
	require.Empty(t, h.Run.Press(work.EasyKey, 6000), "steps are the pen's to change")
	require.Empty(t, v.Set.Places[0].Outcome)
	require.Nil(t, h.Run.After(), "what it leaves is the pen's to say")
	require.Equal(t, work.AcceptKey, on(h, own, "", 6000).Beside[0].Key)
	require.Equal(t, "missed", on(h, own, work.AcceptKey, 7000).Set.Places[0].Outcome)

	v = on(h, "helper", work.PenKey, 10000)
	require.Empty(t, v.Helps)
	require.Equal(t, "Start", v.Main.Label)
	on(h, "helper", work.Main, 20000)
	v = on(h, "helper", work.Main, 21000)
	require.Equal(t, "met", v.Set.Places[1].Outcome)
	require.NotEmpty(t, on(h, own, "", 22000).Helps)
	require.Empty(t, on(h, own, work.MissKey, 25000).Set.Places[2].Outcome, "it helps now")
	require.Len(t, h.Run.After(), 0)
	require.Equal(t, "Start", on(h, own, work.PenKey, 30000).Main.Label, "and can take the pen back")
	require.NotEmpty(t, on(h, own, work.UndoKey, 31000).Helps, "taken back by undo")
}

// Two phones log one touch: it counts once. What the helper alone saw is there to be accepted.
func TestATouchThatTwoPhonesLogCountsOnce(t *testing.T) {
	h := sessiontest.Begin(t, carePack(nil), session.Choice{})
	own := h.Dev
	on(h, own, work.Main, 8000)
	on(h, own, work.MetKey, 10_000)
	for _, at := range []int64{9000, 11_500} {
		require.Contains(t, on(h, "helper", work.LateKey, at).Helps, "You log beside", "nothing of it waits")
	}
	require.Empty(t, h.Run.Unaccepted())
	on(h, "helper", work.LateKey, 30_000)
	require.Len(t, h.Run.Unaccepted(), 1, "a touch that only the helper logged")
	on(h, own, work.AcceptKey, 32_000)
	require.Empty(t, h.Run.Unaccepted())
	counted := 0
	for _, one := range sessiontest.Trials(h) {
		if one.Counted() {
			counted++
		}
	}
	require.Equal(t, 2, counted)
}
