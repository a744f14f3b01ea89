package decision

import (
	"patientfox/core/evidence"
	"patientfox/core/trial"
)

// SureOf is the success rate that a reckoning speaks of, and SureAt how sure it would have to be: what few
// trials can say is said of the same figures everywhere. A rule of proof brings its own rate.
const (
	SureOf = 0.8
	SureAt = 0.9
)

// Reckoning is the evidence behind a verdict.
type Reckoning struct {
	Tally          evidence.Tally
	Interval       evidence.Interval // 95 %, of the strict rate
	Sessions       int
	SessionsAsked  int // 0 where the rule asks for none
	Places         int
	PlacesAsked    int
	Cold, ColdMet  int // cold trials among them
	ColdAsked      int
	Clean          int     // met trials in a row that the rule still asks for, from here; 0 where it was full
	Round          *Round  // of proof
	Target         float64 // the rate that Sure and Needed speak of
	Sure           float64 // how likely the rate is at least Target, by these trials alone
	Needed         int     // trials, with the misses so far, that would make that SureAt
	Logged, Missed int     // logged, and said not to be
	Ended          int     // taken back by the trainer once the cue was given: they are in no rate
	Unmeasured     int     // right, but logged without a measure that the step names
}

// Reckon works out the evidence behind a rule's verdict: the trials that it read, and how many of theirs were said
// not to be logged. Where a proof round stands is taken from the verdict's reasons.
func Reckon(rule Rule, trials []trial.Trial, logged, unlogged int, reasons []Reason) Reckoning {
	counted := trial.Without(trials, uncounted)
	r := Reckoning{Target: SureOf, Logged: logged, Missed: unlogged}
	r.Ended = count(trials, (*trial.Trial).Ended)
	r.Unmeasured = count(counted, func(t *trial.Trial) bool { return t.Unmeasured })
	sessions, places := map[string]bool{}, map[string]bool{}
	for t := range trial.Each(counted) {
		r.Tally.Add(t.Outcome)
		sessions[t.Session], places[t.Place] = true, true
		if t.Cold {
			r.Cold++
			if met(t) {
				r.ColdMet++
			}
		}
	}
	r.Sessions, r.Places = len(sessions), len(places)
	n, up := r.Tally.N(), count(counted, rule.up)
	r.Interval = evidence.Wilson(r.Tally.Met, n, 0.95)
	row := 0
	for row < len(counted) && rule.up(&counted[len(counted)-1-row]) {
		row++
	}
	switch rule.Kind {
	case Set:
		r.Clean = (rule.Size - n%max(1, rule.Size)) % max(1, rule.Size)
	case Run:
		r.Clean = max(0, rule.Up-row)
	case CountUp:
		r.Clean = max(0, rule.Clean-row)
	case Gate:
		r.SessionsAsked, r.PlacesAsked = rule.Sessions, rule.Places
		r.Clean = (rule.Window - n%max(1, rule.Window)) % max(1, rule.Window)
	case Calm:
		row = 0
		for row < len(counted) && counted[len(counted)-1-row].Shown() <= atEase {
			row++
		}
		r.Clean = max(0, rule.Up-row)
	case Proof:
		r.SessionsAsked, r.PlacesAsked, r.ColdAsked = rule.Sessions, rule.Places, coldTrials
		r.Target = rule.Target
		if r.Round = RoundSaid(rule, reasons); r.Round != nil && !r.Round.Over {
			r.Clean = max(0, r.Round.Needs-r.Round.Scored)
		}
	}
	r.Sure = evidence.ProbAtLeast(up, n, r.Target)
	r.Needed = evidence.TrialsNeeded(r.Target, SureAt, n-up)
	return r
}

// RoundSaid is the proof round that reasons speak of, without its trials; nil where they speak of none.
func RoundSaid(rule Rule, reasons []Reason) *Round {
	var r *Round
	for _, one := range reasons {
		switch one.Code {
		case ProofRound:
			r = &Round{Number: one.Of, Points: rule.PointsOf(one.Of)}
		case ProofPoints:
			if r != nil {
				r.Scored = one.Of
			}
		case RoundOver:
			if r != nil {
				r.Over = true
			}
		}
	}
	return r
}
