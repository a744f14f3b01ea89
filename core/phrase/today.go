package phrase

import (
	"fmt"
	"slices"
	"strings"

	"patientfox/core/decision"
	"patientfox/core/say"
	"patientfox/core/schedule"
)

// Open says what of a plan waits for the trainer; step is the number of the reached one, and advice what was advised last. It is ""
// where nothing waits.
func Open(what schedule.Open, step int, f decision.Facts, advice decision.Verdict) string {
	switch what {
	case schedule.OpenStop:
		return "The last session ended in a stop."
	case schedule.OpenStuck:
		return Stuck(step, f)
	case schedule.OpenSplit:
		return "A split was advised and the step kept. A half step is ready on the plan."
	case schedule.OpenVerdict:
		return fmt.Sprintf("“%s” was advised and nobody answered before the session ended.", strings.ToLower(Verdict(advice)))
	}
	return ""
}

// Stuck says why a step counts as stuck.
func Stuck(step int, f decision.Facts) string {
	line := fmt.Sprintf("Stuck at step %d: no new step for %s", step, say.Count(f.Stalled, "session"))
	if f.Repeats > 0 {
		line += fmt.Sprintf(", %s without a step up", say.Count(f.Repeats, "verdict"))
	}
	if f.Entries > 1 {
		line += fmt.Sprintf(", returned to it %s", say.Times(f.Entries-1))
	}
	return line + "."
}

// Probe says when a finished skill is next probed: in how many days (below 0 it is overdue); day is that day, gap the days between
// probes, and safety says that somebody could be hurt.
func Probe(gap, in int, day string, safety bool) string {
	line := fmt.Sprintf("Finished. The gap is %s; the next probe, cold, ", say.Count(gap, "day"))
	switch {
	case in < 0:
		line += "was due on " + day + "."
	case in == 0:
		line += "is due today."
	default:
		line += "is due on " + day + "."
	}
	if safety {
		line += " Always on a line."
	}
	return line
}

// Care says when something is to be really done: on a day in words, in so many days, negative where that has passed; at these sites, none
// where it is all of them.
func Care(day string, in int, sites []string) string {
	where := ""
	if len(sites) > 0 {
		where = ": " + say.List(sites)
		if slices.ContainsFunc(sites, func(site string) bool { return strings.Contains(site, ",") }) { // “ear, left”
			where = ": " + strings.Join(sites, "; ")
		}
	}
	switch {
	case in < 0:
		return "Due since " + day + where + "."
	case in == 0:
		return "Due today" + where + "."
	}
	return "Due " + day + where + "."
}
