package practice_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	corehome "patientfox/core/homework"
	"patientfox/core/session"
	"patientfox/core/trial"
	"patientfox/core/work"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/app/homework"
	"patientfox/internal/practicetest"
)

// A household's sheet is one step easier than where the household is, and the newest skill is paid every time.
func TestHomeworkIsAtTheHouseholdsOwnStep(t *testing.T) {
	o := practicetest.Empty(t)
	require.NoError(t, o.SavePerson(ctx, form.Typed{"name": "Kes, “K.”", "role": "family"}))
	plan, dog := o.LayOut(t, "1, 2, 3, 4, 5, 6")
	people, err := o.Store.Read().People(ctx)
	require.NoError(t, err)
	me, kes := people[0].ID, people[1].ID
	five := []work.Key{work.Main, work.Main, work.Main, work.Main, work.Main}
	for range 5 {
		heldBy(t, o, plan, me, trial.Roles{}, five...)
	}
	sheet := func(asked homework.Asked) homework.View {
		t.Helper()
		v, err := o.Homework(ctx, dog, asked)
		require.NoError(t, err)
		return v
	}
	v := sheet(homework.Asked{Line: "  Well done, “you two” 🐟  "})
	require.Equal(t, []any{kes, "Well done, “you two” 🐟", 1}, []any{v.With.ID, v.Line, len(v.Skills)})
	require.Contains(t, v.Skills[0].Step, "2 s", "half way up with somebody new, and one easier")
	require.True(t, v.Skills[0].New)
	require.Empty(t, v.Order, "one skill has no order")
	require.Contains(t, sheet(homework.Asked{With: me}).Skills[0].Step, "5 s")
	heldBy(t, o, plan, kes, trial.Roles{}, five...)
	require.Contains(t, sheet(homework.Asked{}).Skills[0].Step, "3 s", "his own, one easier")

	o.Clock.Add(time.Hour)
	ids := []string{plan}
	for _, skill := range []string{"Touch, “the nose”", "Watch", "Sit", "Down", "Stand"} {
		ids = append(ids, o.Exactly(t, dog, form.Typed{"skill": skill, "kind": "cued", "cue": "now", "position": "there"}, "handler", "1, 2"))
		o.Clock.Add(time.Minute)
	}
	v = sheet(homework.Asked{Skills: ids})
	require.True(t, v.TooMany)
	require.Len(t, v.Skills, homework.MostSkills)
	require.Len(t, v.Order, corehome.Rounds*corehome.Each)
	require.Equal(t, v.Order, sheet(homework.Asked{Skills: ids}).Order, "the same on paper and on the page")
	_, err = o.Homework(ctx, "none", homework.Asked{})
	require.ErrorIs(t, err, app.ErrNotFound)
}

// What worried the dog lately, and what is done with a dog that bites, is kept away and not trained at home.
func TestHomeworkIsManagementAlone(t *testing.T) {
	o := practicetest.Empty(t)
	dog, err := o.AddDog(ctx, form.Typed{"name": "Brine"})
	require.NoError(t, err)
	horn := o.Exactly(t, dog, form.Typed{"skill": "The foghorn", "kind": "counter", "position": "stays"}, "trigger", "40, 30, 20")
	touch := o.Exactly(t, dog, form.Typed{"skill": "Touch", "kind": "cued", "cue": "touch", "position": "nose on it"}, "handler", "1, 2")
	only := func() []bool {
		v, err := o.Homework(ctx, dog, homework.Asked{Skills: []string{horn, touch}})
		require.NoError(t, err)
		require.Len(t, v.Skills, 2)
		list := make([]bool, 2)
		for _, one := range v.Skills {
			list[map[string]int{horn: 0, touch: 1}[one.Plan]] = one.Only
		}
		return list
	}
	require.Equal(t, []bool{false, false}, only())
	h := o.Session(t, horn, session.Choice{})
	h.Press(work.Main, 1000)
	h.Press(work.HelpKey, 4000) // worried
	o.End(t, h, 20000, session.Closing{})
	o.CatchUp(t)
	require.Equal(t, []bool{true, false}, only())
	o.Clock.Add((corehome.QuietDays + 1) * 24 * time.Hour)
	require.Equal(t, []bool{false, false}, only())
	d, err := o.Dog(ctx, dog)
	require.NoError(t, err)
	require.NoError(t, o.SaveDog(ctx, dog, form.Typed{"name": d.Name, "flags": "Bite: the vet’s table", "version": "1"}))
	require.Equal(t, []bool{true, false}, only())
}
