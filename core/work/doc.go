// Package work has the kinds of work, a file each: what a trial of it is and what is measured, the keys that a board shows for it
// and what they mean, its words, and how it is usually ruled and paid.
//
// Whatever differs by kind is in that kind's file. The rest of the program asks a Work for what it can do (Holds, OnCue,
// ByState …) or for its board, and never compares a Kind: a test holds it to that. A new kind is a file here and a line in All.
//
//	work.Of("held").Holds           // true: its trials are timed from the start to the release
//	work.Of("walking").Main(moment) // the acts of the large key: a pace, and with the last one the trial is met
//
// The values of this package never change and may be shared between goroutines.
package work
