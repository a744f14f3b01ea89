package reinforce

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"unicode/utf8"

	"patientfox/core/criteria"
)

// Strategy is how one step, or a whole plan, is paid.
type Strategy struct {
	Tier         int      `json:"tier,omitempty"`  // 1…5 for this dog, 0 not said
	Band         Band     `json:"band"`            // planned pays per minute
	Paces        int      `json:"paces,omitempty"` // walking: paces per pay, 0 not said
	Pieces       int      `json:"pieces"`          // in one pay
	Schedule     Schedule `json:"schedule,omitzero"`
	Where        string   `json:"where,omitempty"`    // where it is given, in words
	Purpose      Purpose  `json:"purpose,omitempty"`  // what the place of delivery is for
	Delivery     Delivery `json:"delivery,omitempty"` // how it is given
	Jackpot      int      `json:"jackpot,omitempty"`  // pieces one after another for a breakthrough, 0 none
	LifeReward   float64  `json:"own,omitempty"`      // share of pays that is what the dog wanted itself, 0…½
	LifeRewardIs string   `json:"own_is,omitempty"`   // what that is
	Release      bool     `json:"release,omitempty"`  // a release is paid though the hold was paid inside
	Extra        bool     `json:"extra,omitempty"`    // on top of meals; else out of them where the dog's feeding says so
}

// Purpose is what the place of delivery is for.
type Purpose string

// The purposes of placement.
const (
	ToReset Purpose = "reset"
	ToHold  Purpose = "hold"
	ToDraw  Purpose = "draw"
	ToBuild Purpose = "build"
	ToTest  Purpose = "test"
)

// Delivery is how a reward is given.
type Delivery string

// The deliveries.
const (
	ByHand  Delivery = "hand"
	Tossed  Delivery = "toss"
	Chased  Delivery = "chase"
	Tugged  Delivery = "tug"
	Let     Delivery = "release"
	OnFloor Delivery = "floor"
)

// Named is a code and what it means.
type Named struct{ Code, Label string }

// Purposes, Deliveries, Tiers, Places and Ways list what can be chosen, in the words of pages.
var (
	Purposes = []Named{
		{string(ToReset), "to reset for the next one"}, {string(ToHold), "to hold the position"}, {string(ToDraw), "to draw a posture"},
		{string(ToBuild), "to build value in the target"}, {string(ToTest), "to test whether it comes back"},
	}
	Deliveries = []Named{
		{string(ByHand), "from the hand"}, {string(OnFloor), "set down"}, {string(Tossed), "tossed"}, {string(Chased), "a chase"},
		{string(Tugged), "a tug"}, {string(Let), "released to what it wanted"},
	}
	Tiers = []Named{
		{"5", "5: the best there is"}, {"4", "4: very good"}, {"3", "3: good"}, {"2", "2: everyday"}, {"1", "1: better than nothing"},
	}
	// Places lists where one pay was given.
	Places = []Named{
		{"position", "in position"}, {"low", "low"}, {"target", "on the target"}, {"thrown", "thrown to reset"}, {"away", "away"},
	}
	Ways = []Named{
		{string(Every), "every one that is met"}, {string(Fixed), "every k-th"}, {string(Variable), "one in k, unforeseen"},
		{string(Best), "the best share, by latency"},
	}
)

// LabelOf is what a code means, "" for one that is not in the list.
func LabelOf(list []Named, code string) string {
	for _, one := range list {
		if one.Code == code {
			return one.Label
		}
	}
	return ""
}

// Bounds of a strategy.
const (
	MaxTier       = 5
	MaxLifeReward = 0.5
	maxPieces     = 20
	maxRate       = 60
	maxPaces      = 200
	maxJackpot    = 20
)

// Piece is how many pieces one pay has.
func (s Strategy) Piece() int { return max(1, s.Pieces) }

// Check lists what is wrong with a strategy, for work that may be thinned to one in most; a lifeline is what the dog's life may
// hang on: coming, stopping and leaving things.
func (s Strategy) Check(most int, lifeline bool) []criteria.Problem {
	var problems []criteria.Problem
	add := func(field, format string, args ...any) {
		problems = append(problems, criteria.Problem{Field: field, Text: fmt.Sprintf(format, args...)})
	}
	switch lo, hi := s.Band.Lo, s.Band.Hi; {
	case !(lo >= 0 && lo <= maxRate):
		add("rate_lo", "Pays per minute from 0 to %d, in figures.", maxRate)
	case !(hi >= 0 && hi <= maxRate):
		add("rate_hi", "Pays per minute from 0 to %d, in figures.", maxRate)
	case hi > 0 && hi < lo:
		add("rate_hi", "The upper end is below the lower one.")
	}
	if s.Tier < 0 || s.Tier > MaxTier {
		add("tier", "A tier is 1 to %d.", MaxTier)
	}
	if s.Pieces < 1 || s.Pieces > maxPieces {
		add("pay_pieces", "A pay has 1 to %d pieces.", maxPieces)
	}
	if s.Paces < 0 || s.Paces > maxPaces {
		add("pay_paces", "One pay per 1 to %d paces.", maxPaces)
	}
	if s.Jackpot < 0 || s.Jackpot > maxJackpot {
		add("jackpot", "A jackpot has up to %d pieces, one after another.", maxJackpot)
	}
	if !(s.LifeReward >= 0 && s.LifeReward <= MaxLifeReward) {
		add("own", "At most half of the pays, 0 to %.0f %%.", MaxLifeReward*100)
	}
	if s.LifeReward > 0 && strings.TrimSpace(s.LifeRewardIs) == "" {
		add("own_is", "Say what it is that the dog wants itself.")
	}
	problems = append(problems, s.Schedule.check(most, lifeline)...)
	if s.Purpose != "" && LabelOf(Purposes, string(s.Purpose)) == "" {
		add("purpose", "Choose one of the list.")
	}
	if s.Delivery != "" && LabelOf(Deliveries, string(s.Delivery)) == "" {
		add("delivery", "Choose one of the list.")
	}
	for field, text := range map[string]string{"where": s.Where, "own_is": s.LifeRewardIs} {
		if utf8.RuneCountInString(text) > criteria.MaxText {
			add(field, "At most %d characters.", criteria.MaxText)
		}
	}
	return problems
}

func (s Schedule) check(most int, lifeline bool) []criteria.Problem {
	bad := func(field, format string, args ...any) []criteria.Problem {
		return []criteria.Problem{{Field: field, Text: fmt.Sprintf(format, args...)}}
	}
	switch s.Way {
	case "", Every:
		return nil
	case Fixed, Variable:
		switch {
		case most == 1:
			return bad("schedule", "Handling, care and exposures are paid every time.")
		case s.K < 1 || s.K > MaxK:
			return bad("k", "One in 1 to %d.", MaxK)
		case s.K > most:
			return bad("k", "Coming, stopping and leaving things are paid at least every second time.")
		case s.Thin && !slices.Contains(Rungs, s.K):
			return bad("k", "Thinning goes by rungs: one in 1, 2, 3, 4, 5, 8 or 10.")
		}
	case Best:
		switch {
		case most == 1:
			return bad("schedule", "Handling, care and exposures are paid every time.")
		case s.Share != 0 && !(s.Share >= 0.3 && s.Share <= 1):
			return bad("share", "A share from 30 to 100 %%.")
		case lifeline && s.share() < 0.5:
			return bad("share", "Coming, stopping and leaving things are paid at least every second time.")
		}
	default:
		return bad("schedule", "Choose one of the list.")
	}
	return nil
}

// Raise is the same strategy for a step that is harder than those before: one tier better, a quarter faster,
// every one paid.
func (s Strategy) Raise() Strategy {
	if s.Tier > 0 {
		s.Tier = min(MaxTier, s.Tier+1)
	}
	s.Band = Band{Lo: raised(s.Band.Lo), Hi: raised(s.Band.Hi)}
	s.Schedule = Schedule{Way: Every}
	return s
}

func raised(rate float64) float64 { return math.Min(maxRate, math.Ceil(rate*1.25)) }

// AtLeast tells whether s is worth as much as other in value and in rate, where both say them.
func (s Strategy) AtLeast(other Strategy) bool {
	return (s.Tier >= other.Tier || s.Tier == 0) && s.Band.Lo >= other.Band.Lo
}

// Above tells whether s is worth more than other in value or in rate.
func (s Strategy) Above(other Strategy) bool { return s.Tier > other.Tier || s.Band.Lo > other.Band.Lo }

// NeedsInside tells whether the planned rate is above what holds of this cycle allow, so that they are paid
// inside. A single pay at the end of a short one would be the release under another name.
func (s Strategy) NeedsInside(c Cycle) bool {
	return c.DurationS > 0 && s.Band.Lo > c.Attainable(s.Schedule.PaidShare())+1e-9 && PaysInside(c.DurationS, s.Band.Lo) > 1
}
