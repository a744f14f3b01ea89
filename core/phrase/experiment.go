package phrase

import (
	"fmt"

	"patientfox/core/experiment"
	"patientfox/core/say"
)

// Way says which way the next trial of an experiment has, when so many trials of its set are done; with the first of the second set it says
// that it changes.
func Way(given experiment.Assigned, way experiment.Way, done int) string {
	name := given.Ways[way]
	if done == 0 && way != given.First {
		return fmt.Sprintf("Now: %s", name)
	}
	return fmt.Sprintf("%s: %d of %d", say.Upper(name), done+1, given.Each)
}

// Assigned says what a session is given of an experiment of so many.
func Assigned(given experiment.Assigned, sessions int) string {
	return fmt.Sprintf("Experiment, session %d of %d: %s trials with %s, then as many with %s. Stay at one step until both are done.",
		given.Pair+1, sessions, say.Number(given.Each), given.Ways[given.First], given.Ways[given.First.Other()])
}

// StayForBoth is said beside a step up while an experiment's sets are under way: a step between them would be compared with them.
const StayForBoth = "But the experiment comes first: stay here until both its sets are done"

// Given says what a session was given of an experiment.
func Given(given experiment.Assigned) string {
	return fmt.Sprintf("Experiment, session %d: the first %s trials with %s, the next with %s.", given.Pair+1, say.Number(given.Each),
		given.Ways[given.First], given.Ways[given.First.Other()])
}

// Experimented says what an experiment of two ways came to.
func Experimented(ways experiment.Ways, r experiment.Reading, met string) []string {
	if r.Pairs < experiment.MinPairs {
		return []string{fmt.Sprintf("Too few sessions had both sets: %d. Nothing can be said.", r.Pairs)}
	}
	rate := func(way string, share float64) string {
		return fmt.Sprintf("%s: %s %s.", say.Upper(way), say.Percent(share), met)
	}
	lines := []string{rate(ways[0], r.RateA) + " " + rate(ways[1], r.RateB)}
	better := ways[0]
	if r.Difference < 0 {
		better = ways[1]
	}
	if r.Shows() {
		lines = append(lines, fmt.Sprintf("The dog worked better with %s.", better))
	} else {
		lines = append(lines, "No difference is shown. That is not to say that there is none.")
	}
	lines = append(lines, fmt.Sprintf("The difference is %s (likely %s to %s), over %s; chance alone makes one as large in %s of such "+
		"experiments. It is of how the dog worked, not of what it learned.", say.Points(r.Difference), say.Points(r.Lo), say.Points(r.Hi),
		say.Count(r.Pairs, "session"), say.Percent(r.P)))
	if r.Lost > 0 {
		lines = append(lines, fmt.Sprintf("Left out for too few trials of one way: %s.", say.Count(r.Lost, "session")))
	}
	return lines
}

// Power says what an experiment could show before it starts: the chances are those of odds ratios of 2, 3 and 5.
func Power(d experiment.Design, two, three, five float64) string {
	return fmt.Sprintf("With %d sessions of twice %d trials a difference would show in %s of experiments where one way doubles the odds, in "+
		"%s where it trebles them, and in %s at five times the odds. By chance alone all sessions point one way in 1 of %.0f.", d.Pairs, d.Each,
		say.Percent(two), say.Percent(three), say.Percent(five), 1/experiment.MinP(d.Pairs))
}
