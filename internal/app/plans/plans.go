package plans

import (
	"context"

	"patientfox/internal/store"
)

// DeletePlan puts a plan away with its tracks, or brings it back. Its record stays.
func (p *Cases) DeletePlan(ctx context.Context, id string, away bool) error {
	return p.Away(ctx, away, func(q store.Q, at *int64) (bool, error) { return q.DeletePlan(ctx, id, at) })
}
