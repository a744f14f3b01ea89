package reinforce

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"patientfox/core/criteria"
)

// Stage is the time of life, or the way of living, that a dog's need of energy goes by.
type Stage string

// The stages.
const (
	Puppy    Stage = "puppy"
	Growing  Stage = "growing"
	Neutered Stage = "neutered"
	Entire   Stage = "entire"
	Gains    Stage = "gains"
	Senior   Stage = "senior"
	Working  Stage = "working"
)

// Size is how large a dog will be, which decides when it has grown up.
type Size string

// The sizes.
const (
	Small  Size = "small"
	Medium Size = "medium"
	Large  Size = "large"
	Giant  Size = "giant"
)

// Stages and Sizes list what can be chosen, in the words of pages.
var (
	Stages = []Named{
		{string(Puppy), "up to four months"}, {string(Growing), "growing"}, {string(Neutered), "adult, neutered"},
		{string(Entire), "adult, entire"},
		{string(Gains), "adult, gains easily"}, {string(Senior), "senior"}, {string(Working), "working"},
	}
	Sizes = []Named{
		{string(Small), "small: grown at 9 months"}, {string(Medium), "medium: at 12"}, {string(Large), "large: at 15"},
		{string(Giant), "very large: at 18"},
	}
)

// factors multiply resting energy; working dogs need 2 to 4 times, so that one is usually typed.
var factors = map[Stage]float64{Puppy: 3, Growing: 2, Neutered: 1.6, Entire: 1.8, Gains: 1.3, Senior: 1.4, Working: 3}

// Ages in months.
const (
	puppyMonths = 4
	monthDays   = 365.25 / 12
)

var grownMonths = map[Size]float64{Small: 9, Medium: 12, Large: 15, Giant: 18}

// Bounds of a feeding.
const (
	MinKg       = 0.3
	MaxKg       = 130
	DefaultPart = 0.10 // of the day's need that training food may be
	minFactor   = 1
	maxFactor   = 5
	maxKcal     = 10000
	maxExcluded = 20
)

// Feeding is what is known of how a dog is fed.
type Feeding struct {
	IdealKg   float64  `json:"ideal_kg,omitempty"` // kg, 0 not said
	Stage     Stage    `json:"stage,omitempty"`    // "" goes by age
	Size      Size     `json:"size,omitempty"`
	Factor    float64  `json:"factor,omitempty"`     // in place of the stage's, 0 not said
	VetKcal   float64  `json:"vet_kcal,omitempty"`   // kcal a day that a vet has named, 0 none; it wins
	Part      float64  `json:"part,omitempty"`       // share of the need that training food may be, 0 is DefaultPart
	FromMeals bool     `json:"from_meals,omitempty"` // training food is taken out of meals
	Allergies []string `json:"allergies,omitempty"`
	Never     []string `json:"never,omitempty"` // other foods that it must not have
	Diet      bool     `json:"diet,omitempty"`  // on a diet or ill: its vet decides
}

// Check lists what is wrong with a feeding.
func (f Feeding) Check() []criteria.Problem {
	var problems []criteria.Problem
	add := func(field, format string, args ...any) {
		problems = append(problems, criteria.Problem{Field: field, Text: fmt.Sprintf(format, args...)})
	}
	if f.IdealKg != 0 && !(f.IdealKg >= MinKg && f.IdealKg <= MaxKg) {
		add("ideal_kg", "A weight in kilograms from %.1f to %d, in figures.", MinKg, MaxKg)
	}
	if f.Factor != 0 && !(f.Factor >= minFactor && f.Factor <= maxFactor) {
		add("factor", "A factor from %d to %d, such as 1.6.", minFactor, maxFactor)
	}
	if f.VetKcal != 0 && !(f.VetKcal >= 20 && f.VetKcal <= maxKcal) {
		add("vet_kcal", "From 20 to %d kcal a day, in figures.", maxKcal)
	}
	if f.Part != 0 && !(f.Part > 0 && f.Part <= 1) {
		add("part", "A share from 1 to 100 %%.")
	}
	if f.Stage != "" && LabelOf(Stages, string(f.Stage)) == "" {
		add("stage", "Choose one of the list.")
	}
	if f.Size != "" && LabelOf(Sizes, string(f.Size)) == "" {
		add("size", "Choose one of the list.")
	}
	for field, list := range map[string][]string{"allergies": f.Allergies, "never": f.Never} {
		if len(list) > maxExcluded {
			add(field, "At most %d.", maxExcluded)
		}
		for _, one := range list {
			if len([]rune(one)) > criteria.MaxName {
				add(field, "Each at most %d characters.", criteria.MaxName)
			}
		}
	}
	return problems
}

// RestingKcal is the resting energy of a dog of a weight in kilograms, in kcal a day: 70·kg^0.75.
func RestingKcal(kg float64) float64 { return 70 * math.Pow(kg, 0.75) }

// Need is a dog's energy for a day and where the figure comes from.
type Need struct {
	Kcal    float64 // a day
	Resting float64 // kcal a day
	Kg      float64
	Ideal   bool // on ideal weight; else on the weight that is known
	Stage   Stage
	Factor  float64
	Vet     bool // the vet's figure
}

// NeedOf works a dog's need out: kg is its weight (0 not known), days its age (0 not known). ok is false where no
// weight and no vet's figure is known.
func (f Feeding) NeedOf(kg float64, days int) (n Need, ok bool) {
	n.Kg, n.Ideal = kg, false
	if f.IdealKg > 0 {
		n.Kg, n.Ideal = f.IdealKg, true
	}
	n.Stage = f.StageAt(days)
	if n.Factor = f.Factor; n.Factor == 0 {
		n.Factor = factors[n.Stage]
	}
	if n.Kg > 0 {
		n.Resting = RestingKcal(n.Kg)
		n.Kcal = n.Resting * n.Factor
	}
	if f.VetKcal > 0 {
		n.Kcal, n.Vet = f.VetKcal, true
	}
	return n, n.Kcal > 0
}

// StageAt is the stage that was chosen, else the one of an age in days: grown dogs count as neutered.
func (f Feeding) StageAt(days int) Stage {
	if f.Stage != "" {
		return f.Stage
	}
	grown, known := grownMonths[f.Size]
	if !known {
		grown = grownMonths[Medium]
	}
	switch months := float64(days) / monthDays; {
	case days <= 0:
		return Neutered
	case months <= puppyMonths:
		return Puppy
	case months < grown:
		return Growing
	}
	return Neutered
}

// Allowed is how many kcal of a day's need may be training food: a tenth unless said otherwise, all of it where
// it is taken out of meals.
func (f Feeding) Allowed(need float64) float64 {
	if f.FromMeals {
		return need
	}
	part := f.Part
	if part == 0 {
		part = DefaultPart
	}
	return part * need
}

// Excludes says why a food with these contents must not be given, "" where nothing speaks against it.
func (f Feeding) Excludes(name string, contains []string) string {
	has := func(what string) bool {
		what = strings.ToLower(strings.TrimSpace(what))
		if what == "" {
			return false
		}
		return strings.Contains(strings.ToLower(name), what) ||
			slices.ContainsFunc(contains, func(c string) bool { return strings.Contains(strings.ToLower(c), what) })
	}
	for _, one := range f.Allergies {
		if has(one) {
			return "allergic to " + strings.ToLower(one)
		}
	}
	for _, one := range f.Never {
		if has(one) {
			return "never gets " + strings.ToLower(one)
		}
	}
	return ""
}

// Reserve is how many pieces are kept for the finish.
const Reserve = 5

// ReserveOf is how many of so many that were counted out are kept for the finish: where they are few, a third. Otherwise a handful of six
// would be finished with from the first treat on.
func ReserveOf(counted int) int { return min(Reserve, max(0, counted)/3) }

// Demand is what a stretch of work needs in food.
type Demand struct {
	Trials  int
	Share   float64 // of them that is paid, 0…1
	Pieces  int     // in a pay
	Inside  int     // pays inside each trial
	Jackpot int     // pieces of one, beyond a pay
}

// Count is how many pieces that is, rounded up: none runs short for a rounding.
func (d Demand) Count() int {
	pays := math.Ceil(float64(d.Trials)*d.Share - 1e-9)
	return int(pays+float64(d.Trials*d.Inside))*max(1, d.Pieces) + d.Jackpot
}

// Portion is food of one kind: pieces with their weight and energy.
type Portion struct {
	Pieces int
	Grams  float64
	Kcal   float64
}

// PortionOf is the portion of a number of pieces, each of the grams and kcal given.
func PortionOf(pieces int, grams, kcal float64) Portion {
	return Portion{pieces, float64(pieces) * grams, float64(pieces) * kcal}
}

// Add puts two portions together.
func (p Portion) Add(other Portion) Portion {
	return Portion{p.Pieces + other.Pieces, p.Grams + other.Grams, p.Kcal + other.Kcal}
}

// Budget is a day's food beside what the dog needs, in kcal.
type Budget struct {
	Need, Allowed float64
	Eaten         float64 // in sessions and beside them
	Planned       float64 // in sessions still to come
	Extra         float64 // of both, what plans give on top of meals
	FromMeals     bool
}

// Left is what may still be given today, beside what is planned; below 0 it is too much.
func (b Budget) Left() float64 { return b.Allowed - b.Eaten - b.Planned }

// Meals is what is left for meals: the need without what is taken out of it.
func (b Budget) Meals() float64 {
	if !b.FromMeals {
		return b.Need
	}
	return math.Max(0, b.Need-b.Eaten-b.Planned+b.Extra)
}
