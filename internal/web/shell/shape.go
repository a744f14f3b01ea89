package shell

import (
	"fmt"
	"strings"

	"patientfox/core/phrase"
	"patientfox/core/trial"
	"patientfox/core/work"
)

// shape is one outcome drawn as a shape: shape first, colour second. Figures draw theirs with the
// same fields.
type shape struct {
	Label string // met, late, helped, missed, let_go, void, state0 … state4, "" for an empty place
	Full  bool   // paid
}

func newShape(outcome string, paid bool) shape { return shape{outcome, paid} }

// state is that of an exposure, −1 for an outcome.
func (s shape) state() int {
	var n int
	if _, err := fmt.Sscanf(s.Label, "state%d", &n); err != nil || n < 0 || n >= len(work.StateNames) {
		return -1
	}
	return n
}

// Wave is the path of a state: a wave that grows longer.
func (s shape) Wave() string {
	n := s.state()
	if n < 0 {
		return ""
	}
	return fmt.Sprintf("M%g 0q2.2 -16 4.4 0", -2.2*float64(n+1)) + strings.Repeat("t4.4 0", n)
}

// Says names the shape.
func (s shape) Says() string {
	if n := s.state(); n >= 0 {
		return strings.ToLower(work.StateNames[n])
	}
	return phrase.Outcome(trial.Outcome(s.Label))
}
