package practice_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"patientfox/core/session"
	"patientfox/core/work"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/practicetest"
	"patientfox/internal/sessiontest"
)

// Yesterday is entered today: it stands on its own day before what was worked since, once, and the plan reads it in that order.
func TestASessionOfAnotherDay(t *testing.T) {
	o := practicetest.Empty(t)
	plan, _ := o.LayOut(t, "2, 4, 8")
	o.Clock.Add(48 * time.Hour)
	h := o.Session(t, plan, session.Choice{}) // today, at the first step
	o.End(t, h, sessiontest.Hold(h, 1000, 5, 2500, work.Main), session.Closing{})

	v, err := o.Entering(ctx, plan)
	require.NoError(t, err)
	require.Equal(t, []any{5, false, o.Clock.Now().AddDate(0, 0, -1).UTC().Format(app.DayLayout)}, []any{v.Size, v.Untallied, v.Typed["day"]})
	yesterday := v.Typed["day"]
	typed := form.Typed{
		"key": "once", "day": yesterday, "time": "17.30", "minutes": "8",
		"place_name": "the “lee”, east 🐟", // a name alone is enough
		"step":       v.Steps[1].ID, "set1_met": "5", "set2_met": "4", "set2_late": "1", "set2_step": v.Steps[2].ID, "unlogged": "2",
		"note": "rain; \"fine\"", "next": "begin lower", "tags": "wet, gulls",
	}
	id, err := o.Enter(ctx, plan, typed)
	require.NoError(t, err)
	again, err := o.Enter(ctx, plan, typed)
	require.NoError(t, err)
	require.Equal(t, id, again, "the same form twice is one session")
	o.CatchUp(t)

	review, err := o.Review(ctx, id)
	require.NoError(t, err)
	require.Equal(t, []any{"the “lee”, east 🐟", 10, "One step up", 1},
		[]any{review.Place, len(review.Table), review.Headline, len(review.Verdicts)})
	require.Empty(t, review.Gaps, "nothing is known of when it was paid")
	require.Empty(t, review.Pays)
	var drawn []float64
	for _, one := range review.Trials[:5] {
		drawn = append(drawn, one.At)
	}
	require.InDeltaSlice(t, []float64{32, 64, 96, 128, 160}, drawn, 1e-9, "spread over the time that they were worked in")
	p, err := o.Plan(ctx, plan)
	require.NoError(t, err)
	require.Len(t, p.Sessions, 2)
	require.Equal(t, id, p.Sessions[1].ID, "the earlier one")
	pack, err := o.Pack(ctx, plan)
	require.NoError(t, err)
	require.Equal(t, pack.Steps[1].ID, pack.Position.Reached, "earned yesterday, and not lost today")

	// What is corrected of it is corrected as of any other session.
	require.NoError(t, o.Put(ctx, id, form.Typed{"in": review.Puts[0].Block, "at": "7:30", "outcome": "met", "step": v.Steps[1].ID}))
	o.CatchUp(t)
	review, err = o.Review(ctx, id)
	require.NoError(t, err)
	require.Len(t, review.Table, 11)
	require.Equal(t, "11 trials logged, about 1 not.", review.LoggedLine, "it was one of the two")
}

func TestWhatCannotBeEntered(t *testing.T) {
	o := practicetest.Empty(t)
	plan, _ := o.LayOut(t, "2, 4, 8")
	today := o.Clock.Now().UTC().Format(app.DayLayout)
	for field, typed := range map[string]form.Typed{
		"day":        {"day": o.Clock.Now().AddDate(0, 0, 1).UTC().Format(app.DayLayout)},
		"time":       {"day": today},
		"minutes":    {"day": today, "time": "0:01", "minutes": "0"},
		"place":      {"day": "2026-01-02", "place": "nowhere"},
		"place_name": {"day": "2026-01-02", "place": "nowhere", "place_name": "the lee"},
		"set1":       {"day": "2026-01-02", "set1_met": "6"},
		"set2_met":   {"day": "2026-01-02", "set2_met": "all"},
		"tags":       {"day": "2026-01-02", "tags": "a, b, c, d, e, f, g, h, i"},
	} {
		_, err := o.Enter(ctx, plan, typed)
		var invalid *form.Invalid
		require.ErrorAs(t, err, &invalid, field)
		require.Contains(t, invalid.Problems, field)
	}
	sessions, err := o.Plan(ctx, plan)
	require.NoError(t, err)
	require.Empty(t, sessions.Sessions)
	_, err = o.Enter(ctx, "no-plan", form.Typed{"day": "2026-01-02"})
	require.ErrorIs(t, err, app.ErrNotFound)
}
