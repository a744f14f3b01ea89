package evidence

// What a comparison needs before it says anything.
const (
	MinTrack     = 15   // trials of each track
	sureBehind   = 0.95 // ProbDecline
	underTrained = 0.5  // of the other's trials
)

// Behind tells whether one track is behind another at the same step: at least 15 trials each, and
// ProbDecline from the other to it at least 0.95. Of both, met trials count.
func Behind(one, other Tally) bool {
	return one.N() >= MinTrack && other.N() >= MinTrack && ProbDecline(other.Met, other.N(), one.Met, one.N()) >= sureBehind-Epsilon
}

// UnderTrained tells whether a track has fewer than half the trials of the other.
func UnderTrained(one, other int) bool { return float64(one) < underTrained*float64(other) }
