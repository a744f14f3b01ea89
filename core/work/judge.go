package work

import (
	"patientfox/core/criteria"
	"patientfox/core/evidence"
	"patientfox/core/trial"
)

// How is how a trial came to its end, beside what was measured.
type How struct {
	Helped   bool // help was given that the step did not plan
	Released bool // a hold ended by release, not by a break
}

// Judge turns what was tapped and measured in a trial into its outcome under one version of the definition and the criteria: void
// before missed before helped before late before met. A tapped outcome wins over the measures, but for one thing: a measured
// latency over the limit, or more cues than are allowed, turns a tapped met into late.
func (w *Work) Judge(def criteria.Definition, c criteria.Criteria, t *trial.Trial, how How) trial.Outcome {
	if t.Tapped != "" && t.Tapped != trial.Met {
		return t.Tapped
	}
	if t.Tapped == "" {
		switch {
		case w.done != nil && !w.done(c, t, how):
			return trial.Missed
		case how.Helped:
			return trial.Helped
		}
	}
	if slow(def, c, t) {
		return trial.Late
	}
	return trial.Met
}

// heldEnough: held at least the criterion, in position. A hold that reached the criterion is met even if a longer one was asked
// and broke.
func heldEnough(c criteria.Criteria, t *trial.Trial, how How) bool {
	if t.HeldS == nil || !c.Has(criteria.Duration) {
		return how.Released
	}
	return *t.HeldS >= c.Get(criteria.Duration)-evidence.Epsilon
}

func slow(def criteria.Definition, c criteria.Criteria, t *trial.Trial) bool {
	if t.Cues > def.CuesAllowed() {
		return true
	}
	limit, limited := def.Limit(c)
	return t.LatencyS != nil && limited && *t.LatencyS > limit+evidence.Epsilon
}

// Easier tells whether a release after held seconds asked for less than the step does, which makes the trial an easy one: in the
// record and worth its pay, but in no rate.
func Easier(c criteria.Criteria, heldS float64) bool {
	return c.Has(criteria.Duration) && heldS < c.Get(criteria.Duration)-evidence.Epsilon
}
