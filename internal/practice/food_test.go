package practice_test

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"patientfox/core/session"
	"patientfox/core/work"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/practicetest"
	"patientfox/internal/sessiontest"
)

// reward adds one to a dog and returns its id.
func reward(t *testing.T, o *practicetest.Opened, dog string, typed form.Typed) string {
	t.Helper()
	require.NoError(t, o.SaveReward(ctx, dog, typed))
	v, err := o.Rewards(ctx, dog)
	require.NoError(t, err)
	for _, tier := range v.Tiers {
		for _, one := range tier.Rewards {
			if one.Name == typed["name"] {
				return one.ID
			}
		}
	}
	t.Fatal("not there: ", typed["name"])
	return ""
}

func TestRewardsThatCannotStand(t *testing.T) {
	o := practicetest.Empty(t)
	_, dog := o.LayOut(t, "2, 4")
	for field, typed := range map[string]form.Typed{
		"name": {"name": " ", "kind": "food"}, "kind": {"name": "x", "kind": "gold"}, "kcal": {"name": "x", "kind": "food", "kcal": "0"},
		"grams": {"name": "x", "kind": "food", "grams": "-1"}, "tier": {"name": "x", "kind": "toy", "tier": "6"},
		"contains": {"name": "x", "kind": "food", "contains": strings.Repeat("a", 200)},
	} {
		invalid(t, o.SaveReward(ctx, dog, typed), field)
	}
	invalid(t, o.SaveReward(ctx, dog, form.Typed{"name": "x", "kind": "food", "kcal": "380"}), "kcal")
	invalid(t,
		o.SaveFeeding(ctx, dog, form.Typed{"weight_kg": "400", "ideal_kg": "many", "vet_kcal": "0", "factor": "12", "part": "0.2"}),
		"weight_kg", "ideal_kg", "vet_kcal", "factor", "part")
	v, err := o.Food(ctx, dog)
	require.NoError(t, err)
	require.False(t, v.Known)
	require.Contains(t, v.Need, "No weight is known")
	invalid(t, o.AddEaten(ctx, dog, form.Typed{"eaten_kind": "", "from": "8:61", "what": ""}), "eaten_kind", "from", "what")
	invalid(t, o.AddEaten(ctx, dog, form.Typed{"eaten_kind": "other", "what": "a pie", "from": "9", "until": "8:30"}), "kcal", "until")
}

func TestAllergiesThatLeaveNoFood(t *testing.T) {
	o := practicetest.Empty(t)
	plan, dog := o.LayOut(t, "2, 4")
	id := reward(t, o, dog, form.Typed{"name": "Sprats", "kind": "food", "kcal": "2", "contains": "fish", "tier": "5"})
	shown, _, err := o.DogForm(ctx, dog)
	require.NoError(t, err)
	require.NoError(t, o.SaveFeeding(ctx, dog, form.Typed{"weight_kg": "20", "allergies": "Fish", "version": shown["version"]}))
	v, err := o.Rewards(ctx, dog)
	require.NoError(t, err)
	require.Contains(t, v.NoFood, "Nothing of this may be fed to Tansy")
	require.Equal(t, "allergic to fish", v.Tiers[0].Rewards[0].Excluded)
	require.Empty(t, v.Choosable, "nothing to test with")
	pack, err := o.Pack(ctx, plan)
	require.NoError(t, err)
	require.Empty(t, pack.Foods, "it never comes into the hand")
	require.NoError(t, o.DeleteReward(ctx, id, true))
	reward(t, o, dog, form.Typed{"name": "Raisin buns", "kind": "food", "kcal": "3"})
	v, err = o.Rewards(ctx, dog)
	require.NoError(t, err)
	require.Contains(t, v.Tiers[0].Rewards[0].Toxic, "known to harm dogs")
	require.NotEmpty(t, v.NoFood)
}

func TestTiersByTestByHandAndByDay(t *testing.T) {
	o := practicetest.Empty(t)
	plan, dog := o.LayOut(t, "2, 4")
	var ids []string
	for _, name := range []string{"Sprats", "Rind", "Kibble"} {
		ids = append(ids, reward(t, o, dog, form.Typed{"name": name, "kind": "food", "kcal": "2"}))
	}
	_, err := o.StartTest(ctx, dog, form.Typed{"in_" + ids[0]: "on"})
	invalid(t, err, "test")
	test, err := o.StartTest(ctx, dog, form.Typed{"in_" + ids[0]: "on", "in_" + ids[1]: "on", "in_" + ids[2]: "on"})
	require.NoError(t, err)
	for range 30 {
		v, err := o.Preference(ctx, test, true)
		require.NoError(t, err)
		if v.Over {
			break
		}
		took := "right"
		for _, id := range ids {
			if v.Left.ID == id {
				took = "left"
				break
			}
			if v.Right.ID == id {
				break
			}
		}
		answer := form.Typed{"ord": fmt.Sprint(v.Ord), "left": v.Left.ID, "right": v.Right.ID, "took": took}
		require.NoError(t, o.Choose(ctx, test, answer))
		require.NoError(t, o.Choose(ctx, test, answer), "the same answer twice")
		after, err := o.Preference(ctx, test, true)
		require.NoError(t, err)
		require.Equal(t, v.Ord+1, after.Ord, "counts once")
	}
	require.ErrorIs(t, o.Choose(ctx, test, form.Typed{"ord": "99", "left": ids[0], "right": "a stranger", "took": "left"}), app.ErrNotFound)
	v, err := o.Preference(ctx, test, false)
	require.NoError(t, err)
	require.Equal(t, []string{"Sprats", "Rind", "Kibble"}, []string{v.Rows[0].Name, v.Rows[1].Name, v.Rows[2].Name})
	require.Empty(t, v.Doubt)
	_, err = o.TakeTiers(ctx, test)
	require.NoError(t, err)
	foods := func() (list []string) {
		pack, err := o.Pack(ctx, plan)
		require.NoError(t, err)
		for _, f := range pack.Foods {
			list = append(list, fmt.Sprint(f.Name, f.Tier))
		}
		return list
	}
	tested := foods()
	require.Len(t, tested, 3)
	require.NotEqual(t, tested[0][len("Sprats"):], tested[2][len("Kibble"):])

	require.NoError(t, o.SetRewardToday(ctx, dog, form.Typed{"op": "not_hungry"}))
	require.NotEqual(t, tested, foods())
	require.NoError(t, o.SetRewardToday(ctx, dog, form.Typed{"reward": ids[2], "tier": "0"}))
	require.Len(t, foods(), 2, "not today")
	require.NoError(t, o.SetRewardToday(ctx, dog, form.Typed{"op": "usual"}))
	require.Equal(t, tested, foods())
	require.NoError(t, o.SetRewardToday(ctx, dog, form.Typed{"op": "not_hungry"}))
	o.Clock.Add(24 * time.Hour)
	require.Equal(t, tested, foods(), "another day")
	view, err := o.Rewards(ctx, dog)
	require.NoError(t, err)
	shown := view.Tiers[0].Rewards[0].Form
	shown["tier"] = "2"
	require.NoError(t, o.SaveReward(ctx, dog, shown))
	require.Equal(t, "Sprats2", foods()[0], "by hand wins")
	require.ErrorAs(t, o.SaveReward(ctx, dog, shown), new(*form.Conflict), "an older form")
}

func TestADaysFoodAddsUp(t *testing.T) {
	o := practicetest.Empty(t)
	plan, dog := o.LayOut(t, "2, 4, 6")
	sprats := reward(t, o, dog, form.Typed{"name": "Sprats", "kind": "food", "kcal": "2", "grams": "1", "tier": "3"})
	mat := reward(t, o, dog, form.Typed{"name": "Lick mat", "kind": "lasting", "kcal": "40"})
	shown, _, err := o.DogForm(ctx, dog)
	require.NoError(t, err)
	require.NoError(t, o.SaveFeeding(ctx, dog, form.Typed{"weight_kg": "20", "version": shown["version"]}))
	for range 2 {
		h := o.Session(t, plan, session.Choice{Pieces: "30"})
		at := sessiontest.Hold(h, 1000, 3, 2000, work.Main)
		o.End(t, h, at, session.Closing{})
	}
	require.NoError(t, o.AddEaten(ctx, dog, form.Typed{"eaten_kind": "lasting", "reward": mat, "from": "8:00", "until": "8:20"}))
	require.NoError(t, o.AddEaten(ctx, dog, form.Typed{"eaten_kind": "choice", "reward": sprats, "pieces": "5"}))
	v, err := o.Food(ctx, dog)
	require.NoError(t, err)
	require.InDelta(t, 2*3*2+40+5*2, v.Budget.Eaten, 1e-9)
	require.InDelta(t, 0.1*1.6*662.019126302, v.Budget.Allowed, 1e-6)
	require.Len(t, v.Rows, 4)
	require.Equal(t, "8:00–8:20", v.Rows[1].Time)
	require.NotEmpty(t, v.Rows[3].Session)
	require.NoError(t, o.SaveFeeding(ctx, dog, form.Typed{"weight_kg": "20", "from_meals": "on", "version": v.Form["version"]}))
	meals, err := o.Food(ctx, dog)
	require.NoError(t, err)
	require.InDelta(t, meals.Budget.Need-62, meals.Budget.Meals(), 1e-9, "all of it out of meals")
	pay, err := o.Pay(ctx, plan, "")
	require.NoError(t, err)
	pay.Form["op"], pay.Form["extra"] = "save", "on"
	require.NoError(t, o.SavePay(ctx, plan, pay.Form))
	meals, err = o.Food(ctx, dog)
	require.NoError(t, err)
	require.InDelta(t, meals.Budget.Need-50, meals.Budget.Meals(), 1e-9, "what its plan gives is on top")
	require.NoError(t, o.DeleteEaten(ctx, v.Rows[1].ID))
	v, err = o.Food(ctx, dog)
	require.NoError(t, err)
	require.InDelta(t, 22, v.Budget.Eaten, 1e-9)
	require.NoError(t, o.DeleteReward(ctx, sprats, true))
	v, err = o.Food(ctx, dog)
	require.NoError(t, err)
	require.Contains(t, v.Unknown, "6 treats", "paid with something that was put away since")
	rebuilt, err := o.Rebuild(ctx)
	require.NoError(t, err)
	require.Empty(t, rebuilt.Changed)
}

// What was counted out and is gone was eaten, whether it was logged or not: half a dinner on the mat is food of the day.
func TestWhatIsGoneWasEaten(t *testing.T) {
	o := practicetest.Empty(t)
	plan, dog := o.LayOut(t, "2, 4, 6")
	sprats := reward(t, o, dog, form.Typed{"name": "Sprats", "kind": "food", "kcal": "2", "grams": "1", "tier": "3"})
	mat := reward(t, o, dog, form.Typed{"name": "Lick mat", "kind": "lasting", "kcal": "40"})
	for left, eaten := range map[string]float64{"10": 20*2 + 40, "": 3*2 + 40, "29": 3*2 + 40} {
		h := o.Session(t, plan, session.Choice{Pieces: "30", Food: sprats})
		at := sessiontest.Hold(h, 1000, 3, 2000, work.Main)
		h.Do(at, h.Run.Take(session.Hold{Food: mat}))
		h.Press(work.PayKey, at+1000)
		o.End(t, h, at+2000, session.Closing{Left: left})
		v, err := o.Food(ctx, dog)
		require.NoError(t, err)
		require.InDelta(t, eaten, v.Budget.Eaten, 1e-9, "%q left", left)
		require.NoError(t, o.DeleteSession(ctx, h.Session, true))
	}
}

// Where pay is thinned the rung follows the record, and a new place begins again.
func TestThinningFollowsTheRecord(t *testing.T) {
	o := practicetest.Empty(t)
	plan, _ := o.LayOut(t, "2, 3, 4, 5")
	v, err := o.Pay(ctx, plan, "")
	require.NoError(t, err)
	typed := v.Form
	for field, value := range map[string]string{"op": "save", "schedule": "variable", "k": "4", "thin": "on", "rate_lo": "0", "rate_hi": "0"} {
		typed[field] = value
	}
	require.NoError(t, o.SavePay(ctx, plan, typed))
	rung := func() int {
		pack, err := o.Pack(ctx, plan)
		require.NoError(t, err)
		return pack.Rung
	}
	require.Equal(t, 1, rung())
	for want := 2; want <= 3; want++ {
		h := o.Session(t, plan, session.Choice{})
		at := sessiontest.Hold(h, 1000, 5, 6000, work.Main)
		h.Press(work.Main, at)
		o.End(t, h, at+2000, session.Closing{})
		require.Equal(t, want, rung())
	}
	v, err = o.Pay(ctx, plan, "")
	require.NoError(t, err)
	require.Contains(t, v.Says[0], "One in three by now, on the way to one in four")
	require.Len(t, v.Next, 20)
}

func TestPayThatCannotStandAndItsLints(t *testing.T) {
	o := practicetest.Empty(t)
	plan, _ := o.LayOut(t, "2, 4")
	save := func(change form.Typed) error {
		v, err := o.Pay(ctx, plan, "")
		require.NoError(t, err)
		typed := form.Typed{"op": "save"}
		for field, value := range v.Form {
			typed[field] = value
		}
		for field, value := range change {
			typed[field] = value
		}
		return o.SavePay(ctx, plan, typed)
	}
	for field, change := range map[string]form.Typed{
		"rate_lo": {"rate_lo": "fast"}, "rate_hi": {"rate_lo": "9", "rate_hi": "4"}, "k": {"schedule": "fixed", "k": "0.5"},
		"share": {"schedule": "best", "share": "12"},
		"own":   {"own": "70", "own_is": "gulls"}, "own_is": {"own": "20"}, "tier": {"tier": "gold"},
		"schedule": {"schedule": "now and then"}, "arousal": {"arousal": "silly"},
		"pay_pieces": {"pay_pieces": "many"}, "delivery": {"delivery": "by post"},
	} {
		invalid(t, save(change), field)
	}
	invalid(t, save(form.Typed{"lifeline": "on", "schedule": "variable", "k": "3"}), "k")

	// A trigger comes in and nothing is paid for it: said, and mended by one press.
	p, err := o.Plan(ctx, plan)
	require.NoError(t, err)
	edit(t, o, plan, form.Typed{
		"op": "save", "step": p.Steps[1].ID, "duration": "2", "handler": "0", "trigger": "30", "intensity": "1", "trig": "gulls",
	})
	v, err := o.Pay(ctx, plan, p.Steps[1].ID)
	require.NoError(t, err)
	require.Len(t, v.Steps[1].Lints, 1)
	require.Contains(t, v.Steps[1].Lints[0].Says, "they go up before the difficulty does")
	require.NoError(t, o.SavePay(ctx, plan, form.Typed{
		"op": "mend", "step": p.Steps[1].ID, "lint": v.Steps[1].Lints[0].Code, "version": fmt.Sprint(v.Version),
	}))
	v, err = o.Pay(ctx, plan, p.Steps[1].ID)
	require.NoError(t, err)
	require.Empty(t, v.Steps[1].Lints)
	require.True(t, v.StepOwn)
	require.NoError(t, o.SavePay(ctx, plan, form.Typed{"op": "clear", "step": p.Steps[1].ID, "version": fmt.Sprint(v.Version)}))
	v, err = o.Pay(ctx, plan, p.Steps[1].ID)
	require.NoError(t, err)
	require.False(t, v.StepOwn)
	require.ErrorAs(t, o.SavePay(ctx, plan, form.Typed{"op": "clear", "step": p.Steps[1].ID, "version": "1"}), new(*form.Conflict))
}

func TestWhatIsKnownIsOfferedThinnerPay(t *testing.T) {
	o := practicetest.Empty(t)
	plan, _ := o.LayOut(t, "2, 4")
	v, err := o.Pay(ctx, plan, "")
	require.NoError(t, err)
	require.Empty(t, v.Known)
	h := o.Session(t, plan, session.Choice{})
	at := int64(1000)
	for range 4 {
		at = sessiontest.Hold(h, at, 5, 2000, work.Main)
		h.Press(work.StayKey, at)
		at += 1000
	}
	o.End(t, h, at, session.Closing{})
	v, err = o.Pay(ctx, plan, "")
	require.NoError(t, err)
	require.Contains(t, v.Known, "20 of 20 met")
	require.NoError(t, o.SavePay(ctx, plan, form.Typed{"op": "known", "version": fmt.Sprint(v.Version)}))
	v, err = o.Pay(ctx, plan, "")
	require.NoError(t, err)
	require.Empty(t, v.Known)
	require.Contains(t, v.Says[0], "on the way to one in four")
	require.True(t, v.StepOwn)
}
