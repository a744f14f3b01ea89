package app

import (
	"context"
	"patientfox/core/reinforce"
	"patientfox/internal/store"
	"slices"
)

// daysFood is what several dogs eat over some days: in sessions, beside them, and in sessions still to come.
type DaysFood struct {
	Ate     []store.Ate
	Rewards larder
}

func LoadFood(ctx context.Context, q store.Q, rewards larder, dogs []string, from, to string) (f DaysFood, err error) {
	f.Rewards = rewards
	f.Ate, err = q.AteOn(ctx, dogs, from, to)
	return f, err
}

// portion is so many pieces of a reward, or of the food that the dog is usually paid with where it was not said;
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

// kcal adds up a dog's day: what was eaten, how much of that on top of meals, and pieces whose energy is not known.
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

// needOf is a dog's need of energy on a day; ok is false while no weight is known.
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
