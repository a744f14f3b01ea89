package progression

import (
	"math"
	"strings"

	"patientfox/core/criteria"
	"patientfox/core/evidence"
)

// LintCode names what is not sound about a step.
type LintCode string

// What can be not sound about a step: against the one below it, for this dog, or in its order.
const (
	LintTwoRaised LintCode = "two_raised" // more than one thing is raised at once
	LintJump      LintCode = "jump"       // one thing is raised by more than the limit
	LintNew       LintCode = "new"        // something new comes in and nothing is eased
	LintNoHarder  LintCode = "no_harder"  // it is harder in nothing
	LintGear      LintCode = "gear"       // support gear is skipped
	LintAge       LintCode = "age"        // it holds longer than the dog's age suggests
	LintGrowth    LintCode = "growth"     // for a puppy, more than half as much again
	LintFirst     LintCode = "first"      // the first step is not easy enough
	LintNeed      LintCode = "need"       // a prerequisite is not met
	LintMeasure   LintCode = "measure"    // it names nothing that a trial of its work could be measured by
)

// LintCodes lists the lints in the order in which pages show them.
var LintCodes = []LintCode{
	LintFirst, LintMeasure, LintTwoRaised, LintJump, LintNew, LintNoHarder, LintGear, LintAge, LintGrowth, LintNeed,
}

// FixKind is how a lint's fix changes the ladder.
type FixKind string

// The ways a fix can change a ladder.
const (
	FixInsert  FixKind = "insert"  // a step between this one and the one below
	FixReplace FixKind = "replace" // other criteria for this step
	FixRemove  FixKind = "remove"  // without this step
	FixNeed    FixKind = "need"    // a plan for what is needed: outside the ladder
)

// Lint is one thing that is not sound, with its fix. It advises; nothing is blocked.
type Lint struct {
	Step  int // index
	Code  LintCode
	Dims  []criteria.Dimension // what it is about
	Limit float64              // jump, age: the figure that would still do, in the dimension's unit
	Fix   FixKind
	To    criteria.Criteria // of the inserted or replaced step
	Need  Need
}

// Limits of a sound step: the larger of a factor and a little more.
const (
	jumpFactor = 1.5
	moreS      = 2.0  // s
	moreM      = 1.0  // m
	moreHigh   = 0.05 // m of height
	moreAngle  = 15.0 // °
	moreRank   = 1.0
	easedShare = 0.5 // what comes in new eases the others to this share
)

// minHold is the shortest hold, s: one that asks for no more is not eased.
const minHold = 1.0

// grownWeeks is the age, in weeks, from which a hold has no limit.
const grownWeeks = 52

// puppyGrowth is by how much a puppy's holds and paces may grow in a day.
const puppyGrowth = 1.5

// firstMost is the hardest figure that is still an easy first step.
var firstMost = map[criteria.Key]float64{
	criteria.Duration: 5, criteria.Handler: 2, criteria.Trigger: 10, criteria.Intensity: 2, criteria.Paces: 3,
	criteria.Height: 0.2, criteria.Angle: 90, criteria.Novelty: 1, criteria.Moving: 0,
}

// HoldLimit is how many seconds a dog of an age (weeks) should be asked to hold at most: as many as
// weeks up to 16, then doubling every four weeks, +Inf from a year on or where the age is unknown
// (0 or less).
func HoldLimit(weeks float64) float64 {
	switch {
	case weeks <= 0 || weeks >= grownWeeks:
		return math.Inf(1)
	case weeks <= 16:
		return weeks
	}
	return 16 * math.Pow(2, (weeks-16)/4)
}

// Lints says what is not sound about a ladder, easiest step first, in a case.
func Lints(steps []Step, c Case) []Lint {
	var lints []Lint
	limit := c.hold()
	for _, need := range c.Missing {
		lints = append(lints, Lint{Step: max(0, Index(steps, need.Before)), Code: LintNeed, Fix: FixNeed, Need: need})
	}
	for i, s := range steps {
		if i == 0 && c.Reached <= 0 {
			lints = append(lints, first(s.Criteria)...)
		}
		if i > 0 {
			lints = append(lints, against(steps, i, c)...)
		}
		if least := c.unmeasured(s.Criteria); len(least) > 0 {
			lints = append(lints, Lint{Step: i, Code: LintMeasure, Dims: least, Fix: FixReplace, To: c.Least.Over(s.Criteria)})
		}
		if hold := s.Criteria.Get(criteria.Duration); hold > limit+evidence.Epsilon {
			d, _ := s.Criteria.Dimension(criteria.Duration)
			lints = append(lints, Lint{
				Step: i, Code: LintAge, Dims: []criteria.Dimension{d}, Limit: limit,
				Fix: FixReplace, To: s.Criteria.With(criteria.Duration, limit),
			})
		}
	}
	return lints
}

// unmeasured are the measures of the work of which a step names none; none where it names one of them.
func (c Case) unmeasured(step criteria.Criteria) []criteria.Dimension {
	least := c.Least.Asked()
	for _, d := range least {
		if step.Has(d.Key) {
			return nil
		}
	}
	if step.Has(criteria.Latency) || step.Has(criteria.Lead) || step.Has(criteria.Out) {
		return nil
	}
	return least
}

// hard are the dimensions in which a first step asks for more than is easy.
func hard(c criteria.Criteria) (list []criteria.Dimension) {
	for _, d := range c.Asked() {
		if most, known := firstMost[d.Key]; known && (c.Get(d.Key)-most)*float64(d.Harder) > evidence.Epsilon {
			list = append(list, d)
		}
	}
	return list
}

// first looks whether the first step is easy: a small figure in everything. Its fix is an easier one
// below.
func first(c criteria.Criteria) []Lint {
	dims := hard(c)
	if len(dims) == 0 {
		return nil
	}
	easy := c
	for _, d := range dims {
		easy = easy.With(d.Key, firstMost[d.Key])
	}
	return []Lint{{Code: LintFirst, Dims: dims, Fix: FixInsert, To: easy}}
}

// level is a dimension's figure for comparing: a support that is not named is gone.
func level(c criteria.Criteria, d criteria.Dimension) float64 {
	x, ok := criteria.Level(c, d)
	if !ok && d.Fades {
		return float64(len(d.Items) - 1)
	}
	return x
}

// against looks at one step against the one below.
func against(steps []Step, i int, c Case) []Lint {
	from, to := steps[i-1].Criteria, steps[i].Criteria
	harder, easier := criteria.Changed(from, to)
	if len(harder) == 0 {
		if strings.TrimSpace(from.Text) != strings.TrimSpace(to.Text) || from.Trig != to.Trig || len(from.Vary) != len(to.Vary) {
			return nil // what is harder is only in words
		}
		return []Lint{{Step: i, Code: LintNoHarder, Fix: FixRemove}}
	}
	raised, fresh := split(from, harder)
	var lints []Lint
	if len(fresh) > 0 && len(easier) == 0 {
		// Where there is nothing to ease, there is nothing to say.
		if to, can := eased(from, to, fresh); can {
			lints = append(lints, Lint{Step: i, Code: LintNew, Dims: fresh, Fix: FixReplace, To: to})
		}
	} else if things := len(raised) + min(len(fresh), 1); things > 1 {
		// First the things that were there before, one at a time; what is new comes last.
		lints = append(lints, Lint{Step: i, Code: LintTwoRaised, Dims: harder, Fix: FixInsert, To: as(from, to, raised[0])})
	}
	for _, d := range raised {
		if l, found := jumped(steps, i, d, c); found {
			lints = append(lints, l)
		}
	}
	return lints
}

// as is from, with one dimension taken from to.
func as(from, to criteria.Criteria, d criteria.Dimension) criteria.Criteria {
	if !to.Has(d.Key) {
		return from.Without(d.Key)
	}
	return from.WithDimension(d, to.Get(d.Key))
}

// jumped looks whether one thing that was raised was raised too far.
func jumped(steps []Step, i int, d criteria.Dimension, c Case) (Lint, bool) {
	from, to := steps[i-1].Criteria, steps[i].Criteria
	a, b := level(from, d), level(to, d)
	insert := func(code LintCode, limit float64, between criteria.Criteria) (Lint, bool) {
		return Lint{Step: i, Code: code, Dims: []criteria.Dimension{d}, Limit: limit, Fix: FixInsert, To: between}, true
	}
	if d.Key == criteria.Gear {
		if b > a+moreRank {
			return insert(LintGear, a+moreRank, to.WithDimension(d, a+moreRank))
		}
		return Lint{}, false
	}
	if d.Harder == 0 {
		return Lint{}, false
	}
	if most := JumpLimit(d, a); (b-most)*float64(d.Harder) > evidence.Epsilon {
		return insert(LintJump, most, Middle(from, to))
	}
	if most, puppy := c.grown(d, a); puppy && b > most+evidence.Epsilon {
		return insert(LintGrowth, most, Middle(from, to))
	}
	return Lint{}, false
}

// split tells what was raised from what is new. A trigger comes in as one thing, whatever is said of
// it: one that was there already is not new when its distance is named.
func split(from criteria.Criteria, harder []criteria.Dimension) (raised, fresh []criteria.Dimension) {
	there := from.Get(criteria.Intensity) > 0 || from.Has(criteria.Part)
	for _, d := range harder {
		if from.Has(d.Key) || d.Fades || there && d.Key == criteria.Trigger {
			raised = append(raised, d)
		} else {
			fresh = append(fresh, d)
		}
	}
	return raised, fresh
}

// JumpLimit is the hardest figure that is still a sound step from one: the larger change of ×1.5 and
// +2 s, +1 m (5 cm of height), +15° or +1 rank. The places of a list have no ratio: there it is the
// next one.
func JumpLimit(d criteria.Dimension, from float64) float64 {
	more := moreRank
	switch {
	case d.Scale == criteria.Ranked:
		return from + moreRank*float64(d.Harder)
	case d.Unit == "s":
		more = moreS
	case d.Small:
		more = moreHigh
	case d.Unit == "m":
		more = moreM
	case d.Unit == "°":
		more = moreAngle
	}
	switch {
	case d.Scale == criteria.Rank && d.Harder < 0:
		return math.Min(math.Ceil(from/jumpFactor), from-more)
	case d.Scale == criteria.Rank:
		return math.Max(math.Floor(from*jumpFactor), from+more)
	case d.Harder < 0 && from <= 0:
		return from - more
	case d.Harder < 0:
		return math.Min(from/jumpFactor, from-more)
	}
	return math.Max(from*jumpFactor, from+more)
}

// eased is a step in which what was there before pays for what is new; can is false where nothing
// can be made easier.
func eased(from, to criteria.Criteria, fresh []criteria.Dimension) (out criteria.Criteria, can bool) {
	isFresh := map[criteria.Key]bool{}
	for _, d := range fresh {
		isFresh[d.Key] = true
	}
	out = to
	for _, d := range from.Asked() {
		if isFresh[d.Key] || d.Scale != criteria.Measure || !to.Has(d.Key) {
			continue
		}
		before := from.Get(d.Key)
		if d.Key == criteria.Duration && before <= minHold {
			continue // there is no less to ask for
		}
		easier := before * easedShare
		if d.Harder < 0 {
			easier = before / easedShare
		}
		out = out.With(d.Key, clamp(d, easier))
	}
	_, less := criteria.Changed(from, out)
	return out, len(less) > 0
}

// Mend does a lint's fix; an inserted step gets the name given.
func Mend(steps []Step, l Lint, id string) []Step {
	switch l.Fix {
	case FixInsert:
		return Insert(steps, Step{ID: id, Rev: 1, Criteria: l.To, Safety: steps[l.Step].Safety}, steps[l.Step].ID)
	case FixRemove:
		return append(append([]Step(nil), steps[:l.Step]...), steps[l.Step+1:]...)
	case FixNeed:
		return steps
	}
	out := append([]Step(nil), steps...)
	out[l.Step].Criteria = l.To
	out[l.Step].Rev++
	return out
}

// NewDimension tells whether a step asks for something that the one before did not ask for at all; supports
// that fade are no such thing.
func NewDimension(from, to criteria.Criteria) bool {
	for _, d := range to.Asked() {
		if !from.Has(d.Key) && !d.Fades {
			return true
		}
	}
	return false
}
