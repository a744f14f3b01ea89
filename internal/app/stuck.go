package app

import (
	"fmt"

	"patientfox/core/decision"
	"patientfox/core/say"
)

// StuckBecause says why a step counts as stuck; "" where it does not.
func StuckBecause(l Plan) string {
	if l.Finished() {
		return ""
	}
	return stuckAt(l)
}

func stuckAt(l Plan) string {
	f := decision.Facts{Entries: Entries(l), Repeats: l.Standing.Repeats}
	if !decision.Stuck(f) {
		return ""
	}
	line := fmt.Sprintf("Stuck at step %d:", l.Standing.StepAt+1)
	if f.Repeats > 0 {
		line += fmt.Sprintf(" %s without a step up", say.Count(f.Repeats, "verdict"))
	}
	if f.Entries > 1 {
		if f.Repeats > 0 {
			line += ","
		}
		line += " come to " + say.Times(f.Entries)
	}
	return line + "."
}

// Entries is how often the reached step was come to. Counting up comes to every step again and again: that is
// how it works.
func Entries(l Plan) int {
	if l.Body.Rule.Kind == decision.CountUp {
		return 1
	}
	return l.Standing.Entries
}
