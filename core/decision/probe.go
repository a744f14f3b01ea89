package decision

import "patientfox/core/trial"

// Held is what a probe of a finished skill answers where it is still there.
const Held Verdict = "held"

// What a probe does where the first trial is missed.
const (
	probeAgain = 2 // repeats, at once
	probeBack  = 2 // steps below the top, where a probe failed
)

// Maintain reads the probe of a finished skill, in order from its cold trial: a met one holds; a missed one is
// repeated twice at once, and both must be met; else the skill returns two steps below the top. It
// answers held, repeat, or step back with To.
func Maintain(trials []trial.Trial, last int) Decision {
	var counted []trial.Trial
	for t := range trial.Each(trials) {
		if t.Counted() {
			counted = append(counted, *t)
		}
	}
	if n := len(trials); n > 0 && trials[n-1].Shown() >= 4 {
		return Decision{Verdict: Stop, Due: true, Reasons: []Reason{{Code: OverThresh}}, Reads: ids(trials[n-1:])}
	}
	counted = counted[:min(len(counted), 1+probeAgain)]
	reads := ids(counted)
	switch n := len(counted); {
	case n == 0:
		return Decision{Verdict: Repeat, Reasons: []Reason{{Code: ProbeCold}}}
	case met(&counted[0]):
		return Decision{Verdict: Held, Due: true, Reasons: []Reason{{Code: ProbeMet}}, Reads: reads[:1]}
	case n > 1 && !all(counted[1:], met):
		return Decision{
			Verdict: StepBack, Due: true, Reasons: []Reason{{Code: ProbeLost, Of: count(counted[1:], met), Out: n - 1}}, Reads: reads,
			To: max(0, last-probeBack),
		}
	case n == 1+probeAgain:
		return Decision{Verdict: Held, Due: true, Reasons: []Reason{{Code: ProbeKept, Of: probeAgain}}, Reads: reads}
	default:
		return Decision{Verdict: Repeat, Due: true, Reasons: []Reason{{Code: ProbeMissed, Of: n - 1, Out: probeAgain}}, Reads: reads}
	}
}

// Placed is what placing a dog answers once it is known where it begins.
const Placed Verdict = "placed"

// How a dog is placed: in which strides, and how far below the last step that was met.
const (
	placeEvery = 3
	placeBelow = 2
)

// Try is one trial of placing: at which step, and how it went.
type Try struct {
	ID      string
	Step    int
	Outcome trial.Outcome
}

// PlaceAt says which step comes next while a dog is placed, and where it begins in the end: one easy trial at
// every third step until one is not met; it begins two below the last that was. The last step is tried
// too. Void trials are repeated. It answers repeat with To, the step to try, or placed with To.
func PlaceAt(tries []Try, steps int) Decision {
	at, last := 0, -1
	var reads []string
	for _, t := range tries {
		if t.Outcome.Unread() {
			continue
		}
		reads = append(reads, t.ID)
		if t.Outcome != trial.Met {
			return Decision{
				Verdict: Placed, Due: true, Reasons: []Reason{{Code: PlacedBelow, Of: last + 1, Out: t.Step + 1}}, Reads: reads,
				To: max(0, last-placeBelow),
			}
		}
		if last = t.Step; last >= steps-1 {
			return Decision{Verdict: Placed, Due: true, Reasons: []Reason{{Code: PlacedTop}}, Reads: reads, To: max(0, last-placeBelow)}
		}
		at = min(last+placeEvery, steps-1)
	}
	return Decision{Verdict: Repeat, Reasons: []Reason{{Code: PlaceNext, Of: at + 1}}, Reads: reads, To: at}
}
