package practice_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/pack"
	"patientfox/core/session"
	"patientfox/core/work"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/practicetest"
	"patientfox/internal/sessiontest"
)

// Each handler has a step of their own: pages go by the main handler's, sessions open at whoever handles, and one press makes another the
// main one.
func TestAPlanKnowsWhereEachHandlerIs(t *testing.T) {
	o := practicetest.Empty(t)
	require.NoError(t, o.SavePerson(ctx, form.Typed{"name": "Kes, “the lad” 🐟", "role": "family"}))
	require.NoError(t, o.SavePerson(ctx, form.Typed{"name": "Nobody yet"}))
	require.ErrorAs(t, o.SavePerson(ctx, form.Typed{"name": "Pim", "role": "captain"}), new(*form.Invalid))
	plan, dog := o.LayOut(t, "1, 2, 3, 4, 5")
	worked := func(handler string, marks ...work.Key) {
		made, err := o.Pack(ctx, plan)
		require.NoError(t, err)
		run, err := session.Open(made)
		require.NoError(t, err)
		h := &session.Hand{
			Run: run, Session: app.NewID(), Dev: "phone", By: made.Person, Handler: handler, Wall: o.Clock.Now().UnixMilli(), NewID: app.NewID,
		}
		drafts, problem := run.Begin(session.Choice{Handler: handler})
		require.Nil(t, problem)
		h.Do(0, drafts)
		at := int64(1000)
		for _, key := range marks {
			at = sessiontest.Hold(h, at, 1, 6000, key)
		}
		o.End(t, h, at, session.Closing{Take: true})
		o.CatchUp(t)
	}
	five := []work.Key{work.Main, work.Main, work.Main, work.Main, work.Main}
	people, err := o.Store.Read().People(ctx)
	require.NoError(t, err)
	me, kes, nobody := people[0].ID, people[1].ID, people[2].ID
	for range 4 {
		worked(me, five...)
	}
	worked(kes, work.Main, work.MissKey, work.Main)

	v, err := o.Plan(ctx, plan)
	require.NoError(t, err)
	require.Equal(t, me, v.Handling.Main)
	require.Len(t, v.Handling.Rows, 2)
	require.Equal(t, []any{5, 3}, []any{v.Handling.Rows[0].At, v.Handling.Rows[1].At})
	require.Equal(t, "KT", app.Initials(v.Handling.Rows[1].Name))
	require.True(t, v.Evidence.None, "nothing was worked at the trainer's step yet")
	require.Len(t, v.Points, 4, "the way is the trainer's")
	require.Len(t, v.Sessions, 5)

	for who, step := range map[string]int{me: 5, kes: 3, nobody: 4} {
		id, err := o.AddSheet(ctx, dog, form.Typed{"minutes": "5", "handler": who})
		require.NoError(t, err)
		sheet, err := o.Sheet(ctx, id)
		require.NoError(t, err)
		require.Equal(t, step, sheet.Blocks[0].StepAt, "a planned session opens where its handler is")
		require.NoError(t, o.DeleteSheet(ctx, id, true))
	}

	main := func(who string) error { return o.SaveMainHandler(ctx, plan, form.Typed{"main": who}) }
	for who, field := range map[string]string{nobody: "main", "somebody": "main", "": "main"} {
		var invalid *form.Invalid
		require.ErrorAs(t, main(who), &invalid)
		require.NotEmpty(t, invalid.Problems[field])
	}
	require.ErrorIs(t, o.SaveMainHandler(ctx, "none", form.Typed{"main": kes}), app.ErrNotFound)
	require.NoError(t, main(kes))
	made, err := o.Pack(ctx, plan)
	require.NoError(t, err)
	require.Equal(t, []any{kes, kes, 2}, []any{made.Main, made.Level, made.ReachedAt()}, "his step is the plan's")
	mine := made.For(me)
	require.Equal(t, 2, mine.ReachedAt(), "and nobody opens above it")
	worked(me, five...)
	v, err = o.Plan(ctx, plan)
	require.NoError(t, err)
	require.Equal(t, []any{3, 3}, []any{v.Handling.Rows[0].At, v.Handling.Rows[1].At})
	require.Equal(t, []any{2, 3}, []any{v.Evidence.Met, v.Evidence.N}, "his trials alone")
	require.NoError(t, main(me))
	made, err = o.Pack(ctx, plan)
	require.NoError(t, err)
	require.Equal(t, 2, made.ReachedAt(), "the last session capped her step, by a move of its own")
	require.Contains(t, made.Levels, kes)
}

// A safety step opens to another handler once a trainer has shown it to them, and they have a record of their own at the step below.
func TestASafetyStepIsShownFirst(t *testing.T) {
	o := practicetest.Empty(t)
	require.NoError(t, o.SavePerson(ctx, form.Typed{"name": "Kes", "role": "family"}))
	require.NoError(t, o.SavePerson(ctx, form.Typed{"name": "Pim", "role": "child"}))
	plan, _ := o.LayOut(t, "1, 2, 3")
	v, err := o.Plan(ctx, plan)
	require.NoError(t, err)
	top := v.Steps[2].ID
	require.NoError(t, o.EditSteps(ctx, plan, form.Typed{
		"op": "save", "step": top, "version": "1", "duration": "3", "safety": "on",
	}))
	people, err := o.Store.Read().People(ctx)
	require.NoError(t, err)
	me, kes, pim := people[0].ID, people[1].ID, people[2].ID
	opens := func(who string) *pack.Pack {
		made, err := o.Pack(ctx, plan)
		require.NoError(t, err)
		made.Founder, made.Main, made.Position.Reached = me, me, top // as if the trainer had come to the top
		made = made.For(who)
		return &made
	}
	require.Equal(t, []any{1, top}, []any{opens(kes).ReachedAt(), opens(kes).Held})
	require.Empty(t, opens(me).Held, "the main handler's own work goes on")

	show := func(by, person, step string) error {
		return o.Show(ctx, plan, by, form.Typed{"person": person, "step": step})
	}
	for name, one := range map[string][3]string{
		"by somebody who is no trainer": {kes, pim, top}, "to oneself": {me, me, top}, "to a child": {me, pim, top},
		"to nobody": {me, "", top}, "a step like any other": {me, kes, v.Steps[0].ID}, "no step": {me, kes, "gone"},
	} {
		require.ErrorAs(t, show(one[0], one[1], one[2]), new(*form.Invalid), name)
	}
	require.ErrorIs(t, o.Show(ctx, "none", me, form.Typed{"person": kes, "step": top}), app.ErrNotFound)
	require.NoError(t, show("", kes, top), "whoever is not named is the practice's own trainer")
	shown := opens(kes)
	require.Empty(t, shown.Held)
	require.Equal(t, 1, shown.ReachedAt(), "shown, but the first time is below it")
	require.Equal(t, top, shown.Unready(2))
	v, err = o.Plan(ctx, plan)
	require.NoError(t, err)
	require.Equal(t, []string{"Kes", "Step 3"}, []string{v.Handling.Shown[0].Who, v.Handling.Shown[0].What})
	require.Len(t, v.Handling.Others, 2, "no child, and before anybody has begun it everybody else")
	require.NoError(t, o.Unshow(ctx, v.Handling.Shown[0].ID))
	require.Equal(t, top, opens(kes).Held)
}
