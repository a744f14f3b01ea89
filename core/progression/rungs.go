package progression

import (
	"fmt"
	"math"
	"strings"

	"patientfox/core/criteria"
)

// rungs is one generator as overlays of criteria, easiest first.
type rungs struct {
	steps []criteria.Criteria
	dim   *criteria.Dimension // where the generator is of one dimension that is measured
	fades bool                // it is of help, food, gear or a prop
	last  bool                // it fades when all else is at its goal: the line, the prop
	first bool                // it is built wholly before anything joins it
	whole bool                // it is of the behaviour itself, which is built first and never eased
	holds bool                // a measure: never out, at least at its first rung
}

// at is the rung to which a share of a generator leads: the hardest one that asks at most that share of the
// figure at index of (twice as far at a half, where less is harder). Generators without a measure go by
// their number of rungs.
func (r rungs) at(share float64, of int) int {
	if r.first {
		return of
	}
	if r.dim == nil || r.dim.Scale != criteria.Measure {
		return int(math.Floor(share * float64(of)))
	}
	goal := r.steps[of].Get(r.dim.Key)
	best := 0
	for i := 0; i <= of; i++ {
		x := r.steps[i].Get(r.dim.Key)
		if r.dim.Harder > 0 && x <= goal*share+1e-9 || r.dim.Harder < 0 && goal > 0 && x >= goal/share-1e-9 {
			best = i
		}
	}
	if r.dim.Harder < 0 && goal <= 0 {
		return int(math.Floor(share * float64(of)))
	}
	return best
}

// eased is the hardest rung, at most want, that is easier in something than rung from and harder in nothing; from itself where there is
// none. A list without an order has none: another word is something new.
func (r rungs) eased(from, want int) int {
	if r.whole {
		return from
	}
	for at := min(from-1, want); at >= 0; at-- {
		if harder, easier := criteria.Changed(r.steps[from], r.steps[at]); len(harder) == 0 && len(easier) > 0 {
			return at
		}
	}
	return from
}

// measures are the dimensions that a trial shows, and what it is of: a step never goes without what a generator of them makes.
var measures = map[criteria.Key]bool{
	criteria.Duration: true, criteria.Paces: true, criteria.Reps: true, criteria.CheckIns: true, criteria.Approx: true, criteria.Part: true,
}

func (g Generator) rungs(c Case, most int) (rungs, []criteria.Problem) {
	bad := func(field, text string) (rungs, []criteria.Problem) {
		return rungs{}, []criteria.Problem{{Field: field, Text: text}}
	}
	of := func(key criteria.Key) Generator { g.What, _ = criteria.Find(key); return g }
	switch g.Make {
	case MakeRamp:
		if g.What.Key == "" {
			return bad("what", "Choose what grows.")
		}
		if g.What.IsList() {
			return g.list(g.What, g.Items)
		}
		return g.ramp(c, most)
	case MakeCountUp:
		g = of(criteria.Paces)
		g.From, g.By, g.Times = 1, 1, false
		return g.ramp(c, most)
	case MakePause:
		g = of(criteria.HelpAfter)
		g.By = or(g.By, 1)
		return g.ramp(c, most)
	case MakeLead:
		g = of(criteria.Lead)
		g.By = or(g.By, 1)
		return g.ramp(c, most)
	case MakeApproach:
		return of(criteria.Trigger).approach(c, most)
	case MakeFade:
		if !g.What.Fades {
			return bad("what", "Choose help, food, gear or a prop: those fade.")
		}
		return g.list(g.What, g.Items)
	case MakeParts:
		return g.parts(c, most)
	case MakeSites:
		return of(criteria.Duration).sites(c, most)
	case MakeFigures:
		return g.figures(c, most)
	}
	return bad("make", "Choose how it is built.")
}

// ramp goes from a start to a goal along one dimension. A step never grows by more than is sound,
// whatever By says; without By it grows by as much as is sound, spread evenly.
func (g Generator) ramp(c Case, most int) (rungs, []criteria.Problem) {
	d := g.What
	if problems := g.checkRamp(); len(problems) > 0 {
		return rungs{}, problems
	}
	values := g.climb(c, 1, most)
	if g.By == 0 && d.Scale == criteria.Measure && len(values) > 2 && len(values) <= most {
		values = g.even(c, values)
	}
	if len(values) > most {
		return rungs{}, []criteria.Problem{{Field: "by", Text: tooMany(most)}}
	}
	return g.of(values), nil
}

// of makes a rung of each figure.
func (g Generator) of(values []float64) rungs {
	d := g.What
	r := rungs{dim: &d, steps: make([]criteria.Criteria, 0, len(values)), holds: measures[d.Key]}
	for _, x := range values {
		r.steps = append(r.steps, criteria.Criteria{}.WithDimension(d, x))
	}
	return r
}

func (g Generator) checkRamp() (problems []criteria.Problem) {
	d := g.What
	add := func(field, text string) { problems = append(problems, criteria.Problem{Field: field, Text: text}) }
	if text := d.Check(g.From); text != "" {
		add("from", text)
	}
	if text := d.Check(g.To); text != "" {
		add("to", text)
	}
	if len(problems) == 0 && (g.To-g.From)*float64(d.Harder) < 0 {
		more := "more"
		if d.Harder < 0 {
			more = "less"
		}
		add("to", fmt.Sprintf("The goal is easier than the start: for %s, %s is harder.", strings.ToLower(d.Label), more))
	}
	switch {
	case math.IsNaN(g.By) || g.By < 0 || math.IsInf(g.By, 0):
		add("by", "A step grows by more than nothing.")
	case g.Times && g.By != 0 && g.By <= 1:
		add("by", "To grow, multiply by more than 1, such as 1.5.")
	case d.Scale == criteria.Rank && !g.Times && g.By != math.Trunc(g.By):
		add("by", "A whole number.")
	}
	return problems
}

// climb walks from the start to the goal, taking a share of what is sound where By says nothing.
func (g Generator) climb(c Case, share float64, most int) []float64 {
	d, sign := g.What, float64(g.What.Harder)
	values := []float64{g.From}
	for x := g.From; x != g.To && len(values) <= most; values = append(values, x) {
		limit := c.limit(d, x)
		next := limit
		switch {
		case g.By == 0:
			next = x + share*(limit-x)
		case g.Times && sign > 0:
			next = math.Max(x*g.By, x+1e-3)
		case g.Times:
			next = math.Min(x/g.By, x-1e-3)
		default:
			next = x + sign*g.By
		}
		if past := (next - limit) * sign; past > 0 || g.By == 0 || g.Times {
			next = round(d, c.Units, x, sign*math.Min(next*sign, limit*sign), limit)
		}
		if d.Scale == criteria.Rank {
			next = sign * math.Max(math.Floor(next*sign), x*sign+1)
		}
		next = math.Round(next*1e6) / 1e6
		if (next-g.To)*sign > -1e-6 || next == x {
			next = g.To
		}
		x = next
	}
	return values
}

// even spreads the growth: the least share of what is sound that needs no more steps.
func (g Generator) even(c Case, greedy []float64) []float64 {
	best, low, high := greedy, 0.0, 1.0
	for range 24 {
		share := (low + high) / 2
		if values := g.climb(c, share, len(greedy)); len(values) <= len(greedy) && values[len(values)-1] == g.To {
			best, high = values, share
		} else {
			low = share
		}
	}
	return best
}

// grids are the figures that can be set up, in a dimension's unit, coarsest first, each with the figure from which it is used: seconds
// and metres by halves, by wholes from ten and by fives from fifty; seconds by quarters of a minute from two minutes and by halves from
// five; feet and paces by wholes; degrees by fives; all others by wholes.
func grids(d criteria.Dimension, u criteria.Units) []struct{ from, by float64 } {
	_, size := u.Of(d)
	least := 0.1
	switch {
	case d.Unit == "m" && !d.Small && u.Length != "" && u.Length != criteria.InMetres:
		least = 1
	case d.Unit == "s", d.Unit == "m":
		least = 0.5
	}
	var list []struct{ from, by float64 }
	if d.Unit == "s" {
		list = append(list, struct{ from, by float64 }{300, 30}, struct{ from, by float64 }{120, 15})
	}
	switch d.Unit {
	case "s", "m":
	case "°":
		list = append(list, struct{ from, by float64 }{0, 5})
	default: // loops, waves: by wholes
		list = append(list, struct{ from, by float64 }{0, 1})
	}
	for _, by := range []float64{5, 1, 0.5, 0.1} {
		from := 10 * by * size
		if by == least {
			from = 0
		}
		if by >= least {
			list = append(list, struct{ from, by float64 }{from, by * size})
		}
	}
	return append(list, struct{ from, by float64 }{0, 0.1 * size})
}

// round makes a figure one that a trainer can set up: on the easy side of next and never back to x, else on its hard side up to a limit.
func round(d criteria.Dimension, u criteria.Units, x, next, limit float64) float64 {
	for _, grid := range grids(d, u) {
		if math.Abs(next) < grid.from {
			continue
		}
		sign := float64(d.Harder)
		easy := sign * math.Floor(sign*next/grid.by+1e-9) * grid.by
		for _, r := range []float64{easy, easy + sign*grid.by} {
			if (r-x)*sign > 1e-9 && (r-limit)*sign < 1e-9 {
				return math.Round(r*1e6) / 1e6
			}
		}
	}
	return next
}

// SetUp is the figure nearest to one that a person would set up in their units: 30 m are 100 ft, not 98.4. What is a round figure in
// metric units stays as it is there.
func SetUp(d criteria.Dimension, u criteria.Units, x float64) float64 {
	_, size := u.Of(d)
	if d.Unit != "m" || d.Small || u.Length == "" || u.Length == criteria.InMetres {
		return x
	}
	by := size
	if math.Abs(x) >= 50*size {
		by = 5 * size
	}
	return math.Round(x/by) * by
}

// within is the greatest figure that can be set up and is no more than x.
func within(d criteria.Dimension, u criteria.Units, x float64) float64 {
	d.Harder = 1
	return round(d, u, math.Inf(-1), x, x)
}

// list climbs a list from its first word to its last.
func (g Generator) list(d criteria.Dimension, items []string) (rungs, []criteria.Problem) {
	if len(items) > 0 {
		d.Items = items
	}
	if problems := criteria.CheckItems("items", d.Items); len(problems) > 0 {
		return rungs{}, problems
	}
	whole := d.Key == criteria.Approx
	r := rungs{fades: d.Fades, last: d.Key == criteria.Gear || d.Key == criteria.Prop, first: whole, whole: whole, holds: measures[d.Key]}
	for i := range d.Items {
		r.steps = append(r.steps, criteria.Criteria{}.WithDimension(d, float64(i)))
	}
	return r, nil
}

// figures leads through the trainer's own, each harder than the one before. Where two are further apart than is sound, steps come
// between them.
func (g Generator) figures(c Case, most int) (rungs, []criteria.Problem) {
	bad := func(text string) (rungs, []criteria.Problem) {
		return rungs{}, []criteria.Problem{{Field: "items", Text: text}}
	}
	d := g.What
	switch {
	case d.Key == "" || d.IsList():
		return rungs{}, []criteria.Problem{{Field: "what", Text: "Choose what the figures are of."}}
	case len(g.List) == 0:
		return bad("Give at least one figure, easiest first: 2, 4, 6, 10.")
	case len(g.List) > most:
		return bad(fmt.Sprintf("%d steps; at most %d.", len(g.List), most))
	}
	values := g.List[:1]
	for i, x := range g.List {
		if text := d.Check(x); text != "" {
			return bad(text)
		}
		if i == 0 {
			continue
		}
		if (x-g.List[i-1])*float64(d.Harder) <= 0 {
			return bad(fmt.Sprintf("Easiest first, each harder than the one before: %s does not follow %s.", criteria.Figure(x),
				criteria.Figure(g.List[i-1])))
		}
		values = append(values[:len(values):len(values)], g.between(c, g.List[i-1], x, most)[1:]...)
	}
	if len(values) > most {
		return bad(tooMany(most))
	}
	return g.of(values), nil
}

// between are the figures from one to another, as few and as even as is sound.
func (g Generator) between(c Case, from, to float64, most int) []float64 {
	leg := Generator{What: g.What, From: from, To: to}
	values := leg.climb(c, 1, most)
	if g.What.Scale == criteria.Measure && len(values) > 2 && len(values) <= most {
		values = leg.even(c, values)
	}
	return values
}

// approach brings the trigger nearer at each strength; a stronger one starts far away again.
func (g Generator) approach(c Case, most int) (rungs, []criteria.Problem) {
	strength, _ := criteria.Find(criteria.Intensity)
	if g.Level < 1 || float64(g.Level) > strength.Max {
		return rungs{}, []criteria.Problem{{Field: "level", Text: "The strongest trigger is 1 (faint) to 5 (full)."}}
	}
	near, problems := g.ramp(c, most)
	r := rungs{}
	add := func(level int, moving float64) {
		for _, step := range near.steps {
			step = step.With(criteria.Intensity, float64(level))
			if g.Moves {
				step = step.With(criteria.Moving, moving)
			}
			step.Trig = g.Trig
			r.steps = append(r.steps, step)
		}
	}
	for level := 1; level <= g.Level && len(problems) == 0 && len(r.steps) <= most; level++ {
		add(level, 0)
	}
	if g.Moves && len(problems) == 0 {
		add(g.Level, 1)
	}
	if g.near && len(r.steps) > 0 {
		r.steps = append([]criteria.Criteria{r.steps[0].Without(criteria.Trigger)}, r.steps...)
	}
	return r, problems
}
