package derive

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"sync"
	"time"

	"patientfox/core/record"
	"patientfox/internal/store"
)

// Sessions are read in the background: what was acknowledged is stored at once, and folded into rows by KeepUp. Pages show
// the rows that are there; a pack, a verdict or a forecast never uses rows that are behind.

// ErrBehind says that what was asked for depends on sessions that are being read anew just now; it can be had in a moment.
var ErrBehind = errors.New("being read anew")

// Bounds of one transaction of the reader: others write between two.
const (
	batchSessions = 12
	batchPlans    = 4
)

// listsEvery is how often, at most, lists over all dogs are made anew while many sessions are read.
const listsEvery = 2 * time.Second

// reading is how far the reading of sessions has come. It is safe for concurrent use.
type reading struct {
	kick chan struct{} // something is behind
	busy sync.Mutex    // one reads at a time

	lock        sync.Mutex
	wanted      []string // dogs whose plans somebody waits for
	done, total int      // sessions of the run under way
	listsAt     time.Time
}

func newReading() *reading { return &reading{kick: make(chan struct{}, 1)} }

// behind says that there is something to read.
func (r *reading) behind() {
	select {
	case r.kick <- struct{}{}:
	default: // it knows
	}
}

// Kick says that something is behind: the reader goes on.
func (p *Reader) Kick() { p.reading.behind() }

// want puts the plans of a dog first.
func (r *reading) want(dog string) {
	r.lock.Lock()
	if !slices.Contains(r.wanted, dog) && len(r.wanted) < 100 {
		r.wanted = append(r.wanted, dog)
	}
	r.lock.Unlock()
	r.behind()
}

func (r *reading) next() string {
	r.lock.Lock()
	defer r.lock.Unlock()
	if len(r.wanted) == 0 {
		return ""
	}
	return r.wanted[0]
}

func (r *reading) served(dog string) {
	r.lock.Lock()
	defer r.lock.Unlock()
	r.wanted = slices.DeleteFunc(r.wanted, func(one string) bool { return one == dog })
}

func (r *reading) progress(done, total int) {
	r.lock.Lock()
	defer r.lock.Unlock()
	r.done, r.total = done, max(done, total)
}

// lists tells whether lists over all dogs are due to be made anew.
func (r *reading) lists(now time.Time) bool {
	r.lock.Lock()
	defer r.lock.Unlock()
	if now.Sub(r.listsAt) < listsEvery {
		return false
	}
	r.listsAt = now
	return true
}

// Reading says how many sessions of those that were behind have been read; both are 0 while none is behind.
func (p *Reader) Reading() (done, total int) {
	p.reading.lock.Lock()
	defer p.reading.lock.Unlock()
	return p.reading.done, p.reading.total
}

// Ready answers ErrBehind while anything that the plans of a dog depend on is behind, and puts that first; and ErrAside where the
// standing of the plan named, "" for none, cannot be worked out.
func (p *Reader) Ready(ctx context.Context, q store.Q, dog, plan string) error {
	behind, aside, err := q.DogBehind(ctx, dog, plan)
	switch {
	case err != nil:
		return err
	case behind:
		p.reading.want(dog)
		return ErrBehind
	case aside:
		return ErrAside
	}
	return nil
}

// KeepUp reads what is behind until the context ends: at once, and again whenever something came. Where the disk takes
// nothing it tries again, so that the practice recovers by itself.
func (p *Reader) KeepUp(ctx context.Context) {
	_ = p.Store.Probe(ctx) // the store keeps what comes of it, and pages say it before anything is typed
	wait := time.Duration(0)
	for {
		err := p.CatchUp(ctx)
		if ctx.Err() != nil {
			return
		}
		if err != nil {
			wait = min(max(2*wait, time.Second), 15*time.Second)
			p.Log.Error("reading sessions failed; trying again", "error", err.Error(), "in", wait.String())
		} else {
			wait = 0
		}
		again := time.NewTimer(max(wait, 5*time.Second))
		if err != nil {
			again.Reset(wait)
		}
		kick := p.reading.kick
		if err != nil {
			kick = nil // not before its time
		}
		select {
		case <-ctx.Done():
			again.Stop()
			return
		case <-kick:
		case <-again.C:
			if p.Store.Trouble() != nil {
				_ = p.Store.Probe(ctx) // the store keeps what comes of it
			}
		}
		again.Stop()
	}
}

// CatchUp reads everything that is behind, and returns when nothing is.
func (p *Reader) CatchUp(ctx context.Context) error {
	p.reading.busy.Lock()
	defer p.reading.busy.Unlock()
	defer p.reading.progress(0, 0)
	if err := p.olderFolds(ctx); err != nil {
		return err
	}
	done := 0
	for {
		left, plans, err := p.Store.Read().Behind(ctx)
		if err != nil {
			return err
		}
		if left+plans == 0 {
			return nil
		}
		p.reading.progress(done, done+left)
		read, err := p.readSome(ctx)
		if err != nil {
			return err
		}
		done += read
	}
}

// olderFolds marks what an older fold has read, once a start.
func (p *Reader) olderFolds(ctx context.Context) error {
	if p.marked.Load() {
		return nil
	}
	err := p.Store.Write(ctx, func(q store.Q) error { return q.MarkOlderFolds(ctx, record.FoldVersion) })
	if err == nil {
		p.marked.Store(true)
	}
	return err
}

// readSome reads one batch: what somebody waits for first, then sessions, then the standings of plans whose sessions have
// all been read. It returns how many sessions.
func (p *Reader) readSome(ctx context.Context) (int, error) {
	q := p.Store.Read()
	for dog := p.reading.next(); dog != ""; dog = p.reading.next() {
		ids, err := q.StaleOfDog(ctx, dog, batchSessions)
		if err != nil {
			return 0, err
		}
		if len(ids) > 0 {
			return len(ids), p.ReadSessions(ctx, ids)
		}
		plans, err := q.PlansBehind(ctx, dog, batchPlans)
		if err != nil {
			return 0, err
		}
		if len(plans) > 0 {
			return 0, p.standThese(ctx, plans)
		}
		p.reading.served(dog)
	}
	ids, err := q.StaleSessions(ctx, record.FoldVersion, batchSessions)
	if err != nil {
		return 0, err
	}
	if len(ids) > 0 {
		return len(ids), p.ReadSessions(ctx, ids)
	}
	plans, err := q.PlansBehind(ctx, "", batchPlans)
	if err != nil || len(plans) == 0 {
		return 0, err
	}
	return 0, p.standThese(ctx, plans)
}

// readSession is one session as it was read, before its rows are written.
type readSession struct {
	id     string
	pos    int64 // of its newest event then
	folded *record.Session
	book   Book
	rows   store.Derived
	aside  string // why it cannot be read, "" where it can
}

// Why something cannot be read, as it is stored.
const (
	BadLog  = "log"  // its events cannot be folded
	BadPlan = "plan" // a plan or a definition that it names cannot be read
)

// read folds one session into rows. What fails but for the database sets the session aside.
func (p *Reader) read(ctx context.Context, q store.Q, s store.Practice, id string) (r readSession, err error) {
	r.id = id
	if r.pos, err = q.LastPos(ctx, id); err != nil {
		return r, err
	}
	err = Guarded(func() error {
		events, err := q.Events(ctx, id)
		if err != nil {
			return err
		}
		if r.book, err = ReadBook(ctx, q, PlansIn(events)); err != nil {
			return err
		}
		if _, r.folded, err = p.Folds(r.book, events...); err != nil {
			return err
		}
		r.rows = Rows(r.folded, s, id)
		r.rows.Session.ReadTo = store.JSON(newest(events))
		return nil
	})
	var unreadable *record.Unreadable
	switch {
	case err == nil:
	case store.Failed(err) || ctx.Err() != nil:
		return r, err
	case errors.As(err, &unreadable):
		r.aside = BadLog
	default:
		r.aside = BadPlan
	}
	if r.aside != "" {
		p.Log.Error("a session is set aside", "session", id, "why", r.aside, "error", err.Error())
	}
	return r, nil
}

// newest is the highest number of each device's events.
func newest(events []record.Event) map[string]int64 {
	to := map[string]int64{}
	for _, e := range events {
		to[e.Dev] = max(to[e.Dev], e.Seq)
	}
	return to
}

// Guarded makes an error of a panic.
func Guarded(do func() error) (err error) {
	defer func() {
		if fault := recover(); fault != nil {
			err = &record.Unreadable{Fault: fault}
		}
	}()
	return do()
}

// ReadSessions reads sessions and writes their rows in one transaction. One that got events meanwhile stays behind.
func (p *Reader) ReadSessions(ctx context.Context, ids []string) error {
	q := p.Store.Read()
	s, err := q.Practice(ctx)
	if err != nil {
		return err
	}
	var batch []readSession
	made := false // steps made in the field become a version of their plan, and a new place one of the list: no derived rows
	dogs := map[string]bool{}
	for _, id := range ids {
		one, err := p.read(ctx, q, s, id)
		if err != nil {
			return err
		}
		batch = append(batch, one)
		if one.folded != nil {
			named, err := names(ctx, q, one.folded)
			if err != nil {
				return err
			}
			made = made || named || len(adopted(one.folded, one.book)) > 0
		}
	}
	write := p.Store.WriteDerived
	if made && len(ids) > 1 { // what one makes of a plan, the next has to read
		for _, id := range ids {
			if err := p.ReadSessions(ctx, []string{id}); err != nil {
				return err
			}
		}
		return nil
	}
	if made {
		write = p.Store.Write
	}
	err = write(ctx, func(q store.Q) error {
		for _, one := range batch {
			if err := p.keepRead(ctx, q, s, one, dogs); err != nil {
				return fmt.Errorf("session %s: %w", one.id, err)
			}
		}
		return nil
	})
	if err == nil {
		p.changed(dogs)
	}
	return err
}

// keepRead writes what was read of a session, unless it got events meanwhile, and adds the dogs that it touches.
func (p *Reader) keepRead(ctx context.Context, q store.Q, s store.Practice, one readSession, dogs map[string]bool) error {
	pos, err := q.LastPos(ctx, one.id)
	if err != nil || pos != one.pos {
		return err
	}
	plans, err := q.PlansOfSession(ctx, one.id)
	if err != nil {
		return err
	}
	if one.aside != "" {
		err = q.SetAside(ctx, one.id, record.FoldVersion, one.aside)
	} else {
		err = p.replace(ctx, q, s, one, dogs)
	}
	for _, plan := range plans {
		if err == nil {
			err = q.PlanBehind(ctx, plan)
		}
	}
	dogs[AllDogs] = dogs[AllDogs] || one.aside != ""
	return err
}

// replace puts the rows of a session in place of those it had.
func (p *Reader) replace(ctx context.Context, q store.Q, s store.Practice, one readSession, dogs map[string]bool) error {
	if err := p.adopt(ctx, q, s, one.folded, one.book); err != nil {
		return err
	}
	var err error
	if one.rows.Session.Place, err = p.name(ctx, q, one.folded); err != nil {
		return err
	}
	if err := q.Replace(ctx, one.rows); err != nil {
		return err
	}
	here := []string{one.rows.Session.Dog}
	for _, b := range one.rows.Blocks {
		if !slices.Contains(here, b.Dog) {
			here = append(here, b.Dog)
		}
	}
	for _, dog := range here {
		dogs[dog] = true
		if err := q.MarkFirst(ctx, dog, one.rows.Session.Day); err != nil {
			return err
		}
	}
	return nil
}

// standThese works out where the dogs of plans are.
func (p *Reader) standThese(ctx context.Context, plans []string) error {
	dogs := map[string]bool{}
	err := p.Store.WriteDerived(ctx, func(q store.Q) error {
		for _, plan := range plans {
			if err := p.Stand(ctx, q, plan); err != nil {
				return fmt.Errorf("plan %s: %w", plan, err)
			}
		}
		rows, err := q.PlansByID(ctx, plans)
		for _, row := range rows {
			dogs[row.Dog] = true
		}
		return err
	})
	if err == nil {
		p.changed(dogs)
	}
	return err
}

// changed forgets the pages of dogs, and the lists over all of them: at once where nothing else waits to be read, otherwise
// every so often.
func (p *Reader) changed(dogs map[string]bool) {
	_, total := p.Reading()
	if total <= batchSessions || dogs[AllDogs] || p.reading.lists(time.Now()) {
		dogs[AllDogs] = true
	}
	p.tell(dogs)
}
