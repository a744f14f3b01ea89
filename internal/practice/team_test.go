package practice_test

import (
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"patientfox/core/trial"
	"patientfox/core/work"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/app/people"
	"patientfox/internal/practicetest"
	"patientfox/internal/store"
)

// colleague adds somebody of a role to the practice, and answers with their id.
func colleague(t *testing.T, o *practicetest.Opened, name, role string) string {
	t.Helper()
	require.NoError(t, o.SavePerson(ctx, form.Typed{"name": name, "role": role}))
	s, err := o.Settings(ctx)
	require.NoError(t, err)
	return s.People[len(s.People)-1].ID
}

// Who works a dog on a day has its session plans of that day, but for the household's; two who assign at once do not undo each other.
func TestDogsAreAssignedForADay(t *testing.T) {
	o := practicetest.Empty(t)
	plan, dog, me, family := withKes(t, o)
	other, err := o.AddDog(ctx, form.Typed{"name": "Brine"})
	require.NoError(t, err)
	jorun, ebba := colleague(t, o, "Jorun “J.” Vale", "trainer"), colleague(t, o, "Ebba Lunde", "helper")
	day := o.Clock.Now().Format("2006-01-02")
	own, err := o.AddSheet(ctx, dog, form.Typed{"minutes": "5", "start": "16:00"})
	require.NoError(t, err)
	home := app.NewID()
	require.NoError(t, o.Store.Write(ctx, func(q store.Q) error {
		return q.AddSheets(ctx, []store.Sheet{{ID: home, Dog: dog, Day: day, Start: 18 * 60, Minutes: 5, Household: true, Body: "{}"}})
	}))

	before, err := o.Team(ctx, "")
	require.NoError(t, err)
	require.Len(t, before.Staff, 3, "not the household")
	require.Equal(t, []string{"Jorun “J.” Vale", "Ebba Lunde"}, []string{before.Staff[1].Name, before.Staff[2].Name})
	require.Equal(t, []any{"Tansy", 1}, []any{before.Dogs[0].Name, before.Dogs[0].Sessions})
	typed := before.Typed()
	typed["dog_"+dog] = jorun
	require.NoError(t, o.Assign(ctx, typed))
	handler := func(sheet string) string {
		list, err := app.LoadSheets(ctx, o.Store.Read(), []string{dog}, day, day)
		require.NoError(t, err)
		for _, one := range list {
			if one.ID == sheet {
				return one.Handler
			}
		}
		return "gone"
	}
	require.Equal(t, jorun, handler(own))
	require.Empty(t, handler(home))
	today, err := o.Today(ctx)
	require.NoError(t, err)
	require.Equal(t, "Jorun “J.” Vale", today.With(dog, me))
	require.Empty(t, today.With(dog, jorun))
	require.Equal(t, []string{"Jorun “J.” Vale", ""}, []string{today.Slots[0].With(me), today.Slots[1].With(me)})
	require.True(t, today.OfOthers(me))
	require.Equal(t, []string{home, own}, []string{today.Soon(me), today.Soon(jorun)}, "what comes next is one's own")

	// A page opened before: what it did not touch stays, and what somebody else decided meanwhile is said.
	stale := before.Typed()
	stale["dog_"+other] = ebba
	require.NoError(t, o.Assign(ctx, stale))
	stale = before.Typed()
	stale["dog_"+dog] = ebba
	var conflict *form.Conflict
	require.ErrorAs(t, o.Assign(ctx, stale), &conflict)
	require.Equal(t, form.Typed{"dog_" + dog: "Jorun “J.” Vale", "was_" + dog: jorun}, conflict.Now)
	v, err := o.Team(ctx, day)
	require.NoError(t, err)
	require.Equal(t, jorun, v.Typed()["dog_"+dog])
	require.Equal(t, ebba, v.Typed()["dog_"+other])
	stale["was_"+dog] = jorun // knowing it
	require.NoError(t, o.Assign(ctx, stale))
	require.Equal(t, ebba, handler(own))

	// What a colleague plans on their own laptop, or enters from paper, is theirs unless they say otherwise.
	_, err = o.AddSheet(people.As(ctx, jorun), dog, form.Typed{"minutes": "5", "start": "19:00"})
	require.NoError(t, err)
	today, err = o.Today(ctx)
	require.NoError(t, err)
	require.Equal(t, jorun, today.Slots[len(today.Slots)-1].HandlerID)
	entering, err := o.Entering(people.As(ctx, jorun), plan)
	require.NoError(t, err)
	require.Equal(t, jorun, entering.Typed["handler"])

	invalid(t, o.Assign(ctx, form.Typed{"day": day, "dog_" + other: family, "was_" + other: ebba}), "dog_"+other)
	require.ErrorIs(t, o.Assign(ctx, form.Typed{"day": "soon"}), app.ErrNotFound)
	require.NoError(t, o.Assign(ctx, form.Typed{"day": day, "dog_" + other: "", "was_" + other: ebba}))
	v, err = o.Team(ctx, day)
	require.NoError(t, err)
	require.Empty(t, v.Typed()["dog_"+other])
	tomorrow, err := o.Team(ctx, v.After)
	require.NoError(t, err)
	require.Empty(t, tomorrow.Handed(), "a day is a day")
}

// A note reaches whom it is to, says which trial it is about, and is done until it is opened again.
func TestANoteReachesAColleague(t *testing.T) {
	o := practicetest.Empty(t)
	plan, dog, me, _ := withKes(t, o)
	jorun := colleague(t, o, "Jorun Vale", "trainer")
	heldBy(t, o, plan, me, trial.Roles{}, work.Main, work.Main, work.MissKey)
	worked, err := o.Plan(ctx, plan)
	require.NoError(t, err)
	session := worked.Sessions[0].ID
	review, err := o.Review(ctx, session)
	require.NoError(t, err)
	third := review.Table[len(review.Table)-1]
	require.NoError(t, o.AddNote(ctx, form.Typed{
		"session": session, "trial": third.ID, "whom": jorun, "text": "Gulls, “three”, at once 🐟\nLook at the film", "key": "1",
	}))
	o.Clock.Add(time.Minute)
	require.NoError(t, o.AddNote(ctx, form.Typed{"dog": dog, "text": "to everybody"}))
	for _, wrong := range []form.Typed{
		{"dog": "none", "text": "x"}, {"plan": "none", "text": "x"}, {"session": session, "trial": "none", "text": "x"},
	} {
		require.ErrorIs(t, o.AddNote(ctx, wrong), app.ErrNotFound)
	}
	invalid(t, o.AddNote(ctx, form.Typed{"dog": dog, "text": " ", "whom": "nobody"}), "text", "whom")
	invalid(t, o.AddNote(ctx, form.Typed{"dog": dog, "text": strings.Repeat("x", 3000)}), "text")

	v, err := o.Team(ctx, "")
	require.NoError(t, err)
	require.Len(t, v.Notes, 2)
	about := v.Notes[1]
	require.Equal(t, []string{"Tansy · Wait at the ramp, trial 3", "Jorun Vale", "/sessions/" + session + "?trial=" + third.ID + "#correct"},
		[]string{about.About, about.To, about.Link})
	today, err := o.Today(ctx)
	require.NoError(t, err)
	require.Empty(t, today.NotesFor(me), "what one wrote oneself is no news")
	require.Len(t, today.NotesFor(jorun), 2)
	view, err := o.Plan(ctx, plan)
	require.NoError(t, err)
	require.Len(t, view.Notes, 1, "of the plan, not of the dog")

	require.NoError(t, o.EndNote(people.As(ctx, jorun), about.ID, true))
	today, err = o.Today(ctx)
	require.NoError(t, err)
	require.Len(t, today.NotesFor(jorun), 1)
	require.NoError(t, o.EndNote(ctx, about.ID, false))
	require.ErrorIs(t, o.EndNote(ctx, "none", true), app.ErrNotFound)
	j, err := o.Journal(ctx, form.Typed{"area": "team", "person": jorun})
	require.NoError(t, err)
	require.Contains(t, j.Days[0].Deeds[0].Lines[0], "dealt with on ")
}

// Who stands in is handed each of their dogs with its dangers, and each skill at the step that is theirs.
func TestAStandInIsHandedWhatTheyNeed(t *testing.T) {
	o := practicetest.Empty(t)
	plan, dog, me, _ := withKes(t, o)
	for range 3 {
		heldBy(t, o, plan, me, trial.Roles{}, work.Main, work.Main, work.Main, work.Main, work.Main)
	}
	ebba := colleague(t, o, "Ebba Lunde", "helper")
	day := o.Clock.Now().Format("2006-01-02")
	require.NoError(t, o.SaveHouse(ctx, dog, form.Typed{"never": "the gate, ever\n\n “stairs” 🐟 ", "version": "0"}))
	require.NoError(t, o.SaveContacts(ctx, dog, form.Typed{"vet": "at the green door", "version": "0"}))
	require.NoError(t, o.SaveHealth(ctx, dog, form.Typed{"kind": "sore", "what": "left paw", "said": "limps"}))
	empty, err := o.HandOver(ctx, ebba, day)
	require.NoError(t, err)
	require.Empty(t, empty.Dogs)
	require.NoError(t, o.Assign(ctx, form.Typed{"day": day, "dog_" + dog: ebba, "was_" + dog: ""}))
	require.NoError(t, o.AddNote(ctx, form.Typed{"plan": plan, "text": "short line", "whom": ebba}))
	require.NoError(t, o.AddNote(ctx, form.Typed{"plan": plan, "text": "not for Ebba", "whom": me}))
	v, err := o.HandOver(ctx, ebba, day)
	require.NoError(t, err)
	require.Len(t, v.Dogs, 1)
	d := v.Dogs[0]
	require.Contains(t, d.Sore, "left paw")
	require.Equal(t, "at the green door", d.Vet)
	require.Equal(t, []string{"the gate, ever", "“stairs” 🐟"}, d.Rules[0].Lines)
	require.Len(t, d.Notes, 1)
	require.Len(t, d.Skills, 1)
	mine, err := o.Plan(ctx, plan)
	require.NoError(t, err)
	require.Equal(t, []any{true, "Wait at the ramp"}, []any{d.Skills[0].Begins, d.Skills[0].Name})
	require.Less(t, d.Skills[0].At, mine.Row.At, "somebody new begins further down")
	require.NotEmpty(t, d.Skills[0].Right)
	// The main handler is handed their own step.
	require.NoError(t, o.Assign(ctx, form.Typed{"day": day, "dog_" + dog: me, "was_" + dog: ebba}))
	v, err = o.HandOver(ctx, me, "")
	require.NoError(t, err)
	require.Equal(t, []any{false, mine.Row.At}, []any{v.Dogs[0].Skills[0].Begins, v.Dogs[0].Skills[0].At})
	_, err = o.HandOver(ctx, "none", day)
	require.ErrorIs(t, err, app.ErrNotFound)
}
