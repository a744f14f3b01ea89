package progression

import (
	"fmt"
	"hash/fnv"
	"math"
	"math/rand/v2"
	"slices"

	"patientfox/core/criteria"
)

// Bounds of varied targets, as shares of the criterion.
const (
	varyLow     = 0.4
	varyHigh    = 1.2
	endLow      = 0.5 // first and last
	endHigh     = 0.7
	varyMean    = 0.8 // at least; at most the criterion itself
	fewestVary  = 4
	fewestCount = 3
)

// Vary makes n targets around a criterion c: all of c where n < 4 or where c is a count up to 3; else
// all in [0.4c, 1.2c], at least half of them in [c, 1.2c], the first and the last in [0.5c, 0.7c],
// their mean in [0.8c, c], and never three rises in a row. Counts are whole numbers; where no whole
// numbers satisfy that (four of 4) all are c. The same seed gives the same targets.
func Vary(c float64, n int, seed uint64, count bool) []float64 {
	out := make([]float64, max(0, n))
	for i := range out {
		out[i] = c
	}
	if n < fewestVary || !(c > 0) || count && (c <= fewestCount || c == 4 && n == 4) {
		return out
	}
	rng := rand.New(rand.NewPCG(seed, uint64(n)))
	span := func(low, high float64) (float64, float64) {
		if count {
			return math.Ceil(c*low - 1e-9), math.Floor(c*high + 1e-9)
		}
		return c * low, c * high
	}
	draw := func(low, high float64) float64 {
		if count {
			return low + math.Floor(rng.Float64()*(high-low+1))
		}
		return low + rng.Float64()*(high-low)
	}
	lows, highs := make([]float64, n), make([]float64, n)
	long := (n + 1) / 2
	order := rng.Perm(n - 2)
	for i := range out {
		low, high := varyLow, varyHigh
		if i == 0 || i == n-1 {
			low, high = endLow, endHigh
		} else if order[i-1] < long {
			low = 1
		}
		lows[i], highs[i] = span(low, high)
		out[i] = draw(lows[i], highs[i])
	}
	settleMean(out, lows, highs, c, count)
	flatten(out)
	return out
}

// settleMean brings the mean into its bounds without leaving each target's own.
func settleMean(out, lows, highs []float64, c float64, count bool) {
	for _, side := range []struct {
		wanted float64
		to     []float64
		sign   float64
	}{{varyMean * c, highs, +1}, {c, lows, -1}} {
		n := float64(len(out))
		sum, room := 0.0, 0.0
		for i, x := range out {
			sum += x
			room += math.Abs(side.to[i] - x)
		}
		short := (side.wanted*n - sum) * side.sign
		if short <= 0 {
			continue
		}
		for i := range out {
			switch {
			case !count && room > 0:
				out[i] += (side.to[i] - out[i]) * math.Min(1, short/room*(1+1e-12))
			case count:
				for short > 1e-9 && out[i] != side.to[i] {
					out[i] += side.sign
					short--
				}
			}
		}
	}
}

// flatten breaks every third rise in a row by changing places with the one before; the first and the
// last stay where they are.
func flatten(out []float64) {
	rises := 0
	for i := 1; i < len(out); i++ {
		if out[i] <= out[i-1] {
			rises = 0
			continue
		}
		if rises++; rises == 3 {
			out[i-2], out[i-1] = out[i-1], out[i-2]
			rises = 1
		}
	}
}

// Shuffled makes n words out of a list, each as often as the others within one, in an order by
// chance with no word more than twice running where the list allows it. The same seed gives the same
// order.
func Shuffled(items []string, n int, seed uint64) []string {
	if len(items) == 0 || n <= 0 {
		return nil
	}
	rng := rand.New(rand.NewPCG(seed, uint64(n)+1))
	first := rng.Perm(len(items)) // which words come once more than the others is chance too
	left := make([]int, len(items))
	for i := range n {
		left[first[i%len(items)]]++
	}
	out := make([]string, 0, n)
	last, run := -1, 0
	for range n {
		var open []int
		for i, more := range left {
			if more > 0 && (i != last || run < 2) {
				open = append(open, i)
			}
		}
		if len(open) == 0 {
			open = []int{last}
		}
		// What there is most of comes sooner, or it would be left over at the end.
		most, least := open[0], open[0]
		for _, i := range open {
			if left[i] > left[most] {
				most = i
			}
			if left[i] < left[least] {
				least = i
			}
		}
		pick := most
		if left[most]-left[least] <= 1 {
			pick = open[rng.IntN(len(open))]
		}
		if left[pick]--; pick == last {
			run++
		} else {
			last, run = pick, 1
		}
		out = append(out, items[pick])
	}
	return out
}

// varySet is how many targets are drawn at once, so that each set has its easy ends.
const varySet = 5

// Target is what the trial with the given number (from 0, over all sessions) asks of each dimension
// that the step varies, nil where it varies none. It depends on the step and the number alone, so a
// page can show the next ones and the phone asks the same.
func Target(s Step, number int) map[criteria.Key]float64 {
	if len(s.Criteria.Vary) == 0 || number < 0 {
		return nil
	}
	targets := map[criteria.Key]float64{}
	for _, key := range s.Criteria.Vary {
		d, ok := s.Criteria.Dimension(key)
		if !ok || !s.Criteria.Has(key) {
			continue
		}
		n := varySet
		if d.IsList() {
			n = 2 * len(d.Items)
		}
		hash := fnv.New64a()
		fmt.Fprint(hash, s.ID, s.Rev, key, number/n)
		if d.IsList() {
			word := Shuffled(d.Items, n, hash.Sum64())[number%n]
			targets[key] = float64(slices.Index(d.Items, word))
		} else {
			targets[key] = Vary(s.Criteria.Get(key), n, hash.Sum64(), d.Scale == criteria.Rank)[number%n]
		}
	}
	return targets
}

// AsksLess tells whether a trial with these targets asks for less than its step does.
func AsksLess(c criteria.Criteria, targets map[criteria.Key]float64) bool {
	for key, x := range targets {
		if d, ok := c.Dimension(key); ok && !d.IsList() && x < c.Get(key)-1e-9 {
			return true
		}
	}
	return false
}
