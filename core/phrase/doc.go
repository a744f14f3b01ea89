// Package phrase has every sentence about steps, verdicts and reasons, so that Run, Today, Review and print say the same thing in the same
// words.
//
//	words := phrase.In(units)
//	words.Step(step.Criteria) // "Hold 5 s, you at 2 m"
//
// Words is a value and may be shared between goroutines.
package phrase
