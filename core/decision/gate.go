package decision

import (
	"patientfox/core/evidence"
	"patientfox/core/trial"
)

// gate looks when the number of counted trials is a multiple of its window, so that windows never
// overlap; so does its back window. Sessions and places are those of the window.
func gate(rule *Rule, counted []trial.Trial) Decision {
	n := len(counted)
	if n > 0 && n%rule.BackWindow == 0 {
		back := counted[n-rule.BackWindow:]
		if right := count(back, rule.right); share(right, len(back)) < rule.BackBelow-evidence.Epsilon {
			return Decision{Verdict: StepBack, Due: true, Reasons: []Reason{{Code: BelowRate, Of: right, Out: len(back)}}, Reads: ids(back)}
		}
	}
	if n == 0 || n%rule.Window != 0 {
		in := n % rule.Window
		return Decision{Verdict: Repeat, Reasons: []Reason{{Code: WindowGoing, Of: in, Out: rule.Window}}, Reads: ids(counted[n-in:])}
	}
	window := counted[n-rule.Window:]
	up := count(window, rule.up)
	d := Decision{Verdict: Repeat, Due: true, Reasons: []Reason{{Code: WindowRate, Of: up, Out: rule.Window}}, Reads: ids(window)}
	if share(up, rule.Window) < rule.Rate-evidence.Epsilon {
		d.Reasons = append(d.Reasons, rule.afterHelp(window)...)
		return d
	}
	missing := scarce(window, rule)
	if d.Reasons = append(d.Reasons, missing...); len(missing) == 0 {
		d.Verdict = StepUp
	}
	return d
}

func share(k, n int) float64 { return float64(k) / float64(n) }

// scarce says how many sessions and places a window still lacks.
func scarce(window []trial.Trial, rule *Rule) []Reason {
	sessions, places := map[string]bool{}, map[string]bool{}
	for t := range trial.Each(window) {
		sessions[t.Session], places[t.Place] = true, true
	}
	var missing []Reason
	if len(sessions) < rule.Sessions {
		missing = append(missing, Reason{Code: FewSessions, Of: len(sessions), Out: rule.Sessions})
	}
	if len(places) < rule.Places {
		missing = append(missing, Reason{Code: FewPlaces, Of: len(places), Out: rule.Places})
	}
	return missing
}
