package dogs

import (
	"fmt"
	"strconv"
	"strings"

	"patientfox/core/schedule"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
)

// readRoutine reads it from the form of a dog.
func readRoutine(ps form.Problems, t form.Typed) app.Routine {
	r := app.Routine{
		Minutes: ps.Whole(t, "minutes", schedule.MinMin, schedule.MaxMin,
			fmt.Sprintf("%d to %d minutes, in figures.", schedule.MinMin, schedule.MaxMin)),
		HomeMin: ps.Whole(t, "home_min", schedule.MinMin, 30, "2 to 30 minutes, in figures."),
	}
	if typed := t.Text("per_week"); typed != "" {
		r.PerWeek = ps.Whole(t, "per_week", 0, app.MaxPerWeek, fmt.Sprintf("0 to %d sessions a week, in figures.", app.MaxPerWeek))
		r.None = r.PerWeek == 0
	}
	for _, typed := range form.Listed(t["home_times"]) {
		minutes, ok := form.ReadClock(typed)
		if !ok {
			ps.Add("home_times", fmt.Sprintf("“%s” is no time of the day; write 8:00, 18:30.", typed))
		}
		r.Times = append(r.Times, minutes)
	}
	if len(r.Times) > app.MaxTimes {
		ps.Add("home_times", fmt.Sprintf("At most %d a day.", app.MaxTimes))
	}
	return r
}

// typedRoutine puts it into the form of a dog.
func typedRoutine(t form.Typed, r app.Routine) {
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
		times[i] = form.ClockOf(at)
	}
	t["home_times"] = strings.Join(times, ", ")
}
