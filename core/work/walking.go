package work

import (
	"fmt"

	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/progression"
	"patientfox/core/reinforce"
	"patientfox/core/trial"
)

// How long a pace takes, s.
const (
	paceS      = 0.65
	quickPaceS = 0.45
)

var walking = Work{
	Kind: Walking, Label: "Walking: on a loose leash, beside you", Hint: "A trial is so many paces to the next mark without a pull",
	Keys: []criteria.Key{criteria.Paces, criteria.Pace, criteria.Direction, criteria.Trigger, criteria.Intensity},
	Rule: decision.CountUp, Pay: pay(3, 6, 10, reinforce.ToHold, reinforce.ByHand),
	First: progression.Generator{Make: progression.MakeCountUp, To: 12}, floor: values{criteria.Paces: 1},

	Walks: true, Lively: true,

	begin: "as you set off", mark: "all the paces, no pull",
	errors: []Error{
		{"crooked", false}, {"ahead", false}, {"behind", false}, {"wide", false}, {"nose down", false}, {"crossed in front", false},
	},
	asks: func(q *questions) {
		q.cue()
		q.wrong()
		q.step("How many paces are one trial?", criteria.Paces)
	},
	lasts:   func(c criteria.Criteria) float64 { return c.Get(criteria.Paces) * paceS },
	least:   func(c criteria.Criteria) float64 { return c.Get(criteria.Paces) * quickPaceS },
	presses: func(c criteria.Criteria) int { return max(0, int(c.Get(criteria.Paces))-1) },

	main: func(m *Moment) []Act {
		if m.Paces == 0 {
			return met
		}
		pace := Act{Do: Count, What: trial.PaceMade}
		if m.Trial.Counted.Paces+1 < m.Paces {
			return []Act{pace}
		}
		return append([]Act{pace}, met...)
	},
	marking: func(m *Moment) Button {
		if m.Paces > 0 && m.Trial.Counted.Paces+1 < m.Paces {
			return Button{Key: Main, Label: fmt.Sprintf("Pace %d", m.Trial.Counted.Paces+1), Sub: fmt.Sprintf("of %d", m.Paces)}
		}
		return mark(m)
	},
	row: func(m *Moment) []Button {
		if loose(m.Criteria) {
			return Outcomes("All paces", "", "Helped", "Left you")
		}
		row := Outcomes("All paces", "", "Helped", "Pulled")
		row[2].Key = PullKey
		return row
	},
	own: []ownKey{{
		key: PullKey, when: func(m *Moment) bool { return !loose(m.Criteria) && !m.Taut && (m.Trial != nil || m.Closed > 0) },
		acts: func(m *Moment) []Act {
			acts := []Act{{Do: Count, What: trial.Pull}, {Do: Taut}}
			if m.Trial != nil {
				acts = append(acts, Act{Do: Close, Outcome: trial.Missed})
			}
			return acts
		},
	}},
	columns: []Column{
		{"Paces to the pull", "", func(t *trial.Trial) (float64, bool) { return float64(t.Paces), t.Paces > 0 && t.Pulls > 0 }},
		{"Leash loose again", " s", seconds(func(t *trial.Trial) *float64 { return t.SlackS })},
	},
	shares: []Share{{Name: "Trials with a pull", Of: func(t *trial.Trial) (bool, bool) { return pulled(t), true }}},
}

// pulled tells whether there was a pull: one that was counted, or one that ended the trial. What was missed for an error of the dog's is
// none.
func pulled(t *trial.Trial) bool {
	return t.Pulls > 0 || t.Outcome == trial.Missed && len(t.Errors) == 0
}

// loose tells whether a step has come to the end of its gear: a dog without a line pulls nothing.
func loose(c criteria.Criteria) bool {
	d, ok := c.Dimension(criteria.Gear)
	return ok && c.Has(criteria.Gear) && int(c.Get(criteria.Gear)) == len(d.Items)-1
}
