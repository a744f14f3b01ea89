package practice_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/session"
	"patientfox/core/trial"
	"patientfox/core/work"
	"patientfox/internal/app"
	"patientfox/internal/practicetest"
	"patientfox/internal/sessiontest"
)

// A handler's page is of their own trials alone, and names what happened most.
func TestAHandlersPageIsOfTheirTrials(t *testing.T) {
	o := practicetest.Empty(t)
	plan, _, me, kes := withKes(t, o)
	for range 2 {
		h := o.Session(t, plan, session.Choice{})
		at := int64(1000)
		for i := range 5 {
			at = sessiontest.Hold(h, at, 1, 6000, work.Main)
			if i < 2 {
				h.Press(work.MistakeKey, at-2000)
				h.Press(work.MistakeOf+"late mark", at-1000)
			}
		}
		o.End(t, h, at, session.Closing{Take: true})
	}
	o.CatchUp(t)
	heldBy(t, o, plan, kes, trial.Roles{}, work.Main, work.Main, work.Main)
	v, err := o.Handling(ctx, me)
	require.NoError(t, err)
	require.Equal(t, []int{10, 2, 1}, []int{v.Trials, v.Sessions, v.Dogs})
	require.Equal(t, "Late mark, in 4 of 10 trials", v.Because)
	require.Contains(t, v.Practise, "drops a ball")
	require.Contains(t, v.Lines[0], "Own mistakes in 4 of 10 trials: late mark 4.")
	require.NotEmpty(t, v.Small, "ten trials are few")
	require.Equal(t, "Tansy · Wait at the ramp", v.Skills[0].Label)
	require.Equal(t, 10, v.Skills[0].Rates[0].N)

	theirs, err := o.Handling(ctx, kes)
	require.NoError(t, err)
	require.Equal(t, []any{3, ""}, []any{theirs.Trials, theirs.Because})
	require.Contains(t, theirs.Lines[0], "Own mistakes in 0 of 3 trials.")
	_, err = o.Handling(ctx, "none")
	require.ErrorIs(t, err, app.ErrNotFound)
	o.Clock.Add(91 * 24 * 3600e9)
	v, err = o.Handling(ctx, me)
	require.NoError(t, err)
	require.Zero(t, v.Trials, "that is long ago")
}
