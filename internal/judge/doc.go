// Package judge holds what the program claims to its error rates: simulated dogs on which a claim is true, or is not. Its tests are short;
// `make judge` takes more dogs and writes docs/judgement.md.
package judge
