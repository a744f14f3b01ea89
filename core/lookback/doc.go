// Package lookback reads a session after it was run: where it stood, what was paid when, which gaps were overdue, what the rule said and
// what was done, and what is worth knowing first.
//
//	view := lookback.Read(log, log.Fold(book), strategy.Band, words)
//	compared := lookback.Against(planned, session) // beside the plan that the session followed
//
// Times are seconds of the session's clock. A View that is only read may be shared between goroutines.
package lookback
