package lookback

import (
	"slices"

	"patientfox/core/evidence"
	"patientfox/core/progression"
	"patientfox/core/record"
	"patientfox/core/reinforce"
	"patientfox/core/work"
)

// fedFirst counts the exposures before which food came.
func fedFirst(f *record.Session) (n int) {
	for _, t := range f.Trials {
		if t.FedFirst {
			n++
		}
	}
	return n
}

// onlyExposures tells whether all that was worked, trials or pays, is timed by its stimulus.
func onlyExposures(f *record.Session) bool {
	for _, b := range f.Blocks {
		if (b.Logged > 0 || f.PaysIn(b.ID) > 0) && !work.Of(b.Kind).Pairs {
			return false
		}
	}
	return true
}

// onlyByState tells whether all work of a session has states as its outcomes: then a noted one says that the dog is itself again.
func onlyByState(f *record.Session) bool {
	for _, b := range f.Blocks {
		if !work.Of(b.Kind).ByState {
			return false
		}
	}
	return true
}

// rates samples the rolling rate, and finds the gaps that were overdue.
func (r *reviewer) rates(clock reinforce.Clock, first, last float64) {
	if last <= first {
		return
	}
	const samples = 240
	for i := range samples + 1 {
		at := first + (last-first)*float64(i)/samples
		if !r.resting(at) {
			r.Rate = append(r.Rate, RatePoint{at, clock.Rolling(r.Pays, at)})
		}
	}
	if r.perTrial() {
		return
	}
	from := first
	for i, gap := range clock.Gaps(r.Pays, last) {
		to := last
		if i < len(r.Pays) {
			to = r.Pays[i]
		}
		if gap > r.Band.Overdue()+evidence.Epsilon {
			r.Gaps = append(r.Gaps, Gap{from, to, gap})
		}
		from = to
	}
}

// perTrial tells whether all that was worked is paid by the trial: then no gap between pays is overdue.
func (r *reviewer) perTrial() bool {
	for _, b := range r.f.Blocks {
		if b.Logged > 0 && !perTrial(b) {
			return false
		}
	}
	return true
}

func perTrial(b *record.Block) bool {
	at := progression.Index(b.Steps, b.Position.Today)
	return at >= 0 && work.Of(b.Kind).PerTrial(b.Steps[at].Criteria)
}

func (r *reviewer) resting(at float64) bool {
	return slices.ContainsFunc(r.breaks, func(b reinforce.Span) bool { return at > b.From && at < b.To })
}
