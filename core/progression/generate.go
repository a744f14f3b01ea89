package progression

import (
	"fmt"
	"slices"

	"patientfox/core/criteria"
)

// Make names a generator.
type Make string

// The generators.
const (
	MakeRamp     Make = "ramp"     // one dimension, from a start to a goal
	MakeCountUp  Make = "count_up" // 1, 2, 3 … n paces or repetitions
	MakeApproach Make = "approach" // for each strength from far to near; the next strength starts far again
	MakeFade     Make = "fade"     // help, food, gear or a prop, along a list
	MakePause    Make = "pause"    // help comes later and later
	MakeLead     Make = "lead"     // the distraction after, with, then before the cue
	MakeParts    Make = "parts"    // each part of a stimulus with its own small ladder, then together
	MakeSites    Make = "sites"    // places on the body × tools × seconds, breadth first
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
	AtFull     Combine = "full"      // one after another, the earlier ones kept at their goal: help that fades at the top
	Alternate  Combine = "alternate" // with help ask more, without help ask less, in turn
)

// Combines lists the ways in the order in which pages show them.
var Combines = []Combine{Interleave, InSequence, AtFull, Alternate}

// Generator is one generator with its figures, in SI units.
type Generator struct {
	Make     Make
	What     criteria.Dimension // ramp, fade, figures: the dimension
	From     float64            // where it starts
	To       float64            // the goal, reached exactly
	By       float64            // how much a step grows, 0 for as much as is sound
	Times    bool               // By multiplies
	Level    int                // approach: the strongest trigger, from 1
	Moves    bool               // approach: still at every strength, then moving at the greatest
	Trig     string             // approach: what the trigger is
	Items    []string           // ramp of a list, fade, sites: the list, easiest first
	Tools    []string           // sites: the tools, mildest first
	Sore     []string           // sites: those of Items that come last, in small steps of their own
	List     []float64          // figures: waypoints, easiest first
	Parts    []Part             // parts
	Together [][]string         // parts: which of them come together, by name; nil for two, then three, then all

	near bool // approach, in a place that is short: the strength alone comes before any distance
}

// Layout is a ladder to be made. It is made for a Case: what a lint would advise against is not made.
type Layout struct {
	Base       criteria.Criteria // what every step asks besides
	Generators []Generator
	Combine    Combine  // how several generators are put together, Interleave where it is not said
	Share      float64  // weave: the share of the goal to which each is built alone, 0 for ⅓
	Ease       float64  // the share to which the others ease when one joins, 0 for ½
	Help       []string // alternate: the trainer's words, most help first, 2 or more; nil for “with help” and “none”
	Case       Case     `json:"-"`
}

// MaxLadder bounds a ladder, whatever is asked.
const MaxLadder = 5000

// Shares of a weave where none are given.
const (
	defaultShare = 1.0 / 3
	defaultEase  = 0.5
)

// Steps lays the ladder out: the same layout gives the same ladder. It starts and ends easier than asked where Fits says so. Problems
// name their field, those of a generator as "leg1_from". A ladder that would have more than most steps is a problem, not a ladder.
func (l Layout) Steps(most int) ([]criteria.Criteria, []criteria.Problem) {
	out, _, problems := l.lay(most)
	return out, problems
}

// Fits says what Steps does otherwise than it was asked, for the sake of the dog, the place or an easy first step.
func (l Layout) Fits(most int) []Fit {
	_, fits, _ := l.lay(most)
	return fits
}

func (l Layout) lay(most int) ([]criteria.Criteria, []Fit, []criteria.Problem) {
	most = min(most, MaxLadder)
	if problems := l.check(); len(problems) > 0 {
		return nil, nil, problems
	}
	l, fits := l.fitted()
	out, problems := l.build(most)
	for range len(l.Generators) { // a first step that is not easy yet begins lower
		if len(out) == 0 {
			break
		}
		lower, changed := l.startLower(out[0])
		if !changed {
			break
		}
		fits = append(fits, lower...)
		out, problems = l.build(most)
	}
	return out, fits, problems
}

func (l Layout) check() []criteria.Problem {
	if len(l.Generators) == 0 {
		return []criteria.Problem{{Field: "leg1_make", Text: "Choose what to build first."}}
	}
	if l.Share < 0 || l.Share > 1 || l.Ease < 0 || l.Ease > 1 {
		return []criteria.Problem{{Field: "share", Text: "A share lies between 0 and 1."}}
	}
	var problems []criteria.Problem
	built := map[criteria.Key]int{}
	for i, generator := range l.Generators {
		for _, key := range generator.keys() {
			if first, twice := built[key]; twice && first != i {
				d, _ := criteria.Find(key)
				if d.Key == "" {
					d = generator.What
				}
				problems = append(problems, criteria.Problem{
					Field: fmt.Sprintf("leg%d_make", i+1), Text: fmt.Sprintf("Part %d builds this already: %s.", first+1, d.Label),
				})
				break
			}
			built[key] = i
		}
	}
	return problems
}

// keys are the dimensions that a generator sets.
func (g Generator) keys() []criteria.Key {
	switch g.Make {
	case MakeApproach:
		if g.Moves {
			return []criteria.Key{criteria.Trigger, criteria.Intensity, criteria.Moving}
		}
		return []criteria.Key{criteria.Trigger, criteria.Intensity}
	case MakeParts:
		g = g.withParts()
		keys := []criteria.Key{criteria.Part}
		for _, key := range partKeys {
			if slices.ContainsFunc(g.Parts, func(p Part) bool { return len(p.figures(key)) > 0 }) {
				keys = append(keys, key)
			}
		}
		return keys
	case MakeSites:
		return []criteria.Key{criteria.Site, criteria.Tool, criteria.Duration}
	}
	if d, only := g.Make.Dimension(); only {
		return []criteria.Key{d.Key}
	}
	return []criteria.Key{g.What.Key}
}

// build makes the ladder of a layout that is fitted.
func (l Layout) build(most int) ([]criteria.Criteria, []criteria.Problem) {
	var problems []criteria.Problem
	made := make([]rungs, len(l.Generators))
	for i, generator := range l.Generators {
		var bad []criteria.Problem
		made[i], bad = generator.rungs(l.Case, most)
		for _, p := range bad {
			problems = append(problems, criteria.Problem{Field: fmt.Sprintf("leg%d_%s", i+1, p.Field), Text: p.Text})
		}
	}
	if len(problems) > 0 {
		return nil, problems
	}
	b := newBuilder(l, l.paused(made), most)
	switch {
	case l.Combine == Alternate:
		b.alternate(l.Help)
	case len(b.generators) == 1:
		b.raise(0, b.top(0))
	case l.Combine == InSequence || l.Combine == AtFull:
		b.then(l.Combine == AtFull)
	default:
		b.weave()
	}
	if len(b.out) > most {
		return nil, []criteria.Problem{{Field: "leg1_by", Text: tooMany(most)}}
	}
	return b.out, nil
}

// paused makes one of help that fades and a pause before it: the last help comes later and later before there is none, where the list
// ends with none.
func (l Layout) paused(made []rungs) []rungs {
	fade := slices.IndexFunc(l.Generators, func(g Generator) bool { return g.Make == MakeFade && g.What.Key == criteria.Help })
	pause := slices.IndexFunc(l.Generators, func(g Generator) bool { return g.Make == MakePause })
	if fade < 0 || pause < 0 {
		return made
	}
	one := made[fade]
	helped := len(one.steps)
	if criteria.NoSupport(one.steps[helped-1].Item(criteria.Help)) {
		helped--
	}
	first := made[pause].steps[0]
	var steps []criteria.Criteria
	for _, step := range one.steps[:helped] {
		steps = append(steps, step.Over(first))
	}
	for _, later := range made[pause].steps[1:] {
		steps = append(steps, one.steps[helped-1].Over(later))
	}
	one.steps = append(steps, one.steps[helped:]...)
	made[fade] = one
	return slices.Delete(made, pause, pause+1)
}

func tooMany(most int) string {
	return fmt.Sprintf("That makes more than %d steps. Take larger steps, a nearer goal, or less at once.", most)
}

func or(x, otherwise float64) float64 {
	if x == 0 {
		return otherwise
	}
	return x
}
