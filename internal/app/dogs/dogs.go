package dogs

import (
	"context"
	"fmt"
	"strconv"
	"time"

	"patientfox/core/criteria"
	"patientfox/core/reinforce"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/store"
)

// readDog reads the form of a dog.
func (p *Cases) readDog(t form.Typed, today string) (store.Dog, error) {
	ps := form.Problems{}
	d := store.Dog{
		Name:      ps.Name("name", t["name"], "the dog"),
		Born:      t.Text("born"),
		Household: ps.Text("household", t["household"], criteria.MaxName),
		Flags:     ps.Text("flags", t["flags"], criteria.MaxText),
		Notes:     ps.Text("notes", t["notes"], criteria.MaxNote),
	}
	if d.Born != "" {
		born, err := time.Parse(app.DayLayout, d.Born)
		switch {
		case err != nil:
			ps.Add("born", "Write the date as year-month-day, such as 2024-05-30, or leave it empty.")
		case d.Born > today:
			ps.Add("born", "This day is still to come.")
		case born.Year() < 1990:
			ps.Add("born", "No dog is that old. Is the year right?")
		}
	}
	d.WeightKg = form.ReadKg(ps, t, "weight_kg")
	d.Feeding, d.Routine = "{}", store.JSON(readRoutine(ps, t))
	return d, ps.Err()
}

// AddDog adds a dog and returns its id.
func (p *Cases) AddDog(ctx context.Context, t form.Typed) (string, error) {
	s, err := p.Profile(ctx, p.Store.Read())
	if err != nil {
		return "", err
	}
	d, err := p.readDog(t, s.Day(p.Ms()))
	if err != nil {
		return "", err
	}
	food, chosen := reinforce.FindUsualFood(t.Text("food"))
	if !chosen && t.Text("food") != "" {
		return "", &form.Invalid{Problems: map[string]string{"food": "Choose one of the list."}}
	}
	return p.Once(ctx, t, func(q store.Q) (string, error) {
		d.ID, d.Made = app.NewID(), p.Ms()
		if err := q.AddDog(ctx, d); err != nil {
			return d.ID, err
		}
		if err := p.Weighed(ctx, q, d.ID, s.Day(p.Ms()), nil, d.WeightKg); err != nil || !chosen {
			return d.ID, err
		}
		return d.ID, q.AddReward(ctx, store.Reward{
			ID: app.NewID(), Dog: d.ID, Name: food.Name, Kind: string(reinforce.Food), Grams: food.Grams, Kcal: food.Kcal, Contains: "[]",
			NotAt: "[]", Made: p.Ms(),
		})
	})
}

// SaveDog changes a dog. Where somebody changed it meanwhile it answers with a Conflict that holds
// what it says now.
func (p *Cases) SaveDog(ctx context.Context, id string, t form.Typed) error {
	s, err := p.Profile(ctx, p.Store.Read())
	if err != nil {
		return err
	}
	d, err := p.readDog(t, s.Day(p.Ms()))
	if err != nil {
		return err
	}
	d.ID = id
	d.Version, _ = strconv.Atoi(t.Text("version"))
	return p.Store.Write(ctx, func(q store.Q) error {
		was, err := q.Dog(ctx, id)
		if err != nil {
			return app.Found(err)
		}
		ok, err := q.SetDog(ctx, d)
		if err == nil && !ok {
			return &form.Conflict{Now: typedDog(was)}
		}
		if err != nil {
			return err
		}
		return p.Weighed(ctx, q, id, s.Day(p.Ms()), was.WeightKg, d.WeightKg)
	})
}

func typedDog(d store.Dog) form.Typed {
	t := form.Typed{
		"name": d.Name, "born": d.Born, "household": d.Household, "flags": d.Flags, "notes": d.Notes, "version": strconv.Itoa(d.Version),
	}
	if d.WeightKg != nil {
		t["weight_kg"] = criteria.Figure(*d.WeightKg)
	}
	r, _ := app.RoutineOf(d)
	typedRoutine(t, r)
	return t
}

// DogForm returns a dog as its form shows it.
//
// What is wrong with what is kept comes beside it, by field.
func (p *Cases) DogForm(ctx context.Context, id string) (t form.Typed, wrong map[string]string, err error) {
	d, err := p.Store.Read().Dog(ctx, id)
	if err != nil {
		return nil, nil, app.Found(err)
	}
	if _, known := app.RoutineOf(d); !known {
		wrong = map[string]string{"per_week": app.BadRoutine}
	}
	return typedDog(d), wrong, nil
}

// DeleteDog puts a dog away, or brings it back. Its record stays.
func (p *Cases) DeleteDog(ctx context.Context, id string, away bool) error {
	return p.Away(ctx, away, func(q store.Q, at *int64) (bool, error) { return q.DeleteDog(ctx, id, at) })
}

// age writes a dog's age as trainers say it: weeks up to 16, months up to two years, then years.
func age(born, today string) string {
	b, err := time.Parse(app.DayLayout, born)
	t, err2 := time.Parse(app.DayLayout, today)
	if err != nil || err2 != nil || t.Before(b) {
		return ""
	}
	months := (t.Year()-b.Year())*12 + int(t.Month()) - int(b.Month())
	if t.Day() < b.Day() {
		months--
	}
	switch weeks := app.DaysBetween(born, today) / 7; {
	case weeks < 16:
		return fmt.Sprintf("%d weeks", weeks)
	case months < 24:
		return fmt.Sprintf("%d months", months)
	}
	return fmt.Sprintf("%d years", months/12)
}
