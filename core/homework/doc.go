// Package homework is what a household trains between two visits, five minutes at a time: the strip of what happens in which order, the
// step it begins at, how much of it a day, and when there is nothing to train and only something to keep from happening.
//
//	homework.Strip(work.Cued, definition, "")             // say “down”, show a flat hand, mark “yes”, feed
//	homework.Opens(4, false)                              // 3: one step easier until something has come back
//	homework.Mixed([]string{"sit", "down", "touch"}, 15, seed) // what to ask for next, no skill more than twice running
//
// All of it is pure; values may be shared.
package homework
