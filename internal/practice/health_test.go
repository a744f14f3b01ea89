package practice_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/require"

	corecare "patientfox/core/care"
	"patientfox/internal/app/form"
	"patientfox/internal/app/health"
	"patientfox/internal/practicetest"
)

// What is known of a dog's health stands where it matters: before its sessions, at its sites, on the card for the vet, and in its food.
func TestWhatIsKnownOfItsHealthStandsWhereItMatters(t *testing.T) {
	o := practicetest.Empty(t)
	dog, err := o.AddDog(ctx, form.Typed{"name": "Brine, “Bo”; 🐕", "weight_kg": "11"})
	require.NoError(t, err)
	plan, err := o.AddPlan(ctx, dog, form.Typed{
		"skill": "Paws", "kind": "handling", "position": "lies loose", "leg1_make": "sites", "leg1_from": "1", "leg1_to": "2",
		"leg1_items": "neck\npaw", "leg1_tools": "fingers\na cloth",
	})
	require.NoError(t, err)
	today := practicetest.Now.Format("2006-01-02")
	wrong := func(field string, typed form.Typed) {
		var invalid *form.Invalid
		require.ErrorAs(t, o.SaveHealth(ctx, dog, typed), &invalid, "%v", typed)
		require.Contains(t, invalid.Problems, field)
	}
	wrong("kg", form.Typed{"kind": "weight"})
	wrong("kg", form.Typed{"kind": "weight", "kg": "four"})
	wrong("day", form.Typed{"kind": "weight", "kg": "11", "day": "2031-01-01"})
	wrong("what", form.Typed{"kind": "sore"})
	wrong("said", form.Typed{"kind": "medicine", "what": "drops"})
	wrong("over", form.Typed{"kind": "medicine", "what": "drops", "said": "the vet", "over": "1999-01-01"})
	wrong("said", form.Typed{"kind": "seen"})
	v, err := o.Health(ctx, dog)
	require.NoError(t, err)
	require.Len(t, v.Log, 1, "the weight with which it came")
	require.Equal(t, []string{"neck", "paw"}, v.Sites)

	require.NoError(t, o.SaveHealth(ctx, dog, form.Typed{"kind": "sore", "what": "paw", "said": "a shell, “deep”"}))
	given := form.Typed{"kind": "medicine", "what": "drops", "said": "the vet: six days", "over": "2099-01-01"}
	require.NoError(t, o.SaveHealth(ctx, dog, given))
	carried, err := o.Pack(ctx, plan)
	require.NoError(t, err)
	require.Equal(t, corecare.Sore, carried.Care.Marks["paw"])
	require.Contains(t, carried.Cautions[0], "is sore: paw.")
	card, err := o.CareCard(ctx, dog, false)
	require.NoError(t, err)
	require.Len(t, card.Known, 2)
	owner, err := o.CareCard(ctx, dog, true)
	require.NoError(t, err)
	require.Empty(t, owner.Known, "it is private")
	shown, err := o.Dog(ctx, dog)
	require.NoError(t, err)
	require.NotEmpty(t, shown.Sore)

	v, err = o.Health(ctx, dog)
	require.NoError(t, err)
	require.Len(t, v.Now, 2)
	for _, row := range v.Now {
		require.ErrorAs(t, o.EndHealth(ctx, dog, row.ID, form.Typed{"over": "1999-01-01"}), new(*form.Invalid))
		require.NoError(t, o.EndHealth(ctx, dog, row.ID, form.Typed{"over": today}))
	}
	carried, err = o.Pack(ctx, plan)
	require.NoError(t, err)
	require.Empty(t, carried.Care.Marks)
	sore := v.Now[slices.IndexFunc(v.Now, func(one health.Row) bool { return one.What == "paw" })].ID
	require.NoError(t, o.EndHealth(ctx, dog, sore, form.Typed{"back": "1"}))
	require.NoError(t, o.PutHealthAway(ctx, dog, sore, true))
	again, err := o.Health(ctx, dog)
	require.NoError(t, err)
	require.Len(t, again.Now, 1, "a medicine is given on its last day still")
}

// The latest weight is the dog's own, wherever it was written down.
func TestTheLatestWeightIsTheDogs(t *testing.T) {
	o := practicetest.Empty(t)
	dog, err := o.AddDog(ctx, form.Typed{"name": "Brine"})
	require.NoError(t, err)
	require.NoError(t, o.SaveHealth(ctx, dog, form.Typed{"kind": "weight", "kg": "11.4"}))
	typed, _, err := o.DogForm(ctx, dog)
	require.NoError(t, err)
	require.Equal(t, "11.4", typed["weight_kg"])
	before := practicetest.Now.AddDate(0, -1, 0).Format("2006-01-02")
	require.NoError(t, o.SaveHealth(ctx, dog, form.Typed{"kind": "weight", "kg": "9.8", "day": before}))
	typed, _, err = o.DogForm(ctx, dog)
	require.NoError(t, err)
	require.Equal(t, "11.4", typed["weight_kg"], "an older one changes nothing")
	typed["weight_kg"] = "11.9"
	require.NoError(t, o.SaveDog(ctx, dog, typed))
	v, err := o.Health(ctx, dog)
	require.NoError(t, err)
	require.Len(t, v.Weights, 3)
	require.Equal(t, 11.9, v.Weights[2].Kg)

	require.NoError(t, o.SaveHealth(ctx, dog, form.Typed{"kind": "weight", "kg": "114"}))
	v, err = o.Health(ctx, dog)
	require.NoError(t, err)
	wrong := v.Log[slices.IndexFunc(v.Log, func(one health.Row) bool { return one.What == "114 kg" })].ID
	require.NoError(t, o.PutHealthAway(ctx, dog, wrong, true))
	typed, _, err = o.DogForm(ctx, dog)
	require.NoError(t, err)
	require.Equal(t, "11.9", typed["weight_kg"], "a slip of the pen is not what it weighs")

	contacts := form.Typed{"vet": "the harbour vet", "photos": "yes", "version": "0"}
	require.ErrorAs(t, o.SaveContacts(ctx, dog, contacts), new(*form.Invalid), "who agreed?")
	contacts["agreed"] = "the mate, in May"
	require.NoError(t, o.SaveContacts(ctx, dog, contacts))
	require.ErrorAs(t, o.SaveContacts(ctx, dog, contacts), new(*form.Conflict), "somebody wrote them meanwhile")
	contacts["version"] = "1"
	require.NoError(t, o.SaveContacts(ctx, dog, contacts))
}
