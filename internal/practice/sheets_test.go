package practice_test

import (
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"patientfox/core/pack"
	"patientfox/core/session"
	"patientfox/core/work"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/practicetest"
	"patientfox/internal/sessiontest"
)

func TestASessionIsPlannedChangedAndWorked(t *testing.T) {
	o := practicetest.Empty(t)
	plan, dog := o.LayOut(t, "2, 4, 6")
	second, err := o.AddPlan(ctx, dog, form.Typed{
		"skill": "Touch", "kind": "cued", "position": "nose on the palm", "cue": "“touch”", "leg1_make": "figures",
		"leg1_what": "handler", "leg1_items": "0, 1, 2", "latency_s": "3",
	})
	require.NoError(t, err)
	for field, typed := range map[string]form.Typed{
		"minutes": {"minutes": "-5"}, "start": {"start": "25:00"}, "day": {"day": "tomorrow"},
	} {
		_, err := o.AddSheet(ctx, dog, typed)
		invalid(t, err, field)
	}
	idle, err := o.AddDog(ctx, form.Typed{"name": "Quill"})
	require.NoError(t, err)
	_, err = o.AddSheet(ctx, idle, form.Typed{"minutes": "15"})
	invalid(t, err, "minutes")
	require.Contains(t, problem(err, "minutes"), "no plan yet")
	_, err = o.AddSheet(ctx, dog, form.Typed{"minutes": "15", "household": "1"})
	invalid(t, err, "minutes")
	require.Contains(t, problem(err, "minutes"), "suits a household", "all of it is new")
	id, err := o.AddSheet(ctx, dog, form.Typed{"minutes": "15"})
	require.NoError(t, err)
	v, err := o.Sheet(ctx, id)
	require.NoError(t, err)
	require.Equal(t, "15:00", v.At, "the next moment that is free")
	require.Len(t, v.Blocks, 1, "one new thing: the other has not been begun either")
	require.NotEmpty(t, v.WarmMin)
	require.NotEmpty(t, v.Finish)

	save := func(change form.Typed) error {
		now, err := o.Sheet(ctx, id)
		require.NoError(t, err)
		typed := form.Typed{"op": "save"}
		for field, value := range now.Form {
			typed[field] = value
		}
		for field, value := range change {
			typed[field] = value
		}
		return o.SaveSheet(ctx, id, typed)
	}
	other := second
	if v.Blocks[0].Plan == second {
		other = plan
	}
	require.NoError(t, save(form.Typed{"op": "add", "add": other}))
	v, err = o.Sheet(ctx, id)
	require.NoError(t, err)
	require.Len(t, v.Blocks, 2)
	require.Contains(t, v.Blocks[1].Hints[0], "A second new thing")
	first := v.Blocks[0].Plan
	require.NoError(t, save(form.Typed{"op": "down:0", "sets0": "2", "exits": "the gate behind the shed"}))
	v, err = o.Sheet(ctx, id)
	require.NoError(t, err)
	require.Equal(t, first, v.Blocks[1].Plan)
	require.Equal(t, 2, v.Blocks[1].Sets, "what was typed moved along")
	require.Equal(t, "the gate behind the shed", v.Exits)
	invalid(t, save(form.Typed{"sets0": "0", "break1": "-2", "warm_min": "ninety"}), "sets0", "break1", "warm_min")
	require.NoError(t, save(form.Typed{"warm_min": "0", "finish": ""}))
	v, err = o.Sheet(ctx, id)
	require.NoError(t, err)
	require.Len(t, v.Hints, 2, "no warm-up, nothing easy at the end")
	require.NoError(t, save(form.Typed{"op": "remove:0"}))
	require.NoError(t, save(form.Typed{"op": "rebuild"}))
	require.Contains(t, problem(save(form.Typed{"op": "rebuild", "household": "1"}), "minutes"), "suits a household",
		"planned anew, it is still the household's")
	stale := form.Typed{"op": "save", "version": "1", "day": v.DayISO, "start": "16:00", "minutes": "15"}
	require.ErrorAs(t, o.SaveSheet(ctx, id, stale), new(*form.Conflict))

	// Slots of one dog, or of one pair of hands, do not overlap.
	_, err = o.AddSheet(ctx, dog, form.Typed{"minutes": "15", "start": "15:10"})
	invalid(t, err, "start")
	brine, err := o.AddDog(ctx, form.Typed{"name": "Brine"})
	require.NoError(t, err)
	_, err = o.AddPlan(ctx, brine, form.Typed{
		"skill": "Wait at the ramp", "kind": "held", "leg1_make": "figures", "leg1_what": "duration", "leg1_items": "1, 2",
	})
	require.NoError(t, err)
	_, err = o.AddSheet(ctx, brine, form.Typed{"minutes": "10", "start": "15:10"})
	invalid(t, err, "start")
	_, err = o.AddSheet(ctx, brine, form.Typed{"minutes": "10", "start": "15:10", "household": "on"})
	invalid(t, err, "minutes")
	next, err := o.AddSheet(ctx, brine, form.Typed{"minutes": "10"})
	require.NoError(t, err)
	late, err := o.Sheet(ctx, next)
	require.NoError(t, err)
	require.Equal(t, "15:25", late.At, "after the other dog")

	today, err := o.Today(ctx)
	require.NoError(t, err)
	require.Len(t, today.Slots, 2)
	require.Equal(t, id, today.Soon(today.Me))
	require.Len(t, today.Packs, 2)
	pack, err := o.SheetPack(ctx, id)
	require.NoError(t, err)
	run, err := session.Open(pack.Packs[0])
	require.NoError(t, err)
	run.Follow(pack.Sheet)
	h := &session.Hand{Run: run, Session: app.NewID(), Dev: "phone", By: "x", Handler: "x", Wall: o.Clock.Now().UnixMilli(), NewID: app.NewID}
	drafts, problem := run.Begin(session.Choice{})
	require.Nil(t, problem)
	h.Do(0, drafts)
	for range 10 { // a look, food, and four that are given and answered at once
		h.Press(work.Main, int64(1000*(len(h.Events)+1)))
	}
	h.Press(work.Main, 60000) // work here
	at := sessiontest.Hold(h, 70000, 2, 2500, work.Main)
	o.End(t, h, at, session.Closing{Left: ""})
	review, err := o.Review(ctx, h.Session)
	require.NoError(t, err)
	require.NotNil(t, review.Planned)
	require.Contains(t, review.Planned.Notes[0], "Readiness: a look, food taken, two of two cues within 3 s, work here.")
	require.Contains(t, review.Planned.Lines[0].Trials, "2 of")
	done, err := o.Sheet(ctx, id)
	require.NoError(t, err)
	require.True(t, done.Ended)
	require.Equal(t, h.Session, done.Session)
	require.NoError(t, o.DeleteSheet(ctx, next, true))
	_, err = o.SheetPack(ctx, next)
	require.ErrorIs(t, err, app.ErrNotFound)
}

func TestAWeekIsPlannedAndTakenBack(t *testing.T) {
	o := practicetest.Demo(t)
	before, err := o.Week(ctx, "")
	require.NoError(t, err)
	require.True(t, before.This)
	next := before.After
	made, n, err := o.PlanWeek(ctx, next)
	require.NoError(t, err)
	require.Positive(t, n)
	v, err := o.Week(ctx, next)
	require.NoError(t, err)
	slots, home := 0, 0
	for i, day := range v.Days {
		last := -1
		for _, s := range day.Slots {
			slots++
			if s.Household {
				home++
			} else {
				require.Less(t, i, 5, "the trainer's days")
			}
			var hour, minute int
			_, err := fmt.Sscanf(s.At, "%d:%d", &hour, &minute)
			require.NoError(t, err)
			require.GreaterOrEqual(t, hour*60+minute, last, "in the order of the day")
			last = hour*60 + minute
		}
	}
	require.Equal(t, n, slots)
	require.Positive(t, home)
	for _, d := range v.Dogs {
		require.Len(t, d.Cells, 7)
	}
	_, again, err := o.PlanWeek(ctx, next)
	require.NoError(t, err)
	require.Zero(t, again, "every dog has its sessions")
	changed := v.Days[0].Slots[0].ID
	sheet, err := o.Sheet(ctx, changed)
	require.NoError(t, err)
	shown := sheet.Form
	shown["op"] = "save"
	require.NoError(t, o.SaveSheet(ctx, changed, shown))
	taken, err := o.UnplanWeek(ctx, next, made)
	require.NoError(t, err)
	require.Equal(t, n-1, taken, "what was changed since stays")
	_, _, err = o.PlanWeek(ctx, "2020-01-01")
	require.ErrorIs(t, err, app.ErrNotFound, "in the past")
}

// A time of the day stays what it says, on either side of a change of the clocks.
func TestTheCalendarSurvivesAChangeOfTheClocks(t *testing.T) {
	o := practicetest.Empty(t)
	_, dog := o.LayOut(t, "2, 4, 6")
	v, err := o.Settings(ctx)
	require.NoError(t, err)
	require.NoError(t, o.SaveSettings(ctx, form.Typed{"name": "Quay", "zone": "Europe/Lisbon", "version": fmt.Sprint(v.Version)}))
	for _, day := range []string{"2027-03-27", "2027-03-28"} {
		_, err := o.AddSheet(ctx, dog, form.Typed{"minutes": "10", "day": day, "start": "9:00"})
		require.NoError(t, err)
	}
	zone, err := time.LoadLocation("Europe/Lisbon")
	require.NoError(t, err)
	_, events, _, err := o.Calendar(ctx, "2027-03-27")
	require.NoError(t, err)
	require.Len(t, events, 2)
	require.Equal(t, 23*time.Hour, events[1].From.Sub(events[0].From), "the night was an hour shorter")
	for _, e := range events {
		require.Equal(t, "09:00", e.From.In(zone).Format("15:04"))
		require.Equal(t, 10*time.Minute, e.To.Sub(e.From))
	}
	_, _, _, err = o.Calendar(ctx, "someday")
	require.ErrorIs(t, err, app.ErrNotFound)
}

func TestTheTrainersHours(t *testing.T) {
	o := practicetest.Empty(t)
	plan, _ := o.LayOut(t, "2, 4, 6")
	require.NotEmpty(t, plan)
	v, err := o.Settings(ctx)
	require.NoError(t, err)
	base := form.Typed{"name": "Quay", "zone": "UTC", "version": fmt.Sprint(v.Version)}
	with := func(hours string) form.Typed {
		t := form.Typed{"hours1": hours}
		for field, value := range base {
			t[field] = value
		}
		return t
	}
	for _, bad := range []string{"nine to five", "12:00-9:00", "9:00-12:00, 11:00-13:00", "9-25"} {
		invalid(t, o.SaveSettings(ctx, with(bad)), "hours1")
	}
	require.NoError(t, o.SaveSettings(ctx, with("16:00 – 18:00")))
	monday := "2026-11-30"
	_, n, err := o.PlanWeek(ctx, monday)
	require.NoError(t, err)
	require.Equal(t, 1, n, "one day with hours, one session")
	week, err := o.Week(ctx, monday)
	require.NoError(t, err)
	require.Equal(t, "16:00", week.Days[1].Slots[0].At)
}

// sheetRun works a planned session: each block a number of trials of held ms, the last one ended as closing says.
func sheetRun(t *testing.T, o *practicetest.Opened, id string, trials int, closing session.Closing) string {
	t.Helper()
	planned, err := o.SheetPack(ctx, id)
	require.NoError(t, err)
	packs := map[string]pack.Pack{}
	for _, p := range planned.Packs {
		packs[p.Plan] = p
	}
	blocks := planned.Sheet.Plan.Blocks
	run, err := session.Open(packs[blocks[0].Plan])
	require.NoError(t, err)
	run.Follow(planned.Sheet)
	h := &session.Hand{Run: run, Session: app.NewID(), Dev: "phone", By: "x", Handler: "x", Wall: o.Clock.Now().UnixMilli(), NewID: app.NewID}
	at := int64(0)
	for i, b := range blocks {
		if i > 0 {
			drafts, problem := run.Close(session.Closing{Unlogged: "0", Leave: true})
			require.Nil(t, problem)
			h.Do(at, drafts)
			require.NoError(t, run.Renew(packs[b.Plan]))
		}
		drafts, problem := run.Begin(session.Choice{})
		require.Nil(t, problem)
		h.Do(at, drafts)
		if i == 0 {
			at += 1000
			h.Press(work.HelpKey, at) // without a warm-up
		}
		at = sessiontest.Hold(h, at+1000, trials, 9000, work.Main)
	}
	o.End(t, h, at, closing)
	return h.Session
}

func TestASessionOfTwoSkillsIsReadByEach(t *testing.T) {
	o := practicetest.Empty(t)
	plan, dog := o.LayOut(t, "2, 4, 6")
	second, err := o.AddPlan(ctx, dog, form.Typed{
		"skill": "Down at the lock", "kind": "held", "position": "lies down", "leg1_make": "figures", "leg1_what": "duration",
		"leg1_items": "1, 2, 3",
	})
	require.NoError(t, err)
	for _, one := range []string{plan, second} { // neither is new any more
		h := o.Session(t, one, session.Choice{})
		o.End(t, h, sessiontest.Hold(h, 1000, 2, 9000, work.Main), session.Closing{})
	}
	o.Clock.Add(48 * time.Hour)
	id, err := o.AddSheet(ctx, dog, form.Typed{"minutes": "15"})
	require.NoError(t, err)
	v, err := o.Sheet(ctx, id)
	require.NoError(t, err)
	require.Len(t, v.Blocks, 2)
	last := v.Blocks[1].Plan
	session := sheetRun(t, o, id, 3, session.Closing{Reason: "stop"})

	for _, one := range []string{plan, second} {
		p, err := o.Plan(ctx, one)
		require.NoError(t, err)
		require.Len(t, p.Sessions, 2)
		require.Equal(t, session, p.Sessions[0].ID)
		pack, err := o.Pack(ctx, one)
		require.NoError(t, err)
		require.Equal(t, one == last, pack.Stopped, "it fell apart at the last skill, and at no other")
	}
	review, err := o.Review(ctx, session)
	require.NoError(t, err)
	require.Len(t, review.Skills, 2)
	require.Contains(t, review.NextTime, "Down at the lock, step")
	require.Len(t, review.Planned.Lines, 2)
	page, err := o.Dog(ctx, dog)
	require.NoError(t, err)
	require.Contains(t, page.Sessions[0].Skill, "and 1 more")
	food, err := o.Food(ctx, dog)
	require.NoError(t, err)
	require.Len(t, food.Rows, 1, "one session, one food")
	rebuilt, err := o.Rebuild(ctx)
	require.NoError(t, err)
	require.Empty(t, rebuilt.Changed)
}

func TestASheetFollowsItsPlansUntilAStepIsChosen(t *testing.T) {
	o := practicetest.Empty(t)
	plan, dog := o.LayOut(t, "2, 4, 6")
	id, err := o.AddSheet(ctx, dog, form.Typed{"minutes": "10", "day": "2026-11-24", "start": "9:00"})
	require.NoError(t, err)
	at := func() int {
		v, err := o.Sheet(ctx, id)
		require.NoError(t, err)
		return v.Blocks[0].StepAt
	}
	require.Equal(t, 1, at())
	h := o.Session(t, plan, session.Choice{})
	now := sessiontest.Hold(h, 1000, 5, 3000, work.Main)
	h.Press(work.Main, now)
	o.End(t, h, now+2000, session.Closing{})
	require.Equal(t, 2, at(), "one step up since it was planned")
	v, err := o.Sheet(ctx, id)
	require.NoError(t, err)
	typed := v.Form
	typed["op"], typed["step0"] = "save", v.Blocks[0].Steps[0].ID
	require.NoError(t, o.SaveSheet(ctx, id, typed))
	require.Equal(t, 3, at(), "by hand")
	pack, err := o.SheetPack(ctx, id)
	require.NoError(t, err)
	require.True(t, pack.Sheet.Plan.Blocks[0].Chosen)
	require.NoError(t, o.DeletePlan(ctx, plan, true))
	_, err = o.SheetPack(ctx, id)
	require.ErrorIs(t, err, app.ErrNotFound, "its only plan was put away")
	v, err = o.Sheet(ctx, id)
	require.NoError(t, err)
	require.True(t, v.Blocks[0].Missing)
}

func TestTodayPacksWhatIsStillToCome(t *testing.T) {
	o := practicetest.Empty(t)
	_, dog := o.LayOut(t, "2, 4, 6")
	require.NoError(t, o.SaveReward(ctx, dog, form.Typed{"name": "Rind", "kind": "food", "kcal": "2", "grams": "0.5", "tier": "3"}))
	before, err := o.Today(ctx)
	require.NoError(t, err)
	require.Len(t, before.Next, 1)
	require.False(t, before.ToCome)
	for _, start := range []string{"9:00", "16:00", "18:00"} {
		_, err := o.AddSheet(ctx, dog, form.Typed{"minutes": "10", "start": start})
		require.NoError(t, err)
	}
	v, err := o.Today(ctx)
	require.NoError(t, err)
	require.Len(t, v.Slots, 3)
	require.Empty(t, v.Next, "it has its place in a session of the day")
	require.True(t, v.ToCome)
	require.True(t, v.Slots[0].Missed, "nine is gone at three in the afternoon")
	require.Equal(t, v.Slots[1].ID, v.Soon(v.Me))
	require.Len(t, v.Packs, 1)
	require.Len(t, v.Packs[0].Rows, 1)
	all := v.Packs[0].Rows[0]
	require.Equal(t, "Rind", all.Name)
	require.Equal(t, v.Slots[0].Pieces+v.Slots[1].Pieces+v.Slots[2].Pieces, all.Pieces)
	sheetRun(t, o, v.Slots[1].ID, 2, session.Closing{})
	after, err := o.Today(ctx)
	require.NoError(t, err)
	require.True(t, after.Slots[1].Ended)
	require.Equal(t, all.Pieces-v.Slots[1].Pieces, after.Packs[0].Rows[0].Pieces)
	require.Contains(t, after.Food[0].Says, "4 kcal eaten", "two pays; no weight, and so nothing beside them")
}
