package store

import (
	"context"
	"fmt"
)

// Full makes the disk seem full, or as it is: for tests, because no disk can be filled that is not one's own. Both connections
// of the writer are told, and keep to it.
func (s *Store) Full(ctx context.Context, full bool) error {
	var pages int64
	if err := s.read.GetContext(ctx, &pages, "PRAGMA page_count"); err != nil {
		return failed("PRAGMA page_count", err)
	}
	if !full {
		pages = 1 << 30
	}
	for range 2 {
		one, err := s.write.Connx(ctx)
		if err != nil {
			return failed("connecting", err)
		}
		defer one.Close()
		if _, err := one.ExecContext(ctx, fmt.Sprintf("PRAGMA max_page_count = %d", pages)); err != nil {
			return failed("PRAGMA max_page_count", err)
		}
	}
	return nil
}
