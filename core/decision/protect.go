package decision

import (
	"math"

	"patientfox/core/evidence"
	"patientfox/core/trial"
)

// Chance is what is known of how likely a cue is to be answered.
type Chance struct {
	Met, N   int  // counted trials of the stretch; where Expected is known, those of this session at the step alone
	Unhelped int  // counted trials of the skill that had no help
	Harder   bool // it is more than the step that the rule has put the dog at
	// Expected, Lo and Hi are what the dog's record with all of the skill let expect before the session, with its 80 % band; 0 where that
	// was not worked out.
	Expected, Lo, Hi float64
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

// ninetieth is that of a standard normal: 80 % lie within ± this.
const ninetieth = 1.2816

// minSD is how sure a record can make at most: what is expected never counts as more than some thousand trials.
const minSD = 0.01

// estimate is the chance that the cue is answered, with the lower end of its 80 % range; ok is false where nothing is known. What was
// expected before the session counts as much as its band is narrow, as so many trials, and this session's trials are added to it. Without
// that it is (k + ½) ÷ (n + 1) of the stretch.
func (c Chance) estimate() (p, lo float64, ok bool) {
	met, n := float64(c.Met), float64(c.N)
	switch {
	case c.Expected > 0:
		sd := math.Max((c.Hi-c.Lo)/(2*ninetieth), minSD)
		worth := math.Max(1, c.Expected*(1-c.Expected)/(sd*sd)-1)
		p = (c.Expected*worth + met) / (worth + n)
		return p, p - ninetieth*math.Sqrt(p*(1-p)/(worth+n+1)), true
	case c.N > 0:
		return (met + 0.5) / (n + 1), evidence.Jeffreys(c.Met, c.N, 0.8).Lo, true
	}
	return 0, 0, false
}

// Protects tells whether the cue should not be spent: the dog is fetched instead. At the step where the rule has put the dog it reads the
// estimate, and is silent before ten trials without help; for anything harder it reads the lower end of the range, and wants to know.
func (c Chance) Protects() bool {
	p, lo, ok := c.estimate()
	if c.Unhelped < protectTrials || !ok {
		return c.Harder
	}
	if c.Harder {
		p = lo
	}
	return p < protectBelow-evidence.Epsilon
}
