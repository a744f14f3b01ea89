// Package load is a model of what makes a skill harder and easier for one dog: the chance that a trial is met, by its conditions.
//
// The logit of the chance is a sum of terms: distance, intensity and movement of the trigger, duration, the handler's distance, a new
// place, the reinforcer's value, the planned rate and help, whether the trial is cold, and practice. Each has a prior, with which a
// dog begins that was never seen; its trials then move it, the recent ones more. A lever that would point the wrong way is taken as
// having no effect, so that less pay or less distance is never advised.
//
//	m := fit.Load(trials) // in package fit, on the server
//	m.At(load.Conditions{TriggerM: 12, Intensity: 3, Value: 4, Rate: 6}) // {P: 0.71, Lo: 0.6, Hi: 0.8}
//	m.Levers(conditions, load.Target)                                    // what would bring it to 80 %
//
// A Model is a value that is only read; it may be shared between goroutines.
package load
