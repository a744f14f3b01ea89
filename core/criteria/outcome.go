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
	Paces    int              // walked, 0 where they were not counted
	Pulls    int              // of the line
	CheckIns int              // in the free minute
	Offered  *int             // which approximation was offered, as its place in the list
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
		case kind == Held && !heldEnough(c, raw), kind == Cued && raw.LatencyS == nil, !done(kind, c, raw):
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

// done says of the kinds that are counted whether what was asked was done: walking all the paces and no pull, shaping
// the named approximation or a better one, attention at least the planned check-ins, steadiness kept until release.
func done(kind Kind, c Criteria, raw Raw) bool {
	switch kind {
	case Walking:
		return raw.Pulls == 0 && (raw.Paces == 0 || float64(raw.Paces) >= c.Get(Paces)-evidence.Epsilon)
	case Shaping:
		return raw.Offered != nil && float64(*raw.Offered) >= c.Get(Approx)-evidence.Epsilon
	case Attention:
		return float64(raw.CheckIns) >= c.Get(CheckIns)-evidence.Epsilon
	case Steadiness:
		return raw.Released
	}
	return true
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
