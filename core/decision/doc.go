// Package decision holds the rules that read a dog's record and answer: step up, repeat, step back, split, stop or finished.
//
// A rule is a pure function: same trials, same answer; no clock and no chance. Decide asks one about a stretch, the trials of one step in
// their order, of which only those count that were neither easy nor void. Guards come first, and a rule says with Due whether it had
// anything to decide. Answers carry codes and figures; package phrase puts them into words.
//
//	d := decision.Decide(decision.Defaults(decision.Set), decision.Question{Trials: stretch, Step: 2, Last: 9})
//	if d.Due {
//		// d.Verdict, for d.Reasons, from the trials in d.Reads
//	}
//
// Meter asks the same rules trial by trial, for forecasts; a Meter belongs to one goroutine. Everything else is values that may be shared.
package decision
