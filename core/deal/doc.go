// Package deal mixes a session beforehand, by chance and yet as it was asked: which movements are decoys, which card of a deck comes
// next, which side is worked. What is dealt comes from a seed, so that the phone and the server deal alike.
//
// Decoys: with one in four, movements 0 to 3 of a visit hold one decoy, 4 to 7 another, each at a place that the seed picks. The first
// movement is never one, nor is one that follows a state of 2 or worse, or another decoy; what could not be dealt is dealt later.
package deal
