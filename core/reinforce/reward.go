package reinforce

import (
	"cmp"
	"slices"
)

// RewardKind is what a reward is.
type RewardKind string

// The kinds of reward.
const (
	Food    RewardKind = "food"
	Lasting RewardKind = "lasting" // a stuffed toy, a lick mat: it has a start, an end and its energy
	Toy     RewardKind = "toy"
	Play    RewardKind = "play"
	Praise  RewardKind = "praise"
	Freedom RewardKind = "freedom"
	Wanted  RewardKind = "wanted" // the thing it wanted
)

// RewardKinds lists them in the words of pages.
var RewardKinds = []Named{
	{string(Food), "food in pieces"}, {string(Lasting), "food that lasts: a stuffed toy, a lick mat"}, {string(Toy), "a toy"},
	{string(Play), "play with you"},
	{string(Praise), "praise, touch"}, {string(Freedom), "freedom: off to sniff or run"}, {string(Wanted), "the thing it wanted"},
}

// Short names a kind of reward that takes its time in a word or two; "" for the others.
func (k RewardKind) Short() string {
	return map[RewardKind]string{Lasting: "food that lasts", Toy: "toy", Play: "play", Freedom: "release", Wanted: "life reward"}[k]
}

// Ban is what is not used at a place.
type Ban string

// The bans.
const (
	NoFood   Ban = "no_food"
	NoThrown Ban = "no_thrown"
	NoToys   Ban = "no_toys"
)

// Bans lists them in the words of pages.
var Bans = []Named{{string(NoThrown), "no thrown food"}, {string(NoToys), "no toys"}, {string(NoFood), "no food"}}

// Reward is one thing a dog works for.
type Reward struct {
	ID       string
	Name     string
	Kind     RewardKind
	Grams    float64  // of a piece
	Kcal     float64  // of a piece, or of a filling
	NotAt    []string // places where it is not used
	Tier     int      // today: 1…5, 0 not known
	Off      bool     // not used today
	Excluded string   // why the dog must not have it, "" where it may
}

// Eaten tells whether the reward is food.
func (r Reward) Eaten() bool { return r.Kind == Food || r.Kind == Lasting }

// Barred says why a reward is not used at a place with these bans, "" where it may be.
func (r Reward) Barred(place string, bans []Ban) string {
	switch {
	case r.Excluded != "":
		return r.Excluded
	case r.Off:
		return "not today"
	case place != "" && slices.Contains(r.NotAt, place):
		return "not used there"
	case r.Eaten() && slices.Contains(bans, NoFood):
		return "no food there"
	case r.Kind == Toy && slices.Contains(bans, NoToys):
		return "no toys there"
	}
	return ""
}

// Otherwise says how to deliver at a place whose bans rule a delivery out, "" where they do not.
func Otherwise(delivery Delivery, bans []Ban) string {
	switch {
	case delivery == Tossed && slices.Contains(bans, NoThrown):
		return "Nothing is thrown there: set it down, or give it from the hand."
	case (delivery == Chased || delivery == Tugged) && slices.Contains(bans, NoToys):
		return "No toys there: pay with food, or with freedom."
	}
	return ""
}

// Usual are the rewards that every dog can be paid with and nobody has to name: they take time, and no food.
var Usual = []Reward{
	{ID: "play", Name: "play with you", Kind: Play}, {ID: "tug", Name: "a tug", Kind: Toy}, {ID: "chase", Name: "a chase", Kind: Play},
	{ID: "release", Name: "off to sniff or run", Kind: Freedom},
}

// Beside are the rewards that are no food in pieces and can be paid with at a place: a dog's own, then the usual ones.
func Beside(rewards []Reward, place string, bans []Ban) []Reward {
	var list []Reward
	for _, r := range slices.Concat(rewards, Usual) {
		if r.Kind != Food && r.Kind != Praise && r.Barred(place, bans) == "" {
			list = append(list, r)
		}
	}
	return list
}

// ValueInHand is the value, 1…5, of what would be in the hand at a tier in a place: the tier itself where no reward's value is known; 0
// where neither is.
func ValueInHand(rewards []Reward, tier int, place string, bans []Ban) int {
	if list := InHand(rewards, tier, place, bans); len(list) > 0 && list[0].Tier > 0 {
		return list[0].Tier
	}
	return tier
}

// InHand orders the rewards that can be paid with piece by piece at a tier: first what is worth just that, then
// what is worth more, then less; best known first. Those that are barred are left out.
func InHand(rewards []Reward, tier int, place string, bans []Ban) []Reward {
	var list []Reward
	for _, r := range rewards {
		if r.Kind == Food && r.Barred(place, bans) == "" {
			list = append(list, r)
		}
	}
	far := func(r Reward) int {
		switch d := r.Tier - tier; {
		case tier == 0:
			return -r.Tier
		case r.Tier == 0:
			return 100
		case d >= 0:
			return d
		default:
			return 10 - d
		}
	}
	slices.SortStableFunc(list, func(a, b Reward) int { return cmp.Compare(far(a), far(b)) })
	return list
}
