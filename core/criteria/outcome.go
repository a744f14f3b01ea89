package criteria

import "patientfox/core/evidence"

// Raw is what was measured and tapped in one trial. Nil figures were not measured.
type Raw struct {
	Tapped   evidence.Outcome // what was tapped, "" where only measures speak
	LatencyS *float64         // s from the cue to the response
	HeldS    *float64         // s from the start to the release or the break
	Cues     int              // cues given, 0 where they were not counted
	Helped   bool             // help was given that the step did not plan
	Released bool             // the hold ended by release, not by a break
	Void     bool             // spoiled from outside
}

// Judge turns raw measures into an outcome under one version of the definition and the criteria: void before missed
// before helped before late before met. A tapped outcome wins over the measures, but for one thing:
// a measured latency over the limit, or more cues than are allowed, turns a tapped met into late.
func Judge(kind Kind, def Definition, c Criteria, raw Raw) evidence.Outcome {
	switch {
	case raw.Void || raw.Tapped == evidence.Void:
		return evidence.Void
	case raw.Tapped != "" && raw.Tapped != evidence.Met:
		return raw.Tapped
	}
	if raw.Tapped == "" {
		switch {
		case kind == Held && !heldEnough(c, raw), kind == Cued && raw.LatencyS == nil:
			return evidence.Missed
		case raw.Helped:
			return evidence.Helped
		}
	}
	if slow(def, c, raw) {
		return evidence.Late
	}
	return evidence.Met
}

// heldEnough: held at least the criterion, in position. A hold that reached the criterion is met
// even if a longer one was asked and broke.
func heldEnough(c Criteria, raw Raw) bool {
	if raw.HeldS == nil {
		return raw.Released
	}
	if !c.Has(Duration) {
		return raw.Released
	}
	return *raw.HeldS >= c.Get(Duration)-evidence.Epsilon
}

func slow(def Definition, c Criteria, raw Raw) bool {
	if raw.Cues > def.CuesAllowed() {
		return true
	}
	limit, limited := def.Limit(c)
	return raw.LatencyS != nil && limited && *raw.LatencyS > limit+evidence.Epsilon
}

// Easier tells whether a release after held seconds asked for less than the step does, which makes
// the trial an easy one: in the record and worth its pay, but in no rate.
func Easier(c Criteria, heldS float64) bool {
	return c.Has(Duration) && heldS < c.Get(Duration)-evidence.Epsilon
}
