package store

import (
	"context"
	"database/sql"
	"errors"
	"strings"
	"sync"
	"sync/atomic"
	"time"

	"github.com/jmoiron/sqlx"
)

// Q runs statements, inside a transaction or on the readers. Statements that a page makes are
// counted where its context asks for it. It is safe for concurrent use on the readers; inside a
// transaction it belongs to that transaction's goroutine.
type Q struct {
	s  *statements
	tx *transaction // nil on the readers
}

// transaction binds each statement once: binding costs a good part of running it. It belongs to one goroutine.
type transaction struct {
	*sqlx.Tx
	s     *statements
	bound map[string]bound

	practice bool // its row was written
	snapshot bool // on the readers
}

type bound struct {
	kept *statement
	stmt *sqlx.Stmt
}

// bind returns a statement of the transaction, which release gives back.
func (tx *transaction) bind(ctx context.Context, query string) (*sqlx.Stmt, error) {
	if b, ok := tx.bound[query]; ok {
		return b.stmt, nil
	}
	kept, err := tx.s.take(ctx, query)
	if err != nil {
		return nil, err
	}
	b := bound{kept, tx.StmtxContext(ctx, kept.stmt)}
	tx.bound[query] = b
	return b.stmt, nil
}

// release gives back all that was bound, when the transaction is over, which has closed it.
func (tx *transaction) release() {
	for _, b := range tx.bound {
		tx.s.give(b.kept)
	}
	clear(tx.bound)
}

// statements prepares each statement once a pool: preparing costs as much as running it. One that is
// dropped while it runs is closed when the last who uses it is done.
type statements struct {
	db   *sqlx.DB
	most int // kept at once; lists of ids make new ones by their length
	lock sync.Mutex
	kept map[string]*statement
	tick int64

	practice *Practice // its row, of the readers; nil while it has to be read
	writes   int64     // how often that row was written
}

// known is the row about the practice where it was read since it was last written; at says when that is.
func (s *statements) known() (p Practice, at int64, ok bool) {
	s.lock.Lock()
	defer s.lock.Unlock()
	if s.practice == nil {
		return p, s.writes, false
	}
	return *s.practice, s.writes, true
}

// know keeps the row, unless it was written since known said at.
func (s *statements) know(p Practice, at int64) {
	s.lock.Lock()
	defer s.lock.Unlock()
	if at == s.writes {
		s.practice = &p
	}
}

// forget lets the row be read anew: it was written.
func (s *statements) forget() {
	s.lock.Lock()
	defer s.lock.Unlock()
	s.practice = nil
	s.writes++
}

type statement struct {
	stmt    *sqlx.Stmt
	err     error
	ready   chan struct{} // closed when stmt or err is set
	uses    int
	last    int64 // tick of the last use
	dropped bool
}

func newStatements(db *sqlx.DB, most int) *statements {
	return &statements{db: db, most: most, kept: map[string]*statement{}}
}

// take returns a prepared statement, which give gives back. Two who ask for the same at once wait for one preparing;
// others do not.
func (s *statements) take(ctx context.Context, query string) (*statement, error) {
	s.lock.Lock()
	s.tick++
	one, known := s.kept[query]
	if known {
		one.uses, one.last = one.uses+1, s.tick
		s.lock.Unlock()
		select {
		case <-one.ready:
		case <-ctx.Done():
			s.give(one)
			return nil, ctx.Err()
		}
	} else {
		s.makeRoom()
		one = &statement{ready: make(chan struct{}), uses: 1, last: s.tick}
		s.kept[query] = one
		s.lock.Unlock()
		// Kept beyond this request, so it must not end with it.
		one.stmt, one.err = s.db.PreparexContext(context.WithoutCancel(ctx), query)
		if one.err != nil {
			s.lock.Lock()
			if s.kept[query] == one {
				delete(s.kept, query)
			}
			s.lock.Unlock()
		}
		close(one.ready)
	}
	if one.err != nil {
		err := one.err
		s.give(one)
		return nil, err
	}
	return one, nil
}

// makeRoom drops the statement that was not used for longest, where there are as many as are kept. The lock is held.
func (s *statements) makeRoom() {
	if len(s.kept) < s.most {
		return
	}
	oldest := ""
	for query, one := range s.kept {
		if oldest == "" || one.last < s.kept[oldest].last {
			oldest = query
		}
	}
	one := s.kept[oldest]
	delete(s.kept, oldest)
	if one.dropped = true; one.uses == 0 {
		one.close()
	}
}

func (s *statements) give(one *statement) {
	s.lock.Lock()
	defer s.lock.Unlock()
	if one.uses--; one.uses == 0 && one.dropped {
		one.close()
	}
}

func (one *statement) close() {
	if one.stmt != nil {
		one.stmt.Close() //nolint:errcheck // nobody uses it any more
	}
}

type counterKey struct{}

// Cost is what was asked of the database. It is safe for concurrent use.
type Cost struct {
	Statements atomic.Int64
	Ns         atomic.Int64 // spent in them, reading their rows included
}

// Counting returns a context whose statements are counted into cost.
func Counting(ctx context.Context, cost *Cost) context.Context {
	return context.WithValue(ctx, counterKey{}, cost)
}

// counted counts a statement that begins, and answers what to call when its rows are read.
func counted(ctx context.Context) func() {
	cost, ok := ctx.Value(counterKey{}).(*Cost)
	if !ok {
		return func() {}
	}
	cost.Statements.Add(1)
	began := time.Now()
	return func() { cost.Ns.Add(int64(time.Since(began))) }
}

// run asks with a prepared statement, in the transaction where there is one.
func (q Q) run(ctx context.Context, query string, with func(*sqlx.Stmt) error) error {
	defer counted(ctx)()
	stmt, done, err := q.prepared(ctx, query)
	if err != nil {
		return failed("preparing "+head(query), err)
	}
	defer done()
	if err := with(stmt); errors.Is(err, sql.ErrNoRows) {
		return ErrNone
	} else if err != nil {
		return failed(head(query), err)
	}
	return nil
}

func (q Q) prepared(ctx context.Context, query string) (stmt *sqlx.Stmt, done func(), err error) {
	if q.tx != nil {
		stmt, err = q.tx.bind(ctx, query)
		return stmt, func() {}, err
	}
	kept, err := q.s.take(ctx, query)
	if err != nil {
		return nil, nil, err
	}
	return kept.stmt, func() { q.s.give(kept) }, nil
}

// head is enough of a statement to know it by: the words are ours, what was typed is in its parameters.
func head(query string) string {
	query = strings.Join(strings.Fields(query), " ")
	return query[:min(len(query), 70)]
}

func (q Q) one(ctx context.Context, to any, query string, args ...any) error {
	return q.run(ctx, query, func(stmt *sqlx.Stmt) error { return stmt.GetContext(ctx, to, args...) })
}

func (q Q) many(ctx context.Context, to any, query string, args ...any) error {
	return q.run(ctx, query, func(stmt *sqlx.Stmt) error { return stmt.SelectContext(ctx, to, args...) })
}

// in is many for a query with one IN (?) over a list; an empty list finds nothing.
func (q Q) in(ctx context.Context, to any, query string, args ...any) error {
	query, args, err := sqlx.In(query, args...)
	if err != nil {
		return err
	}
	return q.many(ctx, to, query, args...)
}

func (q Q) exec(ctx context.Context, query string, args ...any) (n int64, err error) {
	err = q.run(ctx, query, func(stmt *sqlx.Stmt) error {
		result, err := stmt.ExecContext(ctx, args...)
		if err == nil {
			n, err = result.RowsAffected()
		}
		return err
	})
	return n, err
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
