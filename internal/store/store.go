// Package store keeps a practice in SQLite, a file per thing stored. It knows rows and no rules.
package store

import (
	"context"
	"database/sql"
	"embed"
	"errors"
	"fmt"
	"io/fs"
	"net/url"
	"os"
	"path/filepath"
	"sync/atomic"

	"github.com/jmoiron/sqlx"
	"github.com/pressly/goose/v3"
	_ "modernc.org/sqlite" // the driver
)

//go:embed migrations/*.sql
var migrations embed.FS

// Store is one practice's database: one writer, several readers.
type Store struct {
	write *sqlx.DB
	read  *sqlx.DB
}

// ErrNewer says that the database was written by a newer Patient Fox.
var ErrNewer = errors.New("this database was written by a newer Patient Fox; start that one, or restore a copy")

// ErrNone says that there is no such row.
var ErrNone = errors.New("not found")

func dsn(path, synchronous, mode string) string {
	q := url.Values{}
	for _, pragma := range []string{"busy_timeout(5000)", "journal_mode(WAL)", "foreign_keys(1)", "synchronous(" + synchronous + ")"} {
		q.Add("_pragma", pragma)
	}
	q.Set("_txlock", "immediate")
	if mode != "" {
		q.Set("mode", mode)
	}
	return "file:" + (&url.URL{Path: path}).EscapedPath() + "?" + q.Encode()
}

// Open opens the database at path, which it makes where there is none, and brings its schema up to
// date after a copy of it was put by.
func Open(ctx context.Context, path string) (*Store, error) {
	if err := os.MkdirAll(filepath.Dir(path), 0o700); err != nil {
		return nil, err
	}
	_, missing := os.Stat(path)
	// FULL: what was acknowledged is on the disk, whatever happens to the machine.
	writer, err := sqlx.Open("sqlite", dsn(path, "FULL", ""))
	if err != nil {
		return nil, err
	}
	writer.SetMaxOpenConns(1)
	if err := migrate(ctx, writer, path, missing == nil); err != nil {
		writer.Close()
		return nil, err
	}
	if err := os.Chmod(path, 0o600); err != nil {
		writer.Close()
		return nil, err
	}
	reader, err := sqlx.Open("sqlite", dsn(path, "NORMAL", "ro"))
	if err != nil {
		writer.Close()
		return nil, err
	}
	reader.SetMaxOpenConns(4)
	reader.SetMaxIdleConns(4)
	return &Store{writer, reader}, nil
}

func provider(db *sql.DB) (*goose.Provider, error) {
	sub, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return nil, err
	}
	return goose.NewProvider(goose.DialectSQLite3, db, sub)
}

func migrate(ctx context.Context, db *sqlx.DB, path string, existed bool) error {
	p, err := provider(db.DB)
	if err != nil {
		return err
	}
	sources := p.ListSources()
	newest := sources[len(sources)-1].Version
	if existed {
		at, err := p.GetDBVersion(ctx)
		if err != nil {
			return fmt.Errorf("reading the database's version: %w", err)
		}
		if at > newest {
			return ErrNewer
		}
		if at > 0 && at < newest {
			by := fmt.Sprintf("%s.before-%d", path, newest)
			if _, err := os.Stat(by); errors.Is(err, fs.ErrNotExist) {
				if _, err := db.ExecContext(ctx, "VACUUM INTO ?", by); err != nil {
					return fmt.Errorf("putting a copy by before the change: %w", err)
				}
			}
		}
	}
	if _, err := p.Up(ctx); err != nil {
		return fmt.Errorf("bringing the database up to date: %w", err)
	}
	return nil
}

// Schema is the version of the schema that this program writes.
func Schema() int64 {
	entries, err := migrations.ReadDir("migrations")
	if err != nil {
		return 0
	}
	return int64(len(entries))
}

// Close closes the database and folds its log in.
func (s *Store) Close() error { return errors.Join(s.read.Close(), s.write.Close()) }

// Ping tells whether the database answers.
func (s *Store) Ping(ctx context.Context) error { return s.read.PingContext(ctx) }

// Q runs statements, inside a transaction or on the readers. Statements that a page makes are
// counted where its context asks for it.
type Q struct{ db sqlx.ExtContext }

// Read asks the readers, each statement on its own.
func (s *Store) Read() Q { return Q{s.read} }

// Write runs one use case in a transaction. When it returns nil, what was written is on the disk.
func (s *Store) Write(ctx context.Context, do func(Q) error) error {
	tx, err := s.write.BeginTxx(ctx, nil)
	if err != nil {
		return err
	}
	defer tx.Rollback() //nolint:errcheck // after a commit there is nothing to roll back
	if err := do(Q{tx}); err != nil {
		return err
	}
	return tx.Commit()
}

// Synchronous reads the writer's setting: 2 is FULL.
func (s *Store) Synchronous(ctx context.Context) (level int, err error) {
	err = s.write.GetContext(ctx, &level, "PRAGMA synchronous")
	return level, err
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
	err := sqlx.GetContext(ctx, q.db, to, query, args...)
	if errors.Is(err, sql.ErrNoRows) {
		return ErrNone
	}
	return err
}

func (q Q) many(ctx context.Context, to any, query string, args ...any) error {
	tick(ctx)
	return sqlx.SelectContext(ctx, q.db, to, query, args...)
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
	result, err := q.db.ExecContext(ctx, query, args...)
	if err != nil {
		return 0, err
	}
	return result.RowsAffected()
}

func (q Q) named(ctx context.Context, query string, row any) error {
	tick(ctx)
	_, err := sqlx.NamedExecContext(ctx, q.db, query, row)
	return err
}
