package store

import (
	"context"
	"fmt"

	"github.com/jmoiron/sqlx"
)

// Full makes the disk seem full, or as it is: for tests, because no disk can be filled that is not one's own. Both connections
// of the writer are told, and keep to it.
func (s *Store) Full(ctx context.Context, full bool) error {
	return s.writers(ctx, func(first *sqlx.Conn) (string, error) {
		pages := int64(1 << 30)
		if full {
			// Pages that are free would still be filled.
			if _, err := first.ExecContext(ctx, "VACUUM"); err != nil {
				return "", failed("VACUUM", err)
			}
			if err := first.GetContext(ctx, &pages, "PRAGMA page_count"); err != nil {
				return "", failed("PRAGMA page_count", err)
			}
		}
		return fmt.Sprintf("PRAGMA max_page_count = %d", pages), nil
	})
}

// ReadOnly makes the disk seem to take nothing, or as it is: for tests too.
func (s *Store) ReadOnly(ctx context.Context, only bool) error {
	return s.writers(ctx, func(*sqlx.Conn) (string, error) { return fmt.Sprintf("PRAGMA query_only = %t", only), nil })
}

// writers tells both connections of the writer something.
func (s *Store) writers(ctx context.Context, say func(first *sqlx.Conn) (string, error)) error {
	first, err := s.write.Connx(ctx)
	if err != nil {
		return failed("connecting", err)
	}
	defer first.Close()
	second, err := s.write.Connx(ctx)
	if err != nil {
		return failed("connecting", err)
	}
	defer second.Close()
	pragma, err := say(first)
	if err != nil {
		return err
	}
	for _, one := range []*sqlx.Conn{first, second} {
		if _, err := one.ExecContext(ctx, pragma); err != nil {
			return failed(pragma, err)
		}
	}
	return nil
}
