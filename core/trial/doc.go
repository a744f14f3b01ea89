// Package trial says what a trial is, for everybody who reads one: the fold makes it from a log, rules and evidence read it,
// pages show it, and a pack carries it to a phone.
//
// A hold of 6.2 s that was met, and rewarded with two pieces, at the step named "s3":
//
//	trial.Trial{ID: "…", Step: "s3", Rev: 1, From: 12, At: 18.2, Outcome: trial.Met, HeldS: &held, Pays: 1, Pieces: 2}
//
// Values of this package hold no locks; one that is only read may be shared between goroutines.
package trial
