// Package say writes numbers, times and lists as a sentence has them: what package phrase and the words of a kind of work are put together
// from.
//
//	say.Count(1, "trial")               // "1 trial"
//	say.List([]string{"wind", "gulls"}) // "wind and gulls"
//
// Pure functions.
package say
