package practice_test

import (
	"errors"
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/require"

	"patientfox/core/trial"
	"patientfox/core/work"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/app/homework"
	"patientfox/internal/practicetest"
	"patientfox/internal/store"
)

// A household's link reads its own sheet and takes its own lines, once each, for as long as it lasts.
func TestAHouseholdSendsByItsLink(t *testing.T) {
	o := practicetest.Empty(t)
	plan, dog, me, kes := withKes(t, o)
	five := []work.Key{work.Main, work.Main, work.Main, work.Main, work.Main}
	for range 5 {
		heldBy(t, o, plan, me, trial.Roles{}, five...)
	}
	heldBy(t, o, plan, kes, trial.Roles{}, five...)
	require.NoError(t, o.Give(ctx, dog, form.Typed{"with": kes, "skills": plan}))
	token, err := o.MakeLink(ctx, dog, form.Typed{"with": kes, "weeks": "2"})
	require.NoError(t, err)
	link := func() homework.Link {
		t.Helper()
		l, err := o.Link(ctx, token)
		require.NoError(t, err)
		return l
	}
	home := func() homework.AtHome {
		t.Helper()
		v, err := o.AtHome(ctx, link())
		require.NoError(t, err)
		return v
	}
	v := home()
	require.Equal(t, []any{"Kes, “K.”", 1, plan}, []any{v.With.Name, len(v.Skills), v.Skills[0].Plan})
	sent := func(met int, change func(*homework.Sent)) homework.Sent {
		one := homework.Sent{ID: uuid.NewString(), Plan: plan, Step: v.Skills[0].At.ID, Day: v.Day, Met: met, Of: 5}
		one.Place, one.Remark = "hall", "“wow” 🐾"
		if change != nil {
			change(&one)
		}
		return one
	}
	take := func(list ...homework.Sent) (why []string) {
		t.Helper()
		taken, err := o.FromHome(ctx, link(), list)
		require.NoError(t, err)
		require.Len(t, taken, len(list))
		for i, one := range taken {
			require.Equal(t, list[i].ID, one.ID)
			why = append(why, one.Why)
		}
		return why
	}
	first := sent(5, nil)
	require.Equal(t, []string{""}, take(first))
	require.Equal(t, []string{"", ""}, take(first, first), "sent again, it is known")
	rows, err := o.Store.Read().ReturnedTo(ctx, plan)
	require.NoError(t, err)
	require.Len(t, rows, 1)
	require.Equal(t, []any{store.CameByLink, kes, kes, v.Skills[0].At.ID, "hall", "“wow” 🐾"},
		[]any{rows[0].Came, rows[0].Person, rows[0].MadeBy, rows[0].Step, rows[0].Place, rows[0].Remark})
	require.Equal(t, []string{"5 of 5"}, home().SentToday(plan))

	other, err := o.AddDog(ctx, form.Typed{"name": "Limpet"})
	require.NoError(t, err)
	theirs := o.Exactly(t, other, form.Typed{"skill": "Touch", "kind": "cued", "position": "there"}, "handler", "1, 2")
	why := take(
		sent(6, nil), sent(4, func(s *homework.Sent) { s.Plan = theirs }), sent(4, func(s *homework.Sent) { s.ID = "{" + s.ID + "}" }),
		sent(4, func(s *homework.Sent) { s.Day = "2031-01-01" }), sent(0, func(s *homework.Sent) { s.Of, s.Worried = 1, 1 }),
		sent(4, func(s *homework.Sent) { s.Remark = strings.Repeat("🐾", 301) }), sent(4, func(s *homework.Sent) { s.Remark = "\xff" }),
		sent(4, func(s *homework.Sent) { s.Day, s.Step = o.Clock.Now().AddDate(0, 0, 1).Format(time.DateOnly), "gone" }),
	)
	for i, one := range why {
		require.Equal(t, i == len(why)-1, one == "", "%d: %s", i, one)
	}
	require.Equal(t, []string{"5 of 5", "4 of 5"}, home().SentToday(plan), "a phone whose day has begun already means today")

	require.NoError(t, o.TakeBackAtHome(ctx, link(), first.ID))
	require.ErrorIs(t, o.TakeBackAtHome(ctx, link(), first.ID), app.ErrNotFound)
	require.Equal(t, []string{""}, take(first), "what was taken back does not come back with a late request")
	require.Equal(t, []string{"4 of 5"}, home().SentToday(plan))
	o.Clock.Add(25 * time.Hour)
	require.ErrorIs(t, o.TakeBackAtHome(ctx, link(), home().Sent[0].ID), app.ErrNotFound, "a day later it is the trainer's")
	o.Clock.Add(14 * 24 * time.Hour)
	_, err = o.Link(ctx, token)
	require.ErrorIs(t, err, app.ErrNotFound, "it has run out")
}

// A link ends when another is made, when it is ended, and with the dog; what it may send is bounded.
func TestALinkEnds(t *testing.T) {
	o := practicetest.Empty(t)
	plan, dog, _, kes := withKes(t, o)
	var invalid *form.Invalid
	for _, weeks := range []string{"0", "27", "two"} {
		_, err := o.MakeLink(ctx, dog, form.Typed{"with": kes, "weeks": weeks})
		require.ErrorAs(t, err, &invalid)
		require.Contains(t, invalid.Problems, "weeks")
	}
	_, err := o.MakeLink(ctx, dog, form.Typed{"with": "nobody"})
	require.ErrorAs(t, err, &invalid)
	require.Contains(t, invalid.Problems, "with")

	make1 := func() string {
		t.Helper()
		token, err := o.MakeLink(ctx, dog, form.Typed{"with": kes})
		require.NoError(t, err)
		return token
	}
	old, token := make1(), make1()
	_, err = o.Link(ctx, old)
	require.ErrorIs(t, err, app.ErrNotFound)
	l, err := o.Link(ctx, token)
	require.NoError(t, err)
	v, err := o.Homework(ctx, dog, homework.Asked{With: kes})
	require.NoError(t, err)
	require.Len(t, v.Links, 1)
	require.Equal(t, []string{"Kes, “K.”", ""}, []string{v.Links[0].Who, v.Links[0].Opened})
	_, err = o.AtHome(ctx, l)
	require.NoError(t, err)
	v, err = o.Homework(ctx, dog, homework.Asked{With: kes})
	require.NoError(t, err)
	require.NotEmpty(t, v.Links[0].Opened)

	kept := 0
	for range 7 {
		var list []homework.Sent
		for range 10 {
			list = append(list, homework.Sent{ID: uuid.NewString(), Plan: plan, Day: v.Day, Met: 1, Of: 5})
		}
		taken, err := o.FromHome(ctx, l, list)
		require.NoError(t, err)
		for _, one := range taken {
			if one.Why == "" {
				kept++
			}
		}
	}
	require.Equal(t, 60, kept, "lines in a day")
	_, err = o.FromHome(ctx, l, make([]homework.Sent, 11))
	require.ErrorAs(t, err, &invalid)

	require.ErrorIs(t, o.EndLink(ctx, fmt.Sprint(dog, "x"), l.ID), app.ErrNotFound)
	require.NoError(t, o.EndLink(ctx, dog, l.ID))
	_, err = o.Link(ctx, token)
	require.ErrorIs(t, err, app.ErrNotFound)

	l, err = o.Link(ctx, make1())
	require.NoError(t, err)
	require.NoError(t, o.DeleteDog(ctx, dog, true))
	_, err = o.AtHome(ctx, l)
	_, none := o.FromHome(ctx, l, []homework.Sent{{ID: uuid.NewString(), Plan: plan, Day: v.Day, Met: 5, Of: 5}})
	require.True(t, errors.Is(err, app.ErrNotFound) && errors.Is(none, app.ErrNotFound), "%v %v", err, none)
}
