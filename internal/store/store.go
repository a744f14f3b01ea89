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
	watch *sqlx.DB // one connection that asks whether anything changed
	reads *statements
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

// DSN names the database at path with the writer's settings, for whoever measures against bare
// statements.
func DSN(path string) string { return dsn(path, "FULL", "") }

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
	watch, err := sqlx.Open("sqlite", dsn(path, "NORMAL", "ro"))
	if err != nil {
		return nil, errors.Join(err, reader.Close(), writer.Close())
	}
	watch.SetMaxOpenConns(1)
	return &Store{writer, reader, watch, &statements{on: reader, kept: map[string]*sqlx.Stmt{}}}, nil
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
func (s *Store) Close() error { return errors.Join(s.watch.Close(), s.read.Close(), s.write.Close()) }

// Ping tells whether the database answers.
func (s *Store) Ping(ctx context.Context) error { return s.read.PingContext(ctx) }

// Read asks the readers, each statement on its own.
func (s *Store) Read() Q { return Q{s.reads} }

// Write runs one use case in a transaction. When it returns nil, what was written is on the disk.
func (s *Store) Write(ctx context.Context, do func(Q) error) error {
	tx, err := s.write.BeginTxx(ctx, nil)
	if err != nil {
		return err
	}
	defer tx.Rollback() //nolint:errcheck // after a commit there is nothing to roll back
	if err := do(Q{&statements{on: tx, kept: map[string]*sqlx.Stmt{}}}); err != nil {
		return err
	}
	return tx.Commit()
}

// Version changes whenever anybody, another process too, has committed something.
func (s *Store) Version(ctx context.Context) (version int64, err error) {
	tick(ctx)
	err = s.watch.GetContext(ctx, &version, "PRAGMA data_version")
	return version, err
}

// Synchronous reads the writer's setting: 2 is FULL.
func (s *Store) Synchronous(ctx context.Context) (level int, err error) {
	err = s.write.GetContext(ctx, &level, "PRAGMA synchronous")
	return level, err
}
