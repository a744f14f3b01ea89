package app

import (
	"context"
	"encoding/json"
	"slices"

	"patientfox/core/caution"
	"patientfox/core/reinforce"
	"patientfox/internal/store"
)

// DaysFood is what several dogs eat over some days: in sessions, beside them, and in sessions still to come.
type DaysFood struct {
	Ate     []store.Ate
	Rewards larder
}

// LoadFood loads what dogs were paid with and ate beside, from one day to another.
func LoadFood(ctx context.Context, q store.Q, rewards larder, dogs []string, from, to string) (f DaysFood, err error) {
	f.Rewards = rewards
	f.Ate, err = q.AteOn(ctx, dogs, from, to)
	return f, err
}

// Portion is a number of pieces of a reward, or of the food that the dog is usually paid with where it was not said;
// known is false where their energy is not.
func (f DaysFood) Portion(dog, reward string, pieces int) (p reinforce.Portion, name string, known bool) {
	r, ok := f.find(dog, reward)
	if !ok || r.Kcal <= 0 {
		return reinforce.Portion{Pieces: pieces}, r.Name, pieces == 0
	}
	return reinforce.PortionOf(pieces, r.Grams, r.Kcal), r.Name, true
}

// usualTierPaid is the tier that is assumed where it was not said what was paid with.
const usualTierPaid = 3

func (f DaysFood) find(dog, reward string) (reinforce.Reward, bool) {
	list := f.Rewards[dog]
	if at := slices.IndexFunc(list, func(r reinforce.Reward) bool { return r.ID == reward }); at >= 0 {
		return list[at], true
	}
	if hand := reinforce.InHand(list, usualTierPaid, "", nil); len(hand) > 0 {
		return hand[0], true
	}
	return reinforce.Reward{}, false
}

// Kcal adds up a dog's day: what was eaten, how much of that on top of meals, and pieces whose energy is not known.
func (f DaysFood) Kcal(dog, day string) (kcal, extra float64, unknown int) {
	for _, one := range f.Ate {
		switch {
		case one.Dog != dog || one.Day != day:
		case one.Session == "":
			kcal += one.Kcal
		default:
			p, _, known := f.Portion(dog, one.Reward, one.Pieces)
			if kcal += p.Kcal; one.Extra {
				extra += p.Kcal
			}
			if !known {
				unknown += one.Pieces
			}
		}
	}
	return kcal, extra, unknown
}

// Weighed keeps a dog's weight (kg) of a day where that is another than before.
func (p *Practice) Weighed(ctx context.Context, q store.Q, dog, day string, was, now *float64) error {
	if now == nil || was != nil && *was == *now {
		return nil
	}
	return q.AddHealth(ctx, store.Health{ID: NewID(), Dog: dog, Kind: store.HealthWeight, Day: day, Kg: now, Made: p.Ms()})
}

// NeedOf is a dog's need of energy on a day; ok is false while no weight is known.
func NeedOf(d store.Dog, today string) (n reinforce.Need, f reinforce.Feeding, ok bool, err error) {
	if f, err = FeedingOf(d); err != nil {
		return n, f, false, err
	}
	kg, days := 0.0, 0
	if d.WeightKg != nil {
		kg = *d.WeightKg
	}
	if d.Born != "" {
		days = DaysBetween(d.Born, today)
	}
	n, ok = f.NeedOf(kg, days)
	return n, f, ok, nil
}

// larder is what the dogs asked for work for.
type larder map[string][]reinforce.Reward

// LoadLarder lists what several dogs work for on a day: one statement.
func LoadLarder(ctx context.Context, q store.Q, dogs []store.Dog, day string) (larder, error) {
	ids := make([]string, len(dogs))
	feedings := map[string]reinforce.Feeding{}
	for i, d := range dogs {
		ids[i] = d.ID
		f, err := FeedingOf(d)
		if err != nil {
			return nil, err
		}
		feedings[d.ID] = f
	}
	rows, err := q.Rewards(ctx, ids, day)
	if err != nil {
		return nil, err
	}
	all := larder{}
	for _, row := range rows {
		r, err := RewardOf(row, feedings[row.Dog])
		if err != nil {
			return nil, err
		}
		all[row.Dog] = append(all[row.Dog], r)
	}
	return all, nil
}

// RewardOf reads a reward, with what the dog must not have.
func RewardOf(row store.Reward, f reinforce.Feeding) (reinforce.Reward, error) {
	r := reinforce.Reward{
		ID: row.ID, Name: row.Name, Kind: reinforce.RewardKind(row.Kind), Grams: row.Grams, Kcal: row.Kcal, Tier: UsualTier(row),
	}
	if row.Today != nil {
		r.Tier, r.Off = *row.Today, *row.Today == 0
	}
	var contains []string
	if err := store.FromJSON(row.Contains, &contains); err != nil {
		return r, err
	}
	if r.Eaten() {
		if r.Excluded = f.Excludes(row.Name, contains); caution.Toxic(row.Name, contains) != "" {
			r.Excluded = "harms dogs"
		}
	}
	err := store.FromJSON(row.NotAt, &r.NotAt)
	return r, err
}

// UsualTier is the one set by hand, else the test's.
func UsualTier(row store.Reward) int {
	if row.Tier > 0 {
		return row.Tier
	}
	return row.Tested
}

// FeedingOf decodes how a dog is fed.
func FeedingOf(d store.Dog) (f reinforce.Feeding, err error) {
	if d.Feeding == "" {
		return f, nil
	}
	err = json.Unmarshal([]byte(d.Feeding), &f)
	return f, err
}
