// Package standing works out what a dog's record on one plan comes to between two sessions: how long trials take at each step
// lately, how many varied targets were tried, how much work had no help, and how far thinning has come. The server asks it of
// all sessions of a plan, a phone of the one that it just ran, beside the pack that it began with; so both say the same.
//
// A plan with two steps of which the second varies, after a session of three trials there, one of them void:
//
//	standing.Tried(steps, trials, nil) // {"step 2": 2}
package standing
