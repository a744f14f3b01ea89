// Package app is what the use cases of a practice share: the practice at work with its store, clock and memory, its plans as they
// are loaded, and what lists show of them. The use cases themselves are the packages below, one an area; they meet here, in the types
// of core and in the store, and never import each other. There is no SQL and no HTML in any of them.
package app

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"log/slog"
	"strings"
	"time"
	_ "time/tzdata" // zones are at hand on every machine

	"github.com/google/uuid"

	"patientfox/core/criteria"
	"patientfox/core/phrase"
	"patientfox/core/standing"
	"patientfox/internal/app/form"
	"patientfox/internal/derive"
	"patientfox/internal/jobs"
	"patientfox/internal/store"
)

// BoolInt is 1 for true, so that figures can be added up.
func BoolInt(b bool) int {
	if b {
		return 1
	}
	return 0
}

// OwnDimensions lists those of the practice.
func OwnDimensions(ctx context.Context, q store.Q) ([]criteria.Dimension, error) {
	rows, err := q.Dimensions(ctx)
	if err != nil {
		return nil, err
	}
	own := make([]criteria.Dimension, len(rows))
	for i, r := range rows {
		if err := json.Unmarshal([]byte(r.Body), &own[i]); err != nil {
			return nil, fmt.Errorf("dimension %s: %w", r.Key, err)
		}
	}
	return own, nil
}

// WeeksOld is a dog's age in weeks, 0 where its birthday is not known.
func WeeksOld(born, today string) float64 {
	if born == "" {
		return 0
	}
	return float64(DaysBetween(born, today)) / 7
}

// Moment writes a moment (UTC ms) as its day and time.
func (s Profile) Moment(ms int64) string {
	return time.UnixMilli(ms).In(s.Zone).Format("2 Jan 2006, 15:04")
}

// FirstLine is a text up to its first line break.
func FirstLine(text string) string {
	text, _, _ = strings.Cut(text, "\n")
	if runes := []rune(text); len(runes) > 90 {
		return string(runes[:89]) + "…"
	}
	return text
}

// Practice is one practice at work. It is safe for concurrent use.
type Practice struct {
	*derive.Reader
	Jobs  *jobs.Queue // what takes longer than a page
	known memory
}

// Close cancels computations that are under way. The store is closed by who opened it.
func (p *Practice) Close() { p.Jobs.Close() }

// Open makes a practice of a store; a new one gets its first row, with one person in it.
func Open(ctx context.Context, st *store.Store, log *slog.Logger, now func() time.Time, zone string) (*Practice, error) {
	p := &Practice{Jobs: jobs.New(log)}
	p.Reader = derive.New(st, log, now, p.known.drop)
	_, err := st.Read().Practice(ctx)
	if err == nil {
		if err := p.Begin(ctx); err != nil {
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
	person := store.Person{ID: NewID(), Name: "Trainer", Role: "trainer", Owner: true, Made: p.Ms()}
	return p, st.Write(ctx, func(q store.Q) error {
		if err := q.AddPerson(ctx, person); err != nil {
			return err
		}
		return q.AddPractice(ctx, store.Practice{Name: "", Zone: zone, Person: person.ID, Epoch: NewID(), Made: p.Ms()})
	})
}

// Path is the file of its database.
func (p *Practice) Path() string { return p.Store.Path() }

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

// ErrNotFound says that what was asked for is not there (any more).
var ErrNotFound = errors.New("not found")

// What the store says of itself: nothing was saved, and what is there can be read.
var (
	ErrFull     = store.ErrFull
	ErrReadOnly = store.ErrReadOnly
	ErrDamaged  = store.ErrDamaged
	ErrBusy     = store.ErrBusy
)

// Found is an error of the store as a use case answers it: what is not there is ErrNotFound.
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

// Once saves a form in one transaction; the same form posted again answers as it did before, with other content ErrSaved.
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
		return q.AddFormKey(ctx, key, result, content, p.Ms(), p.Now().Add(-formKeyLife).UnixMilli())
	})
	return result, err
}

// Profile is what most use cases need of the practice's row.
type Profile struct {
	store.Practice
	Zone *time.Location
}

// Profile loads the profile of the practice.
func (p *Practice) Profile(ctx context.Context, q store.Q) (Profile, error) {
	row, err := q.Practice(ctx)
	if err != nil {
		return Profile{}, err
	}
	return Profile{row, row.Location()}, nil
}

// WithDog reads them and a dog.
func (p *Practice) WithDog(ctx context.Context, q store.Q, id string) (s Profile, d store.Dog, err error) {
	if s, err = p.Profile(ctx, q); err != nil {
		return s, d, err
	}
	d, err = q.Dog(ctx, id)
	return s, d, Found(err)
}

// WithPlan reads them and a plan.
func (p *Practice) WithPlan(ctx context.Context, q store.Q, id string) (s Profile, l store.Plan, err error) {
	if s, err = p.Profile(ctx, q); err != nil {
		return s, l, err
	}
	l, err = q.Plan(ctx, id)
	return s, l, Found(err)
}

// Units is how the practice likes figures, and words what speaks in them.
func (s Profile) Units() criteria.Units {
	return criteria.Units{Length: criteria.Length(s.Length), PaceM: s.PaceM}
}

// Looks is how the practice describes the five states, "" for the usual; nil where it describes none.
func (s Profile) Looks() (list []string, err error) {
	if s.States == "[]" || s.States == "" {
		return nil, nil
	}
	err = store.FromJSON(s.States, &list)
	return list, err
}

// Words are what speaks in its units.
func (s Profile) Words() phrase.Words { return phrase.In(s.Units()) }

const DayLayout = "2006-01-02"

// Day is the day of a moment (UTC ms), YYYY-MM-DD.
func (s Profile) Day(ms int64) string { return time.UnixMilli(ms).In(s.Zone).Format(DayLayout) }

// DaysBetween counts calendar days from one day to another, 0 where either is none.
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

// Named is something with a name.
type Named struct{ ID, Name string }

// People lists who is there, and the names of them and of those who left by their ids.
func People(ctx context.Context, q store.Q) (list []Named, names map[string]string, err error) {
	rows, err := q.Everybody(ctx)
	names = map[string]string{}
	for _, one := range rows {
		if names[one.ID] = one.Name; one.Left == nil {
			list = append(list, Named{one.ID, one.Name})
		}
	}
	return list, names, err
}
