// Package team is a day with others: who works which dog, what colleagues tell each other, and what a stand-in is handed.
package team

import (
	"context"
	"slices"
	"strings"
	"time"

	"patientfox/core/pack"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/store"
)

// Cases are the use cases of people who work together.
type Cases struct {
	*app.Practice
}

// New makes them of a practice.
func New(p *app.Practice) *Cases { return &Cases{p} }

// Bounds of the page.
const (
	mostDogs  = 300
	mostNotes = 100
	mostDone  = 20
)

// View is a day of the team.
type View struct {
	Day, Label, Before, After string // YYYY-MM-DD, as it is said, and the days beside it
	Staff                     []app.Named
	Dogs                      []DogRow
	Notes, Done               []NoteRow
}

// Typed is what the form of a day shows.
func (v View) Typed() form.Typed {
	t := form.Typed{"day": v.Day}
	for _, d := range v.Dogs {
		t["dog_"+d.ID], t["was_"+d.ID] = d.With, d.With
	}
	return t
}

// Handed lists who works a dog on the day, those with the most first.
func (v View) Handed() (list []app.Named) {
	dogs := map[string][]string{}
	for _, d := range v.Dogs {
		if d.With != "" {
			dogs[d.With] = append(dogs[d.With], d.Name)
		}
	}
	for _, one := range v.Staff {
		if len(dogs[one.ID]) > 0 {
			list = append(list, app.Named{ID: one.ID, Name: one.Name + ": " + strings.Join(dogs[one.ID], ", ")})
		}
	}
	return list
}

// DogRow is a dog of the day.
type DogRow struct {
	ID, Name string
	Sessions int    // planned for it, but for the household's
	With     string // who works it, "" for nobody in particular
}

// Field is the form's field of it.
func (d DogRow) Field() string { return "dog_" + d.ID }

// Team shows a day (YYYY-MM-DD), today for "".
func (p *Cases) Team(ctx context.Context, day string) (v View, err error) {
	q := p.Store.Read()
	s, err := p.Profile(ctx, q)
	if err != nil {
		return v, err
	}
	at, err := p.dayOf(s, day)
	if err != nil {
		return v, err
	}
	v = View{
		Day: at.Format(app.DayLayout), Label: at.Format("Monday 2 January"),
		Before: at.AddDate(0, 0, -1).Format(app.DayLayout), After: at.AddDate(0, 0, 1).Format(app.DayLayout),
	}
	if v.Staff, err = staff(ctx, q); err != nil {
		return v, err
	}
	dogs, err := q.DogDays(ctx, v.Day, mostDogs)
	if err != nil {
		return v, err
	}
	for _, d := range dogs {
		v.Dogs = append(v.Dogs, DogRow{d.ID, d.Name, d.Sessions, d.With})
	}
	open, err := q.OpenNotes(ctx, mostNotes)
	if err != nil {
		return v, err
	}
	done, err := q.DoneNotes(ctx, mostDone)
	v.Notes, v.Done = noteRows(open, s), noteRows(done, s)
	return v, err
}

// dayOf is a day as a moment where the practice is; app.ErrNotFound where it is none.
func (p *Cases) dayOf(s app.Profile, day string) (time.Time, error) {
	if day == "" {
		day = s.Day(p.Ms())
	}
	at, err := time.ParseInLocation(app.DayLayout, day, s.Zone)
	if err != nil {
		return at, app.ErrNotFound
	}
	return at, nil
}

// staff lists who works dogs for the practice: trainers and helpers.
func staff(ctx context.Context, q store.Q) (list []app.Named, err error) {
	people, err := q.People(ctx)
	for _, one := range people {
		if pack.WorksDogs(one.Role) {
			list = append(list, app.Named{ID: one.ID, Name: one.Name})
		}
	}
	return list, err
}

// Assign keeps who works which dog on a day: "dog_" and its id hold the person's, "was_" and its id what the form showed. What somebody
// else changed meanwhile is a form.Conflict, and nothing is kept then.
func (p *Cases) Assign(ctx context.Context, t form.Typed) error {
	s, err := p.Profile(ctx, p.Store.Read())
	if err != nil {
		return err
	}
	at, err := p.dayOf(s, t.Text("day"))
	if err != nil {
		return err
	}
	day := at.Format(app.DayLayout)
	_, err = p.Once(ctx, t, func(q store.Q) (string, error) {
		people, err := staff(ctx, q)
		if err != nil {
			return "", err
		}
		dogs, err := q.DogDays(ctx, day, mostDogs)
		if err != nil {
			return "", err
		}
		now, ps := form.Typed{}, form.Problems{}
		for _, d := range dogs {
			typed, shown := t["dog_"+d.ID]
			if !shown || typed == t["was_"+d.ID] || typed == d.With {
				continue
			}
			if typed != "" && !slices.ContainsFunc(people, func(one app.Named) bool { return one.ID == typed }) {
				ps.Add("dog_"+d.ID, "Choose one of the list.")
				continue
			}
			if d.With != t["was_"+d.ID] {
				now["dog_"+d.ID], now["was_"+d.ID] = nameOf(people, d.With), d.With
				continue
			}
			if err := q.Assign(ctx, store.Assignment{Dog: d.ID, Day: day, Person: typed}); err != nil {
				return "", err
			}
		}
		if err := ps.Err(); err != nil {
			return "", err
		}
		if len(now) > 0 {
			return "", &form.Conflict{Now: now}
		}
		return day, nil
	})
	return err
}

func nameOf(people []app.Named, id string) string {
	for _, one := range people {
		if one.ID == id {
			return one.Name
		}
	}
	return "nobody"
}
