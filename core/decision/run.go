package decision

import "patientfox/core/trial"

// run decides on the last few trials in a row, whatever block or session they are in. On the way back up it reads exposures too, and
// says of these whether the dog was at ease.
func run(rule *Rule, counted []trial.Trial) Decision {
	n := len(counted)
	met, wrong, going := RunMet, RunWrong, RunGoing
	if n > 0 && counted[n-1].State != nil {
		met, wrong, going = CalmMet, GuardWary, CalmGoing
	}
	recent := counted[max(0, n-max(rule.Up, rule.Back)):]
	if anyTally(recent) {
		return Decision{Verdict: Repeat, Reasons: []Reason{{Code: OrderUnknown}}, Reads: ids(recent)}
	}
	if n >= rule.Back && all(counted[n-rule.Back:], rule.notRight) {
		return Decision{Verdict: StepBack, Due: true, Reasons: []Reason{{Code: wrong, Of: rule.Back}}, Reads: ids(counted[n-rule.Back:])}
	}
	if n >= rule.Up && all(counted[n-rule.Up:], rule.up) {
		return Decision{Verdict: StepUp, Due: true, Reasons: []Reason{{Code: met, Of: rule.Up}}, Reads: ids(counted[n-rule.Up:])}
	}
	row := 0
	for row < n && rule.up(&counted[n-1-row]) {
		row++
	}
	reasons := append([]Reason{{Code: going, Of: row, Out: rule.Up}}, rule.afterHelp(recent)...)
	return Decision{Verdict: Repeat, Reasons: reasons, Reads: ids(recent)}
}
