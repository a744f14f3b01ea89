// Package preference ranks a dog's rewards from pairs that were offered: strengths, tiers, and how sure they are.
//
//	pairs := preference.Plan(4, seed)         // which two to offer, in which order, left and right evened out
//	fit, err := preference.Strengths(wins)    // wins[i][j]: how often i was taken over j
//	more := preference.More(fit.Doubts(wins), offered) // what to offer again, where it is not clear yet
//
// Strengths are those of Bradley and Terry, "Rank analysis of incomplete block designs", Biometrika 39 (1952), under a N(0, 1) prior.
// Pure functions over values.
package preference
