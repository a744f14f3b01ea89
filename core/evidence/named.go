package evidence

import (
	"cmp"
	"slices"

	"patientfox/core/trial"
)

// Named is how often something that has a name was said of trials.
type Named struct {
	Name string
	N    int
}

// CountNamed counts what trials say by name, the most frequent first; of says what a trial says, each name once.
func CountNamed(trials []trial.Trial, of func(t *trial.Trial) []string) (list []Named) {
	at := map[string]int{}
	for i := range trials {
		for _, name := range of(&trials[i]) {
			if _, known := at[name]; !known {
				at[name] = len(list)
				list = append(list, Named{Name: name})
			}
			list[at[name]].N++
		}
	}
	slices.SortStableFunc(list, func(a, b Named) int { return cmp.Compare(b.N, a.N) })
	return list
}

// Help is how trials with an answer came about: with no more than the help that the step begins with, after what it plans for later, or
// only with more than that.
type Help struct {
	OnOwn, Planned, Unplanned int
	Prompts                   int // in all of them
}

// N is how many there are.
func (h Help) N() int { return h.OnOwn + h.Planned + h.Unplanned }

// PerResponse is prompts ÷ responses, 0 where there are none.
func (h Help) PerResponse() float64 {
	if h.N() == 0 {
		return 0
	}
	return float64(h.Prompts) / float64(h.N())
}

// HelpOf reads the counted trials that were answered; a missed one has no answer that was helped, and a tally does not say how its trials
// came about.
func HelpOf(trials []trial.Trial) (h Help) {
	for i := range trials {
		t := &trials[i]
		switch {
		case !t.Counted() || t.State != nil || t.Tally:
			continue
		case t.Outcome == trial.Helped:
			h.Unplanned++
		case t.OnOwn():
			h.OnOwn++
		case t.Outcome.Right():
			h.Planned++
		default:
			continue
		}
		h.Prompts += t.Prompts
	}
	return h
}
