package work

import (
	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/reinforce"
)

// apartM is from where on a dog works away from its handler, m.
const apartM = 5

var cued = Work{
	Kind: Cued, Label: "Cued: a recall, a stop, a touch", Hint: "A trial is one cue and the dog's answer; its latency is timed",
	Keys: []criteria.Key{criteria.Handler, criteria.Latency, criteria.Trigger, criteria.Intensity, criteria.Help},
	Rule: decision.Set, Pay: pay(3, 4, 8, reinforce.ToReset, reinforce.ByHand), First: ramp(criteria.Handler, 1, 10),

	Answers: true, OnCue: true, Lively: true,

	apart: func(c criteria.Criteria) bool { return c.Get(criteria.Handler) >= apartM },
	begin: "as you give the cue", mark: "met",
	row: func(m *Moment) []Button {
		if m.OnLine {
			return Outcomes("Answered", "Slow", "Line helped", "Reeled in")
		}
		return Outcomes("Met", "Slow", "Helped", "Missed")
	},
	errors: []Error{{"crooked", false}, {"stopped short", true}, {"wide turn", false}, {"sniffed", false}, {ToyIgnored, false}},
	asks: func(q *questions) {
		q.cue()
		q.wrong()
		if q.def.LatencyS == 0 {
			q.step("How fast must the dog answer?", criteria.Latency)
		}
	},
}
