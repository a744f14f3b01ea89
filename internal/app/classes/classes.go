// Package classes has the use cases of programmes, and of the classes that work through them.
package classes

import (
	"context"
	"slices"
	"strings"
	"time"

	"patientfox/core/criteria"
	"patientfox/core/programme"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/store"
)

// Cases are the use cases of one practice. They are safe for concurrent use.
type Cases struct {
	*app.Practice
}

// New makes them for a practice.
func New(p *app.Practice) *Cases { return &Cases{Practice: p} }

// Bounds of a class.
const (
	MostDogs     = 24
	LeastMinutes = 15
	MostMinutes  = 180
	classesShown = 100
	dogField     = "dog_" // begins the names of the fields that tick a dog
)

// ProgrammeView is one programme as its page shows it.
type ProgrammeView struct {
	programme.Programme
	Rows []ProgrammeRow
	Own  bool        // of the practice
	Of   []app.Named // what a row can be of, with how many steps it has
	Form form.Typed  // of one of the practice's own
}

// ProgrammeRow is one skill of it: by week what is aimed at, in words; "" where it is not begun.
type ProgrammeRow struct {
	Skill, From string
	Aims        []string
}

// Numbers are the numbers of its weeks.
func (v ProgrammeView) Numbers() []int { return numbers(v.Weeks) }

func numbers(n int) []int {
	list := make([]int, n)
	for i := range list {
		list[i] = i + 1
	}
	return list
}

// Programme shows one.
func (p *Cases) Programme(ctx context.Context, key string) (v ProgrammeView, err error) {
	q := p.Store.Read()
	found, version, err := find(ctx, q, key)
	if err != nil {
		return v, err
	}
	s, err := p.Profile(ctx, q)
	if err != nil {
		return v, err
	}
	v.Programme, v.Own, v.Form = found, version > 0, typedProgramme(found, version)
	if v.Own {
		v.Of = skills()
	}
	for _, r := range found.Rows {
		row := ProgrammeRow{Skill: r.Skill, From: r.From}
		for week := range r.Aims {
			text := ""
			if aim, ok := r.Aim(week + 1); ok && (week == 0 || r.Aims[week] != r.Aims[week-1]) {
				text = s.Words().Short(aim)
			} else if ok {
				text = "as before"
			}
			row.Aims = append(row.Aims, text)
		}
		v.Rows = append(v.Rows, row)
	}
	return v, nil
}

// Row is a class in the list.
type Row struct {
	ID, Name, Programme string
	Dogs, Week, Weeks   int
	Start, Next         string // days in words; "" for no next meeting
}

// ListView is the page of all classes.
type ListView struct{ Classes []Row }

// Classes lists them.
func (p *Cases) Classes(ctx context.Context) (v ListView, err error) {
	q := p.Store.Read()
	s, err := p.Profile(ctx, q)
	if err != nil {
		return v, err
	}
	rows, err := q.Classes(ctx, classesShown)
	today := s.Day(p.Ms())
	for _, c := range rows {
		one, err := read(c, today)
		if err != nil {
			return v, err
		}
		v.Classes = append(v.Classes, Row{
			ID: c.ID, Name: c.Name, Programme: one.of.Name, Dogs: c.Dogs, Week: one.week, Weeks: one.of.Weeks,
			Start: app.ShortDay(c.Start, today), Next: one.next(today),
		})
	}
	return v, err
}

// class is a class as it was read.
type class struct {
	store.Class
	of   programme.Programme
	week int // of today, from 1; 0 before the first meeting
}

func read(c store.Class, today string) (class, error) {
	one := class{Class: c, week: programme.Week(app.DaysBetween(c.Start, today))}
	err := store.FromJSON(c.Programme, &one.of)
	return one, err
}

// day is the day of the meeting of a week, YYYY-MM-DD.
func (c class) day(week int) string {
	start, err := time.Parse(app.DayLayout, c.Start)
	if err != nil {
		return c.Start
	}
	return start.AddDate(0, 0, 7*(week-1)).Format(app.DayLayout)
}

// next is the day of the next meeting in words, today's among them; "" after the last.
func (c class) next(today string) string {
	for week := 1; week <= c.of.Weeks; week++ {
		if day := c.day(week); day >= today {
			return app.ShortDay(day, today)
		}
	}
	return ""
}

// Form is what a new class needs of its page.
type Form struct {
	Programmes []programme.Programme
	Dogs       []app.Named
	Today      string
}

// NewClass shows what a new one can be made of.
func (p *Cases) NewClass(ctx context.Context) (v Form, err error) {
	q := p.Store.Read()
	s, err := p.Profile(ctx, q)
	if err != nil {
		return v, err
	}
	dogs, err := q.Dogs(ctx, "", "", app.PlansLooked)
	for _, d := range dogs {
		v.Dogs = append(v.Dogs, app.Named{ID: d.ID, Name: d.Name})
	}
	if err != nil {
		return v, err
	}
	v.Today = s.Day(p.Ms())
	v.Programmes, err = p.Programmes(ctx)
	return v, err
}

// meets reads when and where a class meets.
func meets(ps form.Problems, t form.Typed) (c store.Class) {
	c.Name = ps.Name("name", t["name"], "the class")
	c.Start, c.At, c.Place = t.Text("start"), t.Text("at"), ps.Text("place", t["place"], criteria.MaxName)
	if _, err := time.Parse(app.DayLayout, c.Start); err != nil {
		ps.Add("start", "Give the day of the first meeting.")
	}
	if _, err := time.Parse("15:04", c.At); c.At != "" && err != nil {
		ps.Add("at", "Write the hour as 18:30.")
	}
	c.Minutes = ps.Whole(t, "minutes", LeastMinutes, MostMinutes, "From 15 to 180 minutes.")
	if t.Text("minutes") == "" {
		ps.Add("minutes", "How long is a meeting?")
	}
	return c
}

// ticked are the dogs whose fields are ticked, by id.
func ticked(t form.Typed) (ids []string) {
	for field := range t {
		if id, is := strings.CutPrefix(field, dogField); is && t.Text(field) != "" {
			ids = append(ids, id)
		}
	}
	slices.Sort(ids)
	return ids
}
