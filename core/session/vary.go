package session

import (
	"patientfox/core/criteria"
	"patientfox/core/evidence"
	"patientfox/core/progression"
	"patientfox/core/trial"
)

// Target is what the trial under way, or the next one, asks where its step varies.
func (r *Run) Target() map[criteria.Key]float64 {
	step := r.Ahead()
	if len(step.Criteria.Vary) == 0 {
		return nil
	}
	number := r.pack.Tried[step.ID]
	for t := range trial.Each(r.s.Trials) {
		if t.Step == step.ID && t.Rev == step.Rev && t.Outcome != trial.Void && r.s.PlanOf(t.Block) == r.pack.Plan {
			number++
		}
	}
	return progression.Target(step, number)
}

func (r *Run) asksLess(target map[criteria.Key]float64) bool {
	return progression.AsksLess(r.Ahead().Criteria, target)
}

// reachedAnyway tells whether a hold that broke had reached the criterion, because a longer one was
// asked.
func (r *Run) reachedAnyway(at float64) bool {
	c := r.step().Criteria
	target, varied := r.Target()[criteria.Duration]
	return r.Kind().Holds && varied && r.s.Trying != nil && target > c.Get(criteria.Duration) &&
		at-r.s.Trying.From >= c.Get(criteria.Duration)-evidence.Epsilon
}
