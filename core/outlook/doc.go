// Package outlook looks ahead with a simulated learner: a convenience for rehearsal, demonstration and forecasts, which claims nothing
// about any real dog.
//
// A Learner has one of three Forms. FitTo weighs learners by how well each could have made a record; a Course is the ladder and the rule
// that they are run through; Judge holds forecasts to what dogs of a known form then did.
//
//	fit := outlook.FitTo(record, outlook.Heights(len(steps)), outlook.Usual(), seed)
//	forecast, err := fit.Look(ctx, course, 400, seed, nil) // 400 dogs through the course
//
// A Learner draws chance from its own seed and belongs to one goroutine. Fit and Course are values that may be shared.
package outlook
