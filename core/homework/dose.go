package homework

import "patientfox/core/progression"

// Rounds and Each are what a day of homework is at most: so many rounds of so many repetitions, with a rest between them.
const (
	Rounds = 3
	Each   = 5
)

// QuietDays is how many days after a worried dog, or one over its threshold, a household only keeps the thing away.
const QuietDays = 14

// Opens is the index of the step of a sheet: the household's own, and one easier until something has come back from them.
func Opens(own int, back bool) int {
	if back {
		return own
	}
	return max(0, own-1)
}

// Mixed is what to ask for, one after another, n times: each skill as often as the others within one, none more than twice running where
// there are several. The same seed gives the same order.
func Mixed(skills []string, n int, seed uint64) []string {
	if len(skills) < 2 {
		return nil
	}
	return progression.Shuffled(skills, n, seed)
}

// ManagementOnly tells whether a skill that works on a state is not trained at home now: the dog bites, or was worried or worse within
// QuietDays.
func ManagementOnly(byState, bites, worried bool) bool { return byState && bites || worried }
