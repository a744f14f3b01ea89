package practice_test

import (
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"patientfox/core/pack"
	"patientfox/core/session"
	"patientfox/core/trial"
	"patientfox/core/work"
	"patientfox/internal/app"
	"patientfox/internal/app/forecasts"
	"patientfox/internal/app/form"
	"patientfox/internal/app/hands"
	"patientfox/internal/practicetest"
	"patientfox/internal/sessiontest"
)

// heldBy is a session of holds with a handler, logged by the trainer, whose verdicts are taken at its end.
func heldBy(t *testing.T, o *practicetest.Opened, plan, handler string, roles trial.Roles, keys ...work.Key) {
	t.Helper()
	made, err := o.Pack(ctx, plan)
	require.NoError(t, err)
	run, err := session.Open(made)
	require.NoError(t, err)
	h := &session.Hand{
		Run: run, Session: app.NewID(), Dev: "phone", By: made.Person, Handler: handler, Wall: o.Clock.Now().UnixMilli(), NewID: app.NewID,
	}
	drafts, problem := run.Begin(session.Choice{Handler: handler, Holds: roles.Holds, Feeds: roles.Feeds})
	require.Nil(t, problem)
	h.Do(0, drafts)
	at := int64(1000)
	for _, key := range keys {
		at = sessiontest.Hold(h, at, 1, 6000, key)
	}
	o.End(t, h, at, session.Closing{Take: true})
	o.CatchUp(t)
}

// Each handler has a step of their own: pages go by the main handler's, sessions open at whoever handles, and one press makes another the
// main one.
func TestAPlanKnowsWhereEachHandlerIs(t *testing.T) {
	o := practicetest.Empty(t)
	require.NoError(t, o.SavePerson(ctx, form.Typed{"name": "Kes, “the lad” 🐟", "role": "family"}))
	require.NoError(t, o.SavePerson(ctx, form.Typed{"name": "Nobody yet"}))
	require.ErrorAs(t, o.SavePerson(ctx, form.Typed{"name": "Pim", "role": "captain"}), new(*form.Invalid))
	plan, dog := o.LayOut(t, "1, 2, 3, 4, 5")
	worked := func(handler string, marks ...work.Key) { heldBy(t, o, plan, handler, trial.Roles{}, marks...) }
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

	o.Clock.Add(30 * 24 * time.Hour)
	for who, step := range map[string]int{me: 4, kes: 2, nobody: 4} { // who never worked it opens lower anyway, with a pause or without
		id, err := o.AddSheet(ctx, dog, form.Typed{"minutes": "5", "handler": who})
		require.NoError(t, err)
		sheet, err := o.Sheet(ctx, id)
		require.NoError(t, err)
		require.Equal(t, step, sheet.Blocks[0].StepAt, "a planned session opens where its handler does")
		pack, err := o.Pack(ctx, plan)
		require.NoError(t, err)
		opens := pack.For(who)
		at, _ := opens.StartAt("", who)
		require.Equal(t, step, at+1, "as Run does")
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

// An owner takes a skill over: by shared visits, at their own step, with a forecast read out of their own record alone.
func TestAnOwnerTakesASkillOver(t *testing.T) {
	o := practicetest.Empty(t)
	plan, dog := o.LayOut(t, "1, 2, 3, 4, 5, 6")
	none, err := o.TakeOver(ctx, dog, "")
	require.NoError(t, err)
	require.Empty(t, none.People)
	require.NoError(t, o.SavePerson(ctx, form.Typed{"name": "Ines, “Bo”; 🐕", "role": "family"}))
	people, err := o.Store.Read().People(ctx)
	require.NoError(t, err)
	me, ines := people[0].ID, people[1].ID
	visit := func(handler string, roles trial.Roles, keys ...work.Key) {
		o.Clock.Add(24 * time.Hour)
		heldBy(t, o, plan, handler, roles, keys...)
	}
	five := []work.Key{work.Main, work.Main, work.Main, work.Main, work.Main}
	row := func() hands.SkillRow {
		v, err := o.TakeOver(ctx, dog, ines)
		require.NoError(t, err)
		all := slices.Concat(v.Skills, v.ToCome)
		require.Len(t, all, 1)
		return all[0]
	}
	visit(me, trial.Roles{}, five...)
	visit(me, trial.Roles{}, five...)
	visit(me, trial.Roles{}, five...)
	require.Equal(t, []any{true, 2, 4, "holds the dog, and you handle and feed"}, []any{row().New, row().At, row().MainAt, row().Stage})
	visit(me, trial.Roles{Holds: ines}, work.Main, work.Main, work.MissKey)
	visit(me, trial.Roles{Holds: ines, Feeds: ines}, five...)
	for stage, one := range row().Stages {
		require.Equal(t, stage == 0, one.Sure, one.Name)
	}
	require.Equal(t, "feeds, and you handle", row().Stage)
	require.Regexp(t, "^2 days, last .*: 7 of 8 met$", row().Stages[0].Said)
	ask := forecasts.Ask{Plan: plan, With: ines}
	alone, err := o.Alone(ctx, ask)
	require.NoError(t, err)
	require.Contains(t, alone.Says, "has not handled it yet")

	visit(ines, trial.Roles{}, work.MissKey, work.Main, work.MissKey, work.Main, work.Main)
	visit(ines, trial.Roles{}, work.Main, work.MissKey, work.Main, work.Main, work.Main)
	require.Equal(t, []any{false, 3, 5, false}, []any{row().New, row().At, row().MainAt, row().There})
	went, err := o.Progress(ctx, plan, ines)
	require.NoError(t, err)
	require.Equal(t, []int{2, 2}, []int{len(went.Sessions), len(went.Points)}, "her sessions, her way")
	hers, err := o.Evidence(ctx, plan, ines)
	require.NoError(t, err)
	require.Equal(t, ines, hers.With.ID)
	for _, s := range hers.Sections {
		require.NotEqual(t, "handlers", s.Key)
	}
	all, err := o.Progress(ctx, plan, "")
	require.NoError(t, err)
	require.Equal(t, []any{7, 5, 2}, []any{len(all.Sessions), len(all.Points), len(all.Handlers)})
	own, err := o.Outlook(ctx, ask)
	require.NoError(t, err)
	main, err := o.Outlook(ctx, forecasts.Ask{Plan: plan})
	require.NoError(t, err)
	require.Equal(t, []app.Named{{ID: me, Name: people[0].Name}, {ID: ines, Name: people[1].Name}}, own.Handlers)
	require.Equal(t, []string{ines, ""}, []string{own.With.ID, main.With.ID})
	require.Contains(t, own.Refuses, "10 counted trials so far, from 2 sessions", "the trainer's are not hers")
	require.NotContains(t, main.Refuses, "10 counted")
	for range 4 { // a half step is split off below hers: the numbers above it go up by one
		visit(ines, trial.Roles{}, work.MissKey, work.Main, work.MissKey, work.Main, work.Main)
	}
	require.Eventually(t, func() bool {
		alone, err = o.Alone(ctx, ask)
		return err != nil || !alone.Running
	}, 20*time.Second, 10*time.Millisecond)
	require.NoError(t, err)
	require.Regexp(t, "sessions with Ines, “Bo”; 🐕 to step 6, where it is with ", alone.Says)
}

// With three people, a step up of one of them is not that of “the other handler”.
func TestThreeHandlersInASession(t *testing.T) {
	o := practicetest.Empty(t)
	require.NoError(t, o.SavePerson(ctx, form.Typed{"name": "Kes"}))
	require.NoError(t, o.SavePerson(ctx, form.Typed{"name": "Pim"}))
	plan, _ := o.LayOut(t, "1, 2, 3, 4, 5, 6")
	people, err := o.Store.Read().People(ctx)
	require.NoError(t, err)
	h := o.Session(t, plan, session.Choice{})
	at := int64(1000)
	five := func() {
		for range 5 {
			at = sessiontest.Hold(h, at, 1, 7000, work.Main)
		}
		h.Press(work.Main, at) // the step up
		at += 2000
	}
	five()
	five()
	for _, who := range people[1:] {
		drafts, problem := h.Run.HandOver(who.ID)
		require.Nil(t, problem)
		h.Handler = who.ID
		h.Do(at, drafts)
		at += 1000
		five()
	}
	o.End(t, h, at, session.Closing{Take: true})
	v, err := o.Review(ctx, h.Session)
	require.NoError(t, err)
	require.Equal(t, "Two steps up, two with others", v.Headline)
}
