package progression

import (
	"fmt"
	"math"
	"strings"

	"patientfox/core/criteria"
)

// Make names a generator.
type Make string

// The generators of one generator.
const (
	MakeRamp     Make = "ramp"     // one dimension, from a start to a goal
	MakeCountUp  Make = "count_up" // 1, 2, 3 … n paces or repetitions
	MakeApproach Make = "approach" // for each strength from far to near; the next strength starts far again
	MakeFade     Make = "fade"     // help, food or gear, along a list
	MakePause    Make = "pause"    // help comes later and later
	MakeLead     Make = "lead"     // the distraction after, with, then before the cue
	MakeParts    Make = "parts"    // each part of a stimulus singly, then together
	MakeSites    Make = "sites"    // places on the body × tools × seconds
	MakeFigures  Make = "figures"  // figures that the trainer writes
)

// Makes lists the generators in the order in which pages show them.
var Makes = []Make{MakeRamp, MakeCountUp, MakeApproach, MakeFade, MakePause, MakeLead, MakeParts, MakeSites, MakeFigures}

// Combine names how generators are put together.
type Combine string

// The ways generators are put together.
const (
	Interleave Combine = "weave"     // each alone to a share of its goal, then pairs, then all to the goal
	InSequence Combine = "then"      // one after another, the earlier ones eased while the next is built
	Alternate  Combine = "alternate" // with help ask more, without help ask less, in turn
)

// Generator is one generator with its figures, in SI units.
type Generator struct {
	Make  Make
	What  criteria.Dimension // ramp, fade: the dimension
	From  float64            // where it starts
	To    float64            // the goal, reached exactly
	By    float64            // how much a step grows, 0 for as much as is sound
	Times bool               // By multiplies
	Level int                // approach: the strongest trigger, from 1
	Trig  string             // approach: what the trigger is
	Items []string           // fade, parts, sites: the list, easiest first
	Tools []string           // sites: the tools, mildest first
	List  []float64          // figures: one a step, easiest first
}

// Layout is a ladder to be made.
type Layout struct {
	Base       criteria.Criteria // what every step asks besides
	Generators []Generator
	Combine    Combine // how several generators are put together, Interleave where it is not said
	Share      float64 // weave: the share of the goal to which each is built alone, 0 for ⅓
	Ease       float64 // the share to which the others ease when one joins, 0 for ½
	Help       []string
}

// MaxLadder bounds a ladder, whatever is asked.
const MaxLadder = 5000

// Shares of a weave where none are given.
const (
	defaultShare = 1.0 / 3
	defaultEase  = 0.5
)

// Steps lays the ladder out: the same layout gives the same ladder. Problems name their field, those
// of a generator as "leg1_from". A ladder that would have more than most steps is a problem, not a ladder.
func (l Layout) Steps(most int) ([]criteria.Criteria, []criteria.Problem) {
	most = min(most, MaxLadder)
	var problems []criteria.Problem
	if len(l.Generators) == 0 {
		return nil, []criteria.Problem{{Field: "leg1_make", Text: "Choose what to build first."}}
	}
	if l.Share < 0 || l.Share > 1 || l.Ease < 0 || l.Ease > 1 {
		problems = append(problems, criteria.Problem{Field: "share", Text: "A share lies between 0 and 1."})
	}
	rungs := make([]rungs, len(l.Generators))
	for i, generator := range l.Generators {
		made, bad := generator.rungs(most)
		for _, p := range bad {
			problems = append(problems, criteria.Problem{Field: fmt.Sprintf("leg%d_%s", i+1, p.Field), Text: p.Text})
		}
		rungs[i] = made
	}
	if len(problems) > 0 {
		return nil, problems
	}
	b := builder{base: l.Base, generators: rungs, share: or(l.Share, defaultShare), ease: or(l.Ease, defaultEase), most: most}
	switch {
	case l.Combine == Alternate:
		b.alternate(l.Help)
	case len(rungs) == 1:
		b.state = []int{-1}
		b.out = make([]criteria.Criteria, 0, len(rungs[0].steps))
		b.raise(0, len(rungs[0].steps)-1)
	case l.Combine == InSequence:
		b.then()
	default:
		b.weave()
	}
	if len(b.out) > most {
		return nil,
			[]criteria.Problem{{Field: "leg1_by", Text: fmt.Sprintf("That makes more than %d steps. Take larger steps, or a nearer goal.", most)}}
	}
	return b.out, nil
}

func or(x, otherwise float64) float64 {
	if x == 0 {
		return otherwise
	}
	return x
}

// rungs is one generator as overlays of criteria, easiest first.
type rungs struct {
	steps []criteria.Criteria
	dim   *criteria.Dimension // where the generator is of one dimension that is measured
	fades bool                // it is of help, food or gear
	whole bool                // it is of the behaviour itself, which is built before anything joins it and never eased
}

// at is the rung to which a share of a generator leads: the hardest one that asks at most that share of the
// figure at index of (twice as far at a half, where less is harder). Generators without a measure go by
// their number of rungs.
func (r rungs) at(share float64, of int) int {
	if r.whole {
		return len(r.steps) - 1
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

func (l Generator) rungs(most int) (rungs, []criteria.Problem) {
	bad := func(field, text string) (rungs, []criteria.Problem) {
		return rungs{}, []criteria.Problem{{Field: field, Text: text}}
	}
	of := func(key criteria.Key) Generator { l.What, _ = criteria.Find(key); return l }
	switch l.Make {
	case MakeRamp:
		if l.What.Key == "" {
			return bad("what", "Choose what grows.")
		}
		if l.What.IsList() {
			return l.list(l.What, l.Items)
		}
		return l.ramp(most)
	case MakeCountUp:
		l = of(criteria.Paces)
		l.From, l.By, l.Times = 1, 1, false
		return l.ramp(most)
	case MakePause:
		l = of(criteria.HelpAfter)
		l.By = or(l.By, 1)
		return l.ramp(most)
	case MakeLead:
		l = of(criteria.Lead)
		l.By = or(l.By, 1)
		return l.ramp(most)
	case MakeApproach:
		return of(criteria.Trigger).approach(most)
	case MakeFade:
		if !l.What.Fades {
			return bad("what", "Choose help, food or gear: those fade.")
		}
		return l.list(l.What, l.Items)
	case MakeParts:
		d, _ := criteria.Find(criteria.Part)
		items, problems := together(l.Items)
		if len(problems) > 0 {
			return rungs{}, problems
		}
		return l.list(d, items)
	case MakeSites:
		return of(criteria.Duration).sites(most)
	case MakeFigures:
		return l.figures(most)
	}
	return bad("make", "Choose how it is built.")
}

// ramp goes from a start to a goal along one dimension. A step never grows by more than is sound,
// whatever By says; without By it grows by as much as is sound, spread evenly.
func (l Generator) ramp(most int) (rungs, []criteria.Problem) {
	d := l.What
	var problems []criteria.Problem
	add := func(field, text string) { problems = append(problems, criteria.Problem{Field: field, Text: text}) }
	if text := d.Check(l.From); text != "" {
		add("from", text)
	}
	if text := d.Check(l.To); text != "" {
		add("to", text)
	}
	if len(problems) == 0 && (l.To-l.From)*float64(d.Harder) < 0 {
		more := "more"
		if d.Harder < 0 {
			more = "less"
		}
		add("to", fmt.Sprintf("The goal is easier than the start: for %s, %s is harder.", strings.ToLower(d.Label), more))
	}
	switch {
	case math.IsNaN(l.By) || l.By < 0 || math.IsInf(l.By, 0):
		add("by", "A step grows by more than nothing.")
	case l.Times && l.By != 0 && l.By <= 1:
		add("by", "To grow, multiply by more than 1, such as 1.5.")
	case d.Scale == criteria.Rank && !l.Times && l.By != math.Trunc(l.By):
		add("by", "A whole number.")
	}
	if len(problems) > 0 {
		return rungs{}, problems
	}
	values := l.climb(1, most)
	if l.By == 0 && d.Scale == criteria.Measure && len(values) > 2 && len(values) <= most {
		values = l.even(values, most)
	}
	if len(values) > most {
		add("by", fmt.Sprintf("That makes more than %d steps. Take larger steps, or a nearer goal.", most))
		return rungs{}, problems
	}
	r := rungs{dim: &d, steps: make([]criteria.Criteria, 0, len(values))}
	for _, x := range values {
		r.steps = append(r.steps, criteria.Criteria{}.WithDimension(d, x))
	}
	return r, nil
}

// climb walks from the start to the goal, taking a share of what is sound where By says nothing.
func (l Generator) climb(share float64, most int) []float64 {
	d, sign := l.What, float64(l.What.Harder)
	values := []float64{l.From}
	for x := l.From; x != l.To && len(values) <= most; values = append(values, x) {
		limit := JumpLimit(d, x)
		next := limit
		switch {
		case l.By == 0:
			next = round(d, x, x+share*(limit-x))
		case l.Times && sign > 0:
			next = math.Max(x*l.By, x+1e-3)
		case l.Times:
			next = math.Min(x/l.By, x-1e-3)
		default:
			next = x + sign*l.By
		}
		if d.Scale == criteria.Rank {
			next = math.Floor(next)
			next = math.Max(next, x+1)
		}
		next = math.Round(next*1e6) / 1e6
		if (next-limit)*sign > 0 {
			next = limit
		}
		if (next-l.To)*sign > -1e-6 || next == x {
			next = l.To
		}
		x = next
	}
	return values
}

// even spreads the growth: the least share of what is sound that needs no more steps.
func (l Generator) even(greedy []float64, most int) []float64 {
	best, low, high := greedy, 0.0, 1.0
	for range 24 {
		share := (low + high) / 2
		if values := l.climb(share, len(greedy)); len(values) <= len(greedy) && values[len(values)-1] == l.To {
			best, high = values, share
		} else {
			low = share
		}
	}
	return best
}

// round makes a figure one that a trainer can set up, on the easy side of next and never back to x: seconds and metres to a half, to a
// whole from ten and to five from fifty, centimetres likewise.
func round(d criteria.Dimension, x, next float64) float64 {
	least, unit := 0.1, 1.0
	if d.Unit == "s" || d.Unit == "m" {
		least = 0.5
	}
	if d.Small {
		unit = 0.01
	}
	for _, grid := range []float64{5, 1, 0.5, 0.1} {
		if math.Abs(next) < 10*grid*unit && grid > least {
			continue
		}
		r := math.Floor(next/(grid*unit)+1e-9) * grid * unit
		if d.Harder < 0 {
			r = math.Ceil(next/(grid*unit)-1e-9) * grid * unit
		}
		if (r-x)*float64(d.Harder) > 1e-9 {
			return math.Round(r*1e6) / 1e6
		}
	}
	return next
}

// list climbs a list from its first word to its last.
func (l Generator) list(d criteria.Dimension, items []string) (rungs, []criteria.Problem) {
	if len(items) > 0 {
		d.Items = items
	}
	if problems := criteria.CheckItems("items", d.Items); len(problems) > 0 {
		return rungs{}, problems
	}
	r := rungs{fades: d.Fades, whole: d.Key == criteria.Approx}
	for i := range d.Items {
		r.steps = append(r.steps, criteria.Criteria{}.WithDimension(d, float64(i)))
	}
	return r, nil
}

// figures are the trainer's own, each harder than the one before.
func (l Generator) figures(most int) (rungs, []criteria.Problem) {
	bad := func(text string) (rungs, []criteria.Problem) {
		return rungs{}, []criteria.Problem{{Field: "items", Text: text}}
	}
	d := l.What
	switch {
	case d.Key == "" || d.IsList():
		return rungs{}, []criteria.Problem{{Field: "what", Text: "Choose what the figures are of."}}
	case len(l.List) == 0:
		return bad("Give at least one figure, easiest first: 2, 4, 6, 10.")
	case len(l.List) > most:
		return bad(fmt.Sprintf("%d steps; at most %d.", len(l.List), most))
	}
	r := rungs{dim: &d}
	for i, x := range l.List {
		if text := d.Check(x); text != "" {
			return bad(text)
		}
		if i > 0 && (x-l.List[i-1])*float64(d.Harder) <= 0 {
			return bad(fmt.Sprintf("Easiest first, each harder than the one before: %s does not follow %s.", criteria.Figure(x),
				criteria.Figure(l.List[i-1])))
		}
		r.steps = append(r.steps, criteria.Criteria{}.WithDimension(d, x))
	}
	return r, nil
}

// together lists single parts, then more and more of them at once.
func together(parts []string) ([]string, []criteria.Problem) {
	if problems := criteria.CheckItems("items", parts); len(problems) > 0 {
		return nil, problems
	}
	if len(parts)*2-1 > criteria.MaxItems {
		return nil, []criteria.Problem{{Field: "items", Text: fmt.Sprintf("At most %d parts.", (criteria.MaxItems+1)/2)}}
	}
	items := append([]string(nil), parts...)
	for n := 2; n <= len(parts); n++ {
		items = append(items, strings.Join(parts[:n-1], ", ")+" and "+parts[n-1])
	}
	return items, criteria.CheckItems("items", items)
}

// approach brings the trigger nearer at each strength; a stronger one starts far away again.
func (l Generator) approach(most int) (rungs, []criteria.Problem) {
	strength, _ := criteria.Find(criteria.Intensity)
	if l.Level < 1 || float64(l.Level) > strength.Max {
		return rungs{}, []criteria.Problem{{Field: "level", Text: "The strongest trigger is 1 (faint) to 5 (full)."}}
	}
	near, problems := l.ramp(most)
	r := rungs{}
	for level := 1; level <= l.Level && len(problems) == 0; level++ {
		for _, c := range near.steps {
			c = c.With(criteria.Intensity, float64(level))
			c.Trig = l.Trig
			r.steps = append(r.steps, c)
		}
		if len(r.steps) > most {
			break // the builder says so
		}
	}
	return r, problems
}

// sites goes through places on the body, at each through the tools, with each up to a number of seconds.
func (l Generator) sites(most int) (rungs, []criteria.Problem) {
	site, _ := criteria.Find(criteria.Site)
	tool, _ := criteria.Find(criteria.Tool)
	if len(l.Items) > 0 {
		site.Items = l.Items
	}
	if len(l.Tools) > 0 {
		tool.Items = l.Tools
	}
	problems := append(criteria.CheckItems("items", site.Items), criteria.CheckItems("tools", tool.Items)...)
	seconds, bad := l.ramp(most)
	if problems = append(problems, bad...); len(problems) > 0 {
		return rungs{}, problems
	}
	r := rungs{}
	for s := range site.Items {
		for t := range tool.Items {
			for _, c := range seconds.steps {
				r.steps = append(r.steps, c.WithDimension(site, float64(s)).WithDimension(tool, float64(t)))
			}
		}
		if len(r.steps) > most {
			break
		}
	}
	return r, nil
}
