package reinforce_test

import (
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"patientfox/core/reinforce"
	"patientfox/internal/vectors"
)

func TestReferenceRestingEnergyAndPaysInside(t *testing.T) {
	seen := map[string]int{}
	for _, c := range vectors.Load(t, "decisions.json", "statistics.json") {
		switch c.Fn {
		case "resting_kcal":
			in := vectors.Read[struct{ Kg float64 }](t, c.In)
			vectors.Near(t, c, map[string]any{"kcal": reinforce.RestingKcal(in.Kg)})
		case "pays_inside":
			in := vectors.Read[struct {
				Seconds float64
				PerMin  float64 `json:"per_min"`
			}](t, c.In)
			vectors.Near(t, c, map[string]any{"n": float64(reinforce.PaysInside(in.Seconds, in.PerMin))})
		default:
			continue
		}
		seen[c.Fn]++
	}
	require.Len(t, seen, 2)
}

func TestNeedByStageAndAge(t *testing.T) {
	stage := func(f reinforce.Feeding, days int) reinforce.Stage { return f.StageAt(days) }
	require.Equal(t, reinforce.Puppy, stage(reinforce.Feeding{}, 100))
	require.Equal(t, reinforce.Growing, stage(reinforce.Feeding{}, 300))
	require.Equal(t, reinforce.Neutered, stage(reinforce.Feeding{}, 400))
	require.Equal(t, reinforce.Neutered, stage(reinforce.Feeding{Size: reinforce.Small}, 300))
	require.Equal(t, reinforce.Growing, stage(reinforce.Feeding{Size: reinforce.Giant}, 500))
	require.Equal(t, reinforce.Neutered, stage(reinforce.Feeding{}, 0), "age unknown")
	require.Equal(t, reinforce.Senior, stage(reinforce.Feeding{Stage: reinforce.Senior}, 100), "chosen wins")

	n, ok := reinforce.Feeding{IdealKg: 20, Stage: reinforce.Entire}.NeedOf(24, 0)
	require.True(t, ok)
	require.InDelta(t, 1.8*reinforce.RestingKcal(20), n.Kcal, 1e-9, "on ideal weight")
	n, _ = reinforce.Feeding{Factor: 2.5}.NeedOf(10, 900)
	require.InDelta(t, 2.5*reinforce.RestingKcal(10), n.Kcal, 1e-9)
	n, ok = reinforce.Feeding{VetKcal: 640}.NeedOf(0, 0)
	require.True(t, ok)
	require.True(t, n.Vet)
	require.InDelta(t, 640, n.Kcal, 1e-9, "a vet's figure wins, without a weight too")
	_, ok = reinforce.Feeding{}.NeedOf(0, 500)
	require.False(t, ok, "no weight")
	require.InDelta(t, 80, reinforce.Feeding{}.Allowed(800), 1e-9)
	require.InDelta(t, 800, reinforce.Feeding{FromMeals: true}.Allowed(800), 1e-9)
}

func TestPiecesCoverTheWork(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		d := reinforce.Demand{
			Trials: rapid.IntRange(0, 80).Draw(t, "trials"), Share: rapid.Float64Range(0, 1).Draw(t, "share"),
			Pieces: rapid.IntRange(1, 5).Draw(t, "pieces"), Inside: rapid.IntRange(0, 6).Draw(t, "inside"),
		}
		n := d.Count()
		require.GreaterOrEqual(t, float64(n), (float64(d.Trials)*d.Share+float64(d.Trials*d.Inside))*float64(d.Pieces)-1e-6)
		d.Trials++
		require.GreaterOrEqual(t, d.Count(), n, "more work never needs less")
	})
}

func TestABudgetAddsUpOverSessions(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var whole reinforce.Portion
		pieces, grams, kcal := 0, rapid.Float64Range(0.2, 5).Draw(t, "grams"), rapid.Float64Range(0, 20).Draw(t, "kcal")
		for range rapid.IntRange(0, 12).Draw(t, "sessions") {
			n := rapid.IntRange(0, 120).Draw(t, "pieces")
			pieces += n
			whole = whole.Add(reinforce.PortionOf(n, grams, kcal))
		}
		require.Equal(t, pieces, whole.Pieces)
		require.InDelta(t, float64(pieces)*kcal, whole.Kcal, 1e-6)
		require.InDelta(t, float64(pieces)*grams, whole.Grams, 1e-6)
		b := reinforce.Budget{Need: 900, Allowed: 90, Eaten: whole.Kcal}
		require.InDelta(t, b.Allowed, b.Left()+b.Eaten+b.Planned, 1e-6)
		require.InDelta(t, b.Need, b.Meals(), 1e-9, "on top of meals")
		b.FromMeals, b.Allowed = true, b.Need
		require.InDelta(t, max(0, b.Need-b.Eaten), b.Meals(), 1e-6)
		b.Extra = b.Eaten
		require.InDelta(t, b.Need, b.Meals(), 1e-6, "all of it on top")
	})
}

func TestWhatADogMustNotHave(t *testing.T) {
	f := reinforce.Feeding{Allergies: []string{"Chicken"}, Never: []string{"raw fish"}}
	require.Equal(t, "allergic to chicken", f.Excludes("Dry cubes", []string{"rice", "chicken meal"}))
	require.Equal(t, "allergic to chicken", f.Excludes("chicken heart", nil))
	require.Equal(t, "never gets raw fish", f.Excludes("sprat", []string{"Raw fish"}))
	require.Empty(t, f.Excludes("cheese", []string{"milk"}))
	bad := reinforce.Feeding{IdealKg: 400, Factor: 9, VetKcal: 3, Part: 2, Stage: "odd", Size: "tiny"}
	fields := map[string]bool{}
	for _, p := range bad.Check() {
		fields[p.Field] = true
	}
	require.Len(t, fields, 6)
	require.Empty(t, f.Check())
}

func TestWhatGoesIntoTheHand(t *testing.T) {
	sprat := reinforce.Reward{ID: "sprat", Kind: reinforce.Food, Tier: 5}
	cube := reinforce.Reward{ID: "cube", Kind: reinforce.Food, Tier: 3, NotAt: []string{"quay"}}
	dry := reinforce.Reward{ID: "dry", Kind: reinforce.Food, Tier: 2}
	odd := reinforce.Reward{ID: "odd", Kind: reinforce.Food}
	rope := reinforce.Reward{ID: "rope", Kind: reinforce.Toy, Tier: 5}
	all := []reinforce.Reward{dry, odd, rope, sprat, cube}
	ids := func(list []reinforce.Reward) (out []string) {
		for _, r := range list {
			out = append(out, r.ID)
		}
		return out
	}
	require.Equal(t, []string{"cube", "sprat", "dry", "odd"}, ids(reinforce.InHand(all, 3, "", nil)))
	require.Equal(t, []string{"sprat", "dry", "odd"}, ids(reinforce.InHand(all, 3, "quay", nil)))
	require.Equal(t, []string{"sprat", "cube", "dry", "odd"}, ids(reinforce.InHand(all, 0, "", nil)), "no tier asked: the best")
	require.Empty(t, reinforce.InHand(all, 3, "", []reinforce.Ban{reinforce.NoFood}))
	require.Len(t, reinforce.InHand(all, 3, "", []reinforce.Ban{reinforce.NoThrown}), 4)
	require.Contains(t, reinforce.Otherwise(reinforce.Tossed, []reinforce.Ban{reinforce.NoThrown}), "from the hand")
	require.Contains(t, reinforce.Otherwise(reinforce.Tugged, []reinforce.Ban{reinforce.NoToys}), "No toys there")
	require.Empty(t, reinforce.Otherwise(reinforce.ByHand, []reinforce.Ban{reinforce.NoThrown, reinforce.NoToys}))
	require.Equal(t, "no toys there", rope.Barred("quay", []reinforce.Ban{reinforce.NoToys}))
	sprat.Off = true
	require.Equal(t, "not today", sprat.Barred("", nil))
	sprat.Excluded = "allergic to fish"
	require.Equal(t, "allergic to fish", sprat.Barred("", nil))
}
