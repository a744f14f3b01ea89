package store

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"net/url"
	"os"
	"path/filepath"
	"slices"
	"strings"

	"github.com/jmoiron/sqlx"
	"modernc.org/sqlite"
	sqlite3 "modernc.org/sqlite/lib"
)

// Refused says why a file is not served as a practice, and what can be done. The file was left as it is.
type Refused struct {
	Path   string
	Why    string   // a clause: "it is empty"
	Copies []string // files that it can be restored from, the newest first
}

func (r *Refused) Error() string {
	text := fmt.Sprintf("%s is not opened: %s. It was left as it is.", r.Path, r.Why)
	if len(r.Copies) == 0 {
		return text + " There is no copy beside it. Put a copy of yours there, or move the file away to begin anew."
	}
	return text + fmt.Sprintf(" Copies: %s. To go back to the newest: patientfox restore %q", strings.Join(r.Copies, ", "), r.Copies[0])
}

// Is makes every refusal an ErrDamaged for who decides by that.
func (r *Refused) Is(target error) bool { return target == ErrDamaged }

func refused(path, why string, args ...any) error {
	return &Refused{Path: path, Why: fmt.Sprintf(why, args...), Copies: copiesBeside(path)}
}

// copiesBeside lists the copies of a database that are kept beside it.
func copiesBeside(path string) []string {
	daily, _ := filepath.Glob(filepath.Join(filepath.Dir(path), "copies", "*.zip")) //nolint:errcheck // the pattern is sound
	before, _ := filepath.Glob(path + ".before-*")                                  //nolint:errcheck // likewise
	var list []string
	for i := len(daily) - 1; i >= 0; i-- { // their names are their moments
		list = append(list, daily[i])
	}
	return append(list, before...)
}

const sqliteHead = "SQLite format 3\x00"

// checkHead refuses a file that is no database at all.
func checkHead(path string) error {
	file, err := os.Open(path)
	if err != nil {
		return err
	}
	defer file.Close()
	head := make([]byte, len(sqliteHead))
	switch n, err := io.ReadFull(file, head); {
	case err != nil && !errors.Is(err, io.EOF) && !errors.Is(err, io.ErrUnexpectedEOF):
		return err
	case n == 0:
		return refused(path, "it is empty")
	case err != nil || !bytes.Equal(head, []byte(sqliteHead)):
		return refused(path, "it does not begin as a database does")
	}
	return nil
}

// fullCheck is up to which size a database is checked to the last index entry when it is opened, in bytes. A larger one is
// checked quickly then, and fully once a day.
const fullCheck = 64 << 20

// check refuses a database that is damaged, or that is not a practice's. It asks by a connection that cannot write.
func check(ctx context.Context, path string) error {
	info, err := os.Stat(path)
	if err != nil {
		return err
	}
	db, err := sqlx.Open("sqlite", "file:"+(&url.URL{Path: path}).EscapedPath()+"?mode=ro&_pragma=busy_timeout(5000)")
	if err != nil {
		return err
	}
	defer db.Close()
	if err := integrity(ctx, db, path, info.Size() <= fullCheck); err != nil {
		return err
	}
	var ours int
	if err := db.GetContext(ctx, &ours,
		`SELECT count(*) FROM sqlite_master WHERE type = 'table' AND name IN ('practice', 'events', 'goose_db_version')`); err != nil {
		return unread(ctx, path, "its tables cannot be read", err)
	}
	if ours != 3 {
		return refused(path, "it is a database, and not one of Patient Fox")
	}
	return nil
}

// integrity runs SQLite's own check.
func integrity(ctx context.Context, db *sqlx.DB, path string, full bool) error {
	pragma := "PRAGMA quick_check(5)"
	if full {
		pragma = "PRAGMA integrity_check(5)"
	}
	var says []string
	err := db.SelectContext(ctx, &says, pragma)
	switch {
	case err != nil:
		return unread(ctx, path, "it is damaged", err)
	case len(says) != 1 || says[0] != "ok":
		return refused(path, "it is damaged (%s)", strings.Join(says, "; "))
	}
	if full {
		var broken []struct {
			Table  string `db:"table"`
			Row    *int64 `db:"rowid"`
			Parent string `db:"parent"`
			Key    int    `db:"fkid"`
		}
		if err := db.SelectContext(ctx, &broken, "PRAGMA foreign_key_check"); err != nil {
			return unread(ctx, path, "it is damaged", err)
		}
		if len(broken) > 0 {
			return refused(path, "it is damaged (%d rows of %s name rows of %s that are not there)", len(broken), broken[0].Table, broken[0].Parent)
		}
	}
	return nil
}

// unreadable are the failures of a disk that are about the file's own content.
var unreadable = []int{
	sqlite3.SQLITE_IOERR_READ, sqlite3.SQLITE_IOERR_SHORT_READ, sqlite3.SQLITE_IOERR_CORRUPTFS, sqlite3.SQLITE_IOERR_DATA,
}

// unread refuses a file that cannot be read, unless that was given up, or the disk or another program is to blame and not the
// file: nobody must be told to go back to a copy then.
func unread(ctx context.Context, path, why string, err error) error {
	if ctx.Err() != nil {
		return ctx.Err()
	}
	var said *sqlite.Error
	if errors.As(err, &said) && slices.Contains(unreadable, said.Code()) {
		return refused(path, "it cannot be read (%v)", err)
	}
	if known := failed("checking "+path, err); errors.Is(known, ErrBusy) || errors.Is(known, ErrFull) || errors.Is(known, ErrReadOnly) {
		return known
	}
	return refused(path, why+" (%v)", err)
}

// Check runs the whole check of the database that is served; it takes a while, reads only, and may be cancelled.
func (s *Store) Check(ctx context.Context) error {
	err := integrity(ctx, s.read, s.path, true)
	if err == nil || errors.Is(err, ErrDamaged) {
		s.lock.Lock()
		defer s.lock.Unlock()
		s.damaged = err
	}
	return err
}
