// Package fit fits models of load to what a dog did, and holds what they said beforehand against what came. It runs on the server
// alone: a device is given the model.
//
//	m := fit.Load(trials)
//	model, running := fit.Brier(fit.Predict(sessions)) // is it a better guide than the running rate of the step?
//
// All of it are functions of their arguments; they may be called from several goroutines.
package fit
