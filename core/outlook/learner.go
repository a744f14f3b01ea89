// Package outlook looks ahead with a simulated learner. The learner is a convenience for rehearsal,
// demonstration and forecasts; it claims nothing about any real dog.
package outlook

import (
	"math"
	"math/rand/v2"

	"patientfox/core/evidence"
)

// Learner is a gradual learner: an ability on the logit scale that grows with paid successes, loses a
// little on runs of misses, and starts lower in a place that is new to it. Seeded: the same calls
// give the same dog.
type Learner struct {
	Ability  float64            // logits
	Gain     float64            // logits for a paid success that was a coin's toss
	Loss     float64            // logits for each miss after the first in a row
	Strange  float64            // logits that a new place costs, wearing off with success there
	Slowness float64            // s, median latency of an easy response
	places   map[string]float64 // what is left of Strange
	misses   int
	rng      *rand.Rand
}

// NewLearner makes a learner out of a seed.
func NewLearner(seed uint64, ability float64) *Learner {
	return &Learner{
		Ability: ability, Gain: 0.03, Loss: 0.05, Strange: 0.9, Slowness: 1.1,
		places: map[string]float64{}, rng: rand.New(rand.NewPCG(seed, 1)),
	}
}

// ProbMet is the chance that a trial of the given difficulty (logits) succeeds in a place.
func (l *Learner) ProbMet(difficulty float64, place string) float64 {
	strange, known := l.places[place]
	if !known {
		strange = l.Strange
		if len(l.places) == 0 {
			strange = 0 // where it was taught is not strange
		}
	}
	return 1 / (1 + math.Exp(-(l.Ability - difficulty - strange)))
}

// Response is what the learner did in one trial.
type Response struct {
	Outcome  evidence.Outcome
	LatencyS float64 // s
	Part     float64 // 0…1: how far through a hold a miss broke
}

// Try runs one trial.
func (l *Learner) Try(difficulty float64, place string) Response {
	p := l.ProbMet(difficulty, place)
	r := Response{LatencyS: l.Slowness * math.Exp(0.35*l.rng.NormFloat64()) * (1.6 - p), Part: 0.15 + 0.8*l.rng.Float64()}
	switch u := l.rng.Float64(); {
	case u < p:
		r.Outcome = evidence.Met
	case u < p+(1-p)*0.22:
		r.Outcome = evidence.Late
	case u < p+(1-p)*0.32:
		r.Outcome = evidence.Helped
	default:
		r.Outcome = evidence.Missed
	}
	return r
}

// Learn takes the consequence of a trial in.
func (l *Learner) Learn(r Response, difficulty float64, place string, paid bool) {
	p := l.ProbMet(difficulty, place)
	strange, known := l.places[place]
	if !known && len(l.places) > 0 {
		strange = l.Strange
	}
	if r.Outcome.Right() {
		l.misses = 0
		if paid {
			l.Ability += l.Gain * 4 * p * (1 - p)
			strange *= 0.93
		}
	} else if l.misses++; l.misses > 1 {
		l.Ability -= l.Loss
	}
	l.places[place] = strange
}

// Forget is what days without practice cost.
func (l *Learner) Forget(days int) { l.Ability -= 0.012 * math.Max(0, float64(days-2)) }

// Chance draws a number in 0…1 from the learner's own seed.
func (l *Learner) Chance() float64 { return l.rng.Float64() }
