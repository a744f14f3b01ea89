package decision

import (
	"patientfox/core/evidence"
	"patientfox/core/trial"
)

// Chance is what is known of how likely a cue is to be answered.
type Chance struct {
	Met, N   int  // counted trials of the stretch
	Unhelped int  // counted trials of the skill that had no help
	Harder   bool // it is more than the step that the rule has put the dog at
}

// Add counts a trial of the stretch.
func (c *Chance) Add(t *trial.Trial) {
	if !t.Counted() {
		return
	}
	c.N++
	if t.Outcome == trial.Met {
		c.Met++
	}
}

// A cue that is given and not answered is worn: below this chance it is not given. Before so many trials without help nobody knows.
const (
	protectBelow  = 0.6
	protectTrials = 10
)

// Protects tells whether the cue should not be spent: the dog is fetched instead. At the step where the rule has put the dog it reads the
// middle of the estimate, (k + ½) ÷ (n + 1), and is silent before it knows; for anything harder it reads the lower end of the 80 %
// interval (Jeffreys), and wants to know.
func (c Chance) Protects() bool {
	if c.Unhelped < protectTrials || c.N == 0 {
		return c.Harder
	}
	chance := (float64(c.Met) + 0.5) / (float64(c.N) + 1)
	if c.Harder {
		chance = evidence.Jeffreys(c.Met, c.N, 0.8).Lo
	}
	return chance < protectBelow-evidence.Epsilon
}
