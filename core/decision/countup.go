package decision

import "patientfox/core/trial"

// Restart says where a count begins again after a trial that was not met.
type Restart string

// The restarts.
const (
	RestartOne    Restart = "one"    // one step down
	RestartHalf   Restart = "half"   // half way down
	RestartBottom Restart = "bottom" // the first step
)

// to is the index of the step at which the count begins again.
func (r Restart) to(step int) int {
	switch r {
	case RestartHalf:
		return step / 2
	case RestartBottom:
		return 0
	}
	return max(0, step-1)
}

// countUp goes up on clean trials and begins again on one that is not met, late too. At the first step
// that is a repeat, and where the last ones were all not met, a split.
func countUp(rule *Rule, q Question, counted []trial.Trial) Decision {
	n := len(counted)
	if n == 0 {
		return Decision{Verdict: Repeat, Reasons: []Reason{{Code: RunGoing, Out: rule.Clean}}}
	}
	last := counted[n-1]
	if last.Tally {
		return Decision{Verdict: Repeat, Reasons: []Reason{{Code: OrderUnknown}}, Reads: ids(counted[n-1:])}
	}
	if !met(&last) {
		row := 0
		for row < n && !met(&counted[n-1-row]) && counted[n-1-row].Splits == last.Splits { // one that was taken ends the row
			row++
		}
		d := Decision{Due: true, Reads: ids(counted[n-row:]), Reasons: []Reason{{Code: CountBroken, Of: row}}}
		switch {
		case q.Step > 0:
			d.Verdict, d.To = StepBack, rule.Restart.to(q.Step)
		case rule.SplitAfter > 0 && row >= rule.SplitAfter:
			d.Verdict = Split
		default:
			d.Verdict = Repeat
		}
		return d
	}
	if n >= rule.Clean && all(counted[n-rule.Clean:], own) {
		return Decision{Verdict: StepUp, Due: true, Reasons: []Reason{{Code: RunMet, Of: rule.Clean}}, Reads: ids(counted[n-rule.Clean:])}
	}
	row := 0
	for row < n && own(&counted[n-1-row]) {
		row++
	}
	reasons := append([]Reason{{Code: RunGoing, Of: row, Out: rule.Clean}}, rule.afterHelp(counted[n-1:])...)
	return Decision{Verdict: Repeat, Reasons: reasons, Reads: ids(counted[n-row:])}
}

// own tells whether a trial was met without the help that its step plans.
func own(t *trial.Trial) bool { return met(t) && !t.Assisted }
