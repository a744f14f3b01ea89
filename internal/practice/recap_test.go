package practice_test

import (
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	corehome "patientfox/core/homework"
	"patientfox/core/trial"
	"patientfox/core/work"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/app/homework"
	"patientfox/internal/practicetest"
)

// A recap says what the record has of a week, whenever it is read.
func TestARecapIsOfItsWeek(t *testing.T) {
	o := practicetest.Empty(t)
	plan, dog, me, kes := withKes(t, o)
	recap := func(to string) homework.Recap {
		t.Helper()
		v, err := o.Recap(ctx, dog, to, false)
		require.NoError(t, err)
		return v
	}
	v := recap("")
	require.Empty(t, v.Skills)
	require.Empty(t, v.Praise)
	week := v.To
	five := []work.Key{work.Main, work.Main, work.Main, work.Main, work.Main}
	heldBy(t, o, plan, me, trial.Roles{}, five...)
	heldBy(t, o, plan, me, trial.Roles{}, five...)
	require.NoError(t, o.Return(ctx, dog, form.Typed{"with": kes, "lines": "Wait 4 of 5 hall, a gull 🐦"}))
	v = recap("")
	require.Len(t, v.Skills, 1)
	require.NoError(t, o.SaveReward(ctx, dog, form.Typed{"name": "Sprats, “dried”", "kind": "food"}))
	v = recap("")
	require.Equal(t, []string{"Sprats, “dried”"}, v.Added)
	one := v.Skills[0]
	require.Equal(t, []int{6, 0, 2}, []int{one.Steps, one.Was, one.Now})
	for _, says := range []string{
		"Worked in 2 sessions: 10 repetitions in 2 minutes.", "Two steps further: duration 3 s instead of 1 s.",
		"At home: 4 of 5 right, on 1 day.",
		"Next, with your trainer: duration 4 s instead of 3 s.",
	} {
		require.Contains(t, one.Text, says)
	}
	require.NotContains(t, one.Text, "at this step:", "nothing was worked at the new one")
	require.Contains(t, v.Praise, "two steps further")

	o.Clock.Add(7 * 24 * time.Hour)
	heldBy(t, o, plan, me, trial.Roles{}, five...)
	after := recap("").Skills[0]
	require.Equal(t, []int{2, 3}, []int{after.Was, after.Now})
	require.Equal(t, one, recap(week).Skills[0], "what came later changes nothing")
	require.Empty(t, recap("").Added)
	o.Clock.Add(time.Hour)
	require.NoError(t, o.AddSetback(ctx, plan, form.Typed{"what": "a door, “slammed”.", "steps": "1"}))
	fell := recap("").Skills[0]
	require.Contains(t, fell.Text, "Something came between: a door, “slammed”.\n")
	require.Equal(t, []int{2, 2}, []int{fell.Was, fell.Now}, "a step gained, and lost again")
	require.Equal(t, one, recap(week).Skills[0])
	o.Clock.Add(7 * 24 * time.Hour)
	require.NoError(t, o.AddSetback(ctx, plan, form.Typed{"what": "a gull", "steps": "1"}))
	require.Equal(t, fell, recap(recap("").Before).Skills[0], "nor what forced it down later")
	require.Equal(t, one, recap(week).Skills[0])
	o.Clock.Add(-7 * 24 * time.Hour)
	require.Equal(t, week, recap(recap("").Before).To)
	require.Equal(t, recap("").To, recap(week).After)
	require.Equal(t, recap("").To, recap("2999-01-01").To, "a week to come is this one")
	require.Equal(t, recap("").To, recap("Tuesday").To)
	_, err := o.Recap(ctx, "none", "", false)
	require.ErrorIs(t, err, app.ErrNotFound)
}

// A trainer changes the words, and two who do so at once do not write over each other.
func TestARecapIsKeptAsTheTrainerLeavesIt(t *testing.T) {
	o := practicetest.Empty(t)
	plan, dog, me, _ := withKes(t, o)
	heldBy(t, o, plan, me, trial.Roles{}, work.Main, work.Main)
	v, err := o.Recap(ctx, dog, "", false)
	require.NoError(t, err)
	field := v.Skills[0].Field
	typed := form.Typed{
		"to": v.To, "version": "0", "praise": "“Well done”, you two 🦊", "line": "Sea air,\r\nand rest", field: "He waits, “really”.",
	}
	require.NoError(t, o.SaveRecap(ctx, dog, typed))
	kept, err := o.Recap(ctx, dog, "", false)
	require.NoError(t, err)
	require.Equal(t, []string{"“Well done”, you two 🦊", "Sea air,\nand rest", "He waits, “really”."},
		[]string{kept.Praise, kept.Line, kept.Skills[0].Text})
	require.NotEmpty(t, kept.Kept)
	require.Empty(t, kept.Hard)
	anew, err := o.Recap(ctx, dog, "", true)
	require.NoError(t, err)
	require.Equal(t, []string{v.Praise, v.Skills[0].Text, "1"}, []string{anew.Praise, anew.Skills[0].Text, anew.Form["version"]})

	var conflict *form.Conflict
	require.ErrorAs(t, o.SaveRecap(ctx, dog, typed), &conflict)
	require.Equal(t, "He waits, “really”.", conflict.Now[field])
	var invalid *form.Invalid
	long := form.Typed{"to": v.To, "version": "1", "praise": strings.Repeat("a", homework.MostLine+1)}
	require.ErrorAs(t, o.SaveRecap(ctx, dog, long), &invalid)
	require.Contains(t, invalid.Problems, "praise")
	hard := form.Typed{"to": v.To, "version": "1", "line": "Mind the latency, “always”.", field: " "}
	require.NoError(t, o.SaveRecap(ctx, dog, hard))
	kept, err = o.Recap(ctx, dog, "", false)
	require.NoError(t, err)
	require.Empty(t, kept.Skills[0].Text, "it is left out")
	require.Equal(t, []corehome.Hard{{Text: "Mind the latency, “always”.", Term: "latency"}}, kept.Hard)

	o.Clock.Add(8 * 24 * time.Hour)
	later, err := o.Recap(ctx, dog, "", false)
	require.NoError(t, err)
	require.Empty(t, later.Skills)
	require.Len(t, later.Others, 1)
	require.Equal(t, v.To, later.Others[0].ID)
	require.Contains(t, v.Skills[0].Text, "New this week")
	heldBy(t, o, plan, me, trial.Roles{}, work.Main)
	then, err := o.Recap(ctx, dog, v.To, true)
	require.NoError(t, err)
	require.Equal(t, v.Skills[0].Text, then.Skills[0].Text, "it was new then")
}
