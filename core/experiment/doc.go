// Package experiment compares two ways of working with one dog by chance: food or play in the hand, a click or a word, this delivery or
// that.
//
// A Design draws, before each session, which way comes first; the session has one set of each, a Pair. When as many pairs are there as
// were meant, Read reads them once: both rates, how much they differ, and how often chance alone would make as large a difference. Before
// it starts, MinP and Power say what it could show at all. It speaks of how the dog worked, not of what it learned.
//
//	d := experiment.Design{Pairs: 12, Each: 8, Seed: 7}
//	first := d.First(0) // of the first session
//	reading := experiment.Read(pairs, d.Each)
//
// All types are values that may be shared.
package experiment
