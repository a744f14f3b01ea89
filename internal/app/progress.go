package app

import (
	"fmt"
	"patientfox/core/say"
)

// probeLine says when a finished skill is next probed; "" for others.
func ProbeLine(l Plan, today string) string {
	if !l.Finished() || l.Standing.ProbeDue == "" {
		return ""
	}
	days := DaysBetween(today, l.Standing.ProbeDue)
	line := fmt.Sprintf("Finished. The gap is %s; the next probe, cold, ", say.Count(l.Standing.ProbeGap, "day"))
	switch {
	case days < 0:
		line += fmt.Sprintf("was due on %s.", ShortDay(l.Standing.ProbeDue, today))
	case days == 0:
		line += "is due today."
	default:
		line += fmt.Sprintf("is due on %s.", ShortDay(l.Standing.ProbeDue, today))
	}
	if l.Steps[len(l.Steps)-1].Safety {
		line += " Always on a line."
	}
	return line
}
