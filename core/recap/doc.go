// Package recap says what a week of training came to: where a dog stood on its ladders as the week began and as it ended, and what there is
// to praise.
//
//	was, now := recap.Ends(steps, reached, moves)
//	praise := recap.Best(skills, sessions, homeDays)
//
// Nothing here is shared between calls.
package recap
