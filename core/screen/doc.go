// Package screen is what the Run screen shows of a session that is running: it puts what package session knows into words, and decides
// nothing. Door is the way in from outside Go.
//
//	screen.Of(run).View(12_000) // at 12 s of the session's clock
//
// A Screen is as safe to share as its session: one goroutine at a time.
package screen
