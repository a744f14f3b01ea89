// Package practice has the use cases of a dog trainer's practice: load, ask the core, save. Pages and
// the API call it. It holds no SQL and no HTML.
package practice

import (
	"bytes"
	"context"
	"crypto/sha256"
	"errors"
	"fmt"
	"log/slog"
	"maps"
	"slices"
	"strings"
	"sync/atomic"
	"time"
	_ "time/tzdata" // zones are at hand on every machine
	"unicode"
	"unicode/utf8"

	"github.com/google/uuid"

	"patientfox/core/criteria"
	"patientfox/core/phrase"
	"patientfox/core/record"
	"patientfox/core/standing"
	"patientfox/internal/store"
)

// Practice is one practice at work. It is safe for concurrent use.
type Practice struct {
	store   *store.Store
	log     *slog.Logger
	now     func() time.Time
	known   memory
	jobs    *jobs
	reading *reading
	marked  atomic.Bool // what an older fold read is marked
	tries   attempts    // of signing in
	folds   func(record.Book, ...record.Event) (*record.Log, *record.Session, error)
}

// Open makes a practice of a store; a new one gets its first row, with one person in it.
func Open(ctx context.Context, st *store.Store, log *slog.Logger, now func() time.Time, zone string) (*Practice, error) {
	p := &Practice{store: st, log: log, now: now, jobs: newJobs(log), reading: newReading(), folds: record.Read}
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
	person := store.Person{ID: NewID(), Name: "Trainer", Role: "trainer", Made: p.ms()}
	return p, st.Write(ctx, func(q store.Q) error {
		if err := q.AddPerson(ctx, person); err != nil {
			return err
		}
		return q.AddPractice(ctx, store.Practice{Name: "", Zone: zone, Person: person.ID, Epoch: NewID(), Made: p.ms()})
	})
}

// Close cancels computations that are under way. The store is closed by who opened it.
func (p *Practice) Close() { p.jobs.close() }

// Path is the file of its database.
func (p *Practice) Path() string { return p.store.Path() }

// Now is the moment by its clock.
func (p *Practice) Now() time.Time { return p.now() }

// Zone is where it is: its days begin by it.
func (p *Practice) Zone(ctx context.Context) (*time.Location, error) {
	s, err := p.settings(ctx, p.store.Read())
	return s.zone, err
}

// Epoch names the database since it was made or last restored: devices that see another one send again what they still hold.
func (p *Practice) Epoch(ctx context.Context) (string, error) {
	row, err := p.store.Read().Practice(ctx)
	return row.Epoch, err
}

// NewID makes a UUIDv7.
func NewID() string { return uuid.Must(uuid.NewV7()).String() }

func (p *Practice) ms() int64 { return p.now().UnixMilli() }

// ErrNotFound says that what was asked for is not there (any more).
var ErrNotFound = errors.New("not found")

// What the store says of itself: nothing was saved, and what is there can be read.
var (
	ErrFull     = store.ErrFull
	ErrReadOnly = store.ErrReadOnly
	ErrDamaged  = store.ErrDamaged
	ErrBusy     = store.ErrBusy
)

func found(err error) error {
	if errors.Is(err, store.ErrNone) {
		return ErrNotFound
	}
	return err
}

// Typed is a form as it was typed, by field.
type Typed map[string]string

// Text is a field without the space around it.
func (t Typed) Text(field string) string { return strings.TrimSpace(t[field]) }

// Invalid says what in a form cannot stand, by field. Nothing was saved.
type Invalid struct{ Problems map[string]string }

func (i *Invalid) Error() string {
	return "cannot stand: " + strings.Join(slices.Sorted(maps.Keys(i.Problems)), ", ") // what was typed is never logged
}

// Conflict says that somebody changed the same thing meanwhile. Nothing was saved.
type Conflict struct{ Now Typed }

func (c *Conflict) Error() string { return "changed meanwhile" }

// problems gathers what is wrong with a form.
type problems map[string]string

func (ps problems) add(field, text string) {
	if _, ok := ps[field]; !ok {
		ps[field] = text
	}
}

func (ps problems) criteria(list []criteria.Problem) {
	for _, one := range list {
		ps.add(one.Field, one.Text)
	}
}

func (ps problems) err() error {
	if len(ps) == 0 {
		return nil
	}
	return &Invalid{ps}
}

// name reads a name: not empty, not too long, one line. Emoji and right-to-left names are names.
func (ps problems) name(field, typed, what string) string {
	typed = strings.TrimSpace(typed)
	visible := strings.IndexFunc(typed, func(r rune) bool { return unicode.IsGraphic(r) && !unicode.IsSpace(r) }) >= 0
	switch {
	case typed == "" || !visible:
		ps.add(field, "Give "+what+" a name.")
	case utf8.RuneCountInString(typed) > criteria.MaxName:
		ps.add(field, fmt.Sprintf("%d characters; a name has at most %d.", utf8.RuneCountInString(typed), criteria.MaxName))
	case strings.ContainsFunc(typed, func(r rune) bool { return unicode.IsControl(r) }):
		ps.add(field, "A name is one line of text.")
	case !utf8.ValidString(typed):
		ps.add(field, "This text has characters that cannot be read.")
	}
	return typed
}

// text reads a longer text of at most n characters.
func (ps problems) text(field, typed string, n int) string {
	typed = strings.TrimSpace(strings.ReplaceAll(typed, "\r\n", "\n"))
	if count := utf8.RuneCountInString(typed); count > n {
		ps.add(field, fmt.Sprintf("%d characters; at most %d. Nothing is lost: shorten it.", count, n))
	}
	if !utf8.ValidString(typed) {
		ps.add(field, "This text has characters that cannot be read.")
	}
	return typed
}

// formKeyLife is how long a form posted twice is known as such.
const formKeyLife = 48 * time.Hour

// ErrSaved says that a form was saved before and has other content now.
var ErrSaved = errors.New("the same form was saved before with other content")

// content is the hash of what a form says, but for its key and token.
func (t Typed) content() []byte {
	sum := sha256.New()
	for _, field := range slices.Sorted(maps.Keys(t)) {
		if field != "key" && field != "csrf" {
			fmt.Fprintf(sum, "%q=%q\n", field, t[field])
		}
	}
	return sum.Sum(nil)
}

// once saves a form in one transaction; the same form posted again answers as it did before, with other content ErrSaved.
func (p *Practice) once(ctx context.Context, t Typed, save func(q store.Q) (result string, err error)) (result string, err error) {
	key, content := t.Text("key"), t.content()
	if len(key) > 64 {
		key = key[:64]
	}
	err = p.store.Write(ctx, func(q store.Q) error {
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
		return q.AddFormKey(ctx, key, result, content, p.ms(), p.now().Add(-formKeyLife).UnixMilli())
	})
	return result, err
}

// settings is what most use cases need of the practice's row.
type settings struct {
	store.Practice
	zone *time.Location
}

func (p *Practice) settings(ctx context.Context, q store.Q) (settings, error) {
	row, err := q.Practice(ctx)
	if err != nil {
		return settings{}, err
	}
	zone, err := time.LoadLocation(row.Zone)
	if err != nil {
		zone = time.UTC
	}
	return settings{row, zone}, nil
}

// withDog reads them and a dog.
func (p *Practice) withDog(ctx context.Context, q store.Q, id string) (s settings, d store.Dog, err error) {
	if s, err = p.settings(ctx, q); err != nil {
		return s, d, err
	}
	d, err = q.Dog(ctx, id)
	return s, d, found(err)
}

// withPlan reads them and a plan.
func (p *Practice) withPlan(ctx context.Context, q store.Q, id string) (s settings, l store.Plan, err error) {
	if s, err = p.settings(ctx, q); err != nil {
		return s, l, err
	}
	l, err = q.Plan(ctx, id)
	return s, l, found(err)
}

// units is how the practice likes figures, and words what speaks in them.
func (s settings) units() criteria.Units {
	return criteria.Units{Length: criteria.Length(s.Length), PaceM: s.PaceM}
}

func (s settings) words() phrase.Words { return phrase.In(s.units()) }

const dayLayout = "2006-01-02"

func (s settings) day(ms int64) string { return time.UnixMilli(ms).In(s.zone).Format(dayLayout) }

// daysBetween counts calendar days from one day to another, 0 where either is none.
func daysBetween(from, to string) int {
	n, _ := standing.Days(from, to)
	return n
}

// ShortDay writes a day as "9 Nov", with its year where that is another one.
func ShortDay(day, today string) string {
	d, err := time.Parse(dayLayout, day)
	if err != nil {
		return day
	}
	if len(today) > 4 && day[:4] != today[:4] {
		return d.Format("2 Jan 2006")
	}
	return d.Format("2 Jan")
}

// Secret signs form tokens.
func (p *Practice) Secret(ctx context.Context) ([]byte, error) { return p.store.Keys().Secret(ctx) }

// Healthy tells whether the database answers; degraded is why nothing can be saved just now, nil where all is well.
func (p *Practice) Healthy(ctx context.Context) (degraded, err error) {
	return p.store.Trouble(), p.store.Ping(ctx)
}
