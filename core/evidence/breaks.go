package evidence

import (
	"math"
	"math/rand/v2"
)

// Break is what happened over days without work: how a session began, and how the one before it ended, at the same step.
type Break struct {
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

// DaysOff looks whether more is lost over longer breaks: the line of least squares of what was lost on the logarithm of the days, held
// against those of 999 random orders of the breaks. If nothing depends on the days, one break is as likely as another to go with any loss.
// It looks at certain numbers of breaks only, as Associate does. The same seed gives the same answer.
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
	found, ok := slope(x, y, w)
	if !ok {
		return l
	}
	rng := rand.New(rand.NewPCG(seed, uint64(l.Breaks)))
	more := 0
	for range permutations {
		rng.Shuffle(len(x), func(i, j int) { x[i], x[j] = x[j], x[i] })
		if other, _ := slope(x, y, w); other >= found-Epsilon {
			more++
		}
	}
	l.PerDoubling, l.P = found, float64(more+1)/(permutations+1)
	if l.Claimed = l.P <= lookAt+Epsilon; l.Claimed {
		l.Within = max(1, min(l.Longest, int(math.Exp2(bearable/found)+Epsilon)))
	}
	return l
}

// slope is that of the line of least squares through points with weights; ok is false where x is the same everywhere.
func slope(x, y, w []float64) (slope float64, ok bool) {
	var n, sx, sy, xx, xy float64
	for i, w := range w {
		n, sx, sy, xx, xy = n+w, sx+w*x[i], sy+w*y[i], xx+w*x[i]*x[i], xy+w*x[i]*y[i]
	}
	spread := xx - sx*sx/n
	if n == 0 || spread <= Epsilon {
		return 0, false
	}
	return (xy - sx*sy/n) / spread, true
}
