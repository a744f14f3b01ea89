// Package handling is what one person's trials say of how they handle: the mistakes that were logged, cues that were repeated, help beyond
// what a step plans, and how often they paid against what the plan asks. It counts, and claims no difference between people.
//
//	h := handling.Of(trials, func(i int) int { return 1 }) // one cue is allowed in each
//	var pace handling.Pace
//	pace.Add(120, 8, 6, 10)                                // two minutes, 8 reinforcers, 6 to 10 a minute asked: too few
//	what, n, of, ok := h.Practise(pace)                    // "late mark", 12, 140, true
//
// Account and Pace are values: safe to share while nobody adds to them.
package handling
