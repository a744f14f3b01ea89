package practice

import (
	"context"
	"fmt"
	"strconv"
	"time"

	"patientfox/core/criteria"
	"patientfox/internal/store"
)

// readDog reads the form of a dog.
func (p *Practice) readDog(t Typed, today string) (store.Dog, error) {
	ps := problems{}
	d := store.Dog{
		Name:      ps.name("name", t["name"], "the dog"),
		Born:      t.Text("born"),
		Household: ps.text("household", t["household"], criteria.MaxName),
		Flags:     ps.text("flags", t["flags"], criteria.MaxText),
		Notes:     ps.text("notes", t["notes"], criteria.MaxNote),
	}
	if d.Born != "" {
		born, err := time.Parse(dayLayout, d.Born)
		switch {
		case err != nil:
			ps.add("born", "Write the date as year-month-day, such as 2024-05-30, or leave it empty.")
		case d.Born > today:
			ps.add("born", "This day is still to come.")
		case born.Year() < 1990:
			ps.add("born", "No dog is that old. Is the year right?")
		}
	}
	d.WeightKg = readKg(ps, t, "weight_kg")
	d.Feeding, d.Routine = "{}", encode(readRoutine(ps, t))
	return d, ps.err()
}

// AddDog adds a dog and returns its id.
func (p *Practice) AddDog(ctx context.Context, t Typed) (string, error) {
	s, err := p.settings(ctx, p.store.Read())
	if err != nil {
		return "", err
	}
	d, err := p.readDog(t, s.day(p.ms()))
	if err != nil {
		return "", err
	}
	return p.once(ctx, t, func(q store.Q) (string, error) {
		d.ID, d.Made = NewID(), p.ms()
		return d.ID, q.AddDog(ctx, d)
	})
}

// SaveDog changes a dog. Where somebody changed it meanwhile it answers with a Conflict that holds
// what it says now.
func (p *Practice) SaveDog(ctx context.Context, id string, t Typed) error {
	s, err := p.settings(ctx, p.store.Read())
	if err != nil {
		return err
	}
	d, err := p.readDog(t, s.day(p.ms()))
	if err != nil {
		return err
	}
	d.ID = id
	d.Version, _ = strconv.Atoi(t.Text("version"))
	return p.store.Write(ctx, func(q store.Q) error {
		was, err := q.Dog(ctx, id)
		if err != nil {
			return found(err)
		}
		ok, err := q.SetDog(ctx, d)
		if err == nil && !ok {
			return &Conflict{typedDog(was)}
		}
		return err
	})
}

func typedDog(d store.Dog) Typed {
	t := Typed{
		"name": d.Name, "born": d.Born, "household": d.Household, "flags": d.Flags, "notes": d.Notes, "version": strconv.Itoa(d.Version),
	}
	if d.WeightKg != nil {
		t["weight_kg"] = criteria.Figure(*d.WeightKg)
	}
	r, _ := routineOf(d)
	typedRoutine(t, r)
	return t
}

// DogForm returns a dog as its form shows it.
//
// What is wrong with what is kept comes beside it, by field.
func (p *Practice) DogForm(ctx context.Context, id string) (t Typed, wrong map[string]string, err error) {
	d, err := p.store.Read().Dog(ctx, id)
	if err != nil {
		return nil, nil, found(err)
	}
	if _, known := routineOf(d); !known {
		wrong = map[string]string{"per_week": badRoutine}
	}
	return typedDog(d), wrong, nil
}

// DeleteDog puts a dog away, or brings it back. Its record stays.
func (p *Practice) DeleteDog(ctx context.Context, id string, away bool) error {
	return p.away(ctx, away, func(q store.Q, at *int64) (bool, error) { return q.DeleteDog(ctx, id, at) })
}

func (p *Practice) away(ctx context.Context, away bool, set func(q store.Q, at *int64) (bool, error)) error {
	return p.store.Write(ctx, func(q store.Q) error {
		var at *int64
		if away {
			now := p.ms()
			at = &now
		}
		ok, err := set(q, at)
		if err == nil && !ok {
			return ErrNotFound
		}
		return err
	})
}

// weeksOld is a dog's age in weeks, 0 where its birthday is not known.
func weeksOld(born, today string) float64 {
	if born == "" {
		return 0
	}
	return float64(daysBetween(born, today)) / 7
}

// age writes a dog's age as trainers say it: weeks up to 16, months up to two years, then years.
func age(born, today string) string {
	b, err := time.Parse(dayLayout, born)
	t, err2 := time.Parse(dayLayout, today)
	if err != nil || err2 != nil || t.Before(b) {
		return ""
	}
	months := (t.Year()-b.Year())*12 + int(t.Month()) - int(b.Month())
	if t.Day() < b.Day() {
		months--
	}
	switch weeks := daysBetween(born, today) / 7; {
	case weeks < 16:
		return fmt.Sprintf("%d weeks", weeks)
	case months < 24:
		return fmt.Sprintf("%d months", months)
	}
	return fmt.Sprintf("%d years", months/12)
}
