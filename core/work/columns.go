package work

import (
	"slices"

	"patientfox/core/trial"
)

// Column is a figure that is measured of trials.
type Column struct {
	Name string
	Unit string                               // with a space before it, "" for none
	Of   func(t *trial.Trial) (float64, bool) // ok is false where it was not measured
}

// Share is how many of the trials that could were so.
type Share struct {
	Name  string
	Of    func(t *trial.Trial) (is, could bool)
	Quiet bool // not said where it never happened
}

// Columns are the figures that sum up what was measured, in the order of a table.
func (w *Work) Columns() []Column {
	if w.ByState {
		return w.columns
	}
	return append(slices.Clip(w.columns), inPosition)
}

// Shares are counts beside them.
func (w *Work) Shares() []Share { return w.shares }

// seconds reads a figure that may not have been measured.
func seconds(of func(t *trial.Trial) *float64) func(t *trial.Trial) (float64, bool) {
	return func(t *trial.Trial) (float64, bool) {
		s := of(t)
		if s == nil {
			return 0, false
		}
		return *s, true
	}
}

var (
	distractionAt  = Column{"Distraction after the signal", " s", seconds(func(t *trial.Trial) *float64 { return t.LeadS })}
	distractionOut = Column{"Distraction out", " s", seconds(func(t *trial.Trial) *float64 { return t.OutS })}
	inPosition     = Column{"In position again after a miss", " s", seconds(func(t *trial.Trial) *float64 { return t.RecoveryS })}
	itselfAgain    = Column{"Itself again", " s", seconds(func(t *trial.Trial) *float64 { return t.RecoveryS })}
)
