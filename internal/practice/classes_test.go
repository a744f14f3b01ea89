package practice_test

import (
	"fmt"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"patientfox/core/trial"
	"patientfox/core/work"
	"patientfox/internal/app"
	"patientfox/internal/app/classes"
	"patientfox/internal/app/form"
	"patientfox/internal/app/schedule"
	"patientfox/internal/practicetest"
	"patientfox/internal/store"
)

// newClass begins one of a programme with so many new dogs, and answers with the dogs' ids too.
func newClass(t *testing.T, o *practicetest.Opened, key string, dogs int) (id string, ids []string) {
	t.Helper()
	typed := form.Typed{"name": "Saturday “pups” 🐟", "programme": key, "start": "2026-11-21", "at": "10:30", "minutes": "60"}
	for i := range dogs {
		dog, err := o.AddDog(ctx, form.Typed{"name": fmt.Sprintf("Pup %02d", i+1), "born": "2026-08-10"})
		require.NoError(t, err)
		ids = append(ids, dog)
		typed["dog_"+dog] = "1"
	}
	id, err := o.AddClass(ctx, typed)
	require.NoError(t, err)
	return id, ids
}

// A class of twelve dogs is laid out in one transaction of few statements, and each plan stands where it would if it were read anew.
func TestAClassIsLaidOut(t *testing.T) {
	o := practicetest.Empty(t)
	var cost store.Cost
	typed := form.Typed{"name": "Manners", "programme": "first-manners", "start": "2026-11-21", "minutes": "60"}
	for i := range 12 {
		dog, err := o.AddDog(ctx, form.Typed{"name": fmt.Sprintf("Dog %02d", i+1)})
		require.NoError(t, err)
		typed["dog_"+dog] = "1"
	}
	id, err := o.AddClass(store.Counting(ctx, &cost), typed)
	require.NoError(t, err)
	require.LessOrEqual(t, cost.Statements.Load(), int64(40))
	v, err := o.Class(ctx, id, 0)
	require.NoError(t, err)
	require.Len(t, v.Dogs, 12)
	for _, d := range v.Dogs {
		require.Len(t, d.Cells, 8)
		for _, cell := range d.Cells {
			require.Equal(t, 1, cell.At)
			require.NotEmpty(t, cell.Plan)
		}
	}
	require.NoError(t, o.Store.Write(ctx, func(q store.Q) error {
		for _, cell := range v.Dogs[0].Cells {
			before, err := q.Plan(ctx, cell.Plan)
			require.NoError(t, err)
			require.NoError(t, o.StandAll(ctx, q, cell.Plan))
			after, err := q.Plan(ctx, cell.Plan)
			require.NoError(t, err)
			require.Equal(t, before.Standing, after.Standing, before.SkillName)
		}
		return nil
	}))
	again, err := o.AddClass(ctx, typed)
	require.NoError(t, err)
	second, err := o.Class(ctx, again, 0)
	require.NoError(t, err)
	require.Equal(t, v.Dogs[0].Cells[0].Plan, second.Dogs[0].Cells[0].Plan, "a plan that it has is taken as it stands")
}

// A dog that is worked moves against the programme; a meeting that it missed, or a late start, holds its weeks back.
func TestADogStandsAgainstItsProgramme(t *testing.T) {
	o := practicetest.Empty(t)
	id, dogs := newClass(t, o, "calm-at-home", 2)
	class := func(week int) classes.View {
		t.Helper()
		v, err := o.Class(ctx, id, week)
		require.NoError(t, err)
		return v
	}
	v := class(0)
	require.Equal(t, []any{1, 6, 1, "Calm at home"}, []any{v.Week, v.Weeks, v.Now, v.Programme})
	cell := v.Dogs[0].Cells[1]
	require.Equal(t, []any{1, 2, -1, "1 to go"}, []any{cell.At, cell.Aim, cell.By, cell.Says()})
	require.Equal(t, "not begun", v.Dogs[0].Cells[5].Says())
	me, err := o.Store.Read().People(ctx)
	require.NoError(t, err)
	heldBy(t, o, cell.Plan, me[0].ID, trial.Roles{}, slices.Repeat([]work.Key{work.Main}, 5)...)
	cell = class(1).Dogs[0].Cells[1]
	require.Equal(t, []any{2, 0, "there"}, []any{cell.At, cell.By, cell.Says()})
	require.Equal(t, 1, class(1).Dogs[0].There)

	today, err := o.Today(ctx)
	require.NoError(t, err)
	require.Empty(t, today.Classes, "it met two days ago")
	require.Empty(t, today.Next, "what begins in a class is not listed beside it")
	require.True(t, today.InClass)
	require.Len(t, today.Done, 1)
	week, err := o.Week(ctx, "2026-11-21")
	require.NoError(t, err)
	require.Equal(t, "Saturday “pups” 🐟", week.Days[5].Classes[0].Name)

	held := form.Typed{"week": "2", "version": "0", "note": "Rain, “all of it” 🌧", "dog_" + dogs[0]: "1"}
	require.NoError(t, o.SaveMeeting(ctx, id, held))
	v = class(2)
	require.True(t, v.Held)
	require.Equal(t, []any{2, 1, true, 1}, []any{v.Dogs[0].Week, v.Dogs[1].Week, v.Dogs[1].Missing, v.Dogs[1].Missed})
	require.Equal(t, []int{3, 2}, []int{class(3).Dogs[0].Week, class(3).Dogs[1].Week})
	require.Len(t, slices.Concat(v.Rounds[0].Groups...), 1, "who is not there has no place")
	var conflict *form.Conflict
	require.ErrorAs(t, o.SaveMeeting(ctx, id, held), &conflict)
	require.Equal(t, "Rain, “all of it” 🌧", conflict.Now["note"])
	held["version"] = conflict.Now["version"]
	require.NoError(t, o.SaveMeeting(ctx, id, held))

	o.Clock.Add(5 * 24 * time.Hour)
	today, err = o.Today(ctx)
	require.NoError(t, err)
	require.Equal(t, []schedule.ClassRow{{ID: id, Name: "Saturday “pups” 🐟", At: "10:30", Week: 2, Dogs: 2}}, today.Classes)
	o.Clock.Add(-5 * 24 * time.Hour)
	late, err := o.AddDog(ctx, form.Typed{"name": "Late", "flags": "Bites: bit a hand"})
	require.NoError(t, err)
	o.Clock.Add(14 * 24 * time.Hour)
	require.NoError(t, o.JoinClass(ctx, id, form.Typed{"dog_" + late: "1"}))
	v = class(0)
	require.Equal(t, 3, v.Now)
	require.Equal(t, []any{"Late", 1, true}, []any{v.Dogs[0].Name, v.Dogs[0].Week, v.Dogs[0].Apart})
	require.Equal(t, []string{"Late"}, v.Rounds[0].Groups[0], "it has a station to itself")
	require.Equal(t, []bool{true, false}, []bool{v.Flagged, v.Crowded})
	require.NoError(t, o.LeaveClass(ctx, id, late))
	require.Len(t, class(0).Dogs, 2)
	require.ErrorIs(t, o.LeaveClass(ctx, id, late), app.ErrNotFound)

	require.NoError(t, o.DeleteClass(ctx, id, true))
	_, err = o.Class(ctx, id, 0)
	require.ErrorIs(t, err, app.ErrNotFound)
	require.NoError(t, o.DeleteClass(ctx, id, false))
}

func TestAClassIsRefusedWithReasons(t *testing.T) {
	o := practicetest.Empty(t)
	var invalid *form.Invalid
	_, err := o.AddClass(ctx, form.Typed{"start": "soon", "at": "late", "minutes": "5", "programme": "none"})
	require.ErrorAs(t, err, &invalid)
	for _, field := range []string{"name", "start", "at", "minutes", "programme", "dogs"} {
		require.Contains(t, invalid.Problems, field)
	}
	id, dogs := newClass(t, o, "recall", 1)
	require.ErrorAs(t, o.JoinClass(ctx, id, form.Typed{"dog_" + dogs[0]: "1"}), &invalid)
	require.ErrorAs(t, o.SaveMeeting(ctx, id, form.Typed{"week": "9"}), &invalid)
	require.Contains(t, invalid.Problems, "week")
	edit := form.Typed{"name": "Sunday", "start": "2026-11-22", "minutes": "45", "version": "1"}
	require.NoError(t, o.SaveClass(ctx, id, edit))
	var conflict *form.Conflict
	require.ErrorAs(t, o.SaveClass(ctx, id, edit), &conflict)
	list, err := o.Classes(ctx)
	require.NoError(t, err)
	require.Equal(t, []any{"Sunday", 1, 1, 6}, []any{list.Classes[0].Name, list.Classes[0].Dogs, list.Classes[0].Week, list.Classes[0].Weeks})

	other := practicetest.Empty(t)
	odd, err := other.AddDog(ctx, form.Typed{"name": "Odd"})
	require.NoError(t, err)
	dog, err := other.AddDog(ctx, form.Typed{"name": "Even"})
	require.NoError(t, err)
	other.Exactly(t, dog, form.Typed{"skill": "sit", "kind": "held", "position": "there"}, "handler", "1, 2")
	_, err = other.AddClass(ctx, form.Typed{
		"name": "x", "programme": "first-manners", "start": "2026-11-21", "minutes": "60", "dog_" + odd: "1",
	})
	require.ErrorAs(t, err, &invalid)
	require.Contains(t, invalid.Problems["programme"], "another kind of work")
	rows, err := other.Classes(ctx)
	require.NoError(t, err)
	require.Empty(t, rows.Classes, "nothing of it was kept")
}

// A programme of one's own begins as a copy; what cannot stand is said beside its row, and a class keeps what it began with.
func TestAProgrammeOfOnesOwn(t *testing.T) {
	o := practicetest.Empty(t)
	key, err := o.CopyProgramme(ctx, "recall", form.Typed{})
	require.NoError(t, err)
	v, err := o.Programme(ctx, key)
	require.NoError(t, err)
	require.True(t, v.Own)
	require.Equal(t, "charge-the-marker", v.Form["from1"])
	require.Equal(t, "4, 4, 4, 4, 4, 4", v.Form["aims1"])
	id, _ := newClass(t, o, key, 1)

	mine := form.Typed{
		"name": "Quay “walkers” 🐾", "weeks": "2", "version": v.Form["version"], "from1": "sit", "aims1": "2, 18", "from2": "sit", "aims2": "1, 2",
		"from4": "let-go", "aims4": "1, two", "from5": "stand", "aims5": "3",
	}
	var invalid *form.Invalid
	require.ErrorAs(t, o.SaveProgramme(ctx, key, mine), &invalid)
	require.Contains(t, invalid.Problems["aims4"], "“two” is no number")
	mine["aims4"] = "1, 2"
	require.ErrorAs(t, o.SaveProgramme(ctx, key, mine), &invalid)
	require.Contains(t, invalid.Problems["aims1"], "17 steps")
	require.Contains(t, invalid.Problems["aims2"], "twice")
	require.Contains(t, invalid.Problems, "aims5")
	mine["aims1"], mine["from2"], mine["aims5"] = "2, 17", "", "0, 3"
	require.NoError(t, o.SaveProgramme(ctx, key, mine))
	var conflict *form.Conflict
	require.ErrorAs(t, o.SaveProgramme(ctx, key, mine), &conflict)
	require.Equal(t, "2, 17", conflict.Now["aims1"])
	v, err = o.Programme(ctx, key)
	require.NoError(t, err)
	require.Equal(t, []any{"Quay “walkers” 🐾", 3, "", "Sit"}, []any{v.Name, len(v.Rows), v.Rows[2].Aims[0], v.Rows[0].Skill})
	class, err := o.Class(ctx, id, 1)
	require.NoError(t, err)
	require.Equal(t, []any{6, "Coming when called"}, []any{class.Weeks, class.Programme})

	require.ErrorIs(t, o.SaveProgramme(ctx, "recall", mine), app.ErrNotFound, "what ships stays as it is")
	require.NoError(t, o.DeleteProgramme(ctx, key, true))
	_, err = o.Programme(ctx, key)
	require.ErrorIs(t, err, app.ErrNotFound)
	require.NoError(t, o.DeleteProgramme(ctx, key, false))
	all, err := o.Programmes(ctx)
	require.NoError(t, err)
	require.Len(t, all, 7)
}

// Where every ladder begins no dog has come to by work.
func TestAPlanThatNobodyWorkedIsNotThere(t *testing.T) {
	o := practicetest.Empty(t)
	id, _ := newClass(t, o, "puppy-start", 1)
	v, err := o.Class(ctx, id, 1)
	require.NoError(t, err)
	cell := v.Dogs[0].Cells[slices.Index(v.Skills, "Nose to the palm")]
	require.Equal(t, []any{1, 0, "not worked yet", 0}, []any{cell.Aim, cell.By, cell.Says(), v.Dogs[0].There})
}

// What a phone needs of a meeting: its stations, and for each dog the plans that are worked there; on the day of the meeting alone.
func TestAMeetingOnAPhone(t *testing.T) {
	o := practicetest.Empty(t)
	id, dogs := newClass(t, o, "puppy-start", 3)
	v, err := o.Class(ctx, id, 0)
	require.NoError(t, err)
	require.NoError(t, o.SaveMeeting(ctx, id, form.Typed{"week": "1", "version": "0", "dog_" + dogs[0]: "1", "dog_" + dogs[2]: "1"}))
	f, err := o.Floor(ctx, id)
	require.NoError(t, err)
	require.Equal(t, 1, f.Week)
	require.Len(t, f.Stations, len(v.Stations))
	require.Len(t, f.Dogs, 3)
	for i, d := range f.Dogs {
		require.Equal(t, dogs[i], d.ID)
		require.Equal(t, i == 1, d.Missing)
		require.Empty(t, d.Session)
		require.Len(t, d.Plans, len(f.Stations))
		for at, plan := range d.Plans {
			p, err := o.Plan(ctx, plan)
			require.NoError(t, err)
			require.Equal(t, f.Stations[at].Skill, p.Skill)
		}
	}
	floors, err := o.FloorsToday(ctx) // Monday the 23rd; the class meets on Saturdays
	require.NoError(t, err)
	require.Empty(t, floors)
	o.Clock.Add(5 * 24 * time.Hour)
	floors, err = o.FloorsToday(ctx)
	require.NoError(t, err)
	require.Len(t, floors, 1)
	require.Equal(t, 2, floors[0].Week)
	require.NoError(t, o.DeleteClass(ctx, id, true))
	_, err = o.Floor(ctx, id)
	require.ErrorIs(t, err, app.ErrNotFound)
}

// A programme leaves as a file and comes back as one of the practice's own; a file that cannot stand says why.
func TestAProgrammeAsAFile(t *testing.T) {
	o := practicetest.Empty(t)
	name, body, err := o.ProgrammeFile(ctx, "recall")
	require.NoError(t, err)
	require.Equal(t, "coming-when-called.json", name)
	require.NotContains(t, string(body), "criteria", "they are the library's own")
	key, err := o.ReadProgramme(ctx, form.Typed{"key": app.NewID()}, body)
	require.NoError(t, err)
	own, err := o.Programme(ctx, key)
	require.NoError(t, err)
	shipped, err := o.Programme(ctx, "recall")
	require.NoError(t, err)
	require.True(t, own.Own)
	require.Equal(t, shipped.Rows, own.Rows)
	_, again, err := o.ProgrammeFile(ctx, key)
	require.NoError(t, err)
	require.JSONEq(t, string(body), string(again))
	for _, bad := range []string{
		"", "{", `{"format":"another","version":1}`, strings.Replace(string(body), `"version": 1`, `"version": 2`, 1),
		strings.Replace(string(body), "come-when-called", "no-such-skill", 1), strings.Replace(string(body), `"weeks": 6`, `"weeks": 5`, 1),
		strings.Replace(string(body), `"name": "Coming when called"`, `"name": " "`, 1),
	} {
		_, err := o.ReadProgramme(ctx, form.Typed{"key": app.NewID()}, []byte(bad))
		invalid(t, err, "file")
	}
	_, _, err = o.ProgrammeFile(ctx, "none")
	require.ErrorIs(t, err, app.ErrNotFound)
}
