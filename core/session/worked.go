package session

import (
	"maps"
	"math"
	"slices"

	"patientfox/core/criteria"
)

// asWorked is what the set-up really is where it differs from the plan of one step. It stays until it is changed, or the step is.
type asWorked struct {
	step    string
	figures map[criteria.Key]float64
}

// settings are the dimensions that people arrange and that have a figure; the others are measured of the dog, or are words.
var settings = []criteria.Key{criteria.Handler, criteria.Trigger, criteria.Intensity, criteria.Height, criteria.Angle}

// Settings are those of today's step, as planned.
func (r *Run) Settings() (list []criteria.Dimension) {
	c := r.step().Criteria
	for _, key := range settings {
		if d, known := c.Dimension(key); known && c.Has(key) {
			list = append(list, d)
		}
	}
	return list
}

// Worked is how a setting of today's step really is; other is false where it is as planned.
func (r *Run) Worked(key criteria.Key) (figure float64, other bool) {
	if r.setup.step == r.step().ID {
		figure, other = r.setup.figures[key]
	}
	if !other {
		figure = r.step().Criteria.Get(key)
	}
	return figure, other
}

// Alter makes a setting larger or smaller by one press: a unit as the practice measures it, for small figures half of one. Back at what
// was planned it is as planned again.
func (r *Run) Alter(key criteria.Key, by int) {
	step := r.step()
	at := slices.IndexFunc(r.Settings(), func(d criteria.Dimension) bool { return d.Key == key })
	if at < 0 || by == 0 {
		return
	}
	d := r.Settings()[at]
	now, _ := r.Worked(key)
	_, size := r.pack.Units.Of(d)
	unit := size
	if d.Unit == "m" && !d.Small && now < 5 {
		unit = size / 2
	}
	if d.Unit == "°" || d.Small {
		unit = 5 * size
	}
	next := math.Round((now+float64(by)*unit)/unit) * unit
	next = min(max(next, d.Min), d.Max)
	if r.setup.step != step.ID {
		r.setup = asWorked{step.ID, nil}
	}
	figures := maps.Clone(r.setup.figures)
	if figures == nil {
		figures = map[criteria.Key]float64{}
	}
	if figures[key] = next; math.Abs(next-step.Criteria.Get(key)) < unit/4 {
		delete(figures, key)
	}
	r.setup.figures = figures
}

// asWorked are the settings of the next trial that differ from the plan, nil where none does.
func (r *Run) asWorked() map[criteria.Key]float64 {
	if r.setup.step != r.step().ID || len(r.setup.figures) == 0 {
		return nil
	}
	return maps.Clone(r.setup.figures)
}
