package schedule

import (
	"cmp"
	"slices"

	"patientfox/core/work"
)

// Window is a stretch of a day in which the trainer works: day 0 is the first of the week, minutes count from
// midnight.
type Window struct{ Day, From, To int }

// Slot is a session's place in the week.
type Slot struct {
	Dog       string
	Day       int
	Start     int // minutes from midnight
	Minutes   int
	Household bool // the household trains; else the trainer
	Sheet     Sheet
}

// Over tells whether two slots of one day share a moment.
func (s Slot) Over(start, minutes int) bool {
	return s.Start < start+minutes && start < s.Start+s.Minutes
}

// Wish is how often a dog is to be worked, and what with.
type Wish struct {
	Dog        string
	Weeks      float64 // age, 0 not known
	PerWeek    int     // sessions with the trainer
	Minutes    int     // of one
	Times      []int   // at which the household trains each day, minutes from midnight
	HomeMin    int     // of one of the household's
	Candidates []Candidate
}

// Limits of a week.
const (
	Changeover = 10 // minutes between two dogs
	Days       = 7
	raster     = 5 // minutes on which sessions begin
	// RestMin is the least rest of a dog between two sessions of a day, in minutes.
	RestMin = 60
)

// Plan spreads a week's sessions: first one for every dog, the most pressing dog first, then a second, and so
// on, each at the earliest place that is free, with days between the sessions of one dog. The household's own
// sessions come at their times, where they leave the dog its rest. What is there already stays and is worked around; from is the first
// day that can still be planned, and before its minute now nothing is put.
func Plan(wishes []Wish, windows []Window, there []Slot, from, now int) []Slot {
	p := planner{windows: windows, byDay: make([][]Slot, Days), ofDog: map[string][]Slot{}, from: from, now: now}
	for _, s := range there {
		p.put(s)
	}
	p.made = nil
	queue := slices.Clone(wishes)
	slices.SortStableFunc(queue, func(a, b Wish) int {
		x, y := urgency(a.Candidates), urgency(b.Candidates)
		return cmp.Or(cmp.Compare(x.rank, y.rank), cmp.Compare(y.days, x.days))
	})
	for round := 0; ; round++ {
		more := false
		for _, w := range queue {
			if round < w.PerWeek {
				more = true
				p.trainer(w)
			}
		}
		if !more {
			break
		}
	}
	for _, w := range queue {
		p.household(w)
	}
	slices.SortStableFunc(p.made, func(a, b Slot) int {
		return cmp.Or(cmp.Compare(a.Day, b.Day), cmp.Compare(a.Start, b.Start), cmp.Compare(a.Dog, b.Dog))
	})
	fill(p.made, there, wishes)
	return slices.DeleteFunc(p.made, func(s Slot) bool { return len(s.Sheet.Blocks) == 0 })
}

type pressing struct{ rank, days int }

// urgency is the first reason in a dog's queue.
func urgency(candidates []Candidate) pressing {
	queue := Queue(candidates)
	if len(queue) == 0 {
		return pressing{len(order), 0}
	}
	return pressing{slices.Index(order, queue[0].Why()), queue[0].Days}
}

type planner struct {
	windows []Window
	byDay   [][]Slot // the trainer's, in order
	ofDog   map[string][]Slot
	made    []Slot
	from    int
	now     int
}

func (p *planner) put(s Slot) {
	if !s.Household && s.Day >= 0 && s.Day < Days {
		day := append(p.byDay[s.Day], s)
		slices.SortFunc(day, func(a, b Slot) int { return cmp.Compare(a.Start, b.Start) })
		p.byDay[s.Day] = day
	}
	p.ofDog[s.Dog] = append(p.ofDog[s.Dog], s)
	p.made = append(p.made, s)
}

// trainer puts one session with the trainer, where there is still room.
func (p *planner) trainer(w Wish) {
	apart := max(1, Days/max(1, w.PerWeek))
	minutes := min(w.Minutes, MaxMinutes(w.Weeks))
	for ; apart >= 1; apart-- { // rather closer together than not at all
		for _, window := range p.windows {
			if window.Day < p.from || p.near(w.Dog, window.Day, apart) {
				continue
			}
			if start, ok := p.free(window, minutes); ok && !p.tired(w.Dog, window.Day, start, minutes) {
				p.put(Slot{Dog: w.Dog, Day: window.Day, Start: start, Minutes: minutes})
				return
			}
		}
	}
}

// near tells whether a dog has a session with the trainer within some days.
func (p *planner) near(dog string, day, apart int) bool {
	return slices.ContainsFunc(p.ofDog[dog], func(s Slot) bool {
		return !s.Household && max(s.Day-day, day-s.Day) < apart
	})
}

// tired tells whether a session would leave a dog too little rest on that day.
func (p *planner) tired(dog string, day, start, minutes int) bool {
	return slices.ContainsFunc(p.ofDog[dog], func(s Slot) bool {
		return s.Day == day && s.Over(start-RestMin, minutes+2*RestMin)
	})
}

// free is the first start in a window at which the trainer has nothing else.
func (p *planner) free(w Window, minutes int) (start int, ok bool) {
	start = w.From
	if w.Day == p.from {
		start = max(start, p.now)
	}
	even := func() { start = (start + raster - 1) / raster * raster }
	even()
	for _, s := range p.byDay[w.Day] {
		if s.Over(start-Changeover, minutes+2*Changeover) {
			start = s.Start + s.Minutes + Changeover
			even()
		}
	}
	return start, start+minutes <= w.To
}

// household puts the household's own sessions at their times, and leaves the dog a day off: the last without the
// trainer.
func (p *planner) household(w Wish) {
	off := Days - 1
	for off > 0 && slices.ContainsFunc(p.ofDog[w.Dog], func(s Slot) bool { return s.Day == off }) {
		off--
	}
	for day := p.from; day < Days; day++ {
		if day == off {
			continue
		}
		for _, start := range w.Times {
			minutes := min(w.HomeMin, MaxMinutes(w.Weeks))
			if minutes <= 0 || day == p.from && start < p.now || p.tired(w.Dog, day, start, minutes) {
				continue
			}
			p.put(Slot{Dog: w.Dog, Day: day, Start: start, Minutes: minutes, Household: true})
		}
	}
}

// fill builds the sheets in the order of the week: what was worked on one day is not due on the next.
func fill(slots []Slot, there []Slot, wishes []Wish) {
	of := make(map[string][]Candidate, len(wishes))
	weeks := make(map[string]float64, len(wishes))
	for _, w := range wishes {
		of[w.Dog], weeks[w.Dog] = slices.Clone(w.Candidates), w.Weeks
	}
	last := map[string]int{} // by plan: the day of the week on which it is worked
	for _, s := range there {
		for _, b := range s.Sheet.Blocks {
			last[b.Plan] = s.Day + 1
		}
	}
	for i, s := range slots {
		var can []Candidate
		for _, c := range of[s.Dog] {
			if s.Household && !Home(c) {
				continue
			}
			if day := last[c.Plan]; day > 0 {
				// What will have been tried and probed by then is not known: it is at least no longer new nor due.
				c.Days, c.Never, c.New, c.Due, c.Neglected, c.Stuck = max(0, s.Day+1-day), false, false, false, false, false
			} else {
				c.Days += s.Day
			}
			can = append(can, c)
		}
		slots[i].Sheet = Build(can, s.Minutes, weeks[s.Dog])
		for _, b := range slots[i].Sheet.Blocks {
			last[b.Plan] = s.Day + 1
		}
	}
}

// Home tells whether a household can work a skill alone: nothing new or stuck, nothing by which somebody could
// be hurt, no exposures and no probes.
func Home(c Candidate) bool {
	return !c.New && !c.Stuck && !c.Safety && !c.Due && !work.Of(c.Kind).ByState
}
