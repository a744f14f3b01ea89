// Package derive turns what was logged into rows: it takes events in, folds the sessions that are behind in the background, works out
// where each dog is on its ladders, and makes the next version of a plan from steps that were made in the field. Rows are never the
// truth: they are made anew from the events by the same code (Rebuild).
package derive

import (
	"context"
	"errors"
	"log/slog"
	"sync/atomic"
	"time"

	"patientfox/core/record"
	"patientfox/internal/store"
)

// ErrAside says that a session, or the standing of a plan's dog, cannot be read, and is set aside.
var ErrAside = errors.New("this cannot be read, and is set aside")

// AllDogs names, among the dogs whose sessions were read anew, every one.
const AllDogs = "*"

// Reader reads the sessions of a practice. It is safe for concurrent use.
type Reader struct {
	Store   *store.Store
	Log     *slog.Logger
	Folds   func(record.Book, ...record.Event) (*record.Log, *record.Session, error) // record.Read, but in tests of its faults
	now     func() time.Time
	tell    func(dogs map[string]bool)
	reading *reading
	marked  atomic.Bool // what an older fold read is marked
}

// New makes a reader with a clock. It tells of the dogs whose rows it has made anew.
func New(st *store.Store, log *slog.Logger, now func() time.Time, tell func(dogs map[string]bool)) *Reader {
	p := &Reader{Store: st, Log: log, Folds: record.Read, now: now, tell: tell, reading: newReading()}
	st.By(p.Ms)
	return p
}

// Begin marks what an older fold has read. Where that fails, nothing that depends on the record is given out until it has been done.
func (p *Reader) Begin(ctx context.Context) error { return p.olderFolds(ctx) }

// Now is the moment by its clock.
func (p *Reader) Now() time.Time { return p.now() }

// Ms is the moment by its clock, UTC Unix ms.
func (p *Reader) Ms() int64 { return p.now().UnixMilli() }

// day is the day of a moment (UTC ms) where the practice is.
func day(s store.Practice, ms int64) string {
	return time.UnixMilli(ms).In(s.Location()).Format(time.DateOnly)
}
