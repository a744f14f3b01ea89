package work

import (
	"fmt"
	"math"

	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/progression"
	"patientfox/core/reinforce"
	"patientfox/core/say"
)

var steadiness = Work{
	Kind: Steadiness, Label: "Steadiness: keeping position for a signal",
	Hint: "A signal and a distraction; position is kept until the release",
	Keys: []criteria.Key{criteria.Lead, criteria.Intensity, criteria.Out, criteria.Duration, criteria.Trigger},
	Rule: decision.Set, Pay: pay(4, 3, 6, reinforce.ToHold, reinforce.ByHand),
	First: progression.Generator{Make: progression.MakeLead, From: 3, To: -2}, Near: true, floor: values{criteria.Duration: 1},

	Keeps: true, Stimulus: true, Lasts: true, Lively: true,

	apart: func(criteria.Criteria) bool { return true },
	begin: "as you give the signal", mark: "kept its place",
	errors:  []Error{{"crept", true}, {"whined", false}, {ToyIgnored, false}},
	asks:    func(q *questions) { q.cue(); q.wrong(); q.posture() },
	seconds: func(c criteria.Criteria) float64 { return c.Get(criteria.Out) },
	presses: func(c criteria.Criteria) int {
		switch {
		case !c.Has(criteria.Lead), c.Get(criteria.Lead) == 0:
			return 0
		}
		return 1 // the other one of signal and distraction
	},

	start: func(m *Moment) []Act {
		switch c := m.Criteria; {
		case comesFirst(c):
			return []Act{{Do: Stimulus}}
		case c.Has(criteria.Lead) && c.Get(criteria.Lead) == 0:
			return []Act{{Do: Cue}, {Do: Distraction}} // both at once
		}
		return []Act{{Do: Cue}}
	},
	main: func(m *Moment) []Act {
		switch {
		case m.Trial.Cues == 0:
			return []Act{{Do: Cue}}
		case m.Criteria.Has(criteria.Lead) && m.Trial.Out == nil:
			return []Act{{Do: Distraction}}
		}
		return met
	},
	starting: func(m *Moment) Button {
		if comesFirst(m.Criteria) {
			return Button{Key: Main, Label: "Distraction", Sub: "it comes first"}
		}
		return Button{Key: Main, Label: "Signal", Sub: "as you give it"}
	},
	marking: func(m *Moment) Button {
		switch {
		case m.Trial.Cues == 0:
			return Button{Key: Main, Label: "Signal", Sub: "as you give it"}
		case m.Criteria.Has(criteria.Lead) && m.Trial.Out == nil:
			return Button{Key: Main, Label: "Distraction", Sub: "as it comes"}
		}
		return Button{Key: Main, Label: "Release", Sub: m.Marks}
	},
	row: func(*Moment) []Button {
		return Outcomes("Released", "", "Helped", "Broke")
	},
	own: []ownKey{{
		key: PutAwayKey, beside: "Distraction away", acts: act(Act{Do: Away}),
		when: func(m *Moment) bool { return m.Trial != nil && m.Trial.Out != nil && m.Trial.Counted.OutS == nil },
	}},
	line: func(m *Moment) string {
		if !m.Criteria.Has(criteria.Lead) {
			return ""
		}
		return say.Upper(lead(m))
	},
	columns: []Column{distractionAt, distractionOut},
}

// comesFirst tells whether the distraction comes before the signal.
func comesFirst(c criteria.Criteria) bool { return c.Has(criteria.Lead) && c.Get(criteria.Lead) < 0 }

// lead says when the distraction comes.
func lead(m *Moment) string {
	after, o := m.Criteria.Get(criteria.Lead), m.Trial
	s := say.Seconds(math.Abs(after))
	switch {
	case after > 0 && o != nil && o.Signal != nil && o.Out == nil:
		return due("distraction", after-(m.At-*o.Signal))
	case after < 0 && o != nil && o.Out != nil && o.Signal == nil:
		return due("signal", -after-(m.At-*o.Out))
	case o != nil && o.Out != nil:
		return "keeps its place until you release it"
	case after > 0:
		return "signal, and the distraction " + s + " after it"
	case after < 0:
		return "distraction, and the signal " + s + " after it"
	}
	return "signal and distraction together"
}

// due says in how many seconds something is to come.
func due(what string, left float64) string {
	if left > 0 {
		return fmt.Sprintf("%s in %.1f s", what, left)
	}
	return what + " now"
}
