package practice

import (
	"fmt"
	"strconv"
	"strings"

	"patientfox/core/sheet"
	"patientfox/internal/store"
)

// routine is how a dog is to be worked.
type routine struct {
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
	mostPerWeek  = 14
	mostTimes    = 6
)

// routineOf reads a dog's routine; where what is kept cannot be read, known is false and the usual one stands for it.
func routineOf(d store.Dog) (r routine, known bool) {
	if err := jsonInto(d.Routine, &r); err != nil {
		return routine{}, false
	}
	return r, true
}

// badRoutine is said where a routine cannot be read.
const badRoutine = "The routine that was kept cannot be read; the usual one is taken. Enter it once more."

func (r routine) perWeek() int {
	switch {
	case r.None:
		return 0
	case r.PerWeek == 0:
		return usualPerWeek
	}
	return r.PerWeek
}

// minutes is how long a session of a dog of an age is.
func (r routine) minutes(weeks float64) int {
	if r.Minutes > 0 {
		return r.Minutes
	}
	return min(usualMinutes, sheet.MostMinutes(weeks))
}

func (r routine) homeMin() int {
	if r.HomeMin > 0 {
		return r.HomeMin
	}
	return usualHomeMin
}

// readRoutine reads it from the form of a dog.
func readRoutine(ps problems, t Typed) routine {
	r := routine{
		Minutes: ps.whole(t, "minutes", sheet.LeastMin, sheet.MostMin, fmt.Sprintf("%d to %d minutes, in figures.", sheet.LeastMin, sheet.MostMin)),
		HomeMin: ps.whole(t, "home_min", sheet.LeastMin, 30, "2 to 30 minutes, in figures."),
	}
	if typed := t.Text("per_week"); typed != "" {
		r.PerWeek = ps.whole(t, "per_week", 0, mostPerWeek, fmt.Sprintf("0 to %d sessions a week, in figures.", mostPerWeek))
		r.None = r.PerWeek == 0
	}
	for _, typed := range listed(t["home_times"]) {
		minutes, ok := readClock(typed)
		if !ok {
			ps.add("home_times", fmt.Sprintf("“%s” is no time of the day; write 8:00, 18:30.", typed))
		}
		r.Times = append(r.Times, minutes)
	}
	if len(r.Times) > mostTimes {
		ps.add("home_times", fmt.Sprintf("At most %d a day.", mostTimes))
	}
	return r
}

// typedRoutine puts it into the form of a dog.
func typedRoutine(t Typed, r routine) {
	for field, n := range map[string]int{"per_week": r.PerWeek, "minutes": r.Minutes, "home_min": r.HomeMin} {
		if n > 0 {
			t[field] = strconv.Itoa(n)
		}
	}
	if r.None {
		t["per_week"] = "0"
	}
	times := make([]string, len(r.Times))
	for i, at := range r.Times {
		times[i] = clockOf(at)
	}
	t["home_times"] = strings.Join(times, ", ")
}

// hours are when the trainer works: the lines of a week from Monday on, each with its stretches.
const usualHours = "9:00-12:00, 14:00-17:00"

var weekdays = []string{"Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"}

// windowsOf reads the hours kept with the practice; none are kept at first, then five usual days are meant.
func windowsOf(kept string) []sheet.Window {
	lines := strings.Split(kept, "\n")
	if strings.TrimSpace(kept) == "" {
		lines = strings.Split(strings.TrimSuffix(strings.Repeat(usualHours+"\n", 5), "\n"), "\n")
	}
	var windows []sheet.Window
	for day, line := range lines {
		if day < sheet.Days {
			list, _ := readHours(line)
			for _, w := range list {
				windows = append(windows, sheet.Window{Day: day, From: w[0], To: w[1]})
			}
		}
	}
	return windows
}

// readHours reads one day: "9:00-12:00, 14-17"; problem says what is wrong with it.
func readHours(line string) (list [][2]int, problem string) {
	line = strings.NewReplacer("–", "-", "to", "-").Replace(line)
	for _, part := range listed(line) {
		from, to, ok := strings.Cut(part, "-")
		a, okA := readClock(from)
		b, okB := readClock(to)
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
