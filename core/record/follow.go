package record

import (
	"patientfox/core/progression"
	"patientfox/core/trial"
	"patientfox/core/work"
)

// Reader reads a log that grows: what it has read it reads again only where an event changed more than the end. It is not safe for
// concurrent use.
type Reader struct {
	log  *Log
	book Book
	f    *folder
	of   int // the log's ordering that was read
	read int // how many events of it
}

// Follow returns a reader of the log under the versions in book. What book says of a version must not change while it is read.
func (l *Log) Follow(book Book) *Reader { return &Reader{log: l, book: book} }

// Session is what the log says by now. It is the same session each time, gone on with, so it holds until the next call only.
func (r *Reader) Session() *Session {
	events := r.log.live()
	if r.f == nil || r.of != r.log.ordered || r.f.s.ID == "" {
		r.f, r.of, r.read = newFolder(r.book, events), r.log.ordered, 0
	}
	r.f.goesOn()
	for _, e := range events[r.read:] {
		r.f.read(e)
		r.f.s.EndAt = max(r.f.s.EndAt, r.f.at)
	}
	r.read = len(events)
	r.f.finish()
	return r.f.s
}

// newFolder begins a session. Who holds the pen at first is known before anything is read.
func newFolder(book Book, events []placed) *folder {
	f := &folder{
		book: book, s: &Session{}, places: map[Line]progression.Position{}, made: map[string][]Move{}, cells: map[cellOf]int{},
		offers: map[string]work.How{}, unlogged: map[string]int{},
	}
	f.s.Trials = make([]trial.Trial, 0, len(events)/3)
	f.s.Pays = make([]Payment, 0, len(events)/3)
	for _, e := range events {
		if e.Kind == KOpen {
			f.pen, f.s.PrimaryDevice = e.Dev, e.Dev
			break
		}
	}
	return f
}
