package session_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/pack"
	"patientfox/core/screen"
	"patientfox/core/session"
	"patientfox/core/trial"
	"patientfox/core/work"
)

// muzzled is a plan whose trials go on, are worn, and come off.
func muzzled(t *testing.T, kind work.Kind) *session.Hand {
	t.Helper()
	p := plan(kind, 4, 1)
	p.V, p.Phases = pack.Version, []work.Phase{{Name: "on"}, {Name: "worn", Seconds: 5}, {Name: "off"}}
	return begin(t, p, session.Choice{Place: "shed", Pieces: "60"})
}

// Each phase is marked and paid; the trial has one outcome, that of its worst part.
func TestATrialWithPhases(t *testing.T) {
	for _, c := range []struct {
		what  string
		keys  []work.Key // at the end of each phase
		worn  int64      // ms
		want  trial.Outcome
		pays  int
		parts int
	}{
		{"all of them", []work.Key{work.Main, work.Main, work.Main}, 5000, trial.Met, 3, 3},
		{"one slowly", []work.Key{work.Main, work.LateKey, work.Main}, 5000, trial.Late, 2, 3},
		{"worn for less, marked", []work.Key{work.Main, work.Main, work.Main}, 3000, trial.LetGo, 3, 3},
		{"tossed off", []work.Key{work.Main, work.MissKey}, 2000, trial.Missed, 1, 2},
	} {
		h := muzzled(t, work.Cued)
		at := int64(1000)
		h.Press(work.Main, at)
		for i, key := range c.keys {
			if at += 1000; i == 1 {
				at += c.worn - 1000
			}
			require.Len(t, trials(h), 0, c.what)
			h.Press(key, at)
		}
		one := trials(h)[0]
		require.Equal(t, []any{c.want, c.pays, c.parts}, []any{one.Outcome, one.Pays, len(one.Phases)}, c.what)
		require.Equal(t, "worn", one.Phases[1].Name)
		require.InDelta(t, float64(c.worn)/1000, one.Phases[1].S, 1e-9, c.what)
	}
	h := muzzled(t, work.Cued)
	h.Press(work.Main, 1000)
	require.Equal(t, "On", screen.Of(h.Run).View(1500).Main.Label)
	h.Press(work.Main, 2000)
	v := screen.Of(h.Run).View(4000)
	require.Equal(t, []string{"Worn", "2.0", "of 5 s"}, []string{v.Main.Label, v.Dial.Big, v.Dial.Of})
	h.Press(work.UndoKey, 4500)
	require.Equal(t, "On", screen.Of(h.Run).View(5000).Main.Label, "an undo takes the phase back")
}

// An exposure takes the highest state of its phases; from worried on it is over.
func TestAnExposureWithPhases(t *testing.T) {
	h := muzzled(t, work.Handling)
	h.Press(work.Main, 1000)
	h.Press(work.ExpectKey, 2000)
	h.Press(work.LateKey, 8000) // wary
	h.Press(work.MetKey, 9000)
	one := trials(h)[0]
	require.Equal(t, []any{2, 3, 3}, []any{*one.State, one.Pays, len(one.Phases)})
	require.Equal(t, []int{0, 2, 1}, []int{*one.Phases[0].State, *one.Phases[1].State, *one.Phases[2].State})
	h.Press(work.ItselfKey, 12000)
	h.Press(work.Main, 20000)
	h.Press(work.HelpKey, 21000) // worried
	require.Len(t, trials(h), 2)
	require.Equal(t, []any{3, 1}, []any{*trials(h)[1].State, len(trials(h)[1].Phases)})
}
