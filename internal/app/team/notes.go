package team

import (
	"context"
	"fmt"
	"net/url"
	"slices"

	"patientfox/core/criteria"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/store"
)

// NoteRow is a note as lists show it.
type NoteRow struct {
	ID, Text    string
	About, Link string // what it is about, and the page of that
	By, To      string
	When        string
	Plan        string // "" for the dog as a whole
	whom        string
}

func noteRows(notes []store.Note, s app.Profile) (rows []NoteRow) {
	for _, n := range notes {
		rows = append(rows, noteRow(n, s))
	}
	return rows
}

func noteRow(n store.Note, s app.Profile) NoteRow {
	row := NoteRow{
		ID: n.ID, Text: n.Text, About: n.DogName, Link: "/dogs/" + n.Dog, By: n.By, When: s.Moment(n.Made), To: "all", Plan: n.Plan,
		whom: n.Whom,
	}
	if n.Whom != "" {
		row.To = n.To
	}
	if n.Plan != "" {
		row.About, row.Link = n.DogName+" · "+n.Skill, "/plans/"+n.Plan
	}
	switch {
	case n.Trial != "":
		row.About = fmt.Sprintf("%s, trial %d", row.About, n.Number)
		row.Link = "/sessions/" + n.Session + "?trial=" + url.QueryEscape(n.Trial) + "#correct"
	case n.Session != "":
		row.About, row.Link = row.About+", a session", "/sessions/"+n.Session
	}
	return row
}

// NewNote is the page on which a note is written.
type NewNote struct {
	About, Link string
	Staff       []app.Named
	Open        []NoteRow // on the same dog
}

// about is what a form's note is about: "dog", "plan", or "session" with "trial"; app.ErrNotFound where there is no such thing.
func about(ctx context.Context, q store.Q, t form.Typed) (n store.Note, err error) {
	n = store.Note{Dog: t.Text("dog"), Plan: t.Text("plan"), Session: t.Text("session"), Trial: t.Text("trial")}
	if n.Trial != "" {
		at, err := q.TrialPlace(ctx, n.Session, n.Trial)
		if err != nil {
			return n, app.Found(err)
		}
		n.Plan, n.Number = at.Plan, at.Number
	} else if n.Session != "" {
		row, err := q.Session(ctx, n.Session)
		if err != nil {
			return n, app.Found(err)
		}
		n.Dog, n.Plan = row.Dog, ""
	}
	if n.Plan != "" {
		l, err := q.Plan(ctx, n.Plan)
		if err != nil {
			return n, app.Found(err)
		}
		n.Dog, n.DogName, n.Skill = l.Dog, l.DogName, l.SkillName
		return n, nil
	}
	d, err := q.Dog(ctx, n.Dog)
	n.DogName = d.Name
	return n, app.Found(err)
}

// NewNote shows the form of a note on what the address names.
func (p *Cases) NewNote(ctx context.Context, t form.Typed) (v NewNote, err error) {
	q := p.Store.Read()
	s, err := p.Profile(ctx, q)
	if err != nil {
		return v, err
	}
	n, err := about(ctx, q, t)
	if err != nil {
		return v, err
	}
	row := noteRow(n, s)
	v.About, v.Link = row.About, row.Link
	if v.Staff, err = staff(ctx, q); err != nil {
		return v, err
	}
	v.Staff = slices.DeleteFunc(v.Staff, func(one app.Named) bool { return one.ID == s.By })
	open, err := q.NotesOfDog(ctx, n.Dog, mostNotes)
	v.Open = noteRows(open, s)
	return v, err
}

// AddNote keeps a note: "text", to "whom" of the staff or to all.
func (p *Cases) AddNote(ctx context.Context, t form.Typed) error {
	_, err := p.Once(ctx, t, func(q store.Q) (string, error) {
		s, err := p.Profile(ctx, q)
		if err != nil {
			return "", err
		}
		n, err := about(ctx, q, t)
		if err != nil {
			return "", err
		}
		ps := form.Problems{}
		n.ID, n.Made, n.MadeBy, n.Whom = app.NewID(), p.Ms(), s.By, t.Text("whom")
		if n.Text = ps.Text("text", t["text"], criteria.MaxText); n.Text == "" && len(ps) == 0 {
			ps.Add("text", "Write what they should know.")
		}
		people, err := staff(ctx, q)
		if err != nil {
			return "", err
		}
		if n.Whom != "" && !slices.ContainsFunc(people, func(one app.Named) bool { return one.ID == n.Whom }) {
			ps.Add("whom", "Choose one of the list.")
		}
		if err := ps.Err(); err != nil {
			return "", err
		}
		return n.ID, q.AddNote(ctx, n)
	})
	return err
}

// EndNote says that a note was dealt with, or takes that back.
func (p *Cases) EndNote(ctx context.Context, id string, done bool) error {
	return p.Away(ctx, done, func(q store.Q, at *int64) (bool, error) {
		s, err := p.Profile(ctx, q)
		if err != nil {
			return false, err
		}
		by := ""
		if done {
			by = s.By
		}
		return q.SetNoteDone(ctx, id, by, at)
	})
}

// NotesOn lists the open notes on a dog and its plans.
func (p *Cases) NotesOn(ctx context.Context, dog string) ([]NoteRow, error) {
	q := p.Store.Read()
	s, err := p.Profile(ctx, q)
	if err != nil {
		return nil, err
	}
	open, err := q.NotesOfDog(ctx, dog, mostNotes)
	return noteRows(open, s), err
}
