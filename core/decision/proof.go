package decision

import (
	"patientfox/core/evidence"
	"patientfox/core/trial"
)

// minCoverage is below which proof refuses, and coldTrials how many cold trials it asks for.
const (
	minCoverage = 0.9
	coldTrials  = 3
)

// proof leans on an exact test over the last look_back trials, in which those said to be unlogged count as
// not met; on enough sessions, places and coverage; and on the last three cold trials of the stretch.
// It steps up only at the end of a session. Cold trials never send the dog back: one that was missed is
// repeated before anything is concluded.
func proof(rule *Rule, q Question, counted []trial.Trial) Decision {
	window := counted[max(0, len(counted)-rule.LookBack):]
	if back, fell := belowProof(rule, without(window, cold)); fell {
		return back
	}
	met, n := count(window, rule.up), len(window)+q.Unlogged
	d := Decision{Verdict: Repeat, Due: q.Ended, Reads: ids(window), Reasons: []Reason{{Code: ProofCount, Of: met, Out: n}}}
	pass := n > 0 && evidence.ExactPass(met, n, rule.Target, rule.Conf)
	missing := scarce(window, rule)
	if !pass {
		misses := n - met
		missing = append(missing, Reason{Code: ProofNeeds, Of: max(0, evidence.ExactNeeded(rule.Target, rule.Conf, misses)-n), Out: misses})
	}
	if c := evidence.Coverage(len(window), q.Unlogged); len(window) > 0 && c < minCoverage-evidence.Epsilon {
		missing = append(missing, Reason{Code: LowCoverage, Of: int(c * 100), Out: int(minCoverage * 100)})
	}
	if n := count(window, func(t *trial.Trial) bool { return t.Unmeasured }); 10*n > len(window) {
		missing = append(missing, Reason{Code: Unmeasured, Of: n, Out: len(window)})
	}
	missing = append(missing, coldOnes(counted)...)
	if !q.Ended {
		missing = append(missing, Reason{Code: NotEnded})
	}
	if len(missing) > 0 {
		d.Reasons = append(d.Reasons, rule.afterHelp(window)...)
	}
	if d.Reasons = append(d.Reasons, missing...); len(missing) == 0 {
		d.Verdict = StepUp
	}
	return d
}

// belowProof tells whether trials show that the right rate lies below the one asked.
func belowProof(rule *Rule, trials []trial.Trial) (Decision, bool) {
	n := len(trials)
	if n < rule.BackMin {
		return Decision{}, false
	}
	k := count(trials, rule.right)
	if 1-evidence.ProbAtLeast(k, n, rule.BackRate) < rule.BackConf-evidence.Epsilon {
		return Decision{}, false
	}
	return Decision{Verdict: StepBack, Due: true, Reasons: []Reason{{Code: BelowRate, Of: k, Out: n}}, Reads: ids(trials)}, true
}

// coldOnes says what the stretch lacks of cold trials.
func coldOnes(counted []trial.Trial) []Reason {
	colds := without(counted, func(t *trial.Trial) bool { return !t.Cold })
	if len(colds) < coldTrials {
		return []Reason{{Code: FewCold, Of: len(colds), Out: coldTrials}}
	}
	if last := colds[len(colds)-coldTrials:]; !all(last, own) {
		return []Reason{{Code: ColdMissed, Of: count(last, own), Out: coldTrials}}
	}
	return nil
}

func cold(t *trial.Trial) bool { return t.Cold }

func without(trials []trial.Trial, is func(*trial.Trial) bool) []trial.Trial {
	var rest []trial.Trial
	for i := range trials {
		if !is(&trials[i]) {
			rest = append(rest, trials[i])
		}
	}
	return rest
}

// Window are the counted trials of a stretch that proof looks back over; all of them for another rule.
func Window(rule Rule, trials []trial.Trial) []trial.Trial {
	counted := without(trials, func(t *trial.Trial) bool { return !t.Counted() })
	if rule.Kind == Proof {
		return counted[max(0, len(counted)-rule.LookBack):]
	}
	return counted
}
