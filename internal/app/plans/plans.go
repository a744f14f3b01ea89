package plans

import (
	"context"

	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/library"
	"patientfox/core/progression"
	"patientfox/core/work"
	"patientfox/internal/store"
)

// defaultBody is that of a new plan: paid fast, as a new skill is.
func defaultBody(kind work.Kind, steps []progression.Step) library.Body {
	ladder := make([]criteria.Criteria, len(steps))
	for i := range steps {
		ladder[i] = steps[i].Criteria
	}
	return library.Body{Rule: decision.Usual(work.Of(kind).RuleOf(ladder)), Pay: work.Of(kind).Pay}
}

// DeletePlan puts a plan away with its tracks, or brings it back. Its record stays.
func (p *Cases) DeletePlan(ctx context.Context, id string, away bool) error {
	return p.Away(ctx, away, func(q store.Q, at *int64) (bool, error) { return q.DeletePlan(ctx, id, at) })
}
