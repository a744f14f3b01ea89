// Package homework is what a household trains between two visits, five minutes at a time: the strip of what happens in which order, the
// step it begins at, how much of it a day, and when there is nothing to train and only something to keep from happening.
//
//	homework.Strip(work.Cued, definition, "")             // say “down”, show a flat hand, mark “yes”, feed
//	homework.Opens(4, false)                              // 3: one step easier until something has come back
//	homework.Mixed([]string{"sit", "down", "touch"}, 15, seed) // what to ask for next, no skill more than twice running
//	homework.Read("sit 4 of 5 hall Mo", skills, "2026-11-30")  // what came back, as people write it
//	homework.Line{Met: 5, Of: 5}.Leads()       // StepUp: one line is one set, whatever the plan's rule
//	homework.Differ(counts, "2026-11-30")      // whether more comes back from home than is seen in visits
//
// All of it is pure; values may be shared.
package homework
