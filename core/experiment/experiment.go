package experiment

import (
	"math"
	"math/rand/v2"
	"slices"

	"patientfox/core/evidence"
)

// Way is one of the two ways that are compared.
type Way int

// The ways.
const (
	A Way = iota
	B
)

// Other is the other way.
func (w Way) Other() Way { return 1 - w }

// Bounds of a design. Under six pairs no difference could be shown at one in twenty.
const (
	MinPairs   = 6
	MaxPairs   = 20
	UsualPairs = 12
	MinEach    = 4
	MaxEach    = 20
	UsualEach  = 8
)

// Design is an experiment before it starts.
type Design struct {
	Pairs int    `json:"pairs"` // sessions, MinPairs…MaxPairs
	Each  int    `json:"each"`  // trials of a set, MinEach…MaxEach
	Seed  uint64 `json:"seed"`  // of the order, which it draws for good
}

// Sound tells whether a design keeps to its bounds.
func (d Design) Sound() bool {
	return d.Pairs >= MinPairs && d.Pairs <= MaxPairs && d.Each >= MinEach && d.Each <= MaxEach
}

// First is the way of the first set of a pair, counted from 0, by the toss of a coin; the other follows. The same seed tosses the same.
func (d Design) First(pair int) Way { return Way(rand.New(rand.NewPCG(d.Seed, uint64(pair))).IntN(2)) }

// Set is what came of one: so many trials met of those that were assigned to it.
type Set struct{ Met, N int }

func (s Set) rate() float64 { return float64(s.Met) / float64(s.N) }

// Pair is the two sets of a session, as they were assigned.
type Pair struct{ A, B Set }

// Lost tells whether a session says nothing: fewer than half of a set's trials were logged in either.
func (p Pair) Lost(each int) bool { return 2*p.A.N < each || 2*p.B.N < each }

// Reading is what an experiment came to.
type Reading struct {
	Pairs      int     // that were read
	Lost       int     // sessions that say nothing
	RateA      float64 // the mean of the sets
	RateB      float64
	Difference float64 // RateA − RateB
	Lo, Hi     float64 // its exact interval of 95 %; −1 and 1 where there are too few pairs for one
	P          float64 // chance of so large a difference either way, if the ways do not differ
}

// Shown is the largest P that shows a difference.
const Shown = 0.05

// Shows tells whether a difference is shown.
func (r Reading) Shows() bool { return r.P <= Shown+evidence.Epsilon }

// Read reads the pairs of an experiment, at most MaxPairs of them, by the exact test of its own randomisation: the order of each pair was
// tossed, so that under no difference each pair's difference may have either sign. The interval holds every difference that the test does
// not reject; it runs between means of subsets of the pairs. Sources: E. Pitman, "Significance tests which may be applied to samples from
// any populations", Supplement to the Journal of the Royal Statistical Society 4 (1937); J. Hartigan, "Using subsample values as typical
// values", Journal of the American Statistical Association 64 (1969).
func Read(pairs []Pair, each int) Reading {
	r := Reading{Lo: -1, Hi: 1, P: 1}
	var d []float64
	for _, p := range pairs {
		if p.Lost(each) || len(d) == MaxPairs {
			r.Lost++
			continue
		}
		r.RateA, r.RateB = r.RateA+p.A.rate(), r.RateB+p.B.rate()
		d = append(d, p.A.rate()-p.B.rate())
	}
	if r.Pairs = len(d); r.Pairs == 0 {
		return r
	}
	n := float64(r.Pairs)
	r.RateA, r.RateB = r.RateA/n, r.RateB/n
	r.Difference = r.RateA - r.RateB
	sums, sizes := subsets(d)
	total, as := sums[len(sums)-1], 0
	means := make([]float64, 0, len(sums)-1)
	for i, sum := range sums {
		// With the signs of the others turned, the sum of all is twice that of these less the total.
		if math.Abs(2*sum-total) >= math.Abs(total)-evidence.Epsilon {
			as++
		}
		if sizes[i] > 0 {
			means = append(means, sum/float64(sizes[i]))
		}
	}
	r.P = float64(as) / float64(len(sums))
	if k := int(Shown / 2 * float64(len(sums))); k > 0 {
		slices.Sort(means)
		r.Lo, r.Hi = means[k-1], means[len(means)-k]
	}
	return r
}

// subsets are the sums of all subsets of some numbers, and how many numbers each has; the last is that of all.
func subsets(d []float64) (sums []float64, sizes []int) {
	sums, sizes = []float64{0}, []int{0}
	for _, x := range d {
		for i := range sums {
			sums, sizes = append(sums, sums[i]+x), append(sizes, sizes[i]+1)
		}
	}
	return sums, sizes
}

// MinP is the smallest P that so many pairs can give: where all point the same way.
func MinP(pairs int) float64 { return math.Exp2(float64(1 - pairs)) }
