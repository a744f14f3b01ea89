// Package phrase has every sentence about steps, verdicts and reasons, so that Run, Today, Review and
// print say the same thing in the same words.
package phrase
