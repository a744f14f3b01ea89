package care

import (
	"cmp"
	"slices"
	"strings"

	"patientfox/core/criteria"
	"patientfox/core/trial"
)

// TouchOf is what a trial was as a touch, at a step's criteria as they were worked, on a track ("" for none); ok is false of a trial
// without a state, and of one that does not count. Its day, and whether it was the first of its cell, are for the caller to say.
func TouchOf(t *trial.Trial, c criteria.Criteria, track string) (one Touch, ok bool) {
	if t.State == nil || t.Waits || t.Outcome.Unread() {
		return one, false
	}
	one.Site = trial.OnTrack(cmp.Or(t.Touch.Site, c.Item(criteria.Site)), track)
	one.Tool, one.State = cmp.Or(t.Touch.Tool, c.Item(criteria.Tool)), t.Shown()
	return one, true
}

// Firsts marks the first touch of each cell in each of some visits.
type Firsts map[[3]string]bool

// Mark marks a touch of a visit where it is the first of its cell.
func (f Firsts) Mark(visit string, one *Touch) {
	cell := [3]string{visit, one.Site, one.Tool}
	one.First, f[cell] = !f[cell], true
}

// claws are those of a paw, from the outer one inwards.
var claws = []string{"claw 1", "claw 2", "claw 3", "claw 4", "dew claw"}

// whole tells whether all claws of a paw are among some parts; a dew claw may be missing.
func whole(parts []string) bool {
	for _, claw := range claws[:4] {
		if !slices.Contains(parts, claw) {
			return false
		}
	}
	return true
}

// Parts are the single parts of a site that something is really done to, one touch each: a paw's claws. Nil of other sites.
func Parts(site string) []string {
	for _, word := range strings.FieldsFunc(strings.ToLower(site), func(r rune) bool { return r == ' ' || r == ',' }) {
		switch word {
		case "paw", "paws", "claw", "claws", "foot", "feet", "fore", "hind", "toes":
			return claws
		}
	}
	return nil
}
