package work

import (
	"maps"

	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/progression"
	"patientfox/core/reinforce"
)

// Kind names a kind of work, as plans and events keep it.
type Kind string

// The kinds of work.
const (
	Held       Kind = "held"       // start → release or break; seconds are watched
	Cued       Kind = "cued"       // cue → response; latency is watched
	Walking    Kind = "walking"    // paces to the next mark; pulls are watched
	Shaping    Kind = "shaping"    // an approximation offered
	Attention  Kind = "attention"  // a free minute; check-ins are watched
	Counter    Kind = "counter"    // stimulus → food; the state is watched
	Handling   Kind = "handling"   // site × tool × seconds; the state is watched, and the dog may leave
	Steadiness Kind = "steadiness" // signal and distraction; position kept until release
)

// Work is one kind of work.
type Work struct {
	Kind  Kind
	Label string
	Hint  string         // what a trial of it is
	Keys  []criteria.Key // the dimensions that its steps usually have

	Rule  decision.Kind         // of a new plan
	Pay   reinforce.Strategy    // while it is new: every one, fast
	First progression.Generator // what a new ladder is proposed to begin with
	Near  bool                  // the handler is beside the dog until a step says otherwise
	Set   int                   // trials that belong together, 0 for as many as usual
	floor values                // what every step measures at least; nil where the kind measures by itself

	// What its trials are. None of them is another kind in disguise: ask for what you need.
	Holds    bool // a hold, from the start to the release or the break; may be paid inside
	Keeps    bool // position is kept until the release, and timed
	Answers  bool // the latency of an answer is timed
	OnCue    bool // every trial is a cue: a second one can be given, and the behaviour offered without one
	ByState  bool // an exposure: it has a state and no right answer, and is paid every time
	Pairs    bool // a stimulus with food: the order counts, and rates are over the time with the stimulus
	HandsOn  bool // the dog is touched: a site, a tool, and it may say stop
	Minutes  bool // a trial is a free minute: what the dog offers is counted until it is over
	Lasts    bool // a trial asks for a number of seconds
	Walks    bool // a trial asks for a number of paces
	Shapes   bool // a trial is what the dog offers, out of a list
	Stimulus bool // a stimulus or a distraction that comes and goes is part of a trial
	Leaves   bool // the dog is free to leave, and that is counted
	Along    bool // paid as it goes, and not at its close
	Lively   bool // it usually raises a dog rather than settling it
	Tires    bool // it tires a dog sooner: short stretches of work

	begin, mark string // what begins a trial, and what its mark means
	stop        string // what the definition's release says, "" for how a trial ends

	errors  []Error                           // that a plan begins with
	asks    func(q *questions)                // what a definition has to say
	seconds func(c criteria.Criteria) float64 // that a trial lasts whose step has no duration; nil: not known
	lasts   func(c criteria.Criteria) float64 // that a trial takes, where that is not its seconds
	least   func(c criteria.Criteria) float64
	presses func(c criteria.Criteria) int // of the large key within a trial that is met; nil: none
	apart   func(c criteria.Criteria) bool

	start    func(m *Moment) []Act // the large key between trials; nil: a cue
	main     func(m *Moment) []Act // the large key while a trial is under way; nil: met
	starting func(m *Moment) Button
	marking  func(m *Moment) Button
	row      func(m *Moment) []Button
	own      []ownKey
	line     func(m *Moment) string
	columns  []Column
	shares   []Share
}

// values are figures of a step, by dimension.
type values map[criteria.Key]float64

// Floor is what every step of the kind measures at least: a second held, a pace, a check-in, the whole of what is shaped. Where an answer
// has a limit the latency is the measure, and a step needs no other.
func (w *Work) Floor(def criteria.Definition) criteria.Criteria {
	if len(w.floor) == 0 || w.Minutes && def.LatencyS > 0 {
		return criteria.Criteria{}
	}
	return criteria.Criteria{Values: maps.Clone(w.floor)}
}

// All lists the kinds in the order in which pages show them.
var All = []*Work{&held, &cued, &walking, &shaping, &attention, &counter, &handling, &steadiness}

// Of is the kind of work of a name. A name that nobody knows is work whose trials are only tapped.
func Of(kind Kind) *Work {
	for _, w := range All {
		if w.Kind == kind {
			return w
		}
	}
	return &unknown
}

var unknown = Work{Pay: pay(0, 4, 8, "", ""), begin: "as you give the cue", mark: "met"}

// Known tells whether the kind is one of All.
func (k Kind) Known() bool { return Of(k) != &unknown }

// Seconds is how long a trial of a step is to last, s; 0 where it has no such measure.
func (w *Work) Seconds(c criteria.Criteria) float64 {
	switch {
	case c.Has(criteria.Duration):
		return c.Get(criteria.Duration)
	case w.seconds != nil:
		return w.seconds(c)
	}
	return 0
}

// Asks tells whether a cue or a signal begins a trial, so that the dog can go before it.
func (w *Work) Asks() bool { return w.OnCue || w.Walks || w.Keeps && w.Stimulus }

// Paces is how many paces make a trial of a step, 0 where they are not counted.
func (w *Work) Paces(c criteria.Criteria) int {
	if !w.Walks {
		return 0
	}
	return int(c.Get(criteria.Paces))
}

// Offers tells whether trials of a step are offers of approximations from a list.
func (w *Work) Offers(c criteria.Criteria) bool { return w.Shapes && c.Has(criteria.Approx) }

// Takes is how long a trial of a step takes beside the dog's answer, s.
func (w *Work) Takes(c criteria.Criteria) float64 {
	if w.lasts != nil {
		return w.lasts(c)
	}
	return c.Get(criteria.Duration)
}

// Cycle is one trial of a step from cue to cue, by the latencies and the times between trials that were measured of it, else as is
// usual; n is how many times between were measured.
func (w *Work) Cycle(c criteria.Criteria, latencies, between []float64) (cycle reinforce.Cycle, n int) {
	cycle, n = reinforce.Measured(latencies, between, w.Takes(c))
	if !w.Answers {
		cycle.LatencyS = 0 // the trial begins with the dog in place
	}
	return cycle, n
}

// Least is how long a trial of a step takes where the dog is quick and nothing goes wrong, s; 0 where that is the dog's own.
func (w *Work) Least(c criteria.Criteria) float64 {
	if w.least == nil {
		return 0
	}
	return w.least(c)
}

// Presses is how often the large key is pressed within a trial of a step that is met, before the press that closes it.
func (w *Work) Presses(c criteria.Criteria) int {
	if w.presses == nil {
		return 0
	}
	return w.presses(c)
}

// RuleOf is the rule of a new plan on a ladder. Counting up is for ladders that count up: turns or changes of pace, walked for as many
// paces at each step, are worked in sets.
func (w *Work) RuleOf(ladder []criteria.Criteria) decision.Kind {
	if w.Rule != decision.CountUp {
		return w.Rule
	}
	rises := 0
	for i := 1; i < len(ladder); i++ {
		if ladder[i].Get(criteria.Paces) > ladder[i-1].Get(criteria.Paces) {
			rises++
		}
	}
	if 2*rises < len(ladder)-1 {
		return decision.Set
	}
	return w.Rule
}

// RestAfter is how long a dog works before it rests for a minute, s, where a plan says nothing else.
func (w *Work) RestAfter() float64 {
	if w.Tires {
		return 120
	}
	return 180
}

// PerTrial tells whether pay is planned by the trial, because the dog works away from the handler: then no gap between trials is
// overdue. Elsewhere it is planned by the minute of work.
func (w *Work) PerTrial(c criteria.Criteria) bool { return w.apart != nil && w.apart(c) }

// MaxRung is how thin pay may become: exposures, handling and care are paid every time, coming, stopping and leaving things
// (lifeline) every second time at least.
func (w *Work) MaxRung(lifeline bool) int {
	switch {
	case w.ByState:
		return 1
	case lifeline:
		return 2
	}
	return reinforce.Rungs[len(reinforce.Rungs)-1]
}

// pay is how a kind of work is paid while it is new: pays per minute from lo to hi, every one, with food of a tier.
func pay(tier int, lo, hi float64, purpose reinforce.Purpose, delivery reinforce.Delivery) reinforce.Strategy {
	return reinforce.Strategy{
		Tier: tier, Band: reinforce.Band{Lo: lo, Hi: hi}, Pieces: 1, Schedule: reinforce.Schedule{Way: reinforce.Every},
		Purpose: purpose, Delivery: delivery,
	}
}

// ramp is a generator in one dimension.
func ramp(key criteria.Key, from, to float64) progression.Generator {
	what, _ := criteria.Find(key)
	return progression.Generator{Make: progression.MakeRamp, What: what, From: from, To: to}
}
