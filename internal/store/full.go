package store

import (
	"context"
	"fmt"

	"github.com/jmoiron/sqlx"
)

// Full makes the disk seem full, or as it is: for tests, because no disk can be filled that is not one's own. Both connections
// of the writer are told, and keep to it.
func (s *Store) Full(ctx context.Context, full bool) error {
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
	pages := int64(1 << 30)
	if full {
		// Pages that are free would still be filled.
		if _, err := first.ExecContext(ctx, "VACUUM"); err != nil {
			return failed("VACUUM", err)
		}
		if err := first.GetContext(ctx, &pages, "PRAGMA page_count"); err != nil {
			return failed("PRAGMA page_count", err)
		}
	}
	for _, one := range []*sqlx.Conn{first, second} {
		if _, err := one.ExecContext(ctx, fmt.Sprintf("PRAGMA max_page_count = %d", pages)); err != nil {
			return failed("PRAGMA max_page_count", err)
		}
	}
	return nil
}
