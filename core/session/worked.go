package session

import (
	"maps"
	"math"
	"slices"

	"patientfox/core/criteria"
	"patientfox/core/progression"
	"patientfox/core/record"
	"patientfox/core/trial"
	"patientfox/core/work"
)

// asWorked is what the set-up really is where it differs from the plan of one step. It stays until it is changed, or the step is; what is
// altered for one trial until that is closed.
type asWorked struct {
	step    string
	figures map[criteria.Key]float64
	before  map[criteria.Key]float64 // what comes back after the one trial, where once
	once    bool
	trials  int // that there were when it was altered for one
}

// settle brings back what was altered for one trial, once that is closed. A void one leaves it.
func (r *Run) settle() {
	if !r.setup.once {
		return
	}
	n := 0
	for i := range r.s.Trials {
		if t := &r.s.Trials[i]; t.Outcome != trial.Void && !t.Waits {
			n++
		}
	}
	if n > r.setup.trials {
		r.setup.figures, r.setup.once = r.setup.before, false
	}
}

// OneAlone tells whether what was altered is for the next trial alone.
func (r *Run) OneAlone() bool { return r.setup.once }

// JustOne makes what is altered from here on hold for the next trial alone, or no longer so.
func (r *Run) JustOne(on bool) {
	if step := r.step().ID; r.setup.step != step {
		r.setup = asWorked{step: step}
	}
	if on == r.setup.once {
		return
	}
	r.setup.once, r.setup.before, r.setup.trials = on, r.setup.figures, 0
	for i := range r.s.Trials {
		if t := &r.s.Trials[i]; t.Outcome != trial.Void && !t.Waits {
			r.setup.trials++
		}
	}
}

// firstLineM is where the line let out begins to be counted, m.
const firstLineM = 5

// Settings are those of today's step that can be altered for the next trial. The screen asks for them all the time: they are worked out
// once a step and ladder.
func (r *Run) Settings() []criteria.Dimension {
	_, steps := r.Position()
	if step := r.step(); r.known.step != step.ID || r.known.ladder != &steps[0] || r.known.of != len(steps) {
		r.known = settings{step.ID, &steps[0], len(steps), work.Settings(steps, step.Criteria)}
	}
	return r.known.list
}

// settings are those of a step of a ladder.
type settings struct {
	step   string
	ladder *progression.Step
	of     int
	list   []criteria.Dimension
}

// Worked is how a setting of today's step really is; other is false where it is as planned.
func (r *Run) Worked(d criteria.Dimension) (figure float64, other bool) {
	if r.setup.step == r.step().ID {
		figure, other = r.setup.figures[d.Key]
	}
	if !other {
		figure = work.Planned(r.step().Criteria, d)
	}
	return figure, other
}

// Alter makes a setting larger or smaller by one press: the next word of a list, or a unit as the practice measures it, for small
// figures half of one. Back at what was planned it is as planned again.
func (r *Run) Alter(key criteria.Key, by int) {
	list := r.Settings()
	at := slices.IndexFunc(list, func(d criteria.Dimension) bool { return d.Key == key })
	if at < 0 || by == 0 {
		return
	}
	d, step := list[at], r.step()
	now, other := r.Worked(d)
	unit := r.pressOf(d, now)
	next := math.Round((now+float64(by)*unit)/unit) * unit
	if key == work.LineOut.Key && !other {
		next = firstLineM
	}
	most := d.Max
	if d.IsList() {
		most = float64(len(d.Items) - 1)
	}
	next = min(max(next, d.Min), most)
	if r.setup.step != step.ID {
		r.setup = asWorked{step: step.ID}
	}
	figures := maps.Clone(r.setup.figures)
	if figures == nil {
		figures = map[criteria.Key]float64{}
	}
	if figures[key] = next; math.Abs(next-work.Planned(step.Criteria, d)) < unit/4 {
		delete(figures, key)
	}
	r.setup.figures = figures
}

// pressOf is by how much one press changes a setting that is at a figure.
func (r *Run) pressOf(d criteria.Dimension, now float64) float64 {
	_, size := r.pack.Units.Of(d)
	switch {
	case d.IsList():
		return 1
	case d.Unit == "°" || d.Small:
		return 5 * size
	case d.Unit == "m" && now < 5:
		return size / 2
	}
	return size
}

// asWorked are the settings of the next trial that differ from the plan, nil where none does.
func (r *Run) asWorked() map[criteria.Key]float64 {
	var was map[criteria.Key]float64
	if c := r.step().Criteria; !r.Rehearsed(c).Equal(c) {
		was = map[criteria.Key]float64{criteria.Gear: r.Rehearsed(c).Get(criteria.Gear)}
	}
	if r.setup.step != r.step().ID || len(r.setup.figures) == 0 {
		return was
	}
	all := maps.Clone(r.setup.figures)
	maps.Copy(all, was)
	return all
}

// Rehearsed are a step's criteria as a rehearsal has them: with the line on.
func (r *Run) Rehearsed(c criteria.Criteria) criteria.Criteria {
	if r.Doing() != record.Rehearsal || r.Kind().HandsOn {
		return c
	}
	return work.LineOn(c)
}

// smaller tells whether the last trial was a smaller approximation than is marked now, and can still be said to have been marked on
// purpose.
func (r *Run) smaller() bool {
	t := r.LastTrial()
	if t == nil || t.Offered == nil || r.s.Trying != nil || !r.shapes() {
		return false
	}
	_, at := work.Approximations(r.step().Criteria)
	return *t.Offered < at && t.Outcome == trial.Missed && t.Block == r.Block().ID
}

// marks says that the last trial was marked on purpose though it was less than asked, and pays it.
func (r *Run) marks() []record.Draft {
	mark := record.NewDraft(record.KMark, record.MarkData{For: r.LastTrial().ID})
	return append([]record.Draft{mark}, r.pays(Earned{Pay: true})...)
}
