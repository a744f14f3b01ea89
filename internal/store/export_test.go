package store

import (
	"context"
	"fmt"

	"github.com/jmoiron/sqlx"
)

// OpenBounded opens a database that keeps at most so many statements of the readers.
var OpenBounded = open

// Limit bounds how large the database may grow beyond what it is, in bytes: a disk that is full. Both connections of the
// writer are told.
func (s *Store) Limit(ctx context.Context, more int64) error {
	var pages, size int64
	if err := s.read.GetContext(ctx, &pages, "PRAGMA page_count"); err != nil {
		return err
	}
	if err := s.read.GetContext(ctx, &size, "PRAGMA page_size"); err != nil {
		return err
	}
	first, err := s.write.Connx(ctx)
	if err != nil {
		return err
	}
	defer first.Close()
	second, err := s.write.Connx(ctx)
	if err != nil {
		return err
	}
	defer second.Close()
	for _, one := range []*sqlx.Conn{first, second} {
		if _, err := one.ExecContext(ctx, fmt.Sprintf("PRAGMA max_page_count = %d", pages+more/size)); err != nil {
			return err
		}
	}
	return nil
}
