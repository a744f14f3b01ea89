// Package progression lays steps out in order and keeps the dog's place among them.
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

// Half returns the criteria half way between the step at index i and the one below: the geometric
// mean for metres and seconds, the middle rank for lists. At the first step every figure is made
// half as hard: halved, or doubled where less is harder.
func Half(steps []Step, i int) criteria.Criteria {
	here := steps[i].Criteria
	half := criteria.Criteria{Values: map[criteria.Key]float64{}, Trig: here.Trig, Text: here.Text}
	for _, d := range criteria.Dimensions {
		b, has := here.Values[d.Key]
		if i == 0 {
			if has {
				half.Values[d.Key] = clamp(d, halfAsHard(d, b))
			}
			continue
		}
		a, had := steps[i-1].Criteria.Values[d.Key]
		switch {
		case has && had:
			half.Values[d.Key] = clamp(d, middle(d, a, b))
		case has:
			// New in this step: it comes in half as hard.
			half.Values[d.Key] = clamp(d, halfAsHard(d, b))
		case had && d.Harder < 0:
			// This step dropped it, and less was harder: half way it is still there, eased.
			half.Values[d.Key] = clamp(d, a*2)
		case had:
			half.Values[d.Key] = clamp(d, halfAsHard(d, a))
		}
	}
	return half
}

func middle(d criteria.Dimension, a, b float64) float64 {
	if d.Scale == criteria.Rank {
		return math.Floor((a + b) / 2)
	}
	if a <= 0 || b <= 0 {
		return (a + b) / 2 // a geometric mean with nothing is nothing
	}
	return math.Sqrt(a * b)
}

func halfAsHard(d criteria.Dimension, x float64) float64 {
	switch {
	case d.Harder < 0:
		return x * 2
	case d.Scale == criteria.Rank:
		return math.Floor(x / 2)
	}
	return x / 2
}

func clamp(d criteria.Dimension, x float64) float64 { return math.Min(d.Max, math.Max(d.Min, x)) }

// Union lists every step that any of a plan's versions had, in an order that agrees with each: a step
// stands directly above the one it first came in above. Steps taken out keep their level in it.
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
