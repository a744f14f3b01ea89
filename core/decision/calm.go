package decision

import "patientfox/core/trial"

// States of an exposure that the rule of calm reads.
const (
	atEase  = 1
	wary    = 2
	worried = 3
	over    = 4
)

// Waryness that steps back: this many of the last six, and no calmer in their second half.
const (
	waryMany = 4
	waryLast = 6
)

// calm reads exposures, which have a state and no right answer.
func calm(rule *Rule, counted []trial.Trial) Decision {
	n := len(counted)
	if n == 0 {
		return Decision{Verdict: Repeat, Reasons: []Reason{{Code: CalmGoing, Out: rule.Up}}}
	}
	last := counted[n-1]
	if last.Tally {
		return Decision{Verdict: Repeat, Reasons: []Reason{{Code: OrderUnknown}}, Reads: ids(counted[n-1:])}
	}
	if last.Shown() == worried {
		return Decision{Verdict: StepBack, Due: true, Reasons: []Reason{{Code: Worried}}, Reads: ids(counted[n-1:])}
	}
	if n >= waryLast {
		six := counted[n-waryLast:]
		if many := count(six, func(t *trial.Trial) bool { return t.Shown() == wary }); many >= waryMany && states(six[3:]) >= states(six[:3]) {
			return Decision{Verdict: StepBack, Due: true, Reasons: []Reason{{Code: NotCalmer, Of: many, Out: waryLast}}, Reads: ids(six)}
		}
	}
	row := 0
	for row < n && counted[n-1-row].Shown() <= atEase {
		row++
	}
	d := Decision{
		Verdict: Repeat, Reasons: []Reason{{Code: CalmGoing, Of: min(row, rule.Up), Out: rule.Up}},
		Reads: ids(counted[max(0, n-rule.Up):]),
	}
	if row < rule.Up {
		return d
	}
	d.Due = true
	expects := count(counted[n-rule.Up:], func(t *trial.Trial) bool { return t.Shown() == 0 })
	first := firstOfSession(counted)
	switch {
	case expects < rule.Expect:
		d.Reasons = append(d.Reasons, Reason{Code: FewExpect, Of: expects, Out: rule.Expect})
	case first.Shown() > atEase:
		d.Reasons = append(d.Reasons, Reason{Code: FirstWary})
	default:
		d.Verdict, d.Reasons = StepUp, []Reason{{Code: CalmMet, Of: rule.Up, Out: expects}}
	}
	return d
}

func states(trials []trial.Trial) int {
	sum := 0
	for t := range trial.Each(trials) {
		sum += t.Shown()
	}
	return sum
}

// firstOfSession is the first exposure of the running session.
func firstOfSession(counted []trial.Trial) trial.Trial {
	first := counted[len(counted)-1]
	for i := len(counted) - 1; i >= 0 && counted[i].Session == first.Session; i-- {
		first = counted[i]
	}
	return first
}
