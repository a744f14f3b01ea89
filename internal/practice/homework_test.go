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
	"patientfox/internal/store"
)

// withKes lays out a plan of six steps in a practice that has a trainer and Kes, of the dog's family.
func withKes(t *testing.T, o *practicetest.Opened) (plan, dog, me, kes string) {
	t.Helper()
	require.NoError(t, o.SavePerson(ctx, form.Typed{"name": "Kes, “K.”", "role": "family"}))
	plan, dog = o.LayOut(t, "1, 2, 3, 4, 5, 6")
	people, err := o.Store.Read().People(ctx)
	require.NoError(t, err)
	return plan, dog, people[0].ID, people[1].ID
}

// A household's sheet is one step easier than where the household is, and the newest skill is paid every time.
func TestHomeworkIsAtTheHouseholdsOwnStep(t *testing.T) {
	o := practicetest.Empty(t)
	plan, dog, me, kes := withKes(t, o)
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
	_, err := o.Homework(ctx, "none", homework.Asked{})
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
	require.NoError(t, o.Release(ctx, dog, horn, false))
	require.Equal(t, []bool{false, false}, only(), "a trainer released it")
	require.NoError(t, o.Release(ctx, dog, horn, true))
	require.Equal(t, []bool{true, false}, only())
	require.NoError(t, o.Release(ctx, dog, horn, false))
	o.Clock.Add(time.Hour)
	people, err := o.Store.Read().People(ctx)
	require.NoError(t, err)
	require.NoError(t, o.Return(ctx, dog, form.Typed{"with": people[0].ID, "lines": "foghorn 1 worried"}))
	require.Equal(t, []bool{true, false}, only(), "worried since then")
	require.ErrorIs(t, o.Release(ctx, "another", horn, false), app.ErrNotFound)
}

func planOf(t *testing.T, o *practicetest.Opened, id string) store.Plan {
	t.Helper()
	row, err := o.Store.Read().Plan(ctx, id)
	require.NoError(t, err)
	return row
}

// What comes back moves the level of whoever sent it, a set at a time, and nothing else: no session, no main handler's level, no rate.
func TestWhatComesBackMovesTheHouseholdsLevelAlone(t *testing.T) {
	o := practicetest.Empty(t)
	plan, dog, me, kes := withKes(t, o)
	for range 5 {
		heldBy(t, o, plan, me, trial.Roles{}, work.Main, work.Main, work.Main, work.Main, work.Main)
	}
	name := planOf(t, o, plan).SkillName
	sheet := func() homework.View {
		t.Helper()
		v, err := o.Homework(ctx, dog, homework.Asked{With: kes})
		require.NoError(t, err)
		return v
	}
	came := func(lines string) homework.View {
		t.Helper()
		o.Clock.Add(time.Minute)
		require.NoError(t, o.Return(ctx, dog, form.Typed{"with": kes, "lines": lines}))
		return sheet()
	}
	steps := func(v homework.View) string { return v.Skills[0].Step }
	mains := func() int { return planOf(t, o, plan).Standing.StepAt }
	main, sessions := mains(), planOf(t, o, plan).Standing.Sessions
	require.Equal(t, 5, main)
	require.NoError(t, o.Give(ctx, dog, form.Typed{"with": kes, "skills": plan, "line": "Short, “both of you”"}))
	v := sheet()
	require.Equal(t, "Short, “both of you”", v.Line)
	require.NotEmpty(t, v.Given)
	require.Empty(t, v.Changed)
	require.Contains(t, steps(v), "2 s", "half way up with somebody new, and one easier")

	v = came(name + " 5 of 5 hall, “wow” 🐟")
	require.Contains(t, steps(v), "3 s", "something has come back: no longer one easier")
	require.Equal(t, []string{name, "5 of 5", "hall", "“wow” 🐟", "step 2: stays (easier than their own)"},
		[]string{v.Back[0].Skill, v.Back[0].Said, v.Back[0].Place, v.Back[0].Remark, v.Back[0].Did})
	require.Len(t, v.Changed, 1, "the paper still has the easier step")
	v = came(name + " 5 of 5 yard")
	require.Contains(t, steps(v), "3 s", "a set of the easier step raises nothing")
	require.NoError(t, o.Give(ctx, dog, form.Typed{"with": kes, "skills": plan}))
	v = came(name + " 5 of 5\n" + name + " 5/5; " + name + " 4 of 4")
	require.Contains(t, steps(v), "4 s", "two sets of one sheet are one step")
	require.Equal(t, "step 3: fewer than five, no set", v.Back[0].Did)
	require.Equal(t, "step 3: stays (easier than their own)", v.Back[1].Did, "the first of them raised it")
	require.Equal(t, "step 3: up to step 4", v.Back[2].Did)
	up := v.Back[2].ID
	require.NoError(t, o.PutReturnedAway(ctx, dog, up, true))
	require.Contains(t, steps(sheet()), "3 s")
	require.NoError(t, o.PutReturnedAway(ctx, dog, up, false))
	require.Contains(t, steps(sheet()), "4 s")
	v = came(name + " 1 of 5, too wet")
	require.Contains(t, steps(v), "3 s")

	require.Equal(t, []int{main, sessions}, []int{mains(), planOf(t, o, plan).Standing.Sessions})
	made, err := o.Pack(ctx, plan)
	require.NoError(t, err)
	opens := made.For(kes)
	require.Equal(t, made.Steps[2].ID, opens.Position.Reached, "Run opens there too")
	_, err = o.Rebuild(ctx)
	require.NoError(t, err)
	require.Contains(t, steps(sheet()), "3 s", "the same when all is worked out anew")

	var invalid *form.Invalid
	for _, bad := range []form.Typed{{"with": kes, "lines": name + " 6 of 5"}, {"with": "nobody", "lines": name + " 5 of 5"}, {"with": kes}} {
		require.ErrorAs(t, o.Return(ctx, dog, bad), &invalid)
	}
	require.ErrorAs(t, o.Give(ctx, dog, form.Typed{"with": "nobody", "skills": plan}), &invalid)
	require.ErrorIs(t, o.PutReturnedAway(ctx, "another", up, true), app.ErrNotFound)
	again := form.Typed{"with": kes, "lines": name + " 3 of 5", "key": "one"}
	require.NoError(t, o.Return(ctx, dog, again))
	require.NoError(t, o.Return(ctx, dog, again))
	require.Len(t, sheet().Back, len(v.Back)+1, "sent twice, kept once")
}

// A worried dog at home: the thing is only kept away, and whatever else comes back raises nothing.
func TestAWorriedDogAtHomeIsNotTrainedThere(t *testing.T) {
	o := practicetest.Empty(t)
	dog, err := o.AddDog(ctx, form.Typed{"name": "Wick"})
	require.NoError(t, err)
	plan := o.Exactly(t, dog, form.Typed{"skill": "Foghorn", "kind": "counter", "position": "stays"}, "trigger", "40, 20")
	people, err := o.Store.Read().People(ctx)
	require.NoError(t, err)
	me := people[0].ID
	sheet := func() homework.View {
		t.Helper()
		v, err := o.Homework(ctx, dog, homework.Asked{With: me, Skills: []string{plan}, Anew: true})
		require.NoError(t, err)
		return v
	}
	require.False(t, sheet().Skills[0].Only)
	require.NoError(t, o.Return(ctx, dog, form.Typed{"with": me, "lines": "foghorn 4 relaxed 1 worried pier"}))
	v := sheet()
	require.True(t, v.Skills[0].Only)
	require.Equal(t, "4 relaxed, 1 worried or left", v.Back[0].Said)
	o.Clock.Add(20 * 24 * time.Hour)
	require.False(t, sheet().Skills[0].Only)
}

// Kind counting at home is told to the trainer, with both figures, after two fortnights of it; a fair one is not.
func TestHomeAndVisitDiffer(t *testing.T) {
	for right, differs := range map[string]int{"5 of 5": 1, "2 of 4": 0} {
		o := practicetest.Empty(t)
		plan, dog, me, kes := withKes(t, o)
		name := planOf(t, o, plan).SkillName
		half := []work.Key{work.Main, work.MissKey, work.Main, work.MissKey} // fewer than a set
		for day := range 3 * corehome.Fortnight {
			if day%2 == 0 {
				heldBy(t, o, plan, me, trial.Roles{}, half...)
			}
			if day == 0 {
				require.NoError(t, o.Give(ctx, dog, form.Typed{"with": kes, "skills": plan}))
			}
			if day%2 == 0 {
				require.NoError(t, o.Return(ctx, dog, form.Typed{"with": kes, "lines": name + " " + right}))
			}
			o.Clock.Add(24 * time.Hour)
		}
		v, err := o.Homework(ctx, dog, homework.Asked{With: kes})
		require.NoError(t, err)
		require.Len(t, v.Differs, differs, right)
	}
}

// The sheet for the fridge has the dog's words and the rules of its house; two who change these at once do not write over each other.
func TestTheFridgeSheet(t *testing.T) {
	o := practicetest.Empty(t)
	dog, err := o.AddDog(ctx, form.Typed{"name": "Wick", "flags": "Bite: the vet’s table, once\nFears the horn"})
	require.NoError(t, err)
	for _, skill := range []string{"Lie down", "Off the bench"} {
		o.Exactly(t, dog, form.Typed{"skill": skill, "kind": "cued", "cue": "“down”", "position": "there", "marker": "“yes”"}, "handler", "1, 2")
	}
	require.NoError(t, o.SaveHouse(ctx, dog, form.Typed{"never": "the gate, ever\n\n “stairs” 🐟 ", "version": "0"}))
	v, err := o.Fridge(ctx, dog)
	require.NoError(t, err)
	require.Equal(t, []homework.Rules{{Sort: "Never", Lines: []string{"the gate, ever", "“stairs” 🐟"}}}, v.Rules)
	require.Equal(t, []corehome.Conflict{{Word: "down", Uses: []string{"Lie down", "Off the bench"}}}, v.Conflicts)
	require.Equal(t, []string{"“yes”"}, v.Marker)
	require.Equal(t, []string{"Bite: the vet’s table, once", "Fears the horn"}, v.Flags)
	var conflict *form.Conflict
	require.ErrorAs(t, o.SaveHouse(ctx, dog, form.Typed{"always": "a sit", "version": "0"}), &conflict)
	require.NoError(t, o.SaveHouse(ctx, dog, form.Typed{"always": "a sit", "version": conflict.Now["version"]}))
	sheet, err := o.Homework(ctx, dog, homework.Asked{})
	require.NoError(t, err)
	require.Equal(t, []homework.Rules{{Sort: "Always", Lines: []string{"a sit"}}}, sheet.Rules)
	require.ErrorIs(t, o.SaveHouse(ctx, "none", form.Typed{}), app.ErrNotFound)
}

// Two dogs of a household hear the same people: a word that asks one for this and the other for that is named on both sheets.
func TestAWordMeansOneThingInAHousehold(t *testing.T) {
	o := practicetest.Empty(t)
	dogs := map[string]string{}
	for name, household := range map[string]string{"Wick": "The lighthouse", "Tallow": " the LIGHTHOUSE ", "Gull": "", "Far": "The pier"} {
		id, err := o.AddDog(ctx, form.Typed{"name": name, "household": household})
		require.NoError(t, err)
		dogs[name] = id
	}
	teach := func(dog, skill string) {
		o.Exactly(t, dogs[dog], form.Typed{"skill": skill, "kind": "cued", "cue": "“down”", "position": "there"}, "handler", "1, 2")
	}
	teach("Wick", "Lie down")
	teach("Tallow", "Off the bench")
	teach("Far", "Off the wall")
	teach("Gull", "Off the keg")
	for dog, want := range map[string][]string{
		"Wick": {"Lie down", "Off the bench, with Tallow"}, "Tallow": {"Off the bench", "Lie down, with Wick"}, "Far": nil, "Gull": nil,
	} {
		v, err := o.Fridge(ctx, dogs[dog])
		require.NoError(t, err)
		if want == nil {
			require.Empty(t, v.Conflicts, dog)
			continue
		}
		require.Equal(t, []corehome.Conflict{{Word: "down", Uses: want}}, v.Conflicts)
	}
}

// Where the household is the main handler, what comes back moves the plan's own level; a step that is proved rises in sessions alone.
func TestWhatComesBackFromTheMainHandler(t *testing.T) {
	o := practicetest.Empty(t)
	plan, dog, _, kes := withKes(t, o)
	came := func(lines string) string {
		t.Helper()
		o.Clock.Add(time.Minute)
		require.NoError(t, o.Return(ctx, dog, form.Typed{"with": kes, "lines": "ramp " + lines}))
		v, err := o.Homework(ctx, dog, homework.Asked{With: kes})
		require.NoError(t, err)
		return v.Back[0].Did
	}
	require.Equal(t, "step 1: stays (levels move from a first session on)", came("5 of 5"))
	heldBy(t, o, plan, kes, trial.Roles{}, work.Main, work.Main)
	require.Equal(t, "step 1: up to step 2", came("5 of 5"))
	require.Equal(t, 1, planOf(t, o, plan).Standing.StepAt)
	require.NoError(t, o.SaveRule(ctx, plan, form.Typed{
		"version": "1", "kind": "proof", "target": "95", "conf": "90", "proof_sessions": "3", "proof_places": "3", "look_back": "80",
		"back_rate": "80", "back_conf": "90", "back_min": "5", "miss_guard": "2",
	}))
	require.Equal(t, "step 2: stays (proved in sessions alone)", came("5 of 5"))
	require.Equal(t, "step 2: back to step 1", came("0 of 5"))
	require.Zero(t, planOf(t, o, plan).Standing.StepAt)
}
