package app

import (
	"context"
	"patientfox/internal/store"
)

func (p *Practice) Away(ctx context.Context, away bool, set func(q store.Q, at *int64) (bool, error)) error {
	return p.Store.Write(ctx, func(q store.Q) error {
		var at *int64
		if away {
			now := p.Ms()
			at = &now
		}
		ok, err := set(q, at)
		if err == nil && !ok {
			return ErrNotFound
		}
		return err
	})
}

// weeksOld is a dog's age in weeks, 0 where its birthday is not known.
func WeeksOld(born, today string) float64 {
	if born == "" {
		return 0
	}
	return float64(DaysBetween(born, today)) / 7
}
