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
	"sync"
	"syscall"
	"time"

	"github.com/jmoiron/sqlx"
	"github.com/pressly/goose/v3"
	_ "modernc.org/sqlite" // the driver
)

//go:embed migrations/*.sql
var migrations embed.FS

// Store is one practice's database: one writer, several readers. It is safe for concurrent use.
type Store struct {
	path   string
	write  *sqlx.DB // two connections: one writes, the other prepares statements meanwhile
	read   *sqlx.DB
	watch  *sqlx.DB      // one connection that asks whether anything changed
	turn   chan struct{} // who holds it writes
	reads  *statements
	writes *statements
	keys   *Keys
	now    func() int64 // UTC Unix ms

	lock    sync.Mutex // of what follows, and held while a commit of derived rows is told from others
	seen    int64      // data_version when version was last right
	version int64
	trouble error // why the last write failed, nil where it did not
	damaged error // what the daily check found, nil where all was well
}

func dsn(path, synchronous, mode string) string {
	q := url.Values{}
	// Sorting stays in memory: reading never needs the disk.
	for _, pragma := range []string{
		"busy_timeout(5000)", "journal_mode(WAL)", "foreign_keys(1)", "temp_store(MEMORY)", "synchronous(" + synchronous + ")",
	} {
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

// Bounds of the statements kept prepared.
const (
	maxReads  = 300
	maxWrites = 200
)

// Open opens the database at path, which it makes where there is none, and brings its schema up to
// date after a copy of it was put by. A file that is damaged, or no practice, is refused with a
// *Refused and left as it is.
func Open(ctx context.Context, path string) (*Store, error) {
	return open(ctx, path, maxReads)
}

func open(ctx context.Context, path string, maxReads int) (_ *Store, err error) {
	existed, err := prepare(path)
	switch {
	case errors.Is(err, fs.ErrPermission) || errors.Is(err, syscall.EROFS):
		return nil,
			&Error{
				Doing: "opening " + path, Kind: ErrReadOnly,
				Err: fmt.Errorf("%w; it was left as it is. Make its folder writable, or name another one with --data", err),
			}
	case err != nil:
		return nil, err
	}
	s := &Store{path: path, turn: make(chan struct{}, 1), now: func() int64 { return time.Now().UnixMilli() }}
	defer func() {
		if errors.Is(err, ErrFull) {
			err = fmt.Errorf("%w. Nothing was changed: free some space on its disk, then start again", err)
		}
		if err != nil {
			err = errors.Join(err, s.Close())
		}
	}()
	// FULL: what was acknowledged is on the disk, whatever happens to the machine.
	if s.write, err = sqlx.Open("sqlite", dsn(path, "FULL", "")); err != nil {
		return nil, err
	}
	s.write.SetMaxOpenConns(1) // while its schema is brought up to date
	if existed {
		if err := check(ctx, path); err != nil {
			return nil, err
		}
	}
	if s.keys, err = OpenKeys(ctx, path); err != nil {
		return nil, err
	}
	if err := migrate(ctx, s.write, s.keys, path, existed); err != nil {
		return nil, err
	}
	if err := keepJournal(ctx, s.write, s.now()); err != nil {
		return nil, err
	}
	s.write.SetMaxOpenConns(2)
	s.write.SetMaxIdleConns(2)
	if s.read, err = sqlx.Open("sqlite", dsn(path, "NORMAL", "ro")); err != nil {
		return nil, err
	}
	s.read.SetMaxOpenConns(4)
	s.read.SetMaxIdleConns(4)
	if s.watch, err = sqlx.Open("sqlite", dsn(path, "NORMAL", "ro")); err != nil {
		return nil, err
	}
	s.watch.SetMaxOpenConns(1)
	s.reads, s.writes = newStatements(s.read, maxReads), newStatements(s.write, maxWrites)
	return s, nil
}

// prepare makes the folder and an empty file for a new database, readable for its owner alone from the start; existed
// tells whether there was one.
func prepare(path string) (existed bool, err error) {
	if err := os.MkdirAll(filepath.Dir(path), 0o700); err != nil {
		return false, err
	}
	file, err := os.OpenFile(path, os.O_CREATE|os.O_EXCL|os.O_RDWR, 0o600)
	if errors.Is(err, fs.ErrExist) {
		if err := checkHead(path); err != nil {
			return true, err
		}
		return true, os.Chmod(path, 0o600)
	}
	if err != nil {
		return false, err
	}
	return false, file.Close()
}

func provider(db *sql.DB) (*goose.Provider, error) {
	sub, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return nil, err
	}
	return goose.NewProvider(goose.DialectSQLite3, db, sub)
}

// keysApart is the schema since which what lets devices in has its own file.
const keysApart = 8

func migrate(ctx context.Context, db *sqlx.DB, keys *Keys, path string, existed bool) error {
	p, err := provider(db.DB)
	if err != nil {
		return err
	}
	copied := ""
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
			if copied, err = putBy(ctx, db, path, at, newest); err != nil {
				return err
			}
			if at < keysApart {
				if err := keys.takeOver(ctx, db); err != nil {
					return err
				}
			}
			if err := leaveJournal(ctx, db); err != nil {
				return err
			}
			// What is dropped is overwritten, keys above all.
			if _, err := db.ExecContext(ctx, "PRAGMA secure_delete = ON"); err != nil {
				return failed("PRAGMA secure_delete", err)
			}
		}
	}
	if _, err := p.Up(ctx); err != nil {
		if copied != "" {
			return fmt.Errorf("bringing the database up to date: %w; as it was before, it is %s", failed("migrating", err), copied)
		}
		return fmt.Errorf("bringing the database up to date: %w", failed("migrating", err))
	}
	return nil
}

// putBy keeps a copy of the database as it is before a change of its schema.
func putBy(ctx context.Context, db *sqlx.DB, path string, at, newest int64) (by string, err error) {
	by = fmt.Sprintf("%s.before-%d", path, newest)
	if info, err := os.Stat(by); err == nil && info.Size() > 0 {
		return by, nil
	}
	// An empty file of the owner's alone, which VACUUM INTO fills.
	file, err := os.OpenFile(by, os.O_CREATE|os.O_TRUNC|os.O_WRONLY, 0o600)
	if err != nil {
		return "", fmt.Errorf("putting a copy by before the change: %w", err)
	}
	if err := file.Close(); err != nil {
		return "", err
	}
	if _, err := db.ExecContext(ctx, "VACUUM INTO ?", by); err != nil {
		return "", errors.Join(fmt.Errorf("putting a copy by before the change: %w", failed("VACUUM INTO", err)), os.Remove(by))
	}
	if at < keysApart {
		copied, err := sqlx.Open("sqlite", "file:"+(&url.URL{Path: by}).EscapedPath())
		if err != nil {
			return "", err
		}
		copied.SetMaxOpenConns(1)
		if err := errors.Join(wipe(ctx, copied), copied.Close()); err != nil {
			return "", errors.Join(fmt.Errorf("putting a copy by before the change: %w", err), os.Remove(by))
		}
	}
	return by, nil
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
func (s *Store) Close() (err error) {
	for _, pool := range []*sqlx.DB{s.watch, s.read, s.write} {
		if pool != nil {
			err = errors.Join(err, pool.Close())
		}
	}
	if s.keys != nil {
		err = errors.Join(err, s.keys.Close())
	}
	return err
}

// By sets the clock that the journal goes by, UTC Unix ms, before anything is written; without it that is the machine's.
func (s *Store) By(now func() int64) { s.now = now }

// Keys are what lets devices in.
func (s *Store) Keys() *Keys { return s.keys }

// Path is the database's file.
func (s *Store) Path() string { return s.path }

// Ping tells whether the database answers.
func (s *Store) Ping(ctx context.Context) error { return s.read.PingContext(ctx) }

// Read asks the readers, each statement on its own.
func (s *Store) Read() Q { return Q{s: s.reads} }

// Snapshot asks the readers with all statements at one moment: what is committed meanwhile is not seen. It is for what must fit
// together, such as where a dog stands and the trials that this rests on.
func (s *Store) Snapshot(ctx context.Context, do func(Q) error) error {
	tx, err := s.read.BeginTxx(ctx, nil)
	if err != nil {
		return failed("BEGIN", err)
	}
	binding := &transaction{Tx: tx, s: s.reads, bound: map[string]bound{}, snapshot: true}
	defer binding.release()
	defer tx.Rollback() //nolint:errcheck // it only read
	return do(Q{s: s.reads, tx: binding})
}

// Write runs one use case in a transaction. When it returns nil, what was written is on the disk. Transactions wait for
// each other in their contexts.
func (s *Store) Write(ctx context.Context, do func(Q) error) error {
	return s.transact(ctx, do, func(commit func() error) error { return commit() })
}

// WriteDerived is Write for rows that are made of others: Version stays what it was, so that who remembers what it has
// read drops only what it is told of.
func (s *Store) WriteDerived(ctx context.Context, do func(Q) error) error {
	return s.transact(ctx, do, func(commit func() error) error {
		// Nobody else can commit from before the commit to after it, so that the change between is this one's.
		s.lock.Lock()
		defer s.lock.Unlock()
		before, err := s.data(ctx)
		if err != nil {
			return err
		}
		if before != s.seen {
			s.version++
		}
		s.seen = before
		if err := commit(); err != nil {
			return err
		}
		if after, err := s.data(ctx); err == nil {
			s.seen = after
		}
		return nil
	})
}

func (s *Store) transact(ctx context.Context, do func(Q) error, end func(commit func() error) error) (err error) {
	select {
	case s.turn <- struct{}{}:
		defer func() { <-s.turn }()
	case <-ctx.Done():
		return failed("waiting to write", ctx.Err())
	}
	defer func() { s.note(err) }()
	tx, err := s.write.BeginTxx(ctx, nil)
	if err != nil {
		return failed("BEGIN", err)
	}
	binding := &transaction{Tx: tx, s: s.writes, bound: map[string]bound{}}
	defer binding.release()
	defer tx.Rollback() //nolint:errcheck // after a commit there is nothing to roll back
	q := Q{s: s.writes, tx: binding}
	if err := do(q); err != nil {
		return err
	}
	if err := q.sign(ctx, s.now()); err != nil {
		return err
	}
	err = end(func() error { return failed("COMMIT", tx.Commit()) })
	if binding.practice {
		s.reads.forget()
	}
	return err
}

// note keeps why a write failed, where the disk was to blame, until one does not.
func (s *Store) note(err error) {
	s.lock.Lock()
	defer s.lock.Unlock()
	switch {
	case errors.Is(err, ErrFull) || errors.Is(err, ErrReadOnly) || errors.Is(err, ErrDamaged):
		s.trouble = err
	case err == nil:
		s.trouble = nil
	}
}

// Trouble is why the last write failed, where the disk was to blame, or what the daily check found; nil where all is well.
func (s *Store) Trouble() error {
	s.lock.Lock()
	defer s.lock.Unlock()
	if s.damaged != nil {
		return s.damaged
	}
	return s.trouble
}

// probeBytes is how much Probe writes beside the database: as much as a busy quarter of an hour does. The database's own log
// takes a page or two where there is room for nothing else.
const probeBytes = 1 << 20

// Probe tells whether the disk takes anything: it writes a file, which it takes away again, and what is in the database
// already.
func (s *Store) Probe(ctx context.Context) error {
	if err := room(s.path); err != nil {
		s.note(err)
		return err
	}
	return s.WriteDerived(ctx, func(q Q) error {
		_, err := q.exec(ctx, `UPDATE practice SET version = version`)
		return err
	})
}

// room tries whether there is any on the disk of a database.
func room(path string) error {
	// One name: what a killed program left is written over.
	file, err := os.OpenFile(path+".room", os.O_CREATE|os.O_TRUNC|os.O_WRONLY, 0o600)
	if errors.Is(err, syscall.ENOSPC) {
		return &Error{Doing: "trying the disk", Kind: ErrFull, Err: err}
	}
	if err != nil {
		return &Error{Doing: "trying the disk", Kind: ErrReadOnly, Err: err}
	}
	_, err = file.Write(make([]byte, probeBytes))
	if err == nil {
		err = file.Sync()
	}
	if err = errors.Join(err, file.Close(), os.Remove(file.Name())); err != nil {
		return &Error{Doing: "trying the disk", Kind: ErrFull, Err: err}
	}
	return nil
}

// Version changes whenever anybody, another process too, has committed something but derived rows of this one. It reads no row,
// so it is not counted as a statement.
func (s *Store) Version(ctx context.Context) (int64, error) {
	s.lock.Lock()
	defer s.lock.Unlock()
	now, err := s.data(ctx)
	if err == nil && now != s.seen {
		s.seen = now
		s.version++
	}
	return s.version, err
}

// data is the database's own count of changes by other connections than the one that asks.
func (s *Store) data(ctx context.Context) (version int64, err error) {
	err = s.watch.GetContext(ctx, &version, "PRAGMA data_version")
	return version, failed("PRAGMA data_version", err)
}

// Synchronous reads the writer's setting: 2 is FULL.
func (s *Store) Synchronous(ctx context.Context) (level int, err error) {
	err = s.write.GetContext(ctx, &level, "PRAGMA synchronous")
	return level, err
}
