package decision

import (
	"math"
	"slices"

	"patientfox/core/evidence"
)

// Action says what an advice during a session asks for.
type Action string

// What can be advised while a session runs.
const (
	LeaveNow  Action = "leave"  // no finish trial, no more of that trigger today
	AddSpace  Action = "space"  // add distance, or finish
	LeaveOne  Action = "skill"  // leave this skill for today
	CapToday  Action = "cap"    // no higher than so much today
	EndEasily Action = "finish" // one easy trial two steps down, paid well
	PayFaster Action = "pay"    // pay more, or finish
	AskLess   Action = "easier" // one step easier
	TakeBreak Action = "break"
)

// Sign is why.
type Sign string

// The signs, in the order in which they are looked for.
const (
	OverNow      Sign = "over"      // over threshold
	BiteRisk     Sign = "bite"      // it growled or snapped
	RefusedBest  Sign = "refused"   // top-tier food refused once
	SlowPays     Sign = "slow_pays" // two in a row slow or refused
	ToyIgnored   Sign = "ignored"   // a favourite toy ignored
	PulledHere   Sign = "pulled"    // two at one site: it is finished for today
	PulledOften  Sign = "pulled3"   // three over all sites
	StepBacks    Sign = "backs"     // two in one block
	Restarts     Sign = "restarts"  // three below half of today's best count
	ManyResets   Sign = "resets"    // three in one set
	FoodGone     Sign = "food"      // pieces at the reserve
	TimeGone     Sign = "time"      // planned time gone
	SlowerNow    Sign = "slower"    // latency of the last five against the fourth to the eighth
	FewerNow     Sign = "fewer"     // second half against the first
	OverExcited  Sign = "excited"   // noted twice running
	ExcitedAgain Sign = "excited2"  // and again after a break
	SaggingRate  Sign = "sagging"   // two overdue gaps in a row, and a rising state
	RestDue      Sign = "rest"      // worked for as long as the plan says
	ProofsDone   Sign = "proofs"    // as many proof trials as a day should have
	noSign       Sign = ""
)

// What calls a session slower or worse. A dog of constant speed and rate is told so in at most 8 % of sessions of up to 60 trials by the
// two together, and one that falls from 0.9 to 0.5 at its 15th trial by the 30th in over half; a gradual fall is often missed.
const (
	slowerBy      = 1.5
	slowerFrom    = 13 // trials
	slowerBase    = 3  // trials left out before those that are compared with: the first are often not the usual ones
	latencyTrials = 5
	declineSure   = 0.993
	declineHalf   = 8 // trials in each half at least
)

// Signs is what a running session shows.
type Signs struct {
	Over      bool // state 4
	Growled   bool // or snapped
	Refused   bool // top-tier food was refused
	SlowPays  int  // pays in a row, up to the last, that were taken slowly or refused
	Ignored   bool // a favourite toy was ignored
	Pulled    int  // pull-aways of this session
	PulledAt  int  // the most of them at one site
	Backs     int  // step-backs in this block; restarts of a count are none
	Restarts  int  // of a count, below half of today's best
	Resets    int  // in the running set
	Excited   Excitement
	WorkedS   float64   // s of work since the last rest
	RestAfter float64   // s of work after which the dog rests, 0 for no bound
	Best      int       // today's best count, as a step from 0; read where Restarts is 3 or more
	Left      int       // pieces, −1 where they were not counted out
	Reserve   int       // pieces kept for the finish
	PlannedS  float64   // s, 0 where no time was planned
	GoneS     float64   // s since the session began
	Latencies []float64 // s, of this session's trials at today's step, oldest first; +Inf for one that was not right
	Set       int       // trials in a set, between which slowing and decline are not looked for anew
	Declines  float64   // how sure it is that the second half of today's step is worse than the first, by Halves; 0…1
	Overdue   int       // gaps in a row, up to the last, that were overdue
	Rising    bool      // the state noted last is above the one before
	Proofs    int       // proof trials of this skill today
}

// Advice is what a session should do now.
type Advice struct {
	Sign Sign
	Do   Action
	Of   int     // of what the sign counts
	Part float64 // latency: how many times the first; fewer: how sure, 0…1
}

// ProofsADay is how many proof trials of a skill a day should have.
const ProofsADay = 8

// Advise answers whether a session should stop, or change, now: the first sign that applies, in the order of the
// list; ok is false where none does.
func Advise(s Signs) (a Advice, ok bool) {
	switch {
	case s.Over:
		return Advice{Sign: OverNow, Do: LeaveNow}, true
	case s.Growled:
		return Advice{Sign: BiteRisk, Do: LeaveNow}, true
	case s.Refused:
		return Advice{Sign: RefusedBest, Do: AddSpace}, true
	case s.SlowPays >= 2:
		return Advice{Sign: SlowPays, Do: AddSpace, Of: s.SlowPays}, true
	case s.Ignored:
		return Advice{Sign: ToyIgnored, Do: AddSpace}, true
	case s.Pulled >= 3:
		return Advice{Sign: PulledOften, Do: EndEasily, Of: s.Pulled}, true
	case s.PulledAt >= 2:
		return Advice{Sign: PulledHere, Do: LeaveOne, Of: s.PulledAt}, true
	case s.Backs >= 2:
		return Advice{Sign: StepBacks, Do: LeaveOne, Of: s.Backs}, true
	case s.Restarts >= 3:
		return Advice{Sign: Restarts, Do: CapToday, Of: max(0, s.Best-2)}, true
	case s.Resets >= 3:
		return Advice{Sign: ManyResets, Do: AskLess, Of: s.Resets}, true
	case s.Left >= 0 && s.Left <= s.Reserve:
		return Advice{Sign: FoodGone, Do: EndEasily, Of: s.Left}, true
	case s.PlannedS > 0 && s.GoneS >= s.PlannedS-evidence.Epsilon:
		return Advice{Sign: TimeGone, Do: EndEasily, Of: int(math.Round(s.PlannedS / 60))}, true
	}
	if times, slower := Slowing(s.Latencies, s.Set); slower {
		return Advice{Sign: SlowerNow, Do: EndEasily, Part: times}, true
	}
	if s.Declines >= declineSure-evidence.Epsilon {
		return Advice{Sign: FewerNow, Do: EndEasily, Part: s.Declines}, true
	}
	switch s.Excited {
	case NeedsBreak:
		return Advice{Sign: OverExcited, Do: TakeBreak}, true
	case NeedsEnd:
		return Advice{Sign: ExcitedAgain, Do: EndEasily}, true
	}
	if s.Overdue >= 2 && s.Rising {
		return Advice{Sign: SaggingRate, Do: PayFaster, Of: s.Overdue}, true
	}
	if s.RestAfter > 0 && s.WorkedS >= s.RestAfter-evidence.Epsilon {
		return Advice{Sign: RestDue, Do: TakeBreak, Of: int(math.Round(s.RestAfter / 60))}, true
	}
	if s.Proofs >= ProofsADay {
		return Advice{Sign: ProofsDone, Do: LeaveOne, Of: ProofsADay}, true
	}
	return Advice{Sign: noSign}, false
}

// Excitement is what the dog's arousal calls for.
type Excitement int

// What it can call for.
const (
	Steady     Excitement = iota // nothing
	NeedsBreak                   // it was over-excited twice running
	NeedsEnd                     // and again after a break
)

// Rested stands among what was noted of a dog's arousal for a break.
const Rested = -1

// Excite reads what was noted of a dog's arousal in a session, oldest first: 0 settled, 1 lively, 2 over-excited, and Rested.
func Excite(noted []int) (e Excitement) {
	running, rested := 0, false
	for _, level := range noted {
		switch {
		case level == Rested:
			rested = rested || e == NeedsBreak
			running, e = 0, Steady
		case level < 2:
			running, e = 0, Steady
		case rested:
			e = NeedsEnd
		default:
			if running++; running >= 2 {
				e = NeedsBreak
			}
		}
	}
	return e
}

// Slowing tells whether a dog has become slower, and by how many times: the fastest of the last five is slower than the slowest of the
// fourth to the eighth, and their medians are more than 1.5 times apart, from 13 trials on and as they stood at the last full set of at
// least five. A latency of +Inf is a trial that was not right.
func Slowing(latencies []float64, set int) (times float64, slower bool) {
	set = max(set, latencyTrials)
	n := len(latencies) - len(latencies)%set
	if n < slowerFrom {
		return 0, false
	}
	base, last := latencies[slowerBase:slowerBase+latencyTrials], latencies[n-latencyTrials:n]
	before, now := evidence.Quantile(base, 0.5), evidence.Quantile(last, 0.5)
	if before <= 0 || slices.Min(last) <= slices.Max(base)+evidence.Epsilon || now <= slowerBy*before+evidence.Epsilon {
		return 0, false
	}
	if math.IsInf(now, 1) { // most of them were not right: the fastest says at least how much
		now = slices.Min(last)
	}
	return now / before, !math.IsInf(now, 1)
}

// Halves are what is right of how many, in the first and in the second half of a session's trials at one step.
type Halves struct{ Right1, N1, Right2, N2 int }

// HalvesOf splits trials, oldest first, as they stood at the last full set; ok is false before there are enough.
func HalvesOf(right []bool, set int) (h Halves, ok bool) {
	set = max(set, latencyTrials)
	n := len(right) - len(right)%set
	half := n / 2
	for i, one := range right[:n] {
		switch {
		case one && i < half:
			h.Right1++
		case one:
			h.Right2++
		}
	}
	h.N1, h.N2 = half, n-half
	return h, half >= declineHalf
}

// Sure is how sure it is that the second half is worse, 0…1. It takes a while: whoever asks often keeps the answer.
func (h Halves) Sure() float64 { return evidence.ProbDecline(h.Right1, h.N1, h.Right2, h.N2) }

// Recovery of a dog that had too much: seconds further off before a look is waited for, seconds for an easy cue, how
// many of those, and how often distance is added.
const (
	FurtherOffS    = 30.0
	EasyAnswerS    = 3.0
	EasyCues       = 2
	DistancesAdded = 2
)
