package progression

import (
	"math"

	"patientfox/core/criteria"
)

// Step is one set of criteria with a name for life: steps have ids, never positions.
type Step struct {
	ID       string            `json:"id"`
	Rev      int               `json:"rev"` // counts the changes of this step's own criteria, from 1
	Criteria criteria.Criteria `json:"criteria"`
	Safety   bool              `json:"safety,omitempty"`
}

// NeedsProof tells whether somebody could be hurt if the step fails: it is marked so, or it takes gear off
// the dog.
func (s Step) NeedsProof() bool {
	return s.Safety || s.Criteria.Get(criteria.Gear) > 0
}

// Index returns the position of a step among steps, −1 where it is not one of them.
func Index(steps []Step, id string) int {
	for i, s := range steps {
		if s.ID == id {
			return i
		}
	}
	return -1
}

// Insert puts a step directly below the one named above; below the first where above is unknown.
func Insert(steps []Step, added Step, above string) []Step {
	at := max(0, Index(steps, above))
	out := make([]Step, 0, len(steps)+1)
	out = append(out, steps[:at]...)
	out = append(out, added)
	return append(out, steps[at:]...)
}

// Reorder moves the step at index from to index to.
func Reorder(steps []Step, from, to int) []Step {
	out := append([]Step(nil), steps...)
	moved := out[from]
	out = append(out[:from], out[from+1:]...)
	return append(out[:to], append([]Step{moved}, out[to:]...)...)
}

// Merge makes one step, half way between the two, of the step at index i ≥ 1 and the one below. It
// keeps the name given, which is one of theirs.
func Merge(steps []Step, i int, keep string) []Step {
	below, here := steps[i-1], steps[i]
	one := Step{
		ID: keep, Rev: max(below.Rev, here.Rev) + 1, Criteria: Middle(below.Criteria, here.Criteria),
		Safety: below.Safety || here.Safety,
	}
	out := append([]Step(nil), steps[:i-1]...)
	return append(append(out, one), steps[i+1:]...)
}

// Half returns the criteria half way between the step at index i and the one below: the geometric
// mean for metres and seconds, the middle rank for lists. At the first step every figure is made
// half as hard: halved, or doubled where less is harder; a trigger that is there stays at least faint.
func Half(steps []Step, i int) criteria.Criteria {
	if i > 0 {
		return Middle(steps[i-1].Criteria, steps[i].Criteria)
	}
	half := steps[i].Criteria
	for _, d := range half.Asked() {
		half = half.With(d.Key, clamp(d, halfAsHard(d, half.Get(d.Key))))
	}
	return half
}

// Halves tells whether there is anything to halve at step i: a figure that makes the half step easier than it and harder than the
// one below. Where there is none, a half step would be a copy.
func Halves(steps []Step, i int) bool {
	half := Half(steps, i)
	_, easier := criteria.Changed(steps[i].Criteria, half)
	if i == 0 {
		return len(easier) > 0
	}
	harder, _ := criteria.Changed(steps[i-1].Criteria, half)
	return len(easier) > 0 && len(harder) > 0
}

// Middle returns the criteria half way between two steps. What is new in the second comes in half as
// hard; what it dropped is still there, eased. A list without an order stays as it was below.
func Middle(from, to criteria.Criteria) criteria.Criteria {
	half := to
	for _, d := range criteria.Both(from, to) {
		a, had := criteria.Level(from, d)
		b, has := criteria.Level(to, d)
		end := float64(len(d.Items) - 1)
		switch {
		case d.Fades && !had:
			a = end
		case d.Fades && !has:
			b = end
		case !has && d.Harder < 0:
			b = a * 4 // eased: its middle with a is twice as far
		case !has:
			b = 0
		case !had:
			half = half.With(d.Key, clamp(d, halfAsHard(d, b)))
			continue
		}
		if d.Harder == 0 {
			if had {
				half = half.WithDimension(d, a)
			}
			continue
		}
		if !has && !d.Fades && d.Harder > 0 {
			half = half.WithDimension(d, clamp(d, halfAsHard(d, a)))
			continue
		}
		half = half.WithDimension(d, clamp(d, middle(d, a, b)))
	}
	return half
}

func middle(d criteria.Dimension, a, b float64) float64 {
	if d.Scale != criteria.Measure {
		return math.Floor((a + b) / 2)
	}
	if a <= 0 || b <= 0 {
		return (a + b) / 2 // a geometric mean with nothing is nothing
	}
	return math.Sqrt(a * b)
}

func halfAsHard(d criteria.Dimension, x float64) float64 {
	switch {
	case d.Harder == 0:
		return x
	case d.Harder < 0 && x < 0:
		return x / 2
	case d.Harder < 0:
		return x * 2
	case d.Key == criteria.Intensity: // a step without what it is about would be another piece of work
		return math.Max(math.Min(x, 1), math.Floor(x/2))
	case d.Scale != criteria.Measure:
		return math.Floor(x / 2)
	}
	return x / 2
}

func clamp(d criteria.Dimension, x float64) float64 {
	most := d.Max
	if d.IsList() {
		most = float64(len(d.Items) - 1)
	}
	return math.Min(most, math.Max(d.Min, x))
}

// Union lists every step that any of a plan's versions had, in an order that agrees with each: a step
// is directly above the one it first came in above. Steps taken out keep their level in it.
func Union(versions [][]Step) []Step {
	var all []Step
	for _, steps := range versions {
		below := ""
		for _, s := range steps {
			if i := Index(all, s.ID); i >= 0 {
				all[i] = s
			} else {
				at := Index(all, below) + 1
				all = append(all[:at:at], append([]Step{s}, all[at:]...)...)
			}
			below = s.ID
		}
	}
	return all
}
