// Package reinforce works out how a dog is paid: the rate of reinforcement and the gaps between pays, which trials are paid, thinning,
// what rate the trials of a step allow, rewards, and a dog's need and its day's food. Times are seconds, rates pays per minute, food grams
// and kcal.
//
// A Strategy is how a step is paid: a Band of rates, a Schedule of which trials are, and how it is handed over. What a trial earns depends
// on its number and a seed alone, so that every device says the same.
//
//	reinforce.PayTimes(60, 6, seed)              // when to pay within a minute's hold, six times
//	reinforce.Climb(1, visits, 5, strategy.Band.Lo) // how thin pay has become after these sessions
//
// All types are values; what is only read may be shared between goroutines.
package reinforce
