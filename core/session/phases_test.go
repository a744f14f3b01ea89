package session_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/criteria"
	"patientfox/core/pack"
	"patientfox/core/screen"
	"patientfox/core/session"
	"patientfox/core/trial"
	"patientfox/core/work"
	"patientfox/internal/sessiontest"
)

// An exposure takes the highest state of its phases; from worried on it is over.
func TestAnExposureWithPhases(t *testing.T) {
	h := sessiontest.Muzzled(t, work.Handling)
	h.Press(work.Main, 1000)
	h.Press(work.ExpectKey, 2000)
	h.Press(work.LateKey, 8000) // wary
	h.Press(work.MetKey, 9000)
	one := sessiontest.Trials(h)[0]
	require.Equal(t, []any{2, 3, 3}, []any{*one.State, one.Pays, len(one.Phases)})
	require.Equal(t, []int{0, 2, 1}, []int{*one.Phases[0].State, *one.Phases[1].State, *one.Phases[2].State})
	h.Press(work.ItselfKey, 12000)
	h.Press(work.Main, 20000)
	h.Press(work.HelpKey, 21000) // worried
	require.Len(t, sessiontest.Trials(h), 2)
	require.Equal(t, []any{3, 1}, []any{*sessiontest.Trials(h)[1].State, len(sessiontest.Trials(h)[1].Phases)})
}

// What the step asks of the duration is asked of one phase: how long the dog took to get there is not how long it stayed.
func TestTheStepsSecondsAreThoseOfOnePhase(t *testing.T) {
	for _, kind := range []work.Kind{work.Held, work.Handling} {
		p := sessiontest.Plan(kind, 4, 1)
		p.V, p.Phases = pack.Version, []work.Phase{{Name: "sent"}, {Name: "stays", Step: true}, {Name: "off"}}
		for i := range p.Steps {
			p.Steps[i].Criteria = p.Steps[i].Criteria.With(criteria.Duration, float64(i+2))
		}
		h := sessiontest.Begin(t, p, session.Choice{Place: "shed"})
		at := int64(0)
		for _, c := range []struct {
			stays int64 // ms
			want  trial.Outcome
		}{{400, trial.LetGo}, {2900, trial.Met}} {
			h.Press(work.Main, at+1000)
			key := work.Main
			if work.Of(kind).ByState {
				key = work.MetKey
			}
			h.Press(key, at+6000)
			phase, _, _, since := h.Run.PhaseNow()
			require.Equal(t, []any{"stays", 3.0, float64(at+6000) / 1000}, []any{phase.Name, phase.Seconds, since}, kind)
			h.Press(key, at+6000+c.stays)
			h.Press(key, at+12000+c.stays)
			list := sessiontest.Trials(h)
			one := list[len(list)-1]
			require.Equal(t, c.want, one.Outcome, kind)
			require.InDelta(t, float64(c.stays)/1000, *one.HeldS, 1e-9, kind)
			at += 30000
		}
		h.Press(work.Main, at+1000)
		h.Press(work.UndoKey, at+1500)
		h.Press(work.Main, at+2000)
		h.Press(work.MissKey, at+2500)
		require.Nil(t, sessiontest.Trials(h)[2].HeldS, "it never got there")
	}
}

// What is worn ends well: the rest of a meal is fed in it, at the easy one on which the session finishes.
func TestTheRestOfAMealIsFedInAPhase(t *testing.T) {
	p := sessiontest.Plan(work.Handling, 4, 2)
	p.V, p.Phases = pack.Version, []work.Phase{{Name: "on"}, {Name: "worn", Meal: true}, {Name: "off"}}
	h := sessiontest.Begin(t, p, session.Choice{Place: "shed"})
	require.NotContains(t, screen.Of(h.Run).View(1000).Target, "meal")
	h.Press(work.FinishKey, 1000)
	require.Contains(t, screen.Of(h.Run).View(2000).Target, "To finish: the rest of a meal in “worn”")
}
