package work

import (
	"slices"
	"strings"

	"patientfox/core/criteria"
	"patientfox/core/progression"
)

// LineOut is how much of the line is let out. No step plans it; it is kept with the trial.
var LineOut = criteria.Dimension{Key: "line", Label: "Line let out", Unit: "m", Max: 50}

// chosen are the dimensions that a trial shows, or that are chosen otherwise: the site and the tool before a touch, and the place before
// a session. All others are settings, which people arrange.
var chosen = []criteria.Key{
	criteria.Duration, criteria.Latency, criteria.Paces, criteria.Reps, criteria.CheckIns, criteria.Approx, criteria.Lead, criteria.Out,
	criteria.Site, criteria.Tool, criteria.Novelty,
}

// Settings are the dimensions with a size or an order that people arrange at a step of a ladder: those that the step names, each support
// that another step still has, and the line where the dog is on one.
func Settings(steps []progression.Step, c criteria.Criteria) (list []criteria.Dimension) {
	for _, s := range steps {
		for _, d := range s.Criteria.Asked() {
			known := func(one criteria.Dimension) bool { return one.Key == d.Key }
			if d.Scale == criteria.Unranked || slices.Contains(chosen, d.Key) || slices.ContainsFunc(list, known) {
				continue
			}
			if own, _ := c.Dimension(d.Key); c.Has(d.Key) {
				list = append(list, own)
			} else if d.Fades {
				list = append(list, d)
			}
		}
	}
	if OnLine(c) {
		list = append(list, LineOut)
	}
	return list
}

// OnLine tells whether a step has the dog on a line.
func OnLine(c criteria.Criteria) bool { return isLine(c.Item(criteria.Gear)) }

// isLine tells whether words for what holds the dog are of a line, and not of its being off.
func isLine(gear string) bool {
	return !criteria.NoSupport(gear) && (strings.Contains(gear, "line") || strings.Contains(gear, "leash"))
}

// LineOn is a step with the line on: what its list of gear holds the dog with most, where that is a line. A step without such a list stays
// as it is.
func LineOn(c criteria.Criteria) criteria.Criteria {
	d, _ := c.Dimension(criteria.Gear)
	if at := slices.IndexFunc(d.Items, isLine); at >= 0 && c.Has(criteria.Gear) {
		return c.With(criteria.Gear, float64(at))
	}
	return c
}

// Rehearsed tells whether a safety step of a kind of work has a rehearsal: hands-on work without it being really done, other work with the
// dog on a line. What is on a line already is no safer on one.
func Rehearsed(kind Kind, c criteria.Criteria) bool { return Of(kind).HandsOn || !OnLine(c) }

// Planned is a setting as a step plans it; a support that the step does not name is at the end of its list.
func Planned(c criteria.Criteria, d criteria.Dimension) float64 {
	if !c.Has(d.Key) && d.Fades {
		return float64(len(d.Items) - 1)
	}
	return c.Get(d.Key)
}
