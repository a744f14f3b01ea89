package practice_test

import (
	"fmt"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	corecare "patientfox/core/care"
	"patientfox/core/session"
	"patientfox/core/work"
	"patientfox/internal/app"
	"patientfox/internal/app/care"
	"patientfox/internal/app/form"
	"patientfox/internal/app/schedule"
	"patientfox/internal/practicetest"
	"patientfox/internal/sessiontest"
	"patientfox/internal/templates"
)

// The map of care is what was touched: site by tool, with the state, the visit and the handler of each touch.
func TestTheMapOfCareIsWhatWasTouched(t *testing.T) {
	o := practicetest.Empty(t)
	dog, err := o.AddDog(ctx, form.Typed{"name": "Brine"})
	require.NoError(t, err)
	v, err := o.Care(ctx, dog, "")
	require.NoError(t, err)
	require.Empty(t, v.Maps)
	plan := earDrops(t, o, dog)
	visit := func(site string, keys ...work.Key) { touched(t, o, plan, session.Armed{Site: site}, keys...) }
	visit("left ear", work.MetKey, work.ExpectKey, work.MetKey)
	visit("left ear", work.MetKey, work.MetKey, work.MetKey)
	visit("right ear", work.LateKey)

	v, err = o.Care(ctx, dog, "")
	require.NoError(t, err)
	require.Len(t, v.Maps, 1)
	m := v.Maps[0]
	require.Equal(t, []string{"fingers", "a cloth"}, m.Tools)
	require.Equal(t, "left ear", m.Rows[0].Site)
	require.Equal(t, []int{1, 1, 1}, m.Rows[0].Cells[0].Last)
	require.Equal(t, "At ease", m.Rows[0].Cells[0].Level)
	require.Len(t, m.Rows[0].Cells[0].Touches, 6)
	require.Equal(t, "Wary", m.Rows[1].Cells[0].Level)
	require.Empty(t, m.Rows[1].Cells[1].Level, "no cloth yet")
	require.Contains(t, m.Says, "right ear")
	require.NotContains(t, m.Says, "left ear")
	require.Len(t, v.Handlers, 1)

	vet, err := o.CareCard(ctx, dog, false)
	require.NoError(t, err)
	require.Equal(t, []string{"Fingers: at ease at left ear. Wary at right ear.", "A cloth: not yet."}, vet.Works[0].Lines)
	owner, err := o.CareCard(ctx, dog, true)
	require.NoError(t, err)
	require.True(t, owner.New)
	require.Contains(t, owner.Works[0].Now, "Now: fingers", "with somebody new it begins at the first tool")
	require.Contains(t, owner.Works[0].Now, "left ear; right ear")

	carried, err := o.Pack(ctx, plan)
	require.NoError(t, err)
	require.Empty(t, carried.Care.Marks)
	require.NoError(t, o.MarkSite(ctx, dog, form.Typed{"marked": "right ear", "mark": "sore", "said": "the vet, “an infection”"}))
	carried, err = o.Pack(ctx, plan)
	require.NoError(t, err)
	require.Equal(t, map[string]corecare.Mark{"right ear": corecare.Sore}, carried.Care.Marks, "a phone knows of it")
	require.Len(t, carried.Care.Touches[v.With], 7)
	v, err = o.Care(ctx, dog, "")
	require.NoError(t, err)
	require.Equal(t, "sore", v.Maps[0].Rows[1].Mark)
	require.Contains(t, v.Maps[0].Says, "a cloth", "a sore site holds up no others")
	require.NoError(t, o.MarkSite(ctx, dog, form.Typed{"marked": "right ear"}))
	v, err = o.Care(ctx, dog, "")
	require.NoError(t, err)
	require.Empty(t, v.Marked)
}

func TestWhatIsReallyDoneIsDueAgain(t *testing.T) {
	o := practicetest.Empty(t)
	dog, err := o.AddDog(ctx, form.Typed{"name": "Brine"})
	require.NoError(t, err)
	other, err := o.AddDog(ctx, form.Typed{"name": "Quill"})
	require.NoError(t, err)
	wrong := func(err error, fields ...string) {
		t.Helper()
		var invalid *form.Invalid
		require.ErrorAs(t, err, &invalid)
		for _, field := range fields {
			require.Contains(t, invalid.Problems, field)
		}
		require.Len(t, invalid.Problems, len(fields))
	}
	wrong(o.SaveTask(ctx, dog, form.Typed{"task": " ", "days": "-3"}), "task", "sites", "days")
	wrong(o.SaveTask(ctx, dog, form.Typed{"task": "Claws", "sites": "left", "every": "21", "days": "7"}), "days")
	odd := form.Typed{"task": "Claws", "sites": "left", "every": "2.5", "whose": "me", "from": "soon"}
	wrong(o.SaveTask(ctx, dog, odd), "every", "whose", "from")
	require.ErrorIs(t, o.SaveTask(ctx, "nobody", form.Typed{}), app.ErrNotFound)

	require.NoError(t, o.SaveTask(ctx, dog, form.Typed{
		"task": "Ear drops, “the blue ones” 🩺", "sites": "left ear, right ear, left ear", "days": "7", "per_day": "2", "whose": "vet",
	}))
	due := func() []schedule.CareRow {
		v, err := o.Today(ctx)
		require.NoError(t, err)
		return v.Care
	}
	require.Empty(t, due(), "nobody was named who says how")
	v, err := o.Care(ctx, dog, "")
	require.NoError(t, err)
	require.Equal(t, []string{"left ear", "right ear"}, v.Tasks[0].Sites)
	require.NoError(t, o.PutTaskAway(ctx, v.Tasks[0].ID, true))
	require.NoError(t, o.SaveTask(ctx, dog, form.Typed{"task": "Coat", "sites": "back, tail", "every": "3"}))
	v, err = o.Care(ctx, dog, "")
	require.NoError(t, err)
	require.Len(t, v.Tasks, 1)
	coat := v.Tasks[0].ID
	require.Len(t, due(), 1)
	today := o.Clock.Now()
	day := func(by int) string { return today.AddDate(0, 0, by).Format(app.DayLayout) }
	wrong(o.LogDone(ctx, dog, coat, form.Typed{"site": "a fifth paw", "day": day(1), "by": "nobody"}), "site", "day", "by")
	require.ErrorIs(t, o.LogDone(ctx, other, coat, form.Typed{}), app.ErrNotFound, "it is another dog's")
	require.NoError(t, o.LogDone(ctx, dog, coat, form.Typed{}))
	require.Empty(t, due())
	o.Clock.Add(24 * time.Hour)
	require.NoError(t, o.LogDone(ctx, dog, coat, form.Typed{"site": "tail", "left": "on", "amount": "half of it", "by": v.People[0].ID}))
	require.Empty(t, due())
	o.Clock.Add(24 * time.Hour)
	require.Len(t, due(), 1, "something was left over")
	week, err := o.Week(ctx, "")
	require.NoError(t, err)
	on := 0
	for _, day := range week.Days {
		if len(day.Care) > 0 {
			require.GreaterOrEqual(t, day.ISO, o.Clock.Now().Format(app.DayLayout), "from today on")
			on++
		}
	}
	require.Positive(t, on)
	_, events, _, err := o.Calendar(ctx, "")
	require.NoError(t, err)
	require.True(t, events[0].AllDay)
	require.Equal(t, "Brine · Coat", events[0].Summary)
	require.Equal(t, o.Clock.Now().Format(app.DayLayout), events[0].From.Format(app.DayLayout))
	require.Equal(t, 72*time.Hour, events[1].From.Sub(events[0].From))
	require.Contains(t, due()[0].Says, "tail")
	require.NotContains(t, due()[0].Says, "back")
	v, err = o.Care(ctx, dog, "")
	require.NoError(t, err)
	require.Len(t, v.Tasks[0].Done, 3)
	require.Equal(t, "half of it", v.Tasks[0].Done[0].Amount)
	require.ErrorIs(t, o.TakeDone(ctx, other, v.Tasks[0].Done[0].ID), app.ErrNotFound)
	require.NoError(t, o.TakeDone(ctx, dog, v.Tasks[0].Done[0].ID))
	require.Empty(t, due(), "it was taken back")
}

// A touch that was really done in a session is a time of the task that is done within its skill, exactly where it was pressed.
func TestATouchThatWasReallyDoneIsATimeOfItsTask(t *testing.T) {
	o := practicetest.Empty(t)
	dog, err := o.AddDog(ctx, form.Typed{"name": "Tansy"})
	require.NoError(t, err)
	plan, err := o.AddPlan(ctx, dog, form.Typed{
		"skill": "Claws", "kind": "handling", "position": "lies", "leg1_make": "sites", "leg1_from": "1", "leg1_to": "2",
		"leg1_items": "fore\nhind", "leg1_tools": "fingers\nthe file", "tracks": "left\nright",
	})
	require.NoError(t, err)
	v, err := o.Care(ctx, dog, "")
	require.NoError(t, err)
	require.Len(t, v.Skills, 1)
	require.ErrorAs(t, o.SaveTask(ctx, dog, form.Typed{"task": "Filed", "skill": "another", "every": "21", "sites": "x"}), new(*form.Invalid))
	require.NoError(t, o.SaveTask(ctx, dog, form.Typed{"task": "Filed", "skill": v.Skills[0].ID, "every": "21"}))
	o.CatchUp(t)
	h := o.Session(t, plan, session.Choice{})
	at := int64(1000)
	for _, one := range []session.Armed{{Site: "fore", Done: true, Part: "claw 2"}, {Site: "hind"}} {
		h.Run.Arm(one)
		h.Press(work.Main, at)
		if h.Run.Session().Trying == nil { // a decoy came first
			at += 5000
			h.Run.Arm(one)
			h.Press(work.Main, at)
		}
		h.Press(work.MetKey, at+2000)
		at += 10_000
	}
	o.End(t, h, at, session.Closing{})
	read := func() (care.TaskRow, []schedule.CareRow) {
		v, err := o.Care(ctx, dog, "")
		require.NoError(t, err)
		today, err := o.Today(ctx)
		require.NoError(t, err)
		return v.Tasks[0], today.Care
	}
	task, due := read()
	require.Equal(t, []string{"fore, left", "hind, left", "fore, right", "hind, right"}, task.Sites)
	require.Equal(t, "Claws", task.Within)
	require.Len(t, task.Done, 1)
	require.Equal(t, []string{"fore, left", "claw 2", h.Session}, []string{task.Done[0].Site, task.Done[0].Amount, task.Done[0].Session})
	require.Equal(t, "Due today: hind, left; fore, right; hind, right.", due[0].Says)
	require.NoError(t, o.DeleteSession(ctx, h.Session, true))
	o.CatchUp(t)
	task, due = read()
	require.Empty(t, task.Done)
	require.Equal(t, "Due today.", due[0].Says)
}

// earDrops lays out a plan over two sites with two tools.
func earDrops(t *testing.T, o *practicetest.Opened, dog string) string {
	t.Helper()
	plan, err := o.AddPlan(ctx, dog, form.Typed{
		"skill": "Ear drops", "kind": "handling", "position": "stands", "leg1_make": "sites", "leg1_from": "1", "leg1_to": "2",
		"leg1_items": "left ear\nright ear", "leg1_tools": "fingers\na cloth",
	})
	require.NoError(t, err)
	o.CatchUp(t)
	return plan
}

// touched is a session of touches at a site with a tool, each ended by a key; the day after comes.
func touched(t *testing.T, o *practicetest.Opened, plan string, armed session.Armed, keys ...work.Key) {
	t.Helper()
	h := o.Session(t, plan, session.Choice{})
	at := int64(1000)
	for _, key := range keys {
		h.Run.Arm(armed)
		h.Press(work.Main, at)
		if h.Run.Session().Trying == nil { // a decoy came first
			at += 5000
			h.Run.Arm(armed)
			h.Press(work.Main, at)
		}
		h.Press(key, at+2000)
		if h.Run.Phase() == session.Deciding {
			h.Press(work.StayKey, at+3000)
		}
		at += 10_000
	}
	o.End(t, h, at, session.Closing{})
	o.Clock.Add(24 * time.Hour)
}

// Where only the first touch after a tool came out is wary, the page of care says so.
func TestTheFirstTouchWithAToolIsToldApart(t *testing.T) {
	o := practicetest.Empty(t)
	dog, err := o.AddDog(ctx, form.Typed{"name": "Brine"})
	require.NoError(t, err)
	plan := earDrops(t, o, dog)
	cloth := session.Armed{Site: "left ear", Tool: "a cloth"}
	for days := range 3 {
		v, err := o.Care(ctx, dog, "")
		require.NoError(t, err)
		if days > 0 {
			require.Empty(t, v.Maps[0].Firsts)
		}
		touched(t, o, plan, cloth, work.LateKey, work.MetKey, work.MetKey, work.ExpectKey, work.MetKey, work.MetKey)
	}
	v, err := o.Care(ctx, dog, "")
	require.NoError(t, err)
	require.Len(t, v.Maps[0].Firsts, 1)
	require.Contains(t, v.Maps[0].Firsts[0], "With a cloth only the first touch of a day is wary: 3 of 3, and 0 of 15 after it.")
}

// A site that is taken out of the ladder while a session is under way: its touches stay in the record, and the map goes on without it.
func TestASiteIsTakenOutWhileItsSessionRuns(t *testing.T) {
	o := practicetest.Empty(t)
	dog, err := o.AddDog(ctx, form.Typed{"name": "Tansy"})
	require.NoError(t, err)
	plan, err := o.AddPlan(ctx, dog, form.Typed{
		"skill": "Paws", "kind": "handling", "position": "lies loose", "leg1_make": "sites", "leg1_from": "1", "leg1_to": "1",
		"leg1_items": "neck\npaw", "leg1_tools": "fingers\na cloth",
	})
	require.NoError(t, err)
	h := o.Session(t, plan, session.Choice{})
	h.Run.Arm(session.Armed{Site: "paw"})
	h.Press(work.MetKey, 1000)
	for {
		v, err := o.Plan(ctx, plan)
		require.NoError(t, err)
		at := slices.IndexFunc(v.Steps, func(s app.StepView) bool { return strings.Contains(s.Name, "paw") })
		if at < 0 {
			break
		}
		require.NoError(t, o.EditSteps(ctx, plan, form.Typed{"op": "remove", "step": v.Steps[at].ID, "version": fmt.Sprint(v.Version)}))
	}
	h.Run.Arm(session.Armed{Site: "paw"})
	h.Press(work.LateKey, 9000)
	o.End(t, h, 20000, session.Closing{})
	o.CatchUp(t)
	review, err := o.Review(ctx, h.Session)
	require.NoError(t, err)
	require.Len(t, review.Table, 2)
	for _, row := range review.Table {
		require.Contains(t, row.Step, "paw", "it was asked when it was touched")
	}
	v, err := o.Care(ctx, dog, "")
	require.NoError(t, err)
	for _, m := range v.Maps {
		for _, row := range m.Rows {
			require.NotEqual(t, "paw", row.Site)
		}
	}
	made, err := o.Pack(ctx, plan)
	require.NoError(t, err)
	require.NotEmpty(t, made.Steps)
	_, err = o.Evidence(ctx, plan, "")
	require.NoError(t, err)
}

// Whatever plan of handling or of exposure ships with the program, what is worked of it counts: also where its steps name no site.
func TestWorkOfEachTemplateByStateCounts(t *testing.T) {
	for _, one := range templates.All() {
		if !work.Of(one.Kind).ByState {
			continue
		}
		t.Run(one.Key, func(t *testing.T) {
			o := practicetest.Empty(t)
			dog, err := o.AddDog(ctx, form.Typed{"name": "Tansy"})
			require.NoError(t, err)
			v, err := o.NewPlan(ctx, dog, form.Typed{"from": one.Key})
			require.NoError(t, err)
			plan, err := o.AddPlan(ctx, dog, v.Typed)
			require.NoError(t, err)
			h := o.Session(t, plan, session.Choice{})
			if h.Run.Decoyed() {
				h.Press(work.Main, 500)
				h.Press(work.ReactsTo+work.Key(work.Reactions[0]), 900)
			}
			h.Press(work.MetKey, 30_000)
			counted := sessiontest.Trials(h)
			require.Len(t, counted, 1)
			require.True(t, counted[0].Counted(), "%+v", counted[0])
		})
	}
}
