// Package demo makes the practice of Kittiwake Quay, a made-up dog school in a small ferry harbour.
// Six weeks of sessions come from a seeded simulated learner, by the same keys, core and event log as
// a trainer's; no figure is typed in.
package demo

import (
	"context"
	"fmt"
	"log/slog"
	"math/rand/v2"
	"path/filepath"
	"slices"
	"time"

	"patientfox/core/record"
	"patientfox/internal/app/form"
	"patientfox/internal/derive"
	"patientfox/internal/practice"
	"patientfox/internal/store"
)

const weeks = 6

// Make writes the demo practice into a new database at path, relative to now.
func Make(ctx context.Context, path string, now time.Time, log *slog.Logger) error {
	st, err := store.Open(ctx, path)
	if err != nil {
		return err
	}
	defer st.Close()
	m := &maker{clock: now.UTC().AddDate(0, 0, -7*weeks), now: now.UTC(), rng: rand.New(rand.NewPCG(20, 26)), ids: map[string]string{}}
	m.p, err = practice.Open(ctx, st, log, func() time.Time { return m.clock }, "UTC")
	if err != nil {
		return err
	}
	for _, part := range []struct {
		is   string
		does func(context.Context) error
	}{
		{"the practice", m.ground}, {"the larder", m.food}, {"the sessions", m.sessions}, {"the scripts", m.scripts}, {"acted out", m.field},
		{"a session from its sheet", func(ctx context.Context) error { return m.sheeted(ctx, "Pilchard") }},
		{"at one step", m.steadily}, {"the owner", m.takesOver}, {"the households", m.homework}, {"the class", m.class},
		{"between sessions", m.incident}, {"what is done for care", m.care}, {"what is known of their health", m.health},
		{"the week ahead", m.ahead}, {"who works with whom", m.team},
	} {
		if err := part.does(ctx); err != nil {
			return fmt.Errorf("%s: %w", part.is, err)
		}
	}
	return m.p.CatchUp(ctx)
}

// incident is one of the foghorn's, six days ago.
func (m *maker) incident(ctx context.Context) error {
	m.clock = m.now
	return m.p.AddBreach(ctx, m.ids["The foghorn"], form.Typed{
		"what": "the real sound at full strength", "day": m.now.AddDate(0, 0, -6).Format("2006-01-02"),
		"note": "Fog at six; she ran to the office and ate there.",
	})
}

// receive stores events and reads them, so that what is asked next knows of them.
func receive(ctx context.Context, p *practice.Practice, events []record.Event) ([]derive.Receipt, error) {
	receipts, err := p.Receive(ctx, events)
	if err != nil {
		return nil, err
	}
	return receipts, p.CatchUp(ctx)
}

// File names the demo's database of a day under the schema of this program.
func File(folder string, now time.Time) string {
	return filepath.Join(folder, fmt.Sprintf("demo-%s-schema%d-core%d.db", now.UTC().Format("2006-01-02"), store.Schema(), record.FoldVersion))
}

type maker struct {
	p     *practice.Practice
	clock time.Time // what the practice takes for now
	now   time.Time
	rng   *rand.Rand
	ids   map[string]string // of places, people, dogs, plans from the library, by name
	runs  []*running
}

func (m *maker) uuid() string { return record.UUID(m.rng) }

// ground makes people, places, dogs and plans.
func (m *maker) ground(ctx context.Context) error {
	v, err := m.p.Settings(ctx)
	if err != nil {
		return err
	}
	if err := m.p.SaveSettings(ctx, form.Typed{"name": "Kittiwake Quay", "zone": "UTC", "version": fmt.Sprint(v.Version)}); err != nil {
		return err
	}
	if err := m.p.SavePerson(ctx, form.Typed{"id": v.Me, "name": "Maren Oduya"}); err != nil {
		return err
	}
	if err := m.p.SavePerson(ctx, form.Typed{"name": "Jorun Vale"}); err != nil {
		return err
	}
	for _, place := range []string{"the net shed", "the ferry ramp", "the north quay", "the upper deck", "the harbour office"} {
		m.clock = m.clock.Add(time.Second)
		if err := m.p.SavePlace(ctx, form.Typed{"name": place}); err != nil {
			return err
		}
	}
	if v, err = m.p.Settings(ctx); err != nil {
		return err
	}
	for _, one := range v.Places {
		m.ids[one.Name] = one.ID
	}
	for _, one := range v.People {
		m.ids[one.Name] = one.ID
	}
	for _, d := range dogs(m.now) {
		id, err := m.p.AddDog(ctx, d)
		if err != nil {
			return err
		}
		m.ids[d["name"]] = id
	}
	for _, pl := range slices.Concat(plans, laidOut) {
		m.clock = m.clock.Add(time.Second)
		if err := m.plan(ctx, &pl); err != nil {
			return fmt.Errorf("%s, %s: %w", pl.dog, pl.typed["skill"], err)
		}
	}
	return nil
}
