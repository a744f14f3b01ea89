package session_test

import (
	"testing"

	"github.com/stretchr/testify/require"

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
