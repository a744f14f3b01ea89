package app

import (
	"context"
	"encoding/json"
	"fmt"
	"patientfox/core/criteria"
	"patientfox/internal/store"
)

// ownDimensions lists those of the practice.
func OwnDimensions(ctx context.Context, q store.Q) ([]criteria.Dimension, error) {
	rows, err := q.Dimensions(ctx)
	if err != nil {
		return nil, err
	}
	own := make([]criteria.Dimension, len(rows))
	for i, r := range rows {
		if err := json.Unmarshal([]byte(r.Body), &own[i]); err != nil {
			return nil, fmt.Errorf("dimension %s: %w", r.Key, err)
		}
	}
	return own, nil
}
