package work

import (
	"fmt"
	"math"

	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/evidence"
	"patientfox/core/reinforce"
	"patientfox/core/say"
	"patientfox/core/trial"
)

// minuteS is how long a free minute is where the step does not say, s.
const minuteS = 60.0

var attention = Work{
	Kind: Attention, Label: "Attention: a free minute", Hint: "A trial is a minute in which the dog may do as it likes; check-ins are counted",
	Keys: []criteria.Key{criteria.CheckIns, criteria.Handler, criteria.Trigger, criteria.Intensity, criteria.Novelty},
	Rule: decision.Gate, Pay: pay(3, 3, 6, reinforce.ToTest, reinforce.Tossed), First: ramp(criteria.CheckIns, 2, 6), Set: 2,
	floor: values{criteria.CheckIns: 1},

	Answers: true, Minutes: true, Lasts: true, Along: true,

	mark: "as often as asked",
	asks: func(q *questions) {
		q.wrong()
		if q.def.LatencyS == 0 {
			q.step("How many check-ins in the minute?", criteria.CheckIns)
		}
	},
	seconds: func(criteria.Criteria) float64 { return minuteS },
	lasts:   func(criteria.Criteria) float64 { return minuteS },
	least:   func(criteria.Criteria) float64 { return minuteS },
	presses: func(c criteria.Criteria) int { return max(1, int(c.Get(criteria.CheckIns))) },

	start: func(m *Moment) []Act {
		if m.returns() {
			return []Act{{Do: Cue}, {Do: Count, What: trial.Throw}}
		}
		return []Act{{Do: Cue}}
	},
	starting: func(m *Moment) Button {
		if m.returns() {
			return Button{Key: Main, Label: "Start", Sub: "as it takes the thrown treat"}
		}
		return Button{Key: Main, Label: "Start", Sub: "the free minute begins"}
	},
	main: func(m *Moment) []Act {
		if m.returns() {
			return []Act{{Do: Count, What: trial.CheckIn}, {Do: Reward}, {Do: Close}}
		}
		if m.over() {
			return []Act{{Do: Close}}
		}
		return []Act{{Do: Count, What: trial.CheckIn}, {Do: Reward}}
	},
	marking: func(m *Moment) Button {
		if m.returns() {
			return Button{Key: Main, Label: "Back", Sub: "mark it, and pay"}
		}
		if m.over() {
			return Button{Key: Main, Label: "Close it", Sub: say.Count(m.Trial.Counted.CheckIns, "check-in")}
		}
		return Button{Key: Main, Label: "Check-in", Sub: "mark it, and pay"}
	},
	row: func(m *Moment) []Button {
		if m.returns() {
			return Outcomes("", "", "You called", "Not back")
		}
		return []Button{
			{Key: ThrowKey, Label: "Treat thrown", Kbd: "2"}, {Key: HelpKey, Label: "You called", Shape: "helped", Kbd: "3"},
			{Key: StopKey, Label: "Stop it here", Kbd: "4"},
		}
	},
	own: []ownKey{
		{key: ThrowKey, when: minute, acts: act(Act{Do: Count, What: trial.Throw})},
		{key: StopKey, when: minute, acts: act(Act{Do: Close})},
	},
	line: func(m *Moment) string {
		o := m.Trial
		if o == nil || m.returns() {
			return ""
		}
		line := say.Count(o.Counted.CheckIns, "check-in")
		if asked := int(m.Criteria.Get(criteria.CheckIns)); asked > 0 {
			line = fmt.Sprintf("%d of %s", o.Counted.CheckIns, say.Count(asked, "check-in"))
		}
		switch {
		case o.Thrown != nil && o.Counted.ReturnS == nil:
			line += fmt.Sprintf(" · thrown %d s ago", int(m.At-*o.Thrown))
		case o.Counted.ReturnS != nil:
			line += " · back after " + say.Seconds(math.Round(*o.Counted.ReturnS*10)/10)
		}
		return line
	},
	columns: []Column{
		{"Check-ins in the minute", "", func(t *trial.Trial) (float64, bool) { return float64(t.CheckIns), t.CheckIns > 0 }},
		{"Looked back with the line at", " m", func(t *trial.Trial) (float64, bool) {
			m, said := t.Worked[LineOut.Key]
			return m, said && t.CheckIns > 0
		}},
		{"Back after a thrown treat", " s", seconds(func(t *trial.Trial) *float64 { return t.ReturnS })},
	},
}

// over tells whether the trial under way has lasted as long as planned.
func (m *Moment) over() bool { return m.At-m.Trial.From >= m.Seconds-evidence.Epsilon }

// returns tells whether a trial is a return to the trainer from a treat that was thrown: the answer has a limit, and nothing is counted in
// a minute.
func (m *Moment) returns() bool { return m.Limit > 0 && !m.Criteria.Has(criteria.CheckIns) }

// minute tells whether a free minute is under way.
func minute(m *Moment) bool { return m.Trial != nil && !m.returns() }
