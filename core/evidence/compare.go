package evidence

import (
	"math"

	"patientfox/core/trial"
)

// What a comparison needs before it says anything.
const (
	MinTrack     = 15   // trials of each track
	sureBehind   = 0.95 // ProbDecline
	minTag       = 8    // trials on each side
	underTrained = 0.5  // of the other's trials
)

// Behind tells whether one track is behind another at the same step: at least 15 trials each, and
// ProbDecline from the other to it at least 0.95. Of both, met trials count.
func Behind(one, other Tally) bool {
	return one.N() >= MinTrack && other.N() >= MinTrack && ProbDecline(other.Met, other.N(), one.Met, one.N()) >= sureBehind-Epsilon
}

// UnderTrained tells whether a track has fewer than half the trials of the other.
func UnderTrained(one, other int) bool { return float64(one) < underTrained*float64(other) }

// Stratum is one step's trials with and without something.
type Stratum struct{ With, Without Tally }

// OddsRatio is how the odds of a met trial with something compare to those without, within steps.
type OddsRatio struct {
	Ratio         float64 // above 1: with it, more are met
	Lo, Hi        float64 // of 95 %
	With, Without Tally   // over the steps that have both
	Enough        bool    // at least 8 trials on each side, at steps that have both
}

// Clear tells whether the interval leaves out 1: it goes with more, or with fewer met.
func (r OddsRatio) Clear() bool { return r.Enough && (r.Lo > 1 || r.Hi < 1) }

// MantelHaenszel compares met trials with and without something, step by step, so that a hard step does not
// pass for a bad day. Its interval is that of Robins, Breslow and Greenland. Sources: N. Mantel and W.
// Haenszel, "Statistical aspects of the analysis of data from retrospective studies of disease", Journal of
// the National Cancer Institute 22 (1959); J. Robins, N. Breslow and S. Greenland, "Estimators of the
// Mantel-Haenszel variance consistent in both sparse data and large-strata limiting models", Biometrics 42
// (1986).
func MantelHaenszel(strata []Stratum) OddsRatio {
	var r OddsRatio
	var top, bottom, pr, psqr, qs float64
	for _, s := range strata {
		if s.With.N() == 0 || s.Without.N() == 0 {
			continue
		}
		r.With, r.Without = r.With.Plus(s.With), r.Without.Plus(s.Without)
		a, b := float64(s.With.Met), float64(s.With.N()-s.With.Met)
		c, d := float64(s.Without.Met), float64(s.Without.N()-s.Without.Met)
		n := a + b + c + d
		R, S, P, Q := a*d/n, b*c/n, (a+d)/n, (b+c)/n
		top, bottom = top+R, bottom+S
		pr, psqr, qs = pr+P*R, psqr+P*S+Q*R, qs+Q*S
	}
	r.Enough = r.With.N() >= minTag && r.Without.N() >= minTag
	r.Ratio, r.Lo, r.Hi = top/bottom, 0, math.Inf(1)
	if top > 0 && bottom > 0 {
		se := math.Sqrt(pr/(2*top*top) + psqr/(2*top*bottom) + qs/(2*bottom*bottom))
		r.Lo, r.Hi = r.Ratio*math.Exp(-1.959963984540054*se), r.Ratio*math.Exp(1.959963984540054*se)
	}
	return r
}

// Strata counts trials by step, with and without something.
func Strata(trials []trial.Trial, with func(*trial.Trial) bool) []Stratum {
	at := map[string]int{}
	var list []Stratum
	for i := range trials {
		t := &trials[i]
		if !t.Counted() || t.Step == "" {
			continue
		}
		i, known := at[t.Step]
		if !known {
			i = len(list)
			at[t.Step] = i
			list = append(list, Stratum{})
		}
		if with(t) {
			list[i].With.Add(t.Outcome)
		} else {
			list[i].Without.Add(t.Outcome)
		}
	}
	return list
}
