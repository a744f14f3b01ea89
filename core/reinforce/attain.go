package reinforce

import (
	"math"

	"patientfox/core/evidence"
)

// Cycle is one trial from cue to cue, in seconds.
type Cycle struct {
	LatencyS  float64
	DurationS float64
	DeliverS  float64 // to deliver and to eat
	ResetS    float64 // until the next can begin
}

// Usual times where nothing was measured, in seconds.
const (
	UsualLatencyS = 1.0
	UsualDeliverS = 3.0
	UsualResetS   = 3.0
)

// Seconds is how long a trial takes with all that belongs to it.
func (c Cycle) Seconds() float64 { return c.LatencyS + c.DurationS + c.DeliverS + c.ResetS }

// Attainable is the highest rate of reinforcement that the trials themselves allow: 60 ÷ cycle, times the share
// of them that is paid; in pays per minute.
func (c Cycle) Attainable(share float64) float64 {
	if c.Seconds() <= 0 {
		return math.Inf(1)
	}
	return share * 60 / c.Seconds()
}

// Part names a part of the cycle.
type Part string

// The parts of a cycle.
const (
	PartReset    Part = "reset"
	PartDeliver  Part = "deliver"
	PartDuration Part = "duration"
)

// Remedy is one change that alone brings the attainable rate up to the plan's.
type Remedy struct {
	Part Part
	From float64 // s
	To   float64 // s
}

// minS is the shortest that a part of the cycle can become, in seconds.
var minS = map[Part]float64{PartReset: 1, PartDeliver: 1.5, PartDuration: 1}

// Remedies are the changes of which each alone would reach a planned rate (pays per minute), shortest setting
// of the hands first; none where it is attainable already or no single one is enough. The fastest response is
// the dog's, so latency is not among them.
func (c Cycle) Remedies(planned, share float64) []Remedy {
	if planned <= 0 || share <= 0 || c.Attainable(share) >= planned-evidence.Epsilon {
		return nil
	}
	over := c.Seconds() - share*60/planned
	var list []Remedy
	for _, one := range []struct {
		part Part
		now  float64
	}{{PartReset, c.ResetS}, {PartDeliver, c.DeliverS}, {PartDuration, c.DurationS}} {
		if to := one.now - over; to >= minS[one.part]-evidence.Epsilon {
			list = append(list, Remedy{one.part, one.now, to})
		}
	}
	return list
}

// PaysInside is how many pays a hold needs inside it at a rate per minute: ⌈D·R ÷ 60⌉.
func PaysInside(seconds, perMin float64) int {
	if seconds <= 0 || perMin <= 0 {
		return 0
	}
	return int(math.Ceil(seconds*perMin/60 - evidence.Epsilon))
}

// Jitter of pay times, as a share of their spacing, and how close to the release the last one comes.
const (
	jitter    = 0.3
	beforeEnd = 0.2 // of the spacing, at most beforeMost s
	maxEnd    = 0.5 // s
)

// PayTimes are the moments of the pays inside a hold, in seconds from its start: evenly spaced with up to 30 %
// of their spacing more or less, the last in position just before the release. The release itself is not among
// them.
func PayTimes(seconds, perMin float64, seed uint64) []float64 {
	n := PaysInside(seconds, perMin)
	if n == 0 {
		return nil
	}
	rng := chance(seed, 3)
	apart := seconds / float64(n)
	times := make([]float64, n)
	for i := range times {
		times[i] = apart * (float64(i+1) + jitter*(2*rng.Float64()-1))
	}
	times[n-1] = seconds - math.Min(maxEnd, beforeEnd*apart)
	return times
}

// RunsOut is in how many minutes the food is down to its reserve: (left − reserve) ÷ pieces per minute so far.
// ok is false while nothing was eaten.
func RunsOut(left, reserve, eaten int, minutes float64) (in float64, ok bool) {
	if eaten <= 0 || minutes <= 0 {
		return 0, false
	}
	return math.Max(0, float64(left-reserve)) / (float64(eaten) / minutes), true
}

// MinMeasured is from how many on a measured time is taken in place of the usual one.
const MinMeasured = 5

// Measured is a cycle out of what a record says: the latencies of met trials and the times between the end of
// one trial and the start of the next, both in seconds, beside how long the trial itself lasts. What was not
// measured often enough is taken as usual; n is how many times between trials there were, 0 for too few.
func Measured(latencies, between []float64, durationS float64) (c Cycle, n int) {
	c = Cycle{LatencyS: UsualLatencyS, DurationS: durationS, DeliverS: UsualDeliverS, ResetS: UsualResetS}
	if len(latencies) >= MinMeasured {
		c.LatencyS = evidence.Quantile(latencies, 0.5)
	}
	if len(between) >= MinMeasured {
		whole := evidence.Quantile(between, 0.5)
		c.DeliverS = math.Min(UsualDeliverS, whole/2) // which part was eating is not in the record
		c.ResetS = whole - c.DeliverS
		n = len(between)
	}
	return c, n
}
