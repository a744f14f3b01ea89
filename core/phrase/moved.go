package phrase

import (
	"slices"
	"strings"

	"patientfox/core/criteria"
)

// Moved says what is another between two steps, a dimension each, harder ones first: "duration 10 s instead of 5 s", "no lure now",
// "distance 5 m, which is new".
func (w Words) Moved(from, to criteria.Criteria) (list []string) {
	harder, easier := criteria.Changed(from, to)
	for _, d := range slices.Concat(harder, easier) {
		before, had := criteria.Level(from, d)
		after, has := criteria.Level(to, d)
		none := func(c criteria.Criteria, named bool) bool {
			return d.Fades && (!named || criteria.NoSupport(c.Item(d.Key)))
		}
		name := strings.ToLower(d.Label)
		switch {
		case none(to, has) && !none(from, had):
			list = append(list, "no "+w.Units.Say(d, before)+" now")
		case none(from, had) && !none(to, has):
			list = append(list, w.Units.Say(d, after)+" again")
		case had && has:
			list = append(list, name+" "+w.Units.Say(d, after)+" instead of "+w.Units.Say(d, before))
		case has:
			list = append(list, name+" "+w.Units.Say(d, after)+", which is new")
		case had:
			list = append(list, name+" "+w.Units.Say(d, before)+" left out")
		}
	}
	for _, words := range [][2]string{{from.Trig, to.Trig}, {from.Text, to.Text}} {
		if before, after := strings.TrimSpace(words[0]), strings.TrimSpace(words[1]); before != after && after != "" {
			list = append(list, "now "+after)
		}
	}
	return list
}
