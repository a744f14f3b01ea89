package store

import (
	"errors"
	"fmt"

	"modernc.org/sqlite"
	sqlite3 "modernc.org/sqlite/lib"
)

// What callers decide by.
var (
	// ErrNone says that there is no such row.
	ErrNone = errors.New("not found")
	// ErrNewer says that the database was written by a newer Patient Fox.
	ErrNewer = errors.New("this database was written by a newer Patient Fox; start that one, or restore a copy")
	// ErrFull says that the disk is full: nothing was saved, and what is there can be read.
	ErrFull = errors.New("the disk is full")
	// ErrReadOnly says that the disk does not take what is written: nothing was saved, and what is there can be read.
	ErrReadOnly = errors.New("the disk cannot be written to")
	// ErrDamaged says that the database file is damaged.
	ErrDamaged = errors.New("the database is damaged")
	// ErrBusy says that another program keeps the database to itself.
	ErrBusy = errors.New("the database is busy")
)

// Error is a failure of the database, with what was being done. errors.Is finds ErrFull, ErrReadOnly, ErrDamaged and
// ErrBusy in it.
type Error struct {
	Doing string
	Kind  error // one of them, nil for any other
	Err   error
}

func (e *Error) Error() string {
	if e.Kind != nil {
		return fmt.Sprintf("store: %s: %v: %v", e.Doing, e.Kind, e.Err)
	}
	return fmt.Sprintf("store: %s: %v", e.Doing, e.Err)
}

func (e *Error) Unwrap() []error {
	if e.Kind != nil {
		return []error{e.Kind, e.Err}
	}
	return []error{e.Err}
}

// failed says what was being done when the database failed, once.
func failed(doing string, err error) error {
	var known *Error
	if err == nil || errors.As(err, &known) {
		return err
	}
	e := &Error{Doing: doing, Err: err}
	var said *sqlite.Error
	if errors.As(err, &said) {
		switch code := said.Code(); code & 0xff {
		case sqlite3.SQLITE_FULL:
			e.Kind = ErrFull
		case sqlite3.SQLITE_READONLY, sqlite3.SQLITE_IOERR, sqlite3.SQLITE_CANTOPEN, sqlite3.SQLITE_PERM:
			e.Kind = ErrReadOnly
			if code == sqlite3.SQLITE_IOERR_SHMSIZE { // the shared memory beside the database cannot be made
				e.Kind = ErrFull
			}
		case sqlite3.SQLITE_CORRUPT, sqlite3.SQLITE_NOTADB:
			e.Kind = ErrDamaged
		case sqlite3.SQLITE_BUSY, sqlite3.SQLITE_LOCKED:
			e.Kind = ErrBusy
		}
	}
	return e
}

// Failure is an error of a database that was opened elsewhere, as one of this package's.
func Failure(doing string, err error) error { return failed(doing, err) }

// Failed tells whether the database failed, and not what it was asked.
func Failed(err error) bool {
	var known *Error
	return errors.As(err, &known)
}
