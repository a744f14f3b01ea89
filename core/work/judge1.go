package work

import (
	"patientfox/core/criteria"
	"patientfox/core/evidence"
	"patientfox/core/trial"
)

// judge1 is how trials were judged at first. It is frozen: a block that was judged by it stays so, on the server and on a phone with
// an older build. Void before missed before helped before late before met; a tapped outcome wins over the measures, but for one
// thing: a measured latency over the limit, or more cues than are allowed, turns a tapped met into late.
func (w *Work) judge1(def criteria.Definition, c criteria.Criteria, t *trial.Trial, how How) Judged {
	switch {
	case t.State != nil && *t.State <= 1:
		return Judged{Outcome: trial.Met}
	case t.State != nil:
		return Judged{Outcome: trial.Missed}
	case t.Tapped != "" && t.Tapped != trial.Met:
		return Judged{Outcome: t.Tapped}
	case t.Tapped == "" && !w.done1(c, t, how):
		return Judged{Outcome: trial.Missed}
	case t.Tapped == "" && how.Helped:
		return Judged{Outcome: trial.Helped}
	}
	limit, limited := def.Limit(c)
	if t.Cues > def.CuesAllowed() || t.LatencyS != nil && limited && *t.LatencyS > limit+evidence.Epsilon {
		return Judged{Outcome: trial.Late}
	}
	return Judged{Outcome: trial.Met}
}

// done1 tells whether what was asked was done, by the measures that the kind of work took.
func (w *Work) done1(c criteria.Criteria, t *trial.Trial, how How) bool {
	switch w.Kind {
	case Held:
		if t.HeldS == nil || !c.Has(criteria.Duration) {
			return how.Released
		}
		return *t.HeldS >= c.Get(criteria.Duration)-evidence.Epsilon
	case Cued:
		return t.LatencyS != nil
	case Walking:
		return t.Pulls == 0 && (t.Paces == 0 || float64(t.Paces) >= c.Get(criteria.Paces)-evidence.Epsilon)
	case Shaping:
		return t.Offered != nil && float64(*t.Offered) >= c.Get(criteria.Approx)-evidence.Epsilon
	case Attention:
		return float64(t.CheckIns) >= c.Get(criteria.CheckIns)-evidence.Epsilon
	case Steadiness:
		return how.Released
	}
	return true
}

// Easier1 tells whether a release after held seconds made the trial an easy one, as blocks judged by judge1 read it.
func Easier1(c criteria.Criteria, heldS float64) bool {
	return c.Has(criteria.Duration) && heldS < c.Get(criteria.Duration)-evidence.Epsilon
}
