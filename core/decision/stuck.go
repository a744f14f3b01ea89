package decision

import "patientfox/core/evidence"

// Facts is what the record says of one step that a dog keeps working on.
type Facts struct {
	Entries  int // how often the dog came to the step, the first time included
	Repeats  int // full sets, or windows, since the dog last came to it that did not pass
	Stalled  int // sessions since the dog came to a step higher than any before
	Sessions int // in which it was worked
	Tally    evidence.Tally
	Cold     evidence.Tally
	OnlyCold bool // the latest trouble is the first trial alone
	Slower   bool // responses have become slower
	Raised   int  // dimensions that the step raises over the one below
	Trigger  bool // something is there that distracts or worries
	Fades    bool // the step takes help, food or gear off
	Missing  int  // questions that the definition leaves open
	Handler  int  // errors that were put down to the handler
	SetUp    int  // errors that were put down to the set-up
	Errors   int  // errors about which somebody said where they came from
	Rate     float64
	Planned  float64        // pays a minute: as done, and the lower edge of the plan's band; 0 where not known
	Before   evidence.Tally // at easier steps, before
	Lately   evidence.Tally // at easier steps, since this one gave trouble
	Method   string         // how the behaviour is got, where the plan says so
}

// StuckCode names one thing to try at a step that does not go on.
type StuckCode string

// What to try, in the order in which it is offered: first what would make all else pointless, then what
// the record itself explains, then the levers.
const (
	VetFirst   StuckCode = "vet_first"   // Of of Out lately, Rate before: a known skill vanished
	Vague      StuckCode = "vague"       // Of questions left open
	FirstOnly  StuckCode = "first_only"  // Of of Out cold, Rate the rest
	Timing     StuckCode = "timing"      // Of of Out errors were the handler's
	Closer     StuckCode = "set_up"      // Of of Out errors were the set-up's
	HalfStep   StuckCode = "split"       // Of dimensions raised at once, Out repeats, the dog came to it Than times
	Further    StuckCode = "distance"    // the trigger: Of of Out met
	PayMore    StuckCode = "pay"         // Rate done, Rate2 planned; or Of late of Out
	FadeSlower StuckCode = "fade_slower" // Of helped of Out
	HalfProp   StuckCode = "half_prop"   // the step takes something away: Of of Out met
	AnotherWay StuckCode = "another_way" // the dog came to it Of times, in Out sessions
)

// StuckCodes lists them in that order.
var StuckCodes = []StuckCode{VetFirst, Vague, FirstOnly, Timing, Closer, HalfStep, Further, PayMore, FadeSlower, HalfProp, AnotherWay}

// Suggestion is one thing to try, with the figures behind it.
type Suggestion struct {
	Code    StuckCode
	Of, Out int
	Rate    float64
	Than    float64
}

// When a step counts as stuck, and how much a figure must say before it makes a suggestion. Patient
// Fox's own defaults.
const (
	stuckRepeats = 3
	stuckEntries = 3
	stuckFor     = 5    // sessions
	vanished     = 0.97 // ProbDecline
	minBefore    = 10   // trials, before and lately
	largePart    = 1.0 / 3
	longTries    = 5 // sessions
)

// Stuck tells whether a step was repeated, or returned to, again and again while the dog came no higher for five sessions. A dog that
// climbs repeats steps and returns to them too: by those alone a simulated one is called stuck after every second session, with the five
// after one in twenty (measured in core/standing).
func Stuck(f Facts) bool {
	return f.Stalled >= stuckFor && (f.Repeats >= stuckRepeats || f.Entries >= stuckEntries)
}

// Suggest says what to try at a stuck step, from what the record shows; nothing where it is not stuck.
func Suggest(f Facts) []Suggestion {
	if !Stuck(f) {
		return nil
	}
	var list []Suggestion
	add := func(when bool, s Suggestion) {
		if when {
			list = append(list, s)
		}
	}
	n := f.Tally.N()
	large := func(part, of int) bool { return of >= 5 && float64(part) >= largePart*float64(of)-evidence.Epsilon }
	fell := f.Before.N() >= minBefore && f.Lately.N() >= minBefore &&
		evidence.ProbDecline(f.Before.Right(), f.Before.N(), f.Lately.Right(), f.Lately.N()) >= vanished-evidence.Epsilon
	add(fell, Suggestion{Code: VetFirst, Of: f.Lately.Right(), Out: f.Lately.N(), Rate: f.Before.Lenient()})
	add(f.Missing > 0, Suggestion{Code: Vague, Of: f.Missing})
	warm := evidence.Tally{
		Met: f.Tally.Met - f.Cold.Met, Late: f.Tally.Late - f.Cold.Late, Helped: f.Tally.Helped - f.Cold.Helped,
		Missed: f.Tally.Missed - f.Cold.Missed,
	}
	coldOnly := f.OnlyCold || f.Cold.N() >= 3 && warm.N() >= minBefore && f.Cold.Lenient() <= 0.5 && warm.Lenient() >= 0.8
	add(coldOnly && f.Cold.N() > 0, Suggestion{Code: FirstOnly, Of: f.Cold.Right(), Out: f.Cold.N(), Rate: warm.Lenient()})
	add(f.Errors >= 3 && float64(f.Handler) >= largePart*float64(f.Errors), Suggestion{Code: Timing, Of: f.Handler, Out: f.Errors})
	add(f.Errors >= 3 && float64(f.SetUp) >= largePart*float64(f.Errors), Suggestion{Code: Closer, Of: f.SetUp, Out: f.Errors})
	add(true, Suggestion{Code: HalfStep, Of: f.Raised, Out: f.Repeats, Than: float64(f.Entries)})
	add(f.Trigger && n > 0, Suggestion{Code: Further, Of: f.Tally.Met, Out: n})
	switch {
	case f.Planned > 0 && f.Rate > 0 && f.Rate < f.Planned-evidence.Epsilon:
		add(true, Suggestion{Code: PayMore, Rate: f.Rate, Than: f.Planned})
	case large(f.Tally.Late, n) || f.Slower:
		add(true, Suggestion{Code: PayMore, Of: f.Tally.Late, Out: n})
	}
	add(large(f.Tally.Helped, n), Suggestion{Code: FadeSlower, Of: f.Tally.Helped, Out: n})
	add(f.Fades && n > 0, Suggestion{Code: HalfProp, Of: f.Tally.Met, Out: n})
	add(f.Entries >= stuckEntries && f.Sessions >= longTries, Suggestion{Code: AnotherWay, Of: f.Entries, Out: f.Sessions})
	return list
}
