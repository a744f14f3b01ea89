package outlook

import (
	"context"
	"math"
	"math/rand/v2"
	"sort"

	"patientfox/core/decision"
)

// Forecast is what many runs of a course came to.
type Forecast struct {
	Runs                             int
	Done                             int // runs that passed the last step
	Sessions, Trials, Misses, Pieces Range
	Ups, FalseUps                    float64 // a run, on average
	MeanTrials                       float64
}

// Range is how a figure came out over many runs: a tenth of them below Lo, half below Mid, a tenth above
// Hi, as near as whole numbers allow.
type Range struct{ Lo, Mid, Hi int }

func rangeOf(values []int) Range {
	sort.Ints(values)
	n := len(values)
	r := Range{Mid: values[(n-1)/2]}
	// A whole number holds many runs: the end is where the share beyond it is nearest to a tenth.
	lo, hi := 1.0, 1.0
	for i := 0; i < n; i++ {
		if i > 0 && values[i] == values[i-1] {
			continue
		}
		if off := math.Abs(float64(i)/float64(n) - 0.1); off < lo {
			lo, r.Lo = off, values[i]
		}
	}
	for i := n - 1; i >= 0; i-- {
		if i < n-1 && values[i] == values[i+1] {
			continue
		}
		if off := math.Abs(float64(n-1-i)/float64(n) - 0.1); off < hi {
			hi, r.Hi = off, values[i]
		}
	}
	r.Lo, r.Hi = min(r.Lo, r.Mid), max(r.Mid, r.Hi)
	return r
}

// Look runs a course many times, each with one of the dogs that could have made the record. Seeded: the
// same arguments give the same forecast. Progress is told now and then, from 0 to 1, where it is not
// nil; a context that is done ends it with its error.
func (f Fit) Look(ctx context.Context, c Course, runs int, seed uint64, progress func(float64)) (Forecast, error) {
	out := Forecast{Runs: runs}
	r := newRunner(c)
	figures := [4][]int{}
	rng := rand.New(rand.NewPCG(seed, 3))
	var levels []Level
	for i := range runs {
		if i%16 == 0 {
			if err := ctx.Err(); err != nil {
				return out, err
			}
			if progress != nil {
				progress(float64(i) / float64(runs))
			}
		}
		p := f.particles[rng.IntN(len(f.particles))]
		l := p.l
		l.pcg.Seed(seed, uint64(i)+11)
		base := p.base
		if base < 0 {
			base = c.At
		}
		levels = append(levels[:0], levelsOf(l.Traits, c.heights(), base)...)
		for j := range levels {
			if p.base < 0 { // it came this far
				levels[j].met, levels[j].known = j < c.At, j < c.At && l.Chance() < 0.9
				continue
			}
			levels[j].met = p.met[j]
			levels[j].known = p.met[j] && l.Chance() < p.known[j]
		}
		one := r.run(&l, levels)
		if one.Done {
			out.Done++
		}
		for j, n := range []int{one.Sessions, one.Trials, one.Misses, one.Pieces} {
			figures[j] = append(figures[j], n)
		}
		out.MeanTrials += float64(one.Trials) / float64(runs)
		out.Ups += float64(one.Ups) / float64(runs)
		out.FalseUps += float64(one.FalseUps) / float64(runs)
	}
	out.Sessions, out.Trials, out.Misses, out.Pieces = rangeOf(figures[0]), rangeOf(figures[1]), rangeOf(figures[2]), rangeOf(figures[3])
	return out, nil
}

// With is the course under one rule at every step, for comparing rules: it reads the stretch so far, as it would if
// the plan took that rule today.
func (c Course) With(rule decision.Rule) Course {
	rules := make([]decision.Rule, len(c.Rules))
	for i := range rules {
		rules[i] = rule
	}
	c.Rules = rules
	return c
}
