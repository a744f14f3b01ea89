package outlook

import (
	"context"
	"math"
	"math/rand/v2"
	"slices"

	"patientfox/core/decision"
)

// Judged is how a forecast did on simulated dogs whose future it was not fitted on.
type Judged struct {
	Dogs, Held int     // those judged, and those whose sessions lay inside the band of 80 %
	Width      float64 // of the band ÷ its middle, on average
}

// Judge makes dogs of a form, lets each work a course for some sessions, fits a forecast to that, and looks
// whether the sessions that it then took lie in the forecast's band. Dogs that had passed the last step
// before the forecast are replaced by others.
func Judge(form Form, c Course, dogs, before, runs int, seed uint64) (Judged, error) {
	var j Judged
	width := 0.0
	for i := uint64(0); j.Dogs < dogs; i++ {
		rng := rand.New(rand.NewPCG(seed, i))
		l := NewLearner(rng.Uint64(), Draw(form, rng))
		w := newRunner(c).walk(l, levelsOf(l.Traits, c.heights(), 0))
		seen := w.log(before)
		if w.Done {
			continue
		}
		record, ahead := w.soFar(c, seen)
		for w.goesOn() {
			w.next()
		}
		truth := w.Sessions - before
		if !w.Done {
			truth = MaxSessions // no end to be seen: the band must say so
		}
		f, err := FitTo(record, ahead.Heights, Usual(), seed+i).Look(context.Background(), ahead, runs, seed+i, nil)
		if err != nil {
			return j, err
		}
		j.Dogs++
		if truth >= f.Sessions.Lo && truth <= f.Sessions.Hi {
			j.Held++
		}
		width += float64(f.Sessions.Hi-f.Sessions.Lo) / float64(max(1, f.Sessions.Mid))
	}
	j.Width = width / float64(dogs)
	return j, nil
}

// JudgedNew is how forecasts of dogs without a record did, begun with what is usual and with the practice's own dogs.
type JudgedNew struct {
	Dogs        int
	Usual, Own  int     // bands of 80 % that held the sessions it took
	UsualOff    float64 // the mean of |ln(middle ÷ sessions it took)|
	OwnOff      float64
	UsualW, OwW float64 // ln(upper end ÷ lower end), on average
}

// JudgeNew makes practices whose dogs are more like each other than dogs are: of own dogs with a record of so many sessions and some new
// ones, all on one course. Seeded.
func JudgeNew(c Course, practices, own, before, runs int, seed uint64) (j JudgedNew, err error) {
	const newDogs, shift, within = 4, 0.8, 0.6
	for i := range uint64(practices) {
		rng := rand.New(rand.NewPCG(seed, i))
		centre := draw(rng)
		form := Forms[rng.IntN(len(Forms))]
		one := func() *walk {
			z := draw(rng)
			for k := range z {
				z[k] = shift*centre[k] + within*z[k]
			}
			mine := form
			if rng.IntN(4) == 0 {
				mine = Forms[rng.IntN(len(Forms))]
			}
			l := NewLearner(rng.Uint64(), z.traits(mine))
			return newRunner(c).walk(l, levelsOf(l.Traits, c.heights(), c.At))
		}
		var records []Learnt
		for len(records) < own {
			w := one()
			record, ahead := w.soFar(c, w.log(before))
			records = append(records, FitTo(record, ahead.Heights, Usual(), seed+i).Learnt)
		}
		learned := Learned(records)
		for range newDogs {
			w := one()
			for w.goesOn() {
				w.next()
			}
			for k, prior := range []Prior{Usual(), learned} {
				f, err := FitTo(nil, c.heights(), prior, seed+i).Look(context.Background(), c, runs, seed+i, nil)
				if err != nil {
					return j, err
				}
				held := w.Sessions >= f.Sessions.Lo && w.Sessions <= f.Sessions.Hi
				off := math.Abs(math.Log(float64(f.Sessions.Mid) / float64(w.Sessions)))
				wide := math.Log(float64(f.Sessions.Hi) / float64(f.Sessions.Lo))
				if k == 0 {
					j.UsualOff, j.UsualW = j.UsualOff+off, j.UsualW+wide
				} else {
					j.OwnOff, j.OwW = j.OwnOff+off, j.OwW+wide
				}
				if held && k == 0 {
					j.Usual++
				} else if held {
					j.Own++
				}
			}
			j.Dogs++
		}
	}
	n := float64(j.Dogs)
	j.UsualOff, j.OwnOff, j.UsualW, j.OwW = j.UsualOff/n, j.OwnOff/n, j.UsualW/n, j.OwW/n
	return j, nil
}

// Costs are what a rule costs dogs of one form.
type Costs struct {
	Sessions Range
	Wrong    float64 // 0…1, of all trials, those that were not right
	FalseUps float64 // 0…1, of the step-ups, those that were taken while the dog was right in under SureEnough
	Done     float64 // 0…1, of the dogs, those that passed the last step within MaxSessions
}

// Cost lets dogs of a form work a course from its first step on. Seeded.
func Cost(form Form, c Course, dogs int, seed uint64) Costs {
	r := newRunner(c)
	var sessions []int
	var out Costs
	trials, wrong, ups, falseUps := 0, 0, 0, 0
	for i := range uint64(dogs) {
		rng := rand.New(rand.NewPCG(seed, i))
		l := NewLearner(rng.Uint64(), Draw(form, rng))
		one := r.run(l, levelsOf(l.Traits, c.heights(), 0))
		sessions = append(sessions, one.Sessions)
		trials, wrong, ups, falseUps = trials+one.Trials, wrong+one.Misses, ups+one.Ups, falseUps+one.FalseUps
		if one.Done {
			out.Done += 1 / float64(dogs)
		}
	}
	out.Sessions = rangeOf(sessions)
	out.Wrong, out.FalseUps = float64(wrong)/float64(max(1, trials)), float64(falseUps)/float64(max(1, ups))
	return out
}

// logged is one trial with the level it was at, and how often the reached step had changed by then.
type logged struct {
	Trial
	level, stretch int
}

// log goes through so many sessions, and keeps their trials.
func (w *walk) log(sessions int) (seen []logged) {
	w.seen = func(level *Level, mark decision.Mark, state int, place uint8, first, paid bool) {
		t := Trial{Opens: first, Days: w.course.Gap, Place: place, Mark: mark, State: state, Paid: paid, Splits: w.splits}
		seen = append(seen, logged{t, level.id, w.Ups + w.falls})
	}
	for w.Sessions < sessions && w.goesOn() {
		w.next()
	}
	w.seen = nil
	return seen
}

// soFar is the record of a walk, and the course that lies ahead of it.
func (w *walk) soFar(c Course, seen []logged) ([]Trial, Course) {
	at, rules := map[int]int{}, make([]decision.Rule, len(w.levels))
	heights, laid := make([]float64, len(w.levels)), c.heights()
	for i, level := range w.levels {
		at[level.id], rules[i] = i, w.kinds[w.which[i]]
	}
	for i := len(w.levels) - 1; i >= 0; i-- {
		if id := w.levels[i].id; id < len(laid) {
			heights[i] = laid[id]
			continue
		}
		heights[i] = heights[i+1] - 0.5
		for j := i - 1; j >= 0; j-- {
			if id := w.levels[j].id; id < len(laid) {
				heights[i] = (heights[i+1] + laid[id]) / 2
				break
			}
		}
	}
	record := make([]Trial, len(seen))
	ahead := c
	ahead.Rules, ahead.Heights, ahead.At, ahead.Halved, ahead.Since = rules, heights, w.reached, w.half, nil
	for i, t := range seen {
		record[i] = t.Trial
		record[i].Step = at[t.level]
		if t.stretch == w.Ups+w.falls && record[i].Step == w.reached {
			ahead.Since = append(ahead.Since, record[i])
		}
	}
	return record, ahead
}

// JudgedCourse is a plan as many are: sixteen steps under one rule, worked as usual.
func JudgedCourse(rule decision.Rule) Course { return CourseOf(rule, 16) }

// CourseOf is a plan of so many steps under one rule, worked as usual.
func CourseOf(rule decision.Rule, steps int) Course {
	c := UsualCourse(slices.Repeat([]decision.Rule{rule}, steps))
	c.Calm = rule.Kind == decision.Calm
	return c
}

// UsualCourse is a plan with a rule for each step, worked as many are: 10 to 20 trials a session, in two places, every third day.
func UsualCourse(rules []decision.Rule) Course {
	return Course{Rules: rules, Trials: []int{10, 15, 15, 20}, Places: []uint8{0, 0, 0, 1}, Gap: 3, Pieces: 1}
}
