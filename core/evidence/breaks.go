package evidence

import (
	"math"
	"math/rand/v2"
)

// Break is what happened over days without work: how a session began, and how the one before it ended, at the same step.
type Break struct {
	Plan                string
	Days                int // from one to the next, at least 1
	Close, Open         int // trials
	CloseRate, OpenRate float64
}

// Opening and Closing are how many of the first and of the last trials at a step are held against each other; those of fewer than half of
// that say nothing.
const (
	Opening = 5
	Closing = 10
)

// BreakOf is a break of some days, of the last trials before it and the first after it at the same step; ok is false where it says nothing:
// within a day, or with too few trials on either side.
func BreakOf(days int, closed, opened Tally) (b Break, ok bool) {
	if days < 1 || 2*closed.N() < Closing || 2*opened.N() < Opening {
		return b, false
	}
	return Break{Days: days, Close: closed.N(), CloseRate: closed.Strict(), Open: opened.N(), OpenRate: opened.Strict()}, true
}

// Lost is what days without work cost a dog.
type Lost struct {
	Breaks      int // that were looked at; 0 before there are enough
	Next        int // with how many they are looked at next
	P           float64
	Claimed     bool
	PerDoubling float64 // of the rate, lost each time that the days double; above 0 where something is lost
	Within      int     // days in which no more than a tenth is lost; 0 where nothing is claimed
	Longest     int     // days, of those looked at
}

// bearable is how much of the rate may be lost before somebody should come back.
const bearable = 0.1

// DaysOff looks whether more is lost over longer breaks: the line of least squares of what was lost on the logarithm of the days within
// each plan, held against those of 999 random orders of each plan's breaks. If nothing depends on the days, one break of a plan is as
// likely as another to go with any loss; a plan that is worked seldom may lose more, or less, for reasons of its own. It looks at certain
// numbers of breaks only, as Associate does. The same seed gives the same answer.
func DaysOff(breaks []Break, seed uint64) Lost {
	var l Lost
	var from int
	from, l.Breaks, l.Next = looked(len(breaks))
	l.P = 1
	breaks = breaks[from : from+l.Breaks]
	x, y, w := make([]float64, len(breaks)), make([]float64, len(breaks)), make([]float64, len(breaks))
	for i, b := range breaks {
		x[i], y[i] = math.Log2(float64(b.Days)), b.CloseRate-b.OpenRate
		w[i] = 1 / (1/float64(b.Open) + 1/float64(b.Close))
		l.Longest = max(l.Longest, b.Days)
	}
	var plans [][]int // of breaks
	at := map[string]int{}
	for i, b := range breaks {
		if _, known := at[b.Plan]; !known {
			at[b.Plan] = len(plans)
			plans = append(plans, nil)
		}
		plans[at[b.Plan]] = append(plans[at[b.Plan]], i)
	}
	found, ok := slope(plans, x, y, w)
	if !ok {
		return l
	}
	rng := rand.New(rand.NewPCG(seed, uint64(l.Breaks)))
	more := 0
	for range permutations {
		for _, plan := range plans {
			rng.Shuffle(len(plan), func(i, j int) { x[plan[i]], x[plan[j]] = x[plan[j]], x[plan[i]] })
		}
		if other, _ := slope(plans, x, y, w); other >= found-Epsilon {
			more++
		}
	}
	l.PerDoubling, l.P = found, float64(more+1)/(permutations+1)
	if l.Claimed = l.P <= lookAt+Epsilon; l.Claimed {
		l.Within = max(1, min(l.Longest, int(math.Exp2(bearable/found)+Epsilon)))
	}
	return l
}

// slope is that of the lines of least squares through points with weights, the same for all groups of them; ok is false where x is the
// same everywhere in each.
func slope(groups [][]int, x, y, w []float64) (slope float64, ok bool) {
	spread, with := 0.0, 0.0
	for _, group := range groups {
		var n, sx, sy, xx, xy float64
		for _, i := range group {
			n, sx, sy = n+w[i], sx+w[i]*x[i], sy+w[i]*y[i]
			xx, xy = xx+w[i]*x[i]*x[i], xy+w[i]*x[i]*y[i]
		}
		if n > 0 {
			spread, with = spread+xx-sx*sx/n, with+xy-sx*sy/n
		}
	}
	if spread <= Epsilon {
		return 0, false
	}
	return with / spread, true
}
