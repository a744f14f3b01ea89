package practice_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/criteria"
	"patientfox/core/progression"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
	tables "patientfox/internal/app/ladders"
	"patientfox/internal/practicetest"
)

// typedTable is a table as its page would post it, with what differs.
func typedTable(v tables.TableView, more form.Typed) form.Typed {
	t := form.Typed{"version": v.Typed["version"], "ids": v.Typed["ids"], "columns": v.Typed["columns"], "gone": v.Typed["gone"]}
	for _, row := range v.Rows {
		t[row.TrigName], t[row.TextName] = row.Trig, row.Text
		if row.Ticked {
			t[row.TickName] = "on"
		}
		for _, cell := range row.Cells {
			t[cell.Name] = cell.Value
		}
	}
	for field, value := range more {
		t[field] = value
	}
	return t
}

func column(v tables.TableView, key criteria.Key) (list []string) {
	for i, c := range v.Columns {
		if c.Key == string(key) {
			for _, row := range v.Rows {
				list = append(list, row.Cells[i].Value)
			}
		}
	}
	return list
}

func TestFiguresOfManyStepsAreChangedInTheTable(t *testing.T) {
	o := practicetest.Empty(t)
	plan, _ := o.LayOut(t, "2, 3, 4.5, 6.5")
	v, wrong, err := o.Table(ctx, plan, form.Typed{})
	require.NoError(t, err)
	require.Empty(t, wrong)
	require.Equal(t, []string{"2", "3", "4.5", "6.5"}, column(v, criteria.Duration))
	change := func(more form.Typed) (form.Problems, error) {
		now, wrong, err := o.Table(ctx, plan, typedTable(v, more))
		if err == nil {
			v = now
		}
		return wrong, err
	}
	wrong, err = change(form.Typed{"op": "shift", "of": "duration", "figure": "1"})
	require.NoError(t, err)
	require.NotEmpty(t, wrong["figure"], "nothing is ticked")
	for _, one := range []struct {
		op, figure string
		want       []string
	}{
		{"shift", "1", []string{"2", "4", "5.5", "6.5"}},
		{"scale", "2", []string{"2", "8", "11", "6.5"}},
		{"set", "5 s", []string{"2", "5", "5", "6.5"}},
	} {
		wrong, err = change(form.Typed{"op": one.op, "of": "duration", "figure": one.figure, "c1_chosen": "on", "c2_chosen": "on"})
		require.NoError(t, err)
		require.Empty(t, wrong)
		require.Equal(t, one.want, column(v, criteria.Duration), one.op)
		require.Equal(t, 2, v.Changed)
	}
	wrong, _ = change(form.Typed{"op": "scale", "of": "duration", "figure": "9000"})
	require.NotEmpty(t, wrong["figure"])
	wrong, _ = change(form.Typed{"op": "shift", "of": "nothing", "figure": "1"})
	require.NotEmpty(t, wrong["of"])
	_, err = change(form.Typed{"op": "fly"})
	require.ErrorIs(t, err, app.ErrNotFound)

	// A column more, an odd word, and what cannot stand is kept as it was typed.
	wrong, err = change(form.Typed{"op": "column", "more": "help"})
	require.NoError(t, err)
	require.Empty(t, wrong)
	wrong, _ = change(form.Typed{"c0_duration": "two", "c3_text": "gulls, “loud”: 🐾", "op": ""})
	require.NotEmpty(t, wrong["c0_duration"])
	require.Equal(t, "two", v.Rows[0].Cells[0].Value)
	invalid(t, o.SaveTable(ctx, plan, typedTable(v, nil)), "c0_duration")
	require.NoError(t, o.SaveTable(ctx, plan, typedTable(v, form.Typed{"c0_duration": "1.5", "c0_help": "lure"})))
	saved, err := o.Plan(ctx, plan)
	require.NoError(t, err)
	require.Equal(t, []string{
		"1.5 s, you beside, help: lure", "5 s, you beside", "5 s, you beside", "6.5 s, you beside, gulls, “loud”: 🐾",
	}, names(saved))
	for _, ids := range []string{"a b c", strings.Repeat(v.Rows[0].ID+" ", 2), strings.Repeat(v.Rows[0].ID+" ", 70)} {
		_, wrong, err = o.Table(ctx, plan, form.Typed{"ids": ids, "version": "1"})
		require.NoError(t, err)
		require.NotEmpty(t, wrong["table"], "not a table of this plan")
	}
	var late *form.Conflict
	err = o.SaveTable(ctx, plan, typedTable(v, form.Typed{"c0_duration": "1.5"}))
	require.ErrorAs(t, err, &late, "the version it was opened with is gone")
}

func TestAllOfOneFaultIsMendedWithOnePress(t *testing.T) {
	o := practicetest.Empty(t)
	plan, _ := o.LayOut(t, "2, 9, 9, 40")
	v, _, err := o.Table(ctx, plan, form.Typed{})
	require.NoError(t, err)
	var codes []string
	for _, fault := range v.Faults {
		codes = append(codes, fault.Code)
	}
	require.Equal(t, []string{"jump", "no_harder"}, codes)
	for _, code := range codes {
		v, _, err = o.Table(ctx, plan, typedTable(v, form.Typed{"op": "fix:" + code}))
		require.NoError(t, err)
		require.NotEmpty(t, v.Said)
	}
	require.Empty(t, v.Faults)
	require.NoError(t, o.SaveTable(ctx, plan, typedTable(v, nil)))
	saved, err := o.Plan(ctx, plan)
	require.NoError(t, err)
	require.Equal(t, len(v.Rows), len(saved.Steps))
	for _, step := range saved.Steps {
		require.Empty(t, step.Lints)
	}
	require.Equal(t, "2 s, you beside", saved.Steps[0].Name)
	require.Equal(t, "40 s, you beside", saved.Steps[len(saved.Steps)-1].Name)
}

func TestAPlanIsCopiedAsItFitsEachDog(t *testing.T) {
	o := practicetest.Empty(t)
	plan, _ := o.LayOut(t, "2, 4, 6, 9, 13, 19")
	pup, err := o.AddDog(ctx, form.Typed{"name": "Pilchard 🐟", "born": "2026-09-14"})
	require.NoError(t, err)
	old, err := o.AddDog(ctx, form.Typed{"name": "Quill, “the old one”", "born": "2014-01-01"})
	require.NoError(t, err)
	right, err := o.AddTrack(ctx, plan, form.Typed{"first": "left", "track": "right"})
	require.NoError(t, err)
	require.NotEmpty(t, right)
	v, err := o.Copies(ctx, plan)
	require.NoError(t, err)
	require.Len(t, v.Dogs, 2)
	_, err = o.Copy(ctx, plan, form.Typed{})
	invalid(t, err, "dogs")
	_, err = o.Copy(ctx, plan, form.Typed{"dog_" + old: "on", "start_" + old: "7"})
	invalid(t, err, "start_"+old)
	n, err := o.Copy(ctx, plan, form.Typed{"dog_" + pup: "on", "dog_" + old: "on", "start_" + old: "2"})
	require.NoError(t, err)
	require.Equal(t, 2, n)
	_, err = o.Copy(ctx, plan, form.Typed{"dog_" + pup: "on"})
	invalid(t, err, "dogs") // it has one
	for dog, want := range map[string]string{
		pup: "2 s, 3 s, 4 s, 6 s, 9 s, 10 s", old: "4 s, 6 s, 9 s, 13 s, 19 s",
	} {
		view, err := o.Dog(ctx, dog)
		require.NoError(t, err)
		require.Len(t, view.Plans, 2, "left and right")
		copied, err := o.Plan(ctx, view.Plans[0].ID)
		require.NoError(t, err)
		var seconds []string
		for _, s := range copied.Steps {
			require.Empty(t, s.Lints, "%s: %s", view.Name, s.Name)
			seconds = append(seconds, strings.TrimSuffix(s.Name, ", you beside"))
		}
		if dog == old {
			require.Equal(t, want, strings.Join(seconds, ", "))
		}
		require.Equal(t, want[strings.LastIndex(want, ",")+2:], seconds[len(seconds)-1])
	}
}

func TestSeveralPlansAtOnceAndNoneTwice(t *testing.T) {
	o := practicetest.Empty(t)
	dog, err := o.AddDog(ctx, form.Typed{"name": "Brine", "born": "2026-09-14", "food": "chicken"})
	require.NoError(t, err)
	_, err = o.AddDog(ctx, form.Typed{"name": "Tansy", "food": "rocks"})
	invalid(t, err, "food")
	rewards, err := o.Rewards(ctx, dog)
	require.NoError(t, err)
	require.False(t, rewards.None)
	first, err := o.Dog(ctx, dog)
	require.NoError(t, err)
	require.Len(t, first.First, 3, "three suggestions")
	_, err = o.AddPlans(ctx, dog, form.Typed{})
	invalid(t, err, "several")
	ticked := form.Typed{}
	for _, key := range []string{"sit", "lie-down", "stand", "watch", "nose-to-palm"} {
		ticked["from_"+key] = "on"
	}
	n, err := o.AddPlans(ctx, dog, ticked)
	require.NoError(t, err)
	require.Equal(t, 5, n)
	n, err = o.AddPlans(ctx, dog, ticked)
	require.NoError(t, err)
	require.Zero(t, n, "it has them already")
	view, err := o.Dog(ctx, dog)
	require.NoError(t, err)
	require.Len(t, view.Plans, 5)
	require.Empty(t, view.First)
	for _, row := range view.Plans {
		v, err := o.Plan(ctx, row.ID)
		require.NoError(t, err)
		for _, s := range v.Steps {
			require.Empty(t, s.Lints, "%s: %s", row.Skill, s.Name)
		}
	}
	// What cannot be laid out is named, and holds up nothing: here the practice teaches it as another kind of work.
	_, err = o.AddPlan(ctx, dog, form.Typed{
		"skill": "Come when called", "kind": "held", "position": "beside you",
		"leg1_make": "figures", "leg1_what": "duration", "leg1_items": "1\n2",
	})
	require.NoError(t, err)
	second, err := o.AddDog(ctx, form.Typed{"name": "Quill"})
	require.NoError(t, err)
	n, err = o.AddPlans(ctx, second, form.Typed{"key": "2", "from_come-when-called": "on", "from_sit": "on", "from_stand": "on"})
	invalid(t, err, "several")
	require.Equal(t, 2, n)
	again, err := o.NewPlan(ctx, dog, form.Typed{"from": "sit"})
	require.NoError(t, err)
	require.NotEmpty(t, again.There)
	_, err = o.AddPlan(ctx, dog, again.Typed)
	invalid(t, err, "twice")
	again.Typed["twice"] = "on"
	_, err = o.AddPlan(ctx, dog, again.Typed)
	require.NoError(t, err, "a second plan, when it is meant")
}

// Parts are read line by line: a name, and after a colon its own small steps where there are any.
func TestPartsOfAStimulusAreReadAsTheyAreWritten(t *testing.T) {
	o := practicetest.Empty(t)
	dog, err := o.AddDog(ctx, form.Typed{"name": "Quill"})
	require.NoError(t, err)
	eight := "its look, standing still\nthe lever: it is “stiff”\nits click: 6 m, 3 m\nthe cable\nthe motor: 12 m, 6 m; 0.5 s, 3 s\n" +
		"مرساة\n🔔 the bell: strength 1, strength 2\nsomebody bending down beside it"
	v, err := o.NewPlan(ctx, dog, form.Typed{"kind": "counter", "leg1_make": "parts", "leg1_parts": eight})
	require.NoError(t, err)
	require.NotNil(t, v.Preview, v.NotYet)
	require.Zero(t, v.Preview.Odd)
	require.Contains(t, v.Preview.Steps[0].Name, "its look, standing still, at 12 m")
	last := v.Preview.Steps[len(v.Preview.Steps)-1].Name
	require.Contains(t, last, "more, at 3 m", "eight together are named by the first of them")
	chosen, err := o.NewPlan(ctx, dog, form.Typed{
		"kind": "counter", "leg1_make": "parts", "leg1_parts": eight, "leg1_together": "the cable + 🔔 the bell",
	})
	require.NoError(t, err)
	require.Contains(t, chosen.Preview.Steps[len(chosen.Preview.Steps)-1].Name, "the cable and 🔔 the bell")
	room, err := o.NewPlan(ctx, dog, form.Typed{
		"kind": "counter", "leg1_make": "approach", "leg1_from": "40", "leg1_to": "10", "leg1_level": "2", "leg1_moves": "on",
		"leg1_trigger_is": "the winch", "space": "room",
	})
	require.NoError(t, err)
	require.Zero(t, room.Preview.Odd)
	require.NotEmpty(t, room.Preview.Fits, "it says what it does otherwise")
	require.Equal(t, "The winch, faint, still", room.Preview.Steps[0].Name)
	require.Contains(t, room.Preview.Steps[1].Name, "at 5 m")
	require.Contains(t, room.Preview.Steps[len(room.Preview.Steps)-1].Name, "moving")
}

// In feet a ladder is in whole feet, also where it was made in metres.
func TestLaddersInFeetAreInWholeFeet(t *testing.T) {
	o := practicetest.Empty(t)
	require.NoError(t, o.SaveSettings(ctx, form.Typed{"name": "Quay", "zone": "UTC", "length": "ft", "version": "1"}))
	dog, err := o.AddDog(ctx, form.Typed{"name": "Tansy"})
	require.NoError(t, err)
	v, err := o.NewPlan(ctx, dog, form.Typed{"from": "come-when-called"})
	require.NoError(t, err)
	require.Equal(t, "100", v.Typed["leg2_from"])
	for _, s := range v.Preview.Steps {
		require.NotContains(t, s.Name, ".", "%d: %s", s.Number, s.Name)
	}
}

// A ladder laid out for a pup ends where its age says, and says so.
func TestALadderIsForTheDogItIsLaidOutFor(t *testing.T) {
	o := practicetest.Empty(t)
	for born, last := range map[string]string{"2026-09-21": "9 s", "": "20 s"} {
		dog, err := o.AddDog(ctx, form.Typed{"name": "Born " + born, "born": born})
		require.NoError(t, err)
		v, err := o.NewPlan(ctx, dog, form.Typed{"from": "stay-in-place"})
		require.NoError(t, err)
		require.Zero(t, v.Preview.Odd, fmt.Sprint(born))
		require.Equal(t, born != "", len(v.Preview.Fits) > 0)
		require.Contains(t, v.Preview.Steps[len(v.Preview.Steps)-1].Name, last)
	}
	require.Equal(t, progression.LowHeight, progression.HeightLimit(570, 0, false))
	require.Zero(t, progression.HeightLimit(200, 20, false))
}

// A sore place is touched last, and never in turn with the others, however it is typed; one that is none of the ladder's is asked about,
// for it would be touched like any other.
func TestASorePlaceIsNotTouchedInTurn(t *testing.T) {
	o := practicetest.Empty(t)
	dog, err := o.AddDog(ctx, form.Typed{"name": "Brine"})
	require.NoError(t, err)
	typed := form.Typed{
		"skill": "Claws", "kind": "handling", "position": "lies loose", "leg1_make": "sites", "leg1_from": "1", "leg1_to": "2",
		"leg1_items": "left fore\nright fore\nright hind, the “old” one", "leg1_tools": "the hand\nthe clipper",
	}
	for _, sore := range []string{"right hind, the “old” one", "Right Hind, the “old” one \n"} {
		typed["leg1_sore"] = sore
		v, err := o.NewPlan(ctx, dog, typed)
		require.NoError(t, err)
		require.NotNil(t, v.Preview, v.NotYet)
		turns := 0
		for _, step := range v.Preview.Steps {
			if strings.Contains(step.Name, "by turns") {
				turns++
				require.NotContains(t, step.Name, "old")
			}
		}
		require.NotZero(t, turns)
		require.Contains(t, v.Preview.Steps[len(v.Preview.Steps)-1].Name, "old")
	}
	typed["leg1_sore"] = "right hind"
	_, err = o.AddPlan(ctx, dog, typed)
	invalid(t, err, "leg1_sore")
	typed["leg1_sore"] = "left fore, right fore"
	_, err = o.AddPlan(ctx, dog, typed)
	require.NoError(t, err)
}
