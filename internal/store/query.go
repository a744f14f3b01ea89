package store

import (
	"context"
	"database/sql"
	"errors"
	"sync"
	"sync/atomic"

	"github.com/jmoiron/sqlx"
)

// Q runs statements, inside a transaction or on the readers. Statements that a page makes are
// counted where its context asks for it.
type Q struct{ s *statements }

// statements prepares each statement once: preparing costs as much as running it.
type statements struct {
	on interface {
		PreparexContext(ctx context.Context, query string) (*sqlx.Stmt, error)
	}
	lock sync.Mutex
	kept map[string]*sqlx.Stmt
}

// mostKept bounds the statements kept; lists of ids make new ones by their length.
const mostKept = 300

func (s *statements) prepared(ctx context.Context, query string) (*sqlx.Stmt, error) {
	s.lock.Lock()
	defer s.lock.Unlock()
	if kept, ok := s.kept[query]; ok {
		return kept, nil
	}
	if len(s.kept) >= mostKept {
		for _, old := range s.kept {
			old.Close() //nolint:errcheck // one in use closes when it is done
		}
		clear(s.kept)
	}
	// Kept beyond this request, so it must not end with it.
	stmt, err := s.on.PreparexContext(context.WithoutCancel(ctx), query)
	if err == nil {
		s.kept[query] = stmt
	}
	return stmt, err
}

type counterKey struct{}

// Counting returns a context in which statements are counted into n.
func Counting(ctx context.Context, n *atomic.Int64) context.Context {
	return context.WithValue(ctx, counterKey{}, n)
}

func tick(ctx context.Context) {
	if n, ok := ctx.Value(counterKey{}).(*atomic.Int64); ok {
		n.Add(1)
	}
}

func (q Q) one(ctx context.Context, to any, query string, args ...any) error {
	tick(ctx)
	stmt, err := q.s.prepared(ctx, query)
	if err != nil {
		return err
	}
	err = stmt.GetContext(ctx, to, args...)
	if errors.Is(err, sql.ErrNoRows) {
		return ErrNone
	}
	return err
}

func (q Q) many(ctx context.Context, to any, query string, args ...any) error {
	tick(ctx)
	stmt, err := q.s.prepared(ctx, query)
	if err != nil {
		return err
	}
	return stmt.SelectContext(ctx, to, args...)
}

// in is many for a query with one IN (?) over a list; an empty list finds nothing.
func (q Q) in(ctx context.Context, to any, query string, args ...any) error {
	query, args, err := sqlx.In(query, args...)
	if err != nil {
		return err
	}
	return q.many(ctx, to, query, args...)
}

func (q Q) exec(ctx context.Context, query string, args ...any) (int64, error) {
	tick(ctx)
	stmt, err := q.s.prepared(ctx, query)
	if err != nil {
		return 0, err
	}
	result, err := stmt.ExecContext(ctx, args...)
	if err != nil {
		return 0, err
	}
	return result.RowsAffected()
}

// named runs a statement with the fields of a row, or of a list of rows.
func (q Q) named(ctx context.Context, query string, row any) error {
	query, args, err := sqlx.Named(query, row)
	if err != nil {
		return err
	}
	_, err = q.exec(ctx, query, args...)
	return err
}
