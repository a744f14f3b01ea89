package app

import (
	"bytes"
	"context"
	"errors"
	"log/slog"
	"patientfox/core/criteria"
	"patientfox/core/phrase"
	"patientfox/core/record"
	"patientfox/core/standing"
	"patientfox/internal/app/form"
	"patientfox/internal/store"
	"sync/atomic"
	"time"
	_ "time/tzdata"

	"github.com/google/uuid"
)

// Practice is one practice at work. It is safe for concurrent use.
type Practice struct {
	Store   *store.Store
	Log     *slog.Logger
	now     func() time.Time
	known   memory
	reading *reading
	marked  atomic.Bool // what an older fold read is marked
	Folds   func(record.Book, ...record.Event) (*record.Log, *record.Session, error)
}

// Open makes a practice of a store; a new one gets its first row, with one person in it.
func Open(ctx context.Context, st *store.Store, log *slog.Logger, now func() time.Time, zone string) (*Practice, error) {
	p := &Practice{Store: st, Log: log, now: now, reading: newReading(), Folds: record.Read}
	_, err := st.Read().Practice(ctx)
	if err == nil {
		if err := p.olderFolds(ctx); err != nil {
			log.Error("what an older version read cannot be marked yet", "error", err.Error()) // until then no pack is given out
		}
		return p, nil
	}
	if !errors.Is(err, store.ErrNone) {
		return nil, err
	}
	if _, err := time.LoadLocation(zone); err != nil || zone == "" || zone == "Local" {
		zone = "UTC"
	}
	person := store.Person{ID: NewID(), Name: "Trainer", Role: "trainer", Made: p.Ms()}
	return p, st.Write(ctx, func(q store.Q) error {
		if err := q.AddPerson(ctx, person); err != nil {
			return err
		}
		return q.AddPractice(ctx, store.Practice{Name: "", Zone: zone, Person: person.ID, Epoch: NewID(), Made: p.Ms()})
	})
}

// Path is the file of its database.
func (p *Practice) Path() string { return p.Store.Path() }

// Now is the moment by its clock.
func (p *Practice) Now() time.Time { return p.now() }

// Zone is where it is: its days begin by it.
func (p *Practice) Zone(ctx context.Context) (*time.Location, error) {
	s, err := p.Profile(ctx, p.Store.Read())
	return s.Zone, err
}

// Epoch names the database since it was made or last restored: devices that see another one send again what they still hold.
func (p *Practice) Epoch(ctx context.Context) (string, error) {
	row, err := p.Store.Read().Practice(ctx)
	return row.Epoch, err
}

// NewID makes a UUIDv7.
func NewID() string { return uuid.Must(uuid.NewV7()).String() }

func (p *Practice) Ms() int64 { return p.now().UnixMilli() }

// ErrNotFound says that what was asked for is not there (any more).
var ErrNotFound = errors.New("not found")

// What the store says of itself: nothing was saved, and what is there can be read.
var (
	ErrFull     = store.ErrFull
	ErrReadOnly = store.ErrReadOnly
	ErrDamaged  = store.ErrDamaged
	ErrBusy     = store.ErrBusy
)

func Found(err error) error {
	if errors.Is(err, store.ErrNone) {
		return ErrNotFound
	}
	return err
}

// formKeyLife is how long a form posted twice is known as such.
const formKeyLife = 48 * time.Hour

// ErrSaved says that a form was saved before and has other content now.
var ErrSaved = errors.New("the same form was saved before with other content")

// once saves a form in one transaction; the same form posted again answers as it did before, with other content ErrSaved.
func (p *Practice) Once(ctx context.Context, t form.Typed, save func(q store.Q) (result string, err error)) (result string, err error) {
	key, content := t.Text("key"), t.Content()
	if len(key) > 64 {
		key = key[:64]
	}
	err = p.Store.Write(ctx, func(q store.Q) error {
		if key != "" {
			known, before, err := q.FormKey(ctx, key)
			if err == nil && known != "" && before != nil && !bytes.Equal(before, content) {
				return ErrSaved
			}
			if err != nil || known != "" {
				result = known
				return err
			}
		}
		var err error
		if result, err = save(q); err != nil || key == "" {
			return err
		}
		return q.AddFormKey(ctx, key, result, content, p.Ms(), p.now().Add(-formKeyLife).UnixMilli())
	})
	return result, err
}

// settings is what most use cases need of the practice's row.
type Profile struct {
	store.Practice
	Zone *time.Location
}

func (p *Practice) Profile(ctx context.Context, q store.Q) (Profile, error) {
	row, err := q.Practice(ctx)
	if err != nil {
		return Profile{}, err
	}
	zone, err := time.LoadLocation(row.Zone)
	if err != nil {
		zone = time.UTC
	}
	return Profile{row, zone}, nil
}

// withDog reads them and a dog.
func (p *Practice) WithDog(ctx context.Context, q store.Q, id string) (s Profile, d store.Dog, err error) {
	if s, err = p.Profile(ctx, q); err != nil {
		return s, d, err
	}
	d, err = q.Dog(ctx, id)
	return s, d, Found(err)
}

// withPlan reads them and a plan.
func (p *Practice) WithPlan(ctx context.Context, q store.Q, id string) (s Profile, l store.Plan, err error) {
	if s, err = p.Profile(ctx, q); err != nil {
		return s, l, err
	}
	l, err = q.Plan(ctx, id)
	return s, l, Found(err)
}

// units is how the practice likes figures, and words what speaks in them.
func (s Profile) Units() criteria.Units {
	return criteria.Units{Length: criteria.Length(s.Length), PaceM: s.PaceM}
}

func (s Profile) Words() phrase.Words { return phrase.In(s.Units()) }

const DayLayout = "2006-01-02"

func (s Profile) Day(ms int64) string { return time.UnixMilli(ms).In(s.Zone).Format(DayLayout) }

// daysBetween counts calendar days from one day to another, 0 where either is none.
func DaysBetween(from, to string) int {
	n, _ := standing.Days(from, to)
	return n
}

// ShortDay writes a day as "9 Nov", with its year where that is another one.
func ShortDay(day, today string) string {
	d, err := time.Parse(DayLayout, day)
	if err != nil {
		return day
	}
	if len(today) > 4 && day[:4] != today[:4] {
		return d.Format("2 Jan 2006")
	}
	return d.Format("2 Jan")
}

// Secret signs form tokens.
func (p *Practice) Secret(ctx context.Context) ([]byte, error) { return p.Store.Keys().Secret(ctx) }

// Healthy tells whether the database answers; degraded is why nothing can be saved just now, nil where all is well.
func (p *Practice) Healthy(ctx context.Context) (degraded, err error) {
	return p.Store.Trouble(), p.Store.Ping(ctx)
}
