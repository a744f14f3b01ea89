package reinforce

import (
	"math"
	"math/rand/v2"
	"slices"

	"patientfox/core/evidence"
)

// Way is how the paid ones are chosen among the met trials.
type Way string

// The ways to choose.
const (
	Every    Way = "every"
	Fixed    Way = "fixed"    // every k-th
	Variable Way = "variable" // one in k, unforeseen
	Best     Way = "best"     // the quickest share
)

// Schedule says which of the met trials are paid. The zero schedule pays every one.
type Schedule struct {
	Way   Way     `json:"way,omitempty"`
	K     int     `json:"k,omitempty"`     // fixed, variable: one in K
	Share float64 `json:"share,omitempty"` // best: 0…1, 0 is DefaultShare
	Thin  bool    `json:"thin,omitempty"`  // K is reached one rung at a time, while success holds
}

// Defaults and bounds of schedules.
const (
	DefaultShare = 0.7
	MaxK         = 10
	bestWindow   = 20  // met trials that the best share looks back over
	bestLeast    = 5   // fewer than these: all are paid
	bestSlack    = 0.3 // s
)

// Rungs are the ratios of thinning, in the order in which they are climbed.
var Rungs = []int{1, 2, 3, 4, 5, 8, 10}

// Thinner is the next rung above k, at most the plan's own and what the work allows. Pay gets thinner on a step
// up at that rung alone.
func Thinner(k, most int) int {
	for _, rung := range Rungs {
		if rung > k && rung <= most {
			return rung
		}
	}
	return k
}

// Richer is the rung below k, 1 at the bottom: where the rate fell below the plan's.
func Richer(k int) int {
	to := 1
	for _, rung := range Rungs {
		if rung < k {
			to = rung
		}
	}
	return to
}

// At is the schedule in force at a rung of thinning: a thinned one has not come further than that.
func (s Schedule) At(rung int) Schedule {
	if !s.Thin || s.Way != Fixed && s.Way != Variable {
		return s
	}
	s.K = min(max(1, rung), max(1, s.K))
	return s
}

// PaidShare is the share of met trials that is paid in the long run, 0…1.
func (s Schedule) PaidShare() float64 {
	switch s.Way {
	case Fixed, Variable:
		return 1 / float64(max(1, s.K))
	case Best:
		return s.share()
	}
	return 1
}

func (s Schedule) share() float64 {
	if s.Share <= 0 {
		return DefaultShare
	}
	return s.Share
}

// seed of chance for a run of trials; another one for each use.
func chance(seed uint64, use uint64) *rand.Rand { return rand.New(rand.NewPCG(seed, use)) }

// Draw chooses which of n trials are paid at one in k on average: max(1, round(n ÷ k)) of them, the first
// always, and never more than 2k−1 unpaid in a row. n and k are at least 1.
func Draw(n, k int, seed uint64) []bool {
	paid := make([]bool, n)
	if n == 0 {
		return paid
	}
	k = max(1, k)
	gaps := make([]int, max(1, int(math.Round(float64(n)/float64(k)))))
	rng := chance(seed, 1)
	for range n - len(gaps) {
		// One unpaid trial more in a gap that still has room.
		i := rng.IntN(len(gaps))
		for gaps[i] >= 2*k-1 {
			i = (i + 1) % len(gaps)
		}
		gaps[i]++
	}
	at := 0
	for _, gap := range gaps {
		paid[at] = true
		at += gap + 1
	}
	return paid
}

// drawn is how many payments are drawn together; a run of trials is as long as their share needs.
const drawn = 4

// Pays tells whether met trial number i (from 0) is paid, for the schedules that do not look at the trial. The
// first is always paid.
func (s Schedule) Pays(i int, seed uint64) bool {
	k := max(1, s.K)
	switch s.Way {
	case Fixed:
		return i%k == 0
	case Variable:
		run := drawn * k
		return Draw(run, k, seed+uint64(i/run))[i%run]
	}
	return true
}

// BestLimit is the latency in seconds under which a met trial belongs to the best share, by the latencies of
// the met trials before it, oldest first; all is true while there are too few to tell. The share in force
// looks back over 20: the latency of rank min(m, ⌈(m+1)·share⌉), fast to slow, and 0.3 s more.
func (s Schedule) BestLimit(latencies []float64) (limit float64, all bool) {
	recent := slices.Clone(latencies[max(0, len(latencies)-bestWindow):])
	m := len(recent)
	if m < bestLeast {
		return math.Inf(1), true
	}
	slices.Sort(recent)
	rank := min(m, int(math.Ceil(float64(m+1)*s.share()-evidence.Epsilon)))
	return recent[rank-1] + bestSlack, false
}

// PaysBest tells whether a met trial of a latency is among the best share.
func (s Schedule) PaysBest(latency float64, before []float64) bool {
	limit, all := s.BestLimit(before)
	return all || latency < limit-evidence.Epsilon
}

// lifeRewardRun is how many paid trials the own reward is drawn over.
const lifeRewardRun = 8

// LifeRewards draws which of n paid trials are paid with what the dog wanted itself: at most the share of them, never
// the first, and never two in a row. share is 0…½.
func LifeRewards(n int, share float64, seed uint64) []bool {
	own := make([]bool, n)
	count := int(math.Min(share, MaxLifeReward)*float64(n) + evidence.Epsilon)
	if count == 0 {
		return own
	}
	// Places without a neighbour: choose among fewer and spread them.
	places := n - count
	rng := chance(seed, 2)
	for i, at := range sample(rng, places, count) {
		own[1+at+i] = true
	}
	return own
}

// sample picks count of n numbers, in order.
func sample(rng *rand.Rand, n, count int) []int {
	picked := make([]int, 0, count)
	for i := 0; i < n && len(picked) < count; i++ {
		if rng.IntN(n-i) < count-len(picked) {
			picked = append(picked, i)
		}
	}
	return picked
}

// PaysLifeReward tells whether paid trial number i (from 0) is paid with what the dog wanted itself.
func PaysLifeReward(i int, share float64, seed uint64) bool {
	if share <= 0 {
		return false
	}
	return LifeRewards(lifeRewardRun, share, seed+uint64(i/lifeRewardRun))[i%lifeRewardRun]
}

// Visit is one session, as the thinning of pay reads it.
type Visit struct {
	NewPlace bool
	Ups      []bool  // the step-ups taken in it, in order: whether each brought a new dimension in
	Rate     float64 // pays per minute over its active time, NaN where there was none to speak of
}

// Climb is how far thinning has come after some sessions that began at a rung: a new place, or a new dimension,
// returns to every one; a step up goes one rung on, most at most; a session below the planned rate lo (pays per
// minute) goes one back.
func Climb(rung int, visits []Visit, most int, lo float64) int {
	rung = max(1, rung)
	for _, v := range visits {
		if v.NewPlace {
			rung = 1
		}
		for _, fresh := range v.Ups {
			if rung = Thinner(rung, most); fresh {
				rung = 1
			}
		}
		if v.Rate < lo-evidence.Epsilon {
			rung = Richer(rung)
		}
	}
	return rung
}
