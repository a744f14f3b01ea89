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
	// Expected and ExpectedLo are what the dog's record with all of the skill lets expect, with the lower end of its 80 % band; 0 where that
	// was not worked out.
	Expected, ExpectedLo float64
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

// Protects tells whether the cue should not be spent: the dog is fetched instead. It reads what is expected by the whole record, and the
// trials of the stretch, (k + ½) ÷ (n + 1), and takes the worse. At the step where the rule has put the dog it is silent before ten trials
// without help; for anything harder it reads the lower ends of the 80 % ranges, and wants to know.
func (c Chance) Protects() bool {
	if c.Unhelped < protectTrials || c.N == 0 && c.Expected == 0 {
		return c.Harder
	}
	least := 1.0
	if c.Expected > 0 {
		least = c.Expected
		if c.Harder {
			least = c.ExpectedLo
		}
	}
	if c.N > 0 {
		here := (float64(c.Met) + 0.5) / (float64(c.N) + 1)
		if c.Harder {
			here = evidence.Jeffreys(c.Met, c.N, 0.8).Lo
		}
		least = min(least, here)
	}
	return least < protectBelow-evidence.Epsilon
}
