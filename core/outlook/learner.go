package outlook

import (
	"math"
	"math/rand/v2"
	"sync"

	"patientfox/core/decision"
	"patientfox/core/trial"
)

// Form is a way in which a learner learns.
type Form string

// The forms. Gradual: an ability grows with every paid success. AllOrNone: each step is either got
// or not, and is got in one moment. Context: what was learned belongs in part to the place, and some of
// what is fresh is gone the next day. With these a forecast reckons. Others that rules and forecasts are judged by: Associative has
// a strength for each step, a part of which helps at all others, and loses where it is right and not paid. ThinPaid gains a little
// without pay, and loses in long unpaid runs. Moody has its days, warms up and tires. Guessing is right now and then whatever the
// step asks.
const (
	Gradual     Form = "gradual"
	AllOrNone   Form = "all_or_none"
	Context     Form = "context"
	Associative Form = "associative"
	ThinPaid    Form = "thin_paid"
	Moody       Form = "moody"
	Guessing    Form = "guessing"
)

// Forms lists those with which a forecast reckons, Learners all of them.
var (
	Forms    = []Form{Gradual, AllOrNone, Context}
	Learners = []Form{Gradual, AllOrNone, Context, Associative, ThinPaid, Moody, Guessing}
)

// Traits are what a learner is like. Logits are the log of the odds of success: 0 is one half, 2 is
// 88 %, and 3 is 95 %.
type Traits struct {
	Form    Form
	Ability float64 // logits, at a step of difficulty 0
	Gain    float64 // logits for a paid success that was a coin's toss; less for what is nearly sure
	Loss    float64 // logits for each miss after the first in a row
	Drop    float64 // logits from one step to the next, where the caller does not say how hard they are
	Strange float64 // logits that a new place costs, wearing off with success there
	Forget  float64 // a day's loss: logits for gradual ones after two days, a share of what is fresh for context
	Known   float64 // logits of success at a step that was got; all or none
	Catch   float64 // 0…1, the chance that a paid success is the moment in which a step is got
	Carry   float64 // 0…1, the chance that the next step is got already
	Days    float64 // logits, sd of what a day is like: moody
}

// How the forms learn, beside their traits.
const (
	wears      = 0.93 // what is left of a place's strangeness after a paid success there
	ownPlace   = 0.5  // of a gain, the share that belongs to the place (context)
	lasting    = 0.4  // of a gain, the share that is there the next day (context)
	recovers   = 0.7  // what is left of the cost of misses after a success (all or none)
	latePart   = 0.22 // of what is not met: late, then helped; the rest are missed
	helpedPart = 0.32
	maxPlaces  = decision.MaxPlaces

	spreads   = 0.5  // of a gain, the share that helps at all other steps (associative)
	fades     = 0.01 // logits that a success without pay costs a step (associative)
	unpaidTo  = 0.3  // of a gain, what a success without pay brings (thin paid)
	starves   = 3    // successes without pay in a row, after which each more costs (thin paid)
	starvesBy = 0.02 // logits
	warmUp    = 0.5  // logits that the first trial of a session costs, half of it the second, and so on (moody)
	tiresFrom = 15   // trials of a session, from which on each costs (moody)
	tiresBy   = 0.05 // logits
	guessed   = 0.35 // share of trials that are right by luck (guessing)
)

// Level is a step as a learner meets it.
type Level struct {
	Hard  float64 // logits
	met   bool    // it was worked before
	known bool    // all or none: it was got
	own   float64 // associative: logits of its own
	id    int     // as it was laid out; half steps come after
}

// Learner is a dog that learns by its traits. Seeded: the same calls give the same dog.
type Learner struct {
	Traits
	Slowness float64 // s, median latency of an easy response
	fresh    float64 // logits, of Ability: what the next day takes a part of
	mood     float64 // logits, what runs of misses cost
	places   [maxPlaces]float64
	been     uint64
	misses   int
	unpaid   int     // successes without pay in a row
	day      float64 // logits, what this day is like (moody)
	trials   int     // of this session (moody)
	odds     *odds
	pcg      rand.PCG
	rng      *rand.Rand
}

// NewLearner makes a learner out of a seed.
func NewLearner(seed uint64, traits Traits) *Learner {
	l := &Learner{Traits: traits, Slowness: 1.1, odds: oddsTable()}
	l.pcg.Seed(seed, 1)
	l.rng = rand.New(&l.pcg)
	return l
}

// Chance draws a number in 0…1 from the learner's own seed.
func (l *Learner) Chance() float64 { return float64(l.pcg.Uint64()<<11>>11) * 0x1p-53 }

// Enter goes to a place, a number below 64: one that is new is strange, but the first.
func (l *Learner) Enter(place uint8) {
	bit := uint64(1) << (place % maxPlaces)
	if l.been&bit == 0 {
		if l.been != 0 {
			l.places[place%maxPlaces] = l.Strange
		}
		l.been |= bit
	}
}

// ProbMet is the chance that a trial at a level succeeds in a place where the learner has been.
func (l *Learner) ProbMet(level *Level, place uint8) float64 {
	logit := l.Ability - l.places[place%maxPlaces] - level.Hard - l.mood
	switch l.Form {
	case AllOrNone:
		if level.known {
			logit = l.Known - l.places[place%maxPlaces] - l.mood
		}
	case Associative:
		logit += level.own
	case Moody:
		logit += l.day - warmUp/float64(l.trials+1) - tiresBy*float64(max(0, l.trials-tiresFrom))
	case Guessing:
		return guessed + (1-guessed)*l.odds.chance(logit)
	}
	return l.odds.chance(logit)
}

// odds is a table of the logistic function, 1 ÷ (1 + e^-x): a forecast asks for it millions of times, and the
// exponential was a third of its time. Between two entries it is a straight line, to 1e-6 of the chance.
type odds [2*oddsReach*oddsPart + 2]float64

const (
	oddsReach = 16  // logits to either side; beyond them it stays as there
	oddsPart  = 128 // entries a logit
)

var oddsTable = sync.OnceValue(func() *odds {
	var o odds
	for i := range o {
		o[i] = 1 / (1 + math.Exp(oddsReach-float64(i)/oddsPart))
	}
	return &o
})

func (o *odds) chance(logit float64) float64 {
	at := (min(max(logit, -oddsReach), oddsReach) + oddsReach) * oddsPart
	i := int(at)
	return o[i] + (o[i+1]-o[i])*(at-float64(i))
}

// Meet begins a level, perhaps for the first time.
func (l *Learner) Meet(level *Level) {
	if level.met {
		return
	}
	level.met = true
	if l.Form == AllOrNone {
		level.known = level.known || l.Chance() < l.Carry
	}
}

// Toss runs one trial that is met with the chance p, and tells how it ended.
func (l *Learner) Toss(p float64) decision.Mark {
	u := l.Chance()
	switch {
	case u < p:
		return decision.MarkMet
	case u < p+(1-p)*latePart:
		return decision.MarkLate
	case u < p+(1-p)*helpedPart:
		return decision.MarkHelped
	}
	return decision.MarkMissed
}

// Learn takes the consequence of a trial in that was met with the chance p.
func (l *Learner) Learn(level *Level, place uint8, p float64, right, paid bool) {
	l.trials++
	if !right {
		if l.misses++; l.misses > 1 {
			if l.Form == AllOrNone {
				l.mood += l.Loss
			} else {
				l.Ability -= l.Loss
			}
		}
		return
	}
	l.misses = 0
	gain := l.Gain * 4 * p * (1 - p)
	if !paid {
		l.without(level, gain)
		return
	}
	l.unpaid = 0
	here := &l.places[place%maxPlaces]
	switch l.Form {
	case AllOrNone:
		l.mood *= recovers
		*here *= wears
		if !level.known && l.Chance() < l.Catch {
			level.known = true
		}
	case Context:
		*here -= gain * ownPlace
		l.Ability += gain * (1 - ownPlace)
		l.fresh += gain * (1 - ownPlace) * (1 - lasting)
	case Associative:
		level.own += gain * (1 - spreads)
		l.Ability += gain * spreads
		*here *= wears
	default:
		l.Ability += gain
		*here *= wears
	}
}

// without takes in a success that was not paid.
func (l *Learner) without(level *Level, gain float64) {
	switch l.Form {
	case Associative:
		level.own -= fades
	case ThinPaid:
		l.Ability += gain * unpaidTo
		if l.unpaid++; l.unpaid > starves {
			l.Ability -= starvesBy
		}
	}
}

// Rest is what days without practice cost.
func (l *Learner) Rest(days int) {
	l.trials = 0
	switch l.Form {
	case Moody:
		l.day = l.Days * l.rng.NormFloat64()
	case Context:
		left := l.fresh * math.Exp(-l.Forget*float64(days))
		l.Ability -= l.fresh - left
		l.fresh = left
	case Gradual:
		l.Ability -= l.Forget * math.Max(0, float64(days-2))
	}
}

// Response is what the learner did in one trial, as it can be seen.
type Response struct {
	Outcome  trial.Outcome
	LatencyS float64 // s
	Part     float64 // 0…1: how far through a hold a miss broke
}

var outcomes = [...]trial.Outcome{trial.Met, trial.Late, trial.Helped, trial.Missed}

// Try runs one trial at a level, with what can be seen and timed of it.
func (l *Learner) Try(level *Level, place uint8) Response {
	l.Enter(place)
	l.Meet(level)
	p := l.ProbMet(level, place)
	r := Response{LatencyS: l.Slowness * math.Exp(0.35*l.rng.NormFloat64()) * (1.6 - p), Part: 0.15 + 0.8*l.rng.Float64()}
	r.Outcome = outcomes[l.Toss(p)]
	return r
}

// Take takes the consequence of a trial in.
func (l *Learner) Take(r Response, level *Level, place uint8, paid bool) {
	l.Learn(level, place, l.ProbMet(level, place), r.Outcome.Right(), paid)
}
