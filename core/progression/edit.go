package progression

import (
	"fmt"
	"math"
	"slices"

	"patientfox/core/criteria"
)

// Change is how one figure of several steps is changed at once.
type Change string

// The ways of changing a figure.
const (
	ChangeSet   Change = "set"   // to the figure given
	ChangeShift Change = "shift" // by adding the figure
	ChangeScale Change = "scale" // by multiplying with it
)

// Changed changes one figure of the steps at some indices. Set gives it to steps that did not ask for it; shift and scale leave those
// alone. The step of a problem is told in its sentence; with any, nothing is changed.
func Changed(steps []Step, chosen []int, d criteria.Dimension, how Change, x float64) ([]Step, []criteria.Problem) {
	out := slices.Clone(steps)
	var problems []criteria.Problem
	for _, i := range chosen {
		was := out[i].Criteria
		value := x
		switch {
		case how == ChangeSet:
		case !was.Has(d.Key):
			continue
		case how == ChangeShift:
			value = was.Get(d.Key) + x
		default:
			value = was.Get(d.Key) * x
		}
		if value = math.Round(value*1e6) / 1e6; d.Scale == criteria.Rank {
			value = math.Round(value)
		}
		own := d
		if here, ok := was.Dimension(d.Key); ok && was.Has(d.Key) {
			own = here
		}
		if text := own.Check(value); text != "" {
			problems = append(problems, criteria.Problem{Field: "figure", Text: fmt.Sprintf("Step %d: %s", i+1, text)})
			continue
		}
		if now := was.WithDimension(own, value); !was.Equal(now) {
			out[i].Criteria = now
			out[i].Rev++
		}
	}
	if len(problems) > 0 {
		return steps, problems
	}
	return out, nil
}

// MendAll does every fix of one lint until none is left, a fix changes nothing, or there would be more than most steps. id names the steps
// that come in.
func MendAll(steps []Step, c Case, code LintCode, most int, id func() string) []Step {
	for range most * 4 {
		at := slices.IndexFunc(Lints(steps, c), func(l Lint) bool { return l.Code == code && l.Fix != FixNeed })
		if at < 0 {
			return steps
		}
		l := Lints(steps, c)[at]
		if l.Fix == FixInsert && len(steps) >= most || l.Fix == FixRemove && len(steps) == 1 {
			return steps
		}
		steps = Mend(steps, l, id())
	}
	return steps
}
