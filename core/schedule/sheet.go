package schedule

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"unicode/utf8"

	"patientfox/core/criteria"
	"patientfox/core/reinforce"
	"patientfox/core/work"
)

// Why says why a skill is in a session, or why it is where it is in the queue.
type Why string

// The reasons, most pressing first.
const (
	Due       Why = "due"       // finished, and its probe is due
	Stuck     Why = "stuck"     // repeated or come back to too often
	Neglected Why = "neglected" // not worked for two weeks
	Needed    Why = "needed"    // another skill waits for it
	Side      Why = "side"      // the other side of one that is worked
	Turn      Why = "turn"      // its turn: worked longest ago
	Fresh     Why = "fresh"     // never worked
	Again     Why = "again"     // worked today already
	ByHand    Why = "hand"      // put in by the trainer
)

// order of the reasons in the queue.
var order = []Why{Due, Stuck, Neglected, Needed, Side, Turn, Fresh, Again}

// Candidate is one plan that a session could hold.
type Candidate struct {
	Plan      string
	Main      string // the plan whose ladder it climbs: tracks of one ladder share it
	Kind      work.Kind
	Start     string // id of the step to begin at
	StartAt   int    // its index
	Days      int    // since it was last worked; 0 today
	Never     bool   // not worked yet
	New       bool   // nothing was tried at the step it begins at
	Due       bool   // a finished skill whose probe is due
	Finished  bool
	Stuck     bool
	Neglected bool
	Needed    bool    // something else waits for it
	Waits     bool    // that step has a prerequisite that is not met
	Safety    bool    // somebody could be hurt
	CycleS    float64 // s from one trial to the next, as measured or usual
	Set       int     // trials in a set
	Lively    bool    // raises the dog; else it settles it
	Tier      int
	Share     float64 // of its met trials that is paid
	Pieces    int     // in a pay
	Inside    int     // pays inside a trial
}

// Why is the reason why a candidate is in the queue.
func (c Candidate) Why() Why {
	switch {
	case c.Due:
		return Due
	case c.Days == 0 && !c.Never:
		return Again
	case c.Stuck:
		return Stuck
	case c.Neglected:
		return Neglected
	case c.Needed:
		return Needed
	case c.Never:
		return Fresh
	}
	return Turn
}

// worries tells whether the skill is about something that worries the dog.
func (c Candidate) worries() bool { return work.Of(c.Kind).Pairs }

// Block is one skill's stretch of a session.
type Block struct {
	Plan   string  `json:"plan"`
	Step   string  `json:"step"`             // where it begins
	Chosen bool    `json:"chosen,omitempty"` // that step was chosen by hand: else the plan says on the day
	Probe  bool    `json:"probe,omitempty"`
	New    bool    `json:"new,omitempty"` // nothing was tried at that step
	Why    Why     `json:"why"`
	Sets   int     `json:"sets"`
	Set    int     `json:"set"`    // trials in one
	WorkS  float64 `json:"work_s"` // s of work
	BreakS float64 `json:"break_s"`
	Lively bool    `json:"lively,omitempty"`
	Worry  string  `json:"worry,omitempty"` // the ladder, where it is about something that worries the dog
	Tier   int     `json:"tier,omitempty"`
	Pieces int     `json:"pieces"`
	Note   string  `json:"note,omitempty"`
}

// Trials is how many trials the block holds.
func (b Block) Trials() int { return b.Sets * b.Set }

// Sheet is one session as it is planned.
type Sheet struct {
	WarmS   float64 `json:"warm_s"` // 0 for none
	Warm    string  `json:"warm,omitempty"`
	Blocks  []Block `json:"blocks"`
	Finish  string  `json:"finish,omitempty"` // the plan that it ends with, two steps down; "" for none
	FinishS float64 `json:"finish_s"`
	Exits   string  `json:"exits,omitempty"` // ways out, and where the line and the other people are
	Falls   string  `json:"falls,omitempty"` // what to do if it falls apart
	Gear    string  `json:"gear,omitempty"`
	Helper  string  `json:"helper,omitempty"`
}

// Seconds is how long the sheet takes, s.
func (s Sheet) Seconds() float64 {
	whole := s.WarmS + s.FinishS
	for _, b := range s.Blocks {
		whole += b.WorkS + b.BreakS
	}
	return whole
}

// Minutes is the same, up to the next whole minute.
func (s Sheet) Minutes() int { return int(math.Ceil(s.Seconds()/60 - 1e-9)) }

// Pieces for the parts beside the blocks.
const (
	WarmPieces   = 3
	FinishPieces = 3
)

// Pieces is the food to count out: of the blocks, the warm-up, the finish, and a reserve.
func (s Sheet) Pieces() int {
	n := reinforce.Reserve
	if s.WarmS > 0 {
		n += WarmPieces
	}
	if s.Finish != "" {
		n += FinishPieces
	}
	for _, b := range s.Blocks {
		n += b.Pieces
	}
	return n
}

// Times of a session, in seconds, and its bounds.
const (
	warmS      = 60.0
	finishS    = 45.0
	shortS     = 300.0 // a session shorter than this warms up and finishes in half the time
	breakS     = 60.0  // of being a dog
	workS      = 180.0 // of work at a stretch
	shortWorkS = 120.0
	betweenS   = 12.0 // between sets
	probeS     = 60.0
	maxSets    = 3
	MaxBlocks  = 6
	maxBuilt   = 4
	MaxMin     = 90
	MinMin     = 2
)

// MaxMinutes is how long a session of a dog of an age (weeks, 0 not known) should be at most.
func MaxMinutes(weeks float64) int {
	switch {
	case weeks <= 0 || weeks >= 52:
		return 25
	case weeks < 16:
		return 5
	case weeks < 26:
		return 8
	}
	return 12
}

// workLength is how long a dog of an age works at a stretch, s: exposures, handling and shaping tire it sooner.
func workLength(weeks float64, tires bool) float64 {
	if weeks > 0 && weeks < 26 || tires {
		return shortWorkS
	}
	return workS
}

// Queue orders candidates as a session takes them: by their reason, then what was worked longest ago. What
// waits for something else and what is finished and not due is left out. The other tracks of a ladder follow
// the first of them.
func Queue(candidates []Candidate) []Candidate {
	var queue []Candidate
	for _, c := range candidates {
		if !c.Waits && (!c.Finished || c.Due) {
			queue = append(queue, c)
		}
	}
	slices.SortStableFunc(queue, func(a, b Candidate) int {
		return cmp.Or(cmp.Compare(slices.Index(order, a.Why()), slices.Index(order, b.Why())), cmp.Compare(b.Days, a.Days))
	})
	var sides []Candidate
	taken := map[int]bool{}
	for i, c := range queue {
		if taken[i] {
			continue
		}
		sides = append(sides, c)
		for j := i + 1; j < len(queue); j++ {
			if queue[j].Main == c.Main && c.Main != "" && !taken[j] {
				taken[j] = true
				sides = append(sides, queue[j])
			}
		}
	}
	return sides
}

// Build plans a session of a length in minutes for a dog of an age in weeks (0 not known) out of its plans:
//
//  1. the queue: probes due, stuck, neglected, needed by another, then what was worked longest ago;
//  2. at most one new thing, and at most one that worries the dog: worries add up;
//  3. blocks of one to three sets, as long as a dog of that age works at a stretch of that kind, a break after each, until the minutes
//     are gone: both sides of a ladder or neither where one block alone would fit;
//  4. probes first, because they are cold; then lively and settling work in turn;
//  5. a warm-up before and an easy finish after, two steps down.
func Build(candidates []Candidate, minutes int, weeks float64) Sheet {
	seconds := 60 * float64(min(minutes, MaxMinutes(weeks)))
	s := Sheet{WarmS: warmS, FinishS: finishS}
	if seconds < shortS {
		s.WarmS, s.FinishS = warmS/2, finishS/2
	}
	left := seconds - s.WarmS - s.FinishS
	queue := Queue(candidates)
	fresh, worried, chosen := false, false, []Candidate{}
	out := map[string]bool{} // ladders of which one side was left out: rather none than one
	for _, c := range queue {
		rest := 0.0
		if len(s.Blocks) > 0 {
			rest = breakS
		}
		sides := count(queue, c.Main)
		fits := left - rest
		if sides > 1 && !has(chosen, c.Main) {
			fits = (left - rest - breakS*float64(sides-1)) / float64(sides) // the other side gets as much
		}
		b, ok := block(c, fits, weeks)
		switch {
		case len(s.Blocks) >= maxBuilt, !ok, out[c.Main], c.New && fresh, c.worries() && worried && !has(chosen, c.Main),
			c.Why() == Again && len(s.Blocks) > 0, sides > 1 && sides <= maxBuilt && !has(chosen, c.Main) && len(s.Blocks)+sides > maxBuilt:
			out[c.Main] = c.Main != "" && sides > 1
			continue
		}
		if has(chosen, c.Main) && b.Why != Due {
			b.Why = Side
		}
		fresh, worried = fresh || c.New, worried || c.worries()
		left -= b.WorkS + rest
		s.Blocks, chosen = append(s.Blocks, b), append(chosen, c)
	}
	s.Blocks = alternate(s.Blocks)
	for i := range s.Blocks {
		if i < len(s.Blocks)-1 {
			s.Blocks[i].BreakS = breakS
		}
	}
	if len(s.Blocks) == 0 {
		return Sheet{}
	}
	s.Finish = easiest(s.Blocks, chosen)
	return s
}

func count(queue []Candidate, main string) int {
	n := 0
	for _, c := range queue {
		if c.Main == main && main != "" {
			n++
		}
	}
	return n
}

func has(chosen []Candidate, main string) bool {
	return main != "" && slices.ContainsFunc(chosen, func(c Candidate) bool { return c.Main == main })
}

// block is a candidate's stretch in the time that is left; ok is false where not even one set fits.
func block(c Candidate, left float64, weeks float64) (b Block, ok bool) {
	b = Block{Plan: c.Plan, Step: c.Start, Why: c.Why(), Sets: 1, Set: max(1, c.Set), Probe: c.Due}
	if c.Due {
		b.Set = 1
		b.Count(c)
		return b, b.WorkS <= left
	}
	set := b.setS(c)
	most := math.Min(left, math.Max(workLength(weeks, work.Of(c.Kind).Tires), set))
	b.Sets = min(maxSets, int(math.Floor(most/set+1e-9)))
	if b.Sets < 1 {
		return b, false
	}
	b.Count(c)
	return b, true
}

// setS is how long one set takes, s.
func (b Block) setS(c Candidate) float64 { return float64(b.Set)*c.CycleS + betweenS }

// Count works out anew what a block takes, for its plan as it is now: time, food, and how it moves the dog.
func (b *Block) Count(c Candidate) {
	b.New, b.Lively, b.Tier, b.Worry = c.New && b.Step == c.Start, c.Lively, c.Tier, ""
	if c.worries() {
		b.Worry = c.Main
	}
	if b.Probe {
		// One cold trial, repeated twice where it is missed.
		b.WorkS = math.Max(probeS, c.CycleS)
		b.Pieces = reinforce.Demand{Trials: 3, Share: 1, Pieces: c.Pieces}.Count()
		return
	}
	b.WorkS = float64(b.Sets) * b.setS(c)
	b.Pieces = reinforce.Demand{Trials: b.Trials(), Share: c.Share, Pieces: c.Pieces, Inside: c.Inside}.Count()
}

// alternate puts probes first and then lively and settling blocks in turn, as far as there are both.
func alternate(blocks []Block) []Block {
	left := slices.Clone(blocks)
	var out []Block
	for len(left) > 0 {
		at := 0
		for i, b := range left {
			if b.Probe {
				at = i
				break
			}
			if n := len(out); n > 0 && b.Lively != out[n-1].Lively && (left[at].Lively == out[n-1].Lively) {
				at = i
			}
		}
		out = append(out, left[at])
		left = slices.Delete(left, at, at+1)
	}
	return out
}

// easiest is the plan to finish with: the last block's, unless that was something new and another was not.
func easiest(blocks []Block, chosen []Candidate) string {
	known := func(plan string) Candidate {
		return chosen[slices.IndexFunc(chosen, func(c Candidate) bool { return c.Plan == plan })]
	}
	for _, b := range slices.Backward(blocks) {
		if c := known(b.Plan); !b.New && c.StartAt >= 2 && !work.Of(c.Kind).ByState {
			return b.Plan
		}
	}
	return blocks[len(blocks)-1].Plan
}

// Match finds, for each block of a session by its plan, which planned one it is: those in turn, as far as they are
// the sheet's; -1 for one that was not planned there.
func Match(planned []Block, worked []string) []int {
	at := make([]int, len(worked))
	next := 0
	for k, plan := range worked {
		at[k] = -1
		for i := next; i < len(planned); i++ {
			if planned[i].Plan == plan {
				at[k], next = i, i+1
				break
			}
		}
	}
	return at
}

// Hint names what is worth a second look on a sheet. It advises and never blocks.
type Hint struct {
	Code  HintCode
	Block int // index, -1 for the whole sheet
	Limit float64
}

// HintCode is what a hint is about.
type HintCode string

// The hints.
const (
	HintTwoNew  HintCode = "two_new"  // more than one new thing
	HintLong    HintCode = "long"     // longer than the dog's age suggests, Limit in minutes
	HintNoBreak HintCode = "no_break" // a long stretch without a break, Limit in seconds of work
	HintLively  HintCode = "lively"   // two lively ones running
	HintFinish  HintCode = "finish"   // nothing easy at the end
	HintWarm    HintCode = "warm"     // no warm-up
	HintProbe   HintCode = "probe"    // a probe that is no longer cold
	HintFood    HintCode = "food"     // more than the day has, Limit in kcal
	HintTime    HintCode = "time"     // longer than its slot, Limit in minutes
	HintWorries HintCode = "worries"  // more than one thing that worries the dog
)

// Hints looks at a sheet as it was edited, for a dog of an age in weeks, a slot of a length in minutes, and the
// food that the day still has (kcal; +Inf where it is not known) beside what the sheet takes.
func (s Sheet) Hints(weeks float64, minutes int, kcal, left float64) []Hint {
	var hints []Hint
	if most := MaxMinutes(weeks); s.Minutes() > most {
		hints = append(hints, Hint{HintLong, -1, float64(most)})
	}
	if minutes > 0 && s.Minutes() > minutes {
		hints = append(hints, Hint{HintTime, -1, float64(minutes)})
	}
	if s.WarmS <= 0 && len(s.Blocks) > 0 {
		hints = append(hints, Hint{HintWarm, -1, 0})
	}
	fresh, probed, work := 0, map[string]bool{}, 0.0
	worry := ""
	for i, b := range s.Blocks {
		if b.Worry != "" && worry != "" && b.Worry != worry {
			hints = append(hints, Hint{HintWorries, i, 0})
		}
		if b.Worry != "" {
			worry = b.Worry
		}
		if b.New {
			if fresh++; fresh == 2 {
				hints = append(hints, Hint{HintTwoNew, i, 0})
			}
		}
		if b.Probe && probed[b.Plan] {
			hints = append(hints, Hint{HintProbe, i, 0})
		}
		probed[b.Plan] = true
		if i > 0 && b.Lively && s.Blocks[i-1].Lively && slices.ContainsFunc(s.Blocks, func(o Block) bool { return !o.Lively }) {
			hints = append(hints, Hint{HintLively, i, 0})
		}
		work += b.WorkS
		if most := 2 * workLength(weeks, false); work > most && i < len(s.Blocks)-1 && b.BreakS <= 0 {
			hints = append(hints, Hint{HintNoBreak, i, work})
		}
		if b.BreakS > 0 {
			work = 0
		}
	}
	if s.Finish == "" && len(s.Blocks) > 0 {
		hints = append(hints, Hint{HintFinish, -1, 0})
	}
	if kcal > left {
		hints = append(hints, Hint{HintFood, -1, kcal - left})
	}
	return hints
}

// Check lists what is wrong with a sheet.
func (s Sheet) Check() []criteria.Problem {
	var problems []criteria.Problem
	add := func(field, format string, args ...any) {
		problems = append(problems, criteria.Problem{Field: field, Text: fmt.Sprintf(format, args...)})
	}
	if len(s.Blocks) > MaxBlocks {
		add("blocks", "At most %d blocks in a session.", MaxBlocks)
	}
	if !(s.WarmS >= 0 && s.WarmS <= 1800) {
		add("warm_min", "From 0 to 30 minutes.")
	}
	for i, b := range s.Blocks {
		if b.Sets < 1 || b.Sets > 12 {
			add(fmt.Sprintf("sets%d", i), "1 to 12 sets.")
		}
		if b.Set < 1 || b.Set > 30 {
			add(fmt.Sprintf("set%d", i), "1 to 30 trials in a set.")
		}
		if !(b.BreakS >= 0 && b.BreakS <= 3600) {
			add(fmt.Sprintf("break%d", i), "A break of 0 to 60 minutes.")
		}
		if utf8.RuneCountInString(b.Note) > criteria.MaxText {
			add(fmt.Sprintf("note%d", i), "At most %d characters.", criteria.MaxText)
		}
	}
	for field, text := range map[string]string{"warm": s.Warm, "exits": s.Exits, "falls": s.Falls, "gear": s.Gear, "helper": s.Helper} {
		if utf8.RuneCountInString(text) > criteria.MaxText {
			add(field, "At most %d characters.", criteria.MaxText)
		}
	}
	return problems
}
