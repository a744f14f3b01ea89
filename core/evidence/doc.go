// Package evidence turns trials into figures: success rates with their intervals, what few trials can and cannot say, latencies, cues,
// errors, and how two tracks or a tag compare. It reads records and judges nothing; verdicts are made in package decision.
//
// Rates use the Jeffreys posterior, Beta(met+½, n−met+½), and what must not fail on an exact test of the binomial distribution.
//
//	evidence.Jeffreys(5, 5, 0.95)    // five of five: the rate lies between 0.62 and 1
//	evidence.ProbAtLeast(5, 5, 0.8)  // 0.85: how likely the rate is at least 80 %
//	evidence.TrialsNeeded(0.9, 0.95, 0)
//
// As in gonum's distuv, a count that cannot be (more met than trials, a negative number) is a mistake of the program and panics. All of it
// is pure functions over values, which may be called by several goroutines.
package evidence
