package session_test

import (
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"os"
	"slices"
	"strconv"
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/criteria"
	"patientfox/core/pack"
	"patientfox/core/record"
	"patientfox/core/screen"
	"patientfox/core/session"
	"patientfox/core/trial"
	"patientfox/core/work"
	"patientfox/internal/randomlog"
	"patientfox/internal/sessiontest"
)

// everyKey is every key that a board can have.
var everyKey = []work.Key{
	work.Main, work.MetKey, work.LateKey, work.HelpKey, work.MissKey, work.WrongKey, work.VoidKey, work.ShortKey, work.PayKey, work.UndoKey,
	work.BreakKey,
	work.EasyKey, work.HardKey, work.CueKey, work.StayKey, work.BackKey, work.UpKey, work.TwoUpKey, work.OfferKey, work.GoKey, work.LeftKey,
	work.ItselfKey, work.RecoverKey, work.NoAnswerKey, work.HomeKey, work.FinishKey, work.SlowKey, work.RefusedKey, work.DoneKey,
	work.SwapKey, work.AlternateKey, work.AcceptKey, work.GrowlKey, work.EarlyKey, work.ReturnKey, work.MarkedKey, work.PullKey,
	work.ThrowKey, work.StopKey, work.ExpectKey, work.PulledKey, work.TakeKey, work.PutAwayKey,
	work.FetchedKey, work.LoopKey, work.DecoyKey, work.RealKey, "reaction:none", "reaction:withdraws", work.JackpotKey, work.OtherKey,
	work.WantedKey, work.RehearseKey,
	"reason:calm", "reason:first time", work.MistakeKey, work.ResetKey, work.PositionKey, "error:crooked", "error:crept", "error:sat",
	"prompt:lure", "prompt:hand",
	"mistake:late mark", "mistake:moved", "arousal:0", "arousal:1", "arousal:2",
	"state:0", "state:1", "state:2", "state:3", "state:4", "offered:0", "offered:1", "offered:2", "offered:3",
}

// Keys pressed at random, in every kind of work and every phase: a key that means something is never swallowed and one that means
// nothing logs nothing, what it logs can be stored, no trial but the last is touched, and one undo takes all of it back.
// PATIENTFOX_PRESSES is how many (make soak: 10 000 for each of 16 plans).
func TestKeysPressedAtRandom(t *testing.T) {
	presses := 800
	if n, err := strconv.Atoi(os.Getenv("PATIENTFOX_PRESSES")); err == nil {
		presses = n
	}
	phases, meant := map[session.Phase]bool{}, map[work.Key]int{}
	for seed := range uint64(16) {
		rng := rand.New(rand.NewPCG(seed, 3))
		var h *session.Hand
		at := int64(0)
		for n := range presses {
			// A session of its own now and then: they get slower as they grow, and one that should end has few keys left.
			if h == nil || n%150 == 0 || n%20 == 0 && h.Run.OverThreshold() || h.Run.Phase() == session.Over {
				p := planOf(work.All[seed%uint64(len(work.All))].Kind, rng)
				if p.Lifeline = p.Kind == work.Cued; p.Lifeline { // called on a line
					for i := range p.Steps {
						p.Steps[i].Criteria = p.Steps[i].Criteria.With(criteria.Gear, 0)
					}
				}
				p.V, p.DecoyIn, p.Errors = pack.Version, 4, work.Of(p.Kind).Errors()
				h = sessiontest.Begin(t, p, session.Choice{Place: "shed", Pieces: strconv.Itoa(5 + rng.IntN(60))})
				at = 0
			}
			at += int64(500 + rng.IntN(4000))
			phases[h.Run.Phase()] = true
			keys := everyKey
			if n%2 == 0 { // most keys mean nothing most of the time
				keys = slices.DeleteFunc(slices.Clone(everyKey), func(k work.Key) bool { return !h.Run.Means(k) })
			}
			key := keys[rng.IntN(len(keys))]
			switch {
			case n%5 == 0:
				key = work.Main
			case n%4 == 2: // some mean something so rarely that chance alone would miss them
				key = slices.MinFunc(keys, func(a, b work.Key) int { return meant[a] - meant[b] })
			}
			meant[pressed(t, h, key, at, rng.IntN(4) == 0)]++
		}
	}
	for _, phase := range []session.Phase{session.Idle, session.Trying, session.Deciding, session.Recovering, session.Paused} {
		require.True(t, phases[phase], phase)
	}
	never := slices.DeleteFunc(slices.Clone(everyKey), func(k work.Key) bool { return meant[k] > 0 })
	// These need another block, another device, another handler, a warm-up, or two clean sets one after the other.
	alone := []work.Key{work.SwapKey, work.RehearseKey, work.AcceptKey, work.ReturnKey, work.GoKey, work.TwoUpKey}
	require.Empty(t, slices.DeleteFunc(never, func(k work.Key) bool { return slices.Contains(alone, k) }), "keys that never meant anything")
}

// planOf is a made-up plan of a kind of work.
func planOf(kind work.Kind, rng *rand.Rand) pack.Pack {
	for {
		if p, _ := randomlog.Make(rng.Uint64(), 0); p.Kind == kind {
			return p
		}
	}
}

// pressed presses one key and checks what comes of it; where it is taken back too, that too. It answers the key where it meant
// something.
func pressed(t *testing.T, h *session.Hand, key work.Key, at int64, back bool) work.Key {
	t.Helper()
	r := h.Run
	phase, means, done := r.Phase(), r.Means(key), r.Armed().Done
	what := fmt.Sprintf("%s in %s of %s", key, phase, r.Kind().Kind)
	before := slices.Clone(r.Session().Trials)
	was := reads(t, r.Session())
	last := ""
	if one := r.LastTrial(); one != nil {
		last = one.ID
	}
	events := h.Press(key, at)
	if !means {
		require.Empty(t, events, what)
		return ""
	}
	if key == work.DoneKey {
		require.NotEqual(t, done, r.Armed().Done, what)
		return key
	}
	if key == work.LoopKey { // which stands with the next trial
		require.False(t, r.Means(key), what)
		return key
	}
	waits := phase == session.Recovering && len(events) == 0 // for its 30 s, or for the closing panel
	left, known := r.Left()
	empty := known && left == 0 && (key == work.PayKey || key == work.Main && r.Kind().Pairs) // the screen says that nothing is paid
	require.True(t, len(events) > 0 || waits || empty, "%s was swallowed", what)
	for _, e := range events {
		require.NoError(t, record.Check(e), what)
	}
	after := map[string]trial.Trial{}
	for _, one := range r.Session().Trials {
		after[one.ID] = one
	}
	if key != work.UndoKey {
		require.LessOrEqual(t, len(r.Session().Trials), len(before)+1, what)
		for _, one := range before {
			if one.ID != last {
				require.Equal(t, one, after[one.ID], "%s wrote to another trial", what)
			}
		}
	}
	screen.Of(r).View(at)
	if back && len(events) > 0 && key != work.UndoKey {
		h.Press(work.UndoKey, at+450)
		require.JSONEq(t, was, reads(t, r.Session()), "%s was not taken back", what)
	}
	return key
}

// reads is what a session says, but for the clock.
func reads(t *testing.T, s *record.Session) string {
	t.Helper()
	raw, err := json.Marshal([]any{
		s.Trials, s.Pays, s.Moves, s.Verdicts, s.States, s.Arousals, s.Growls, s.Recovers, s.Trying, s.Taut, s.Away, s.At.Position,
	})
	require.NoError(t, err)
	return string(raw)
}
