package derive

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"

	"patientfox/core/record"
	"patientfox/internal/store"
)

// MaxBatch is how many events one post may carry.
const MaxBatch = 200

// Receipt is the answer to one event. The sender forgets stored and duplicate ones only.
type Receipt struct {
	ID     string         `json:"id"`
	Result record.Receipt `json:"result"` // stored, duplicate, conflict, refused
	Why    string         `json:"why,omitempty"`
}

// Refused is the result of an event that cannot be taken.
const Refused record.Receipt = "refused"

// Receive stores a batch of events in one transaction and marks their sessions for refolding. The
// answer comes after the commit. One bad event never blocks its batch.
func (p *Reader) Receive(ctx context.Context, events []record.Event) ([]Receipt, error) {
	receipts := make([]Receipt, len(events))
	err := p.Store.Write(ctx, func(q store.Q) error {
		ctx := context.WithoutCancel(ctx) // short and bounded: watching for its end costs a tenth of it
		known := map[string]bool{}
		for i, e := range events {
			receipts[i] = Receipt{ID: e.ID}
			plan, why, err := refuse(ctx, q, e)
			if err != nil {
				return err
			}
			if why != "" {
				receipts[i].Result, receipts[i].Why = Refused, why
				continue
			}
			if !known[e.Session] {
				if err := q.EnsureSession(ctx, e.Session); err != nil {
					return err
				}
				known[e.Session] = true
			}
			if receipts[i].Result, err = q.AddEvent(ctx, e, p.Ms()); err != nil {
				return err
			}
			if plan != "" && receipts[i].Result == record.Stored {
				if err := q.WorksOn(ctx, e.Session, plan); err != nil {
					return err
				}
			}
			if receipts[i].Result == record.Conflict {
				receipts[i].Why = "an event with this id and other content is already here; both are kept"
			}
		}
		return nil
	})
	if err != nil {
		return nil, err
	}
	p.reading.behind()
	return receipts, nil
}

// refuse says why an event cannot be taken, "" where it can; of a block it names the plan.
func refuse(ctx context.Context, q store.Q, e record.Event) (plan, why string, err error) {
	if err := record.Check(e); err != nil {
		return "", err.Error(), nil
	}
	if e.Kind != record.KBlock {
		return "", "", nil
	}
	var b record.BlockData
	if err := json.Unmarshal(e.Data, &b); err != nil {
		return "", "the block cannot be read", nil
	}
	row, err := q.Plan(ctx, b.Plan)
	switch {
	case errors.Is(err, store.ErrNone):
		return "", "this practice has no such plan", nil
	case err != nil:
		return "", "", err
	case b.PlanVersion < 1 || b.PlanVersion > row.Version || b.Definition < 1 || b.Definition > row.Definition:
		return "", fmt.Sprintf("the plan has no version %d", b.PlanVersion), nil
	case b.Skill != row.Skill || b.Dog != row.Dog:
		return "", "the block names another dog or skill than its plan", nil
	}
	return b.Plan, "", nil
}
