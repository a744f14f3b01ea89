package work

import (
	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/reinforce"
)

var held = Work{
	Kind: Held, Label: "Held: a stay, a wait, a settle", Hint: "A trial runs from the start to your release, or until the dog breaks",
	Keys: []criteria.Key{criteria.Duration, criteria.Handler, criteria.Trigger, criteria.Intensity, criteria.Moving},
	Rule: decision.Set, Pay: pay(3, 4, 8, reinforce.ToHold, reinforce.ByHand), First: ramp(criteria.Duration, 2, 20), Near: true,
	floor: values{criteria.Duration: 1},

	Holds: true, Keeps: true, Lasts: true,

	begin: "the hold begins", mark: "held and released",
	errors: []Error{{"crept", true}, {"turned away", false}, {"whined", false}, {ToyIgnored, false}},
	asks:   func(q *questions) { q.cue(); q.wrong(); q.posture() },
}
