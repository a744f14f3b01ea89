package app

import (
	"fmt"
	"strings"

	"patientfox/core/schedule"
	"patientfox/internal/app/form"
	"patientfox/internal/store"
)

// Routine is how a dog is to be worked.
type Routine struct {
	PerWeek int   `json:"per_week,omitempty"` // sessions with the trainer, 0 is as usual
	None    bool  `json:"none,omitempty"`     // none with the trainer
	Minutes int   `json:"minutes,omitempty"`  // of one, 0 as long as its age suggests, usualMinutes at most
	Times   []int `json:"times,omitempty"`    // at which the household trains, minutes from midnight
	HomeMin int   `json:"home_min,omitempty"` // of one of the household's, 0 is as usual
}

// Usual figures of a routine.
const (
	usualPerWeek = 2
	usualMinutes = 15
	usualHomeMin = 5
	MaxPerWeek   = 14
	MaxTimes     = 6
)

// RoutineOf reads a dog's routine; where what is kept cannot be read, known is false and it is the usual one.
func RoutineOf(d store.Dog) (r Routine, known bool) {
	if err := store.FromJSON(d.Routine, &r); err != nil {
		return Routine{}, false
	}
	return r, true
}

// BadRoutine is said where a routine cannot be read.
const BadRoutine = "The routine that was kept cannot be read; the usual one is taken. Enter it once more."

// Weekly is how many sessions a week it has with the trainer.
func (r Routine) Weekly() int {
	switch {
	case r.None:
		return 0
	case r.PerWeek == 0:
		return usualPerWeek
	}
	return r.PerWeek
}

// Lasts is how long a session of a dog of an age is.
func (r Routine) Lasts(weeks float64) int {
	if r.Minutes > 0 {
		return r.Minutes
	}
	return min(usualMinutes, schedule.MaxMinutes(weeks))
}

// AtHome is how long a session of the household is, minutes.
func (r Routine) AtHome() int {
	if r.HomeMin > 0 {
		return r.HomeMin
	}
	return usualHomeMin
}

// hours are when the trainer works: the lines of a week from Monday on, each with its stretches.
const UsualHours = "9:00-12:00, 14:00-17:00"

var Weekdays = []string{"Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"}

// ReadHours reads one day: "9:00-12:00, 14-17"; problem says what is wrong with it.
func ReadHours(line string) (list [][2]int, problem string) {
	line = strings.NewReplacer("–", "-", "to", "-").Replace(line)
	for _, part := range form.Listed(line) {
		from, to, ok := strings.Cut(part, "-")
		a, okA := form.ReadClock(from)
		b, okB := form.ReadClock(to)
		switch {
		case !ok || !okA || !okB:
			return nil, "Stretches of the day such as 9:00-12:00, 14:00-17:00; empty for a day off."
		case b <= a:
			return nil, fmt.Sprintf("%s ends before it begins.", part)
		case len(list) > 0 && a < list[len(list)-1][1]:
			return nil, "The stretches of a day follow one another."
		}
		list = append(list, [2]int{a, b})
	}
	return list, ""
}
