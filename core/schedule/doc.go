// Package schedule plans: whose turn it is today, what one session holds and in which order, and how sessions are spread over a week.
// Everything is a proposal that can be changed by hand.
//
//	queue := schedule.Queue(candidates)        // what is due first, and why
//	sheet := schedule.Build(queue, 10, weeks)  // ten minutes with a dog of that age in weeks
//
// Days are YYYY-MM-DD, times minutes from midnight in the practice's zone. Pure functions over values.
package schedule
