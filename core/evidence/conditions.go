package evidence

import (
	"cmp"
	"math"
	"math/rand/v2"
	"slices"
)

// Visit is one session as far as conditions are compared: its counted trials, and which conditions held.
type Visit struct {
	Met, N int
	Order  float64 // mean order of its trials within their stretches: practice tells by it
	With   []bool  // by condition
}

// Association is what went with more or fewer met trials, by session.
type Association struct {
	Visits     int // sessions that were looked at; 0 before there are enough
	From       int // the index of the first of them
	Next       int // with how many they are looked at next
	Conditions []Condition
	Residuals  []float64 // of each session looked at: its rate less what was expected of it; NaN where nothing can be said
	Needed     int       // sessions, half of them with a condition, that would likely show an odds ratio of 3; 0 where that is not known
}

// Condition is one of them.
type Condition struct {
	Index         int     // of its name
	With, Without int     // sessions
	Difference    float64 // of the rate, −1…1, with it less without
	P             float64 // chance of so large a difference, of any condition, where none matters; 1 where it was not compared
	Claimed       bool
	Time          bool // it cannot be told apart from time
	Few           bool // too few sessions on one side
}

// Looks are the numbers of sessions with which conditions are looked at, and only these: somebody who looks every day would find
// something sooner or later. After the last a new series begins.
var Looks = []int{12, 18, 27, 40}

const (
	lookAt       = 0.02 // each look
	permutations = 999
	minVisits    = 3 // sessions on each side
	timeShare    = 0.5
	oddsNeeded   = 3.0
	powered      = 2.6 + 0.84 // standard errors: claimed at about 2.6, in four of five dogs
)

// Associate compares sessions with and without each condition. Trials of one session are not independent, and a place that is visited
// later profits from practice: of each session's rate it takes what the order within the stretch lets expect, by a line of least squares,
// and permutes what is left over sessions. The largest standardised difference over all
// conditions decides, so that many conditions find no more than one. A dog on which nothing has an effect is told of any in at most 7 of
// 100 cases over all looks. The same seed gives the same answer.
//
// The idea of permuting residuals is that of D. Freedman and D. Lane, "A nonstochastic interpretation of reported significance levels",
// Journal of Business & Economic Statistics 1 (1983); that of the largest statistic is P. Westfall's and S. Young's, "Resampling-Based
// Multiple Testing", Wiley, 1993.
func Associate(visits []Visit, conditions int, seed uint64) Association {
	var a Association
	a.From, a.Visits, a.Next = looked(len(visits))
	series := visits[a.From : a.From+a.Visits]
	rest, weights := residuals(series)
	a.Residuals = rest
	a.Needed = needed(series, rest, weights)
	sides := make([][]bool, conditions)
	for c := range conditions {
		sides[c] = make([]bool, len(series))
		for i, v := range series {
			sides[c][i] = v.With[c]
		}
		a.Conditions = append(a.Conditions, condition(c, sides[c], rest, weights))
	}
	a.decide(sides, rest, weights, seed)
	slices.SortStableFunc(a.Conditions, func(x, y Condition) int { return cmp.Compare(x.P, y.P) })
	return a
}

// looked says which sessions of n are looked at now, from one on, and with how many of the series they are looked at next.
func looked(n int) (from, now, next int) {
	most := Looks[len(Looks)-1]
	if n > most {
		if from = (n - 1) / most * most; n-from < Looks[0] {
			from -= most
		}
	}
	for _, look := range Looks {
		if n-from >= look {
			now = look
		} else if next == 0 {
			next = look
		}
	}
	if next == 0 {
		next = most + Looks[0]
	}
	return from, now, next
}

// residuals are the sessions' rates less what was expected of them, with their weights in trials; NaN and 0 for a session without any.
func residuals(visits []Visit) (rest, weights []float64) {
	rest, weights = make([]float64, len(visits)), make([]float64, len(visits))
	var n, x, y, xx, xy float64
	for i, v := range visits {
		w := float64(v.N)
		weights[i] = w
		if v.N == 0 {
			continue
		}
		rate := float64(v.Met) / w
		n, x, y, xx, xy = n+w, x+w*v.Order, y+w*rate, xx+w*v.Order*v.Order, xy+w*v.Order*rate
	}
	slope := 0.0
	if spread := xx - x*x/n; spread > Epsilon {
		slope = (xy - x*y/n) / spread
	}
	for i, v := range visits {
		if rest[i] = math.NaN(); v.N > 0 {
			rest[i] = float64(v.Met)/float64(v.N) - y/n - slope*(v.Order-x/n)
		}
	}
	return rest, weights
}

// condition compares the sessions with and without one; its P is 1 as yet.
func condition(index int, with []bool, rest, weights []float64) Condition {
	c := Condition{Index: index, P: 1}
	for i, w := range weights {
		if w > 0 && with[i] {
			c.With++
		} else if w > 0 {
			c.Without++
		}
	}
	c.Few = min(c.With, c.Without) < minVisits
	c.Time = explained(with) > timeShare
	if c.With > 0 && c.Without > 0 {
		c.Difference, _ = difference(with, rest, weights)
	}
	return c
}

// difference is that of the weighted means, with its weight 1 ÷ (1 ÷ with + 1 ÷ without).
func difference(with []bool, rest, weights []float64) (d, weight float64) {
	var sum, n [2]float64
	for i, w := range weights {
		if w > 0 {
			side := 0
			if with[i] {
				side = 1
			}
			sum[side], n[side] = sum[side]+w*rest[i], n[side]+w
		}
	}
	return sum[1]/n[1] - sum[0]/n[0], 1 / (1/n[1] + 1/n[0])
}

// explained is how much of a condition the order of sessions explains, 0…1: the squared correlation.
func explained(with []bool) float64 {
	n := float64(len(with))
	var x, y, xx, xy float64
	for i, is := range with {
		at, one := float64(i), 0.0
		if is {
			one = 1
		}
		x, y, xx, xy = x+at, y+one, xx+at*at, xy+at*one
	}
	vx, vy := xx-x*x/n, y-y*y/n
	if vx <= 0 || vy <= 0 {
		return 0
	}
	c := xy - x*y/n
	return c * c / (vx * vy)
}

// decide permutes what is left over sessions, and says which conditions are claimed.
func (a *Association) decide(sides [][]bool, rest, weights []float64, seed uint64) {
	var compared []int
	for i, c := range a.Conditions {
		if !c.Few && !c.Time {
			compared = append(compared, i)
		}
	}
	at := make([]int, 0, len(rest))
	for i, w := range weights {
		if w > 0 {
			at = append(at, i)
		}
	}
	if len(compared) == 0 || a.Visits == 0 {
		return
	}
	statistic := func(i int, rest, weights []float64) float64 {
		d, weight := difference(sides[a.Conditions[i].Index], rest, weights)
		return math.Abs(d) * math.Sqrt(weight)
	}
	found := make([]float64, len(compared))
	for k, i := range compared {
		found[k] = statistic(i, rest, weights)
	}
	rng := rand.New(rand.NewPCG(seed, uint64(a.Visits)))
	more := make([]int, len(compared))
	r, w := slices.Clone(rest), slices.Clone(weights)
	for range permutations {
		rng.Shuffle(len(at), func(x, y int) {
			x, y = at[x], at[y]
			r[x], r[y], w[x], w[y] = r[y], r[x], w[y], w[x]
		})
		largest := 0.0
		for _, i := range compared {
			largest = math.Max(largest, statistic(i, r, w))
		}
		for k := range found {
			if largest >= found[k]-Epsilon {
				more[k]++
			}
		}
	}
	for k, i := range compared {
		c := &a.Conditions[i]
		c.P = float64(more[k]+1) / (permutations + 1)
		c.Claimed = c.P <= lookAt+Epsilon
	}
}

// needed is how many sessions, half of them with a condition, would likely show an odds ratio of 3, by the spread of this dog's.
func needed(visits []Visit, rest, weights []float64) int {
	var met, n, spread float64
	sessions := 0
	for i, v := range visits {
		met, n = met+float64(v.Met), n+float64(v.N)
		if weights[i] > 0 {
			spread += rest[i] * rest[i]
			sessions++
		}
	}
	if sessions < minVisits || spread == 0 || met == 0 || met == n {
		return 0
	}
	odds := met / (n - met)
	by := math.Sqrt(oddsNeeded) // half of the ratio to either side of what the dog does now
	d := odds*by/(1+odds*by) - odds/by/(1+odds/by)
	return int(math.Ceil(4 * powered * powered * spread / float64(sessions-1) / (d * d)))
}
