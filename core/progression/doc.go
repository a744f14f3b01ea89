// Package progression lays steps out in order and keeps the dog's position among them.
//
// A ladder is a list of Steps, easiest first, each with an id for life. A Layout makes its criteria for a Case (which dog, what work,
// where): each Generator raises one thing, and several are combined so that one new thing comes in at a time. What is made is sound:
// Lints, which says what is not sound about a ladder and how to mend it, has nothing to say of it. A Position follows Moves: the step
// where the dog works, the step it has reached, and since when. Target says what a trial of a step asks where its figures vary.
//
//	ladder, problems := progression.Layout{Generators: []progression.Generator{generator}}.Steps(progression.MaxLadder)
//
// Functions that change a ladder answer a new list. What is only read may be shared between goroutines.
package progression
