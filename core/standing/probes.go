package standing

// A finished skill is probed cold. What a probe came to:
const (
	ProbeFinished = "finished" // not a probe: the skill was finished, for the first time or again
	ProbeHeld     = "held"     // met cold
	ProbeKept     = "kept"     // missed cold, then met twice at once
	ProbeLost     = "lost"     // missed cold, and not met twice at once
)

// Probed is one day on which a skill was finished or probed; days are counted from any one day on.
type Probed struct {
	Day  int
	What string // one of the above
}

// The longest gaps between probes, in days: of what keeps somebody safe, and of anything else.
const (
	MaxGap       = 32
	MaxSafetyGap = 14
)

// NextProbe says when a finished skill is next probed: a day after it was finished; a met probe doubles the
// gap up to the longest; one that was kept leaves it, and a lost one halves it, for when the skill is
// finished again, or for the next probe where the trainer left it at the top all the same. due is false without a record. Gaps are in days.
func NextProbe(record []Probed, safety bool) (day, gap int, due bool) {
	most := MaxGap
	if safety {
		most = MaxSafetyGap
	}
	gap = 1
	for _, p := range record {
		switch p.What {
		case ProbeHeld:
			gap = min(2*gap, most)
		case ProbeLost:
			gap = max(1, gap/2)
		}
		due = true
		day = p.Day + gap
	}
	return day, gap, due
}
