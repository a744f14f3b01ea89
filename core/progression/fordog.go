package progression

import "patientfox/core/criteria"

// fitted are the faults that are mended for each dog, in this order.
var fitted = []LintCode{LintAge, LintNoHarder, LintGrowth, LintJump}

// ForDog is a ladder as a dog can be asked to climb it: nothing higher than it may jump, and what its age and its own measure ask for
// mended, within most steps. id names the steps that come in.
func ForDog(steps []Step, c Case, most int, id func() string) []Step {
	if c.MaxHeight > 0 {
		lower := make([]Step, 0, len(steps))
		for _, s := range steps {
			if s.Criteria.Get(criteria.Height) <= c.MaxHeight {
				lower = append(lower, s)
			}
		}
		if len(lower) > 0 {
			steps = lower
		}
	}
	for _, code := range fitted {
		steps = MendAll(steps, c, code, most, id)
	}
	return steps
}
