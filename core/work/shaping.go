package work

import (
	"strconv"

	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/progression"
	"patientfox/core/reinforce"
	"patientfox/core/say"
)

// around is how many approximations below and above the one that is marked now have a key.
const around = 3

var shaping = Work{
	Kind: Shaping, Label: "Shaping: nearer step by step", Hint: "A trial is what the dog offers, against the approximation that is marked now",
	Keys: []criteria.Key{criteria.Approx, criteria.Duration, criteria.Help},
	Rule: decision.Run, Pay: pay(3, 8, 14, reinforce.ToBuild, reinforce.ByHand), First: firstOffers(),
	floor: values{criteria.Approx: 3}, // the whole of it, in the usual words

	Shapes: true, Leaves: true, Lively: true, Tires: true,

	begin: "as it begins to offer", mark: "that one or better",
	errors: []Error{{"sat", false}, {"hopped", false}, {"pawed", false}, {"crooked", false}, {"froze", false}},
	asks: func(q *questions) {
		q.cue()
		q.wrong()
		q.text(q.def.Marker, "What marks the moment?")
		q.step("Which approximation is marked now?", criteria.Approx)
	},

	start: func(m *Moment) []Act {
		if _, at := Approximations(m.Criteria); m.Criteria.Has(criteria.Approx) && !m.Criteria.Has(criteria.Duration) {
			return []Act{{Do: Offers, Item: at}}
		}
		return []Act{{Do: Cue}}
	},
	main: func(m *Moment) []Act {
		if _, at := Approximations(m.Criteria); m.Criteria.Has(criteria.Approx) {
			return []Act{{Do: Offers, Item: at}}
		}
		return met
	},
	starting: func(m *Moment) Button {
		if m.Criteria.Has(criteria.Approx) && !m.Criteria.Has(criteria.Duration) {
			return offering(m)
		}
		return Button{Key: Main, Label: "Start", Sub: "as it begins to offer"}
	},
	marking: func(m *Moment) Button {
		if m.Criteria.Has(criteria.Approx) {
			return offering(m)
		}
		return mark(m)
	},
	row: func(m *Moment) []Button {
		if !m.Criteria.Has(criteria.Approx) {
			return Outcomes("Met", "Slow", "Helped", "Missed")
		}
		items, at := Approximations(m.Criteria)
		var row []Button
		for i := max(0, at-around); i < min(len(items), at+around); i++ {
			if i == at {
				continue // the large key
			}
			shape := "missed"
			if i > at {
				shape = "met"
			}
			row = append(row, Button{Key: offered(i), Label: say.Upper(items[i]), Shape: shape, Kbd: strconv.Itoa(len(row) + 1)})
		}
		return append(row, Button{Key: MissKey, Label: "Other", Shape: "missed", Kbd: strconv.Itoa(len(row) + 1)})
	},
}

// offering is the key of the approximation that is marked now.
func offering(m *Moment) Button {
	items, at := Approximations(m.Criteria)
	return Button{Key: Main, Label: say.Upper(items[min(at, len(items)-1)]), Sub: "mark it, and pay"}
}

// Approximations are the words of a step's list, and which of them is marked now.
func Approximations(c criteria.Criteria) (items []string, at int) {
	d, _ := c.Dimension(criteria.Approx)
	return d.Items, int(c.Get(criteria.Approx))
}

func firstOffers() progression.Generator {
	generator := ramp(criteria.Approx, 0, 0)
	generator.Items = []string{"looks at it", "a step towards it", "touches it", "the whole of it"}
	return generator
}

// offered is the key of an approximation.
func offered(item int) Key { return Offered + Key(strconv.Itoa(item)) }
