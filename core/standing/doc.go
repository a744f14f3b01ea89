// Package standing works out what a dog's record on one plan means between two sessions: where the dog is on the ladder, how far
// thinning has come, whether it is stuck or a probe is due, how long trials take lately, how many varied targets were tried, and how much
// work had no help. The server asks it of all sessions of a plan, a phone of the one that it just ran, on top of the pack that it began
// with; so both say the same.
//
//	all := standing.Of(ladder, begun, visits, setbacks)
//	one := earlier.After(ladder, visit) // the same, of a dog that stood so before the visit
//
// A Standing is a value; what is only read may be shared between goroutines.
package standing
