// Package criteria says what a step asks of a dog.
//
// A step is a set of Criteria: figures by Dimension, in SI units or as a place in a list. A Dimension says its unit, which way is harder,
// and how its figures are spaced. A Definition says what right is, for every step of a skill. Of two steps one may be harder (Below), or
// each may be harder in something: Changed says in what.
//
//	low := criteria.Criteria{}.With(criteria.Duration, 5)
//	high := low.With(criteria.Duration, 8).With(criteria.Handler, 2)
//	harder, easier := criteria.Changed(low, high) // duration and distance are harder, nothing is easier
//
// Criteria, Dimension, Definition and Units are values: With and its kin answer a changed copy. What is only read may be shared between
// goroutines.
package criteria
