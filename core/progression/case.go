package progression

import (
	"math"

	"patientfox/core/criteria"
)

// Case is what a ladder is for: which dog, what work, where, in whose units. The zero value is a grown dog that is new to the skill.
type Case struct {
	Weeks     float64           // age in weeks, 0 where it is unknown
	Reached   int               // index of the reached step: a dog that is past the first step has shown that it can
	Missing   []Need            // prerequisites that are not met
	Rests     bool              // the work is to rest: age sets no limit to how long
	Least     criteria.Criteria // what every step of the work measures at least, such as 1 s
	Space     float64           // m from end to end of the place, 0 for no bound
	MaxHeight float64           // m, for a dog whose joints are to be spared; 0 for no bound
	Units     criteria.Units    // in which figures are rounded
}

// LowHeight is a height, m, that spares joints.
const LowHeight = 0.2

// seniorWeeks is the age, in weeks, from which joints are spared.
const seniorWeeks = 8 * 52

// smallKg is the weight, kg, under which a dog is so low that a usual platform is high for it.
const smallKg = 6

// HeightLimit is how high, m, a dog is asked to climb: LowHeight while it grows, from eight years on, where it is small (kg, 0 where it is
// not known) and where its joints hurt; 0 for no bound. weeks is 0 where the age is unknown.
func HeightLimit(weeks, kg float64, hurts bool) float64 {
	if hurts || weeks > 0 && (weeks < grownWeeks || weeks >= seniorWeeks) || kg > 0 && kg < smallKg {
		return LowHeight
	}
	return 0
}

// hold is the most seconds that a step may ask for.
func (c Case) hold() float64 {
	if c.Rests {
		return math.Inf(1)
	}
	limit := HoldLimit(c.Weeks)
	if math.IsInf(limit, 1) {
		return limit
	}
	return math.Floor(limit*2) / 2
}

// puppy tells whether holds and paces grow by half at most.
func (c Case) puppy() bool { return c.Weeks > 0 && c.Weeks < grownWeeks }

// grown is the hardest figure to which a puppy's may grow from one; ok is false where nothing bounds it.
func (c Case) grown(d criteria.Dimension, from float64) (most float64, ok bool) {
	grows := d.Key == criteria.Duration || (d.Key == criteria.Paces || d.Key == criteria.Reps) && from >= 2
	return from * puppyGrowth, grows && c.puppy() && from > 0
}

// limit is the hardest figure that is still a sound step from one.
func (c Case) limit(d criteria.Dimension, from float64) float64 {
	most := JumpLimit(d, from)
	if grown, puppy := c.grown(d, from); puppy {
		most = math.Min(most, grown)
		if d.Scale == criteria.Rank {
			most = math.Floor(most)
		}
	}
	return most
}

// FitCode names what a layout does otherwise than it was asked.
type FitCode string

// Why a layout starts or ends easier than it was asked.
const (
	FitAge    FitCode = "age"    // the dog is too young to hold it longer
	FitHeight FitCode = "height" // joints are to be spared
	FitSpace  FitCode = "space"  // the place is not that long
	FitLead   FitCode = "lead"   // the hold has to outlast what comes after the cue
	FitStart  FitCode = "start"  // the first step is to be easy
)

// Fit is one figure that was made easier.
type Fit struct {
	Code FitCode
	Leg  int // of the generator, from 0
	Dim  criteria.Dimension
	Goal bool    // the goal, not the start
	Was  float64 // in the dimension's unit
	Now  float64
}

// fitted is the layout with the starts and goals that its case can be asked, and what that changed.
func (l Layout) fitted() (Layout, []Fit) {
	generators := make([]Generator, len(l.Generators))
	copy(generators, l.Generators)
	l.Generators = generators
	var fits []Fit
	for i := range generators {
		g := &generators[i]
		d, ok := g.figure()
		if !ok {
			continue
		}
		ease := func(code FitCode, most float64) {
			if goal := g.goal(); (goal-most)*float64(d.Harder) > 1e-9 {
				fits = append(fits, Fit{Code: code, Leg: i, Dim: d, Goal: true, Was: goal, Now: most})
				g.cut(d, most)
			}
		}
		switch {
		case d.Key == criteria.Duration:
			ease(FitAge, l.Case.hold())
		case d.Key == criteria.Height && l.Case.MaxHeight > 0:
			ease(FitHeight, l.Case.MaxHeight)
		case d.Key == criteria.Handler && l.Case.Space > 0:
			ease(FitSpace, within(d, l.Case.Units, l.Case.Space))
		case d.Key == criteria.Trigger && l.Case.Space > 0 && g.From > l.Case.Space && g.Make != MakeFigures:
			far := within(d, l.Case.Units, l.Case.Space)
			fits = append(fits, Fit{Code: FitSpace, Leg: i, Dim: d, Was: g.From, Now: far})
			if share := far / g.From; g.To > far/2 {
				g.To = math.Max(math.Min(1, far), within(d, l.Case.Units, g.To*share))
			}
			g.From = far
		}
	}
	if hold := l.Base.Get(criteria.Duration); hold > l.Case.hold() {
		l.Base = l.Base.With(criteria.Duration, l.Case.hold())
	}
	if least := l.Case.Least.Get(criteria.Duration); least > l.Case.hold() {
		l.Case.Least = l.Case.Least.With(criteria.Duration, l.Case.hold())
	}
	fits = l.outlast(fits)
	return l, fits
}

// outlast makes the first hold longer than the pause before the distraction: something that comes three seconds after the cue meets a
// dog that still has something to keep.
func (l *Layout) outlast(fits []Fit) []Fit {
	var hold, lead *Generator
	at := 0
	for i := range l.Generators {
		switch g := &l.Generators[i]; {
		case g.Make == MakeLead:
			lead, at = g, i
		case g.Make == MakeRamp && g.What.Key == criteria.Duration:
			hold = g
		}
	}
	if lead == nil {
		return fits
	}
	enough := math.Min(math.Min(firstMost[criteria.Duration], l.Case.hold()), lead.From+1)
	longest := math.Max(l.Base.Get(criteria.Duration), l.Case.Least.Get(criteria.Duration))
	switch {
	case hold != nil:
		hold.From = math.Max(hold.From, math.Min(enough, hold.To))
		longest = hold.From
	case l.Case.Least.Has(criteria.Duration) && !l.Base.Has(criteria.Duration):
		longest = math.Max(longest, enough)
		l.Case.Least = l.Case.Least.With(criteria.Duration, longest)
	}
	if most := math.Max(0, math.Floor(longest-1)); longest > 0 && lead.From > most && lead.To <= most {
		d, _ := criteria.Find(criteria.Lead)
		fits = append(fits, Fit{Code: FitLead, Leg: at, Dim: d, Was: lead.From, Now: most})
		lead.From = most
	}
	return fits
}

// startLower makes the start of a generator easier where the first step is not easy, and tells whether it did.
func (l Layout) startLower(first criteria.Criteria) (fits []Fit, changed bool) {
	if l.Case.Reached > 0 {
		return nil, false
	}
	for _, d := range hard(first) {
		most := round(d, l.Case.Units, math.Inf(-d.Harder), firstMost[d.Key], firstMost[d.Key])
		for i := range l.Generators {
			g := &l.Generators[i]
			of, ok := g.figure()
			if !ok || of.Key != d.Key || (g.start()-most)*float64(d.Harder) <= 0 {
				continue
			}
			if d.Key == criteria.Trigger && l.Case.Space > 0 && l.Case.Space < most {
				changed = changed || !g.near
				g.near = true // there is no further off: its strength alone comes first
				continue
			}
			fits = append(fits, Fit{Code: FitStart, Leg: i, Dim: d, Was: g.start(), Now: most})
			if g.Make == MakeFigures {
				g.List = append([]float64{most}, g.List...)
			}
			g.From, changed = most, true
		}
	}
	return fits, changed
}

// figure is the dimension of a generator's figures; ok is false where it has none.
func (g Generator) figure() (d criteria.Dimension, ok bool) {
	if d, ok = g.Make.Dimension(); ok {
		return d, true
	}
	ok = (g.Make == MakeRamp || g.Make == MakeFigures) && g.What.Key != "" && !g.What.IsList()
	return g.What, ok
}

// start and goal are the first and the last figure.
func (g Generator) start() float64 {
	if g.Make == MakeFigures && len(g.List) > 0 {
		return g.List[0]
	}
	return g.From
}

func (g Generator) goal() float64 {
	if g.Make == MakeFigures && len(g.List) > 0 {
		return g.List[len(g.List)-1]
	}
	return g.To
}

// cut ends a generator at a figure that is easier than its goal.
func (g *Generator) cut(d criteria.Dimension, most float64) {
	easier := func(x float64) float64 {
		if (x-most)*float64(d.Harder) > 0 {
			return most
		}
		return x
	}
	g.From, g.To = easier(g.From), easier(g.To)
	if g.Make != MakeFigures {
		return
	}
	var list []float64
	for _, x := range g.List {
		if x = easier(x); len(list) == 0 || x != list[len(list)-1] {
			list = append(list, x)
		}
	}
	g.List = list
}
