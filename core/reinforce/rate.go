package reinforce

import (
	"cmp"
	"math"
	"slices"

	"patientfox/core/evidence"
)

// Window of the rolling rate and its least width, in active seconds.
const (
	window    = 60.0
	minWindow = 10.0
	// A gap is overdue at this many times the plan's longest spacing.
	overdueAfter = 1.5
)

// Span is a stretch of the session's clock.
type Span struct{ From, To float64 }

// Clock turns session time into active time, which leaves out the breaks.
type Clock struct {
	start  float64
	breaks []Span // merged, sorted
}

// NewClock starts active time at start; overlapping breaks are one.
func NewClock(start float64, breaks []Span) Clock {
	sorted := slices.SortedFunc(slices.Values(breaks), func(a, b Span) int { return cmp.Compare(a.From, b.From) })
	c := Clock{start: start}
	for _, b := range sorted {
		b.From, b.To = math.Max(b.From, start), math.Max(b.To, start)
		if b.To <= b.From {
			continue
		}
		if n := len(c.breaks); n > 0 && b.From <= c.breaks[n-1].To {
			c.breaks[n-1].To = math.Max(c.breaks[n-1].To, b.To)
			continue
		}
		c.breaks = append(c.breaks, b)
	}
	return c
}

// Without is the clock with further spans left out.
func (c Clock) Without(spans []Span) Clock {
	return NewClock(c.start, append(append([]Span(nil), c.breaks...), spans...))
}

// Active is the active time at a moment of the session's clock. A moment inside a break counts at
// the break's start.
func (c Clock) Active(at float64) float64 {
	active := at - c.start
	for _, b := range c.breaks {
		if at >= b.To {
			active -= b.To - b.From
		} else if at > b.From {
			active -= at - b.From
		}
	}
	return math.Max(0, active)
}

// RateFrom is the active time under which no rate is said of work that is over, s.
const RateFrom = 20

// Rolling returns pays per minute at a moment: over a window of the last 60 active seconds, at the
// start of as many as there were but at least 10. Pays and at are on the session's clock.
func (c Clock) Rolling(pays []float64, at float64) float64 {
	now := c.Active(at)
	w := math.Min(window, math.Max(now, minWindow))
	n := 0
	for _, p := range pays {
		if age := now - c.Active(p); p <= at && age < w-evidence.Epsilon {
			n++
		}
	}
	return float64(n) * 60 / w
}

// Gaps returns the active seconds between pays, with start→first and last→end.
func (c Clock) Gaps(pays []float64, end float64) []float64 {
	gaps := make([]float64, 0, len(pays)+1)
	last := 0.0
	for _, p := range append(append([]float64(nil), pays...), end) {
		now := c.Active(p)
		gaps = append(gaps, now-last)
		last = now
	}
	return gaps
}

// Band is a plan's rate of reinforcement, in pays per minute.
type Band struct {
	Lo float64 `json:"lo"`
	Hi float64 `json:"hi"`
}

// Mid is the rate that the band plans on the whole, per minute; 0 without one.
func (b Band) Mid() float64 {
	if b.Hi > b.Lo {
		return (b.Lo + b.Hi) / 2
	}
	return b.Lo
}

// Overdue is the gap, in active seconds, after which a pay is overdue; +Inf without a planned rate.
func (b Band) Overdue() float64 {
	if b.Lo <= 0 {
		return math.Inf(1)
	}
	return overdueAfter * 60 / b.Lo
}
