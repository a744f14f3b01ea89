package progression

import (
	"math"
	"strings"

	"patientfox/core/criteria"
	"patientfox/core/evidence"
)

// LintCode names what is not sound about a step.
type LintCode string

// What can be not sound about a step, against the one below it.
const (
	LintTwoRaised LintCode = "two_raised" // more than one thing is raised at once
	LintJump      LintCode = "jump"       // one thing is raised by more than the limit
	LintNew       LintCode = "new"        // something new comes in and nothing is eased
	LintNoHarder  LintCode = "no_harder"  // it is harder in nothing
	LintAge       LintCode = "age"        // it holds longer than the dog's age suggests
)

// FixKind is how a lint's fix changes the ladder.
type FixKind string

// The ways a fix can change a ladder.
const (
	FixInsert  FixKind = "insert"  // a step between this one and the one below
	FixReplace FixKind = "replace" // other criteria for this step
	FixRemove  FixKind = "remove"  // without this step
)

// Lint is one thing that is not sound, with its fix. It advises; nothing is blocked.
type Lint struct {
	Step  int // index
	Code  LintCode
	Keys  []criteria.Key // the dimensions it is about
	Limit float64        // jump, age: the figure that would still do
	Fix   FixKind
	To    criteria.Criteria // of the inserted or replaced step
}

// Limits of a sound step: the larger of a factor and a little more.
const (
	jumpFactor = 1.5
	moreS      = 2.0 // s
	moreM      = 1.0 // m
	moreRank   = 1.0
	easedShare = 0.5 // what comes in new eases the others to this share
)

// grownWeeks is the age, in weeks, from which a hold has no limit.
const grownWeeks = 52

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

// Lints says what is not sound about a ladder, easiest step first, for a dog of an age in weeks (0
// where it is unknown).
func Lints(steps []Step, weeks float64) []Lint {
	var lints []Lint
	limit := HoldLimit(weeks)
	for i, s := range steps {
		if i > 0 {
			lints = append(lints, against(steps, i)...)
		}
		if hold := s.Criteria.Get(criteria.Duration); hold > limit+evidence.Epsilon {
			lints = append(lints, Lint{
				Step: i, Code: LintAge, Keys: []criteria.Key{criteria.Duration}, Limit: limit,
				Fix: FixReplace, To: s.Criteria.With(criteria.Duration, math.Floor(limit*2)/2),
			})
		}
	}
	return lints
}

// against looks at one step against the one below.
func against(steps []Step, i int) []Lint {
	from, to := steps[i-1].Criteria, steps[i].Criteria
	harder, easier := criteria.Changed(from, to)
	if len(harder) == 0 {
		if strings.TrimSpace(from.Text) != strings.TrimSpace(to.Text) || from.Trig != to.Trig {
			return nil // what is harder stands in words
		}
		return []Lint{{Step: i, Code: LintNoHarder, Fix: FixRemove}}
	}
	raised, fresh := split(from, harder)
	var lints []Lint
	if len(fresh) > 0 && len(easier) == 0 {
		lints = append(lints, Lint{Step: i, Code: LintNew, Keys: keys(fresh), Fix: FixReplace, To: eased(from, to, fresh)})
	} else if things := len(raised) + min(len(fresh), 1); things > 1 {
		// First the things that were there before, one at a time; what is new comes last.
		between := from.With(raised[0].Key, to.Get(raised[0].Key))
		lints = append(lints, Lint{Step: i, Code: LintTwoRaised, Keys: keys(harder), Fix: FixInsert, To: between})
	}
	for _, d := range raised {
		if most := jumpLimit(d, from.Get(d.Key)); (to.Get(d.Key)-most)*float64(d.Harder) > evidence.Epsilon {
			lints = append(lints, Lint{Step: i, Code: LintJump, Keys: []criteria.Key{d.Key}, Limit: most, Fix: FixInsert, To: Half(steps, i)})
		}
	}
	return lints
}

// split tells what was raised from what is new. A trigger comes in as one thing, whatever is said of
// it.
func split(from criteria.Criteria, harder []criteria.Dimension) (raised, fresh []criteria.Dimension) {
	for _, d := range harder {
		if from.Has(d.Key) {
			raised = append(raised, d)
		} else {
			fresh = append(fresh, d)
		}
	}
	return raised, fresh
}

// jumpLimit is the hardest figure that is still a sound step from one: the larger change of ×1.5 and
// +2 s, +1 m or +1 rank.
func jumpLimit(d criteria.Dimension, from float64) float64 {
	more := moreRank
	switch d.Unit {
	case "s":
		more = moreS
	case "m":
		more = moreM
	}
	if d.Harder < 0 {
		return math.Min(from/jumpFactor, from-more)
	}
	return math.Max(from*jumpFactor, from+more)
}

// eased is a step in which what was there before pays for what is new.
func eased(from, to criteria.Criteria, fresh []criteria.Dimension) criteria.Criteria {
	isFresh := map[criteria.Key]bool{}
	for _, d := range fresh {
		isFresh[d.Key] = true
	}
	out := to
	for _, d := range criteria.Dimensions {
		before, had := from.Values[d.Key]
		if !had || isFresh[d.Key] || d.Scale == criteria.Rank {
			continue
		}
		easier := before * easedShare
		if d.Harder < 0 {
			easier = before / easedShare
		}
		out = out.With(d.Key, clamp(d, easier))
	}
	return out
}

func keys(dimensions []criteria.Dimension) []criteria.Key {
	var list []criteria.Key
	for _, d := range dimensions {
		list = append(list, d.Key)
	}
	return list
}

// Mend does a lint's fix; an inserted step gets the name given.
func Mend(steps []Step, l Lint, id string) []Step {
	switch l.Fix {
	case FixInsert:
		return Insert(steps, Step{ID: id, Rev: 1, Criteria: l.To, Safety: steps[l.Step].Safety}, steps[l.Step].ID)
	case FixRemove:
		return append(append([]Step(nil), steps[:l.Step]...), steps[l.Step+1:]...)
	}
	out := append([]Step(nil), steps...)
	out[l.Step].Criteria = l.To
	out[l.Step].Rev++
	return out
}
