package schedule

import (
	"strings"

	"patientfox/core/schedule"
	"patientfox/internal/app"
)

// windowsOf reads the hours kept with the practice; none are kept at first, then five usual days are meant.
func windowsOf(kept string) []schedule.Window {
	lines := strings.Split(kept, "\n")
	if strings.TrimSpace(kept) == "" {
		lines = strings.Split(strings.TrimSuffix(strings.Repeat(app.UsualHours+"\n", 5), "\n"), "\n")
	}
	var windows []schedule.Window
	for day, line := range lines {
		if day < schedule.Days {
			list, _ := app.ReadHours(line)
			for _, w := range list {
				windows = append(windows, schedule.Window{Day: day, From: w[0], To: w[1]})
			}
		}
	}
	return windows
}
