// Package progression lays steps out in order and keeps the dog's place among them.
//
// A ladder is a list of Steps, easiest first, each with an id for life. Layout makes the criteria of one out of Legs, which are joined so
// that one new thing comes in at a time. Lints says what is not sound about a ladder, with a fix where there is one. Place follows Moves:
// where the dog stands, what it has reached, since when. Target says what a trial of a step asks whose figures vary.
//
//	ladder, problems := progression.Layout{Legs: []progression.Leg{leg}}.Steps(progression.MaxLadder)
//
// Functions that change a ladder answer a new list. What is only read may be shared between goroutines.
package progression
