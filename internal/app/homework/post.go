package homework

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"patientfox/core/criteria"
	"patientfox/core/say"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/exchange"
	"patientfox/internal/store"
)

// Post is the simulated post: what was sent to households and what came from them, the latest first. No letter leaves this machine.
type Post struct{ Out, In []Letter }

// Letter is one letter on its page.
type Letter struct {
	ID, Dog, DogName string
	Who              string // to or from whom
	Subject, Text    string
	Day              string
	In               bool
	Homework         bool   // it can be answered with lines, or has lines
	Entered          string // the day on which these were entered, "" for not yet
}

const (
	lettersShown = 100
	// postHost is the name behind each address; by RFC 2606 there is no such host.
	postHost = "post.invalid"
	school   = "school"
)

// Post lists the letters.
func (p *Cases) Post(ctx context.Context) (v Post, err error) {
	q := p.Store.Read()
	s, err := p.Profile(ctx, q)
	if err != nil {
		return v, err
	}
	rows, err := q.Letters(ctx, lettersShown)
	for _, l := range rows {
		if one := p.letter(s, l); one.In {
			v.In = append(v.In, one)
		} else {
			v.Out = append(v.Out, one)
		}
	}
	return v, err
}

// Letter is one of them.
func (p *Cases) Letter(ctx context.Context, id string) (v Letter, err error) {
	q := p.Store.Read()
	s, err := p.Profile(ctx, q)
	if err != nil {
		return v, err
	}
	l, err := q.LetterOf(ctx, id)
	return p.letter(s, l), app.Found(err)
}

func (p *Cases) letter(s app.Profile, l store.Letter) Letter {
	today := s.Day(p.Ms())
	v := Letter{
		ID: l.ID, Dog: l.Dog, DogName: l.DogName, Who: householdOr(l), Subject: l.Subject, Text: l.Text, Day: app.ShortDay(s.Day(l.Made), today),
		In: l.Box == store.BoxIn, Homework: l.Homework && l.Person != "",
	}
	if l.Entered != nil {
		v.Entered = app.ShortDay(s.Day(*l.Entered), today)
	}
	return v
}

func householdOr(l store.Letter) string {
	if l.Who == "" {
		return "the people of " + l.DogName
	}
	return l.Who
}

// LetterFile is a letter as a file.
func (p *Cases) LetterFile(ctx context.Context, id string) (raw []byte, err error) {
	l, err := p.Store.Read().LetterOf(ctx, id)
	return l.Raw, app.Found(err)
}

// PostSheet sends a sheet of homework to whom it was given, with the sheet as a file.
func (p *Cases) PostSheet(ctx context.Context, v View, file []byte) error {
	if v.With.ID == "" || len(v.Skills) == 0 {
		return form.Problems{"skills": "Choose what they work on."}.Err()
	}
	lines := []string{fmt.Sprintf("Homework for %s, %s.", v.Dog, app.ShortDay(v.Day, v.Day)), ""}
	if v.Line != "" {
		lines = append(lines, v.Line, "")
	}
	for _, one := range v.Skills {
		if one.Only {
			lines = append(lines, one.Name+": nothing to train for now. Keep it away, and call your trainer.")
			continue
		}
		lines = append(lines, one.Name+": "+one.Step+".")
	}
	such := strings.Trim(v.Such(), "“”")
	lines = append(lines, "", "The sheet is the file of this letter. Answer with a line for each round, such as:", such)
	return p.send(ctx, store.Letter{
		Dog: v.ID, Person: v.With.ID, Who: v.With.Name, Subject: "Homework: " + v.Dog, Text: strings.Join(lines, "\n"), Homework: true,
	}, exchange.Attached{Name: "homework " + v.Dog + ".html", Type: "text/html", Content: file})
}

// PostRecap sends the recap of a week to the dog's people, once a trainer has kept it.
func (p *Cases) PostRecap(ctx context.Context, dog, to string) error {
	v, err := p.Recap(ctx, dog, to, false)
	if err != nil {
		return err
	}
	if v.Kept == "" {
		return form.Problems{"praise": "Look it over and keep it first: it goes out as you leave it."}.Err()
	}
	lines := []string{v.Dog + ", " + v.Week}
	for _, text := range []string{v.Praise, v.Line} {
		if text != "" {
			lines = append(lines, "", text)
		}
	}
	for _, one := range v.Skills {
		if one.Text != "" {
			lines = append(lines, "", one.Name, one.Text)
		}
	}
	l := store.Letter{Dog: dog, Who: v.Household, Subject: "The week of " + v.Dog + ": " + v.Week, Text: strings.Join(lines, "\n")}
	return p.send(ctx, l)
}

// send puts a letter into the outbox.
func (p *Cases) send(ctx context.Context, l store.Letter, files ...exchange.Attached) error {
	return p.Store.Write(ctx, func(q store.Q) error {
		s, row, err := p.WithDog(ctx, q, l.Dog)
		if err != nil {
			return err
		}
		l.ID, l.Box, l.Made, l.MadeBy, l.DogName = app.NewID(), store.BoxOut, p.Ms(), s.By, row.Name
		l.Mail = l.ID + "@" + postHost
		to := exchange.Address{Name: say.Upper(householdOr(l)), Address: addressOf(l)}
		l.Raw, err = exchange.WriteLetter(exchange.Letter{
			ID: l.Mail, From: exchange.Address{Name: s.Name, Address: school + "@" + postHost}, To: to, Subject: l.Subject,
			At: time.UnixMilli(l.Made).In(s.Zone), Text: l.Text, Attached: files,
		})
		if err != nil {
			return err
		}
		_, err = q.AddLetter(ctx, l)
		return err
	})
}

func addressOf(l store.Letter) string {
	if l.Person != "" {
		return l.Person + "@" + postHost
	}
	return "people-of-" + l.Dog + "@" + postHost
}

// Answer writes what somebody would answer to a letter, in the field "text", and puts it into the inbox as it would arrive.
func (p *Cases) Answer(ctx context.Context, id string, t form.Typed) error {
	sent, err := p.Store.Read().LetterOf(ctx, id)
	if err != nil {
		return app.Found(err)
	}
	if sent.Box != store.BoxOut {
		return app.ErrNotFound
	}
	ps := form.Problems{}
	text := ps.Text("text", t["text"], criteria.MaxText)
	if text == "" {
		ps.Add("text", "Write what came of it.")
	}
	if err := ps.Err(); err != nil {
		return err
	}
	raw, err := exchange.WriteLetter(exchange.Letter{
		ID: app.NewID() + "@" + postHost, Answers: sent.Mail,
		From: exchange.Address{Name: say.Upper(householdOr(sent)), Address: addressOf(sent)},
		To:   exchange.Address{Name: school, Address: school + "@" + postHost}, Subject: "Re: " + sent.Subject, At: p.Now(),
		Text: text + "\n\nThe school wrote:\n> " + strings.ReplaceAll(sent.Text, "\n", "\n> "),
	})
	if err != nil {
		return err
	}
	return p.ReceiveLetter(ctx, raw)
}

// ReceiveLetter takes a letter that came, as a file: an answer to one that was sent from here. What is wrong with it is said beside the
// field "letter".
func (p *Cases) ReceiveLetter(ctx context.Context, raw []byte) error {
	bad := func(says string) error { return form.Problems{"letter": says}.Err() }
	got, err := exchange.ReadLetter(raw)
	if errors.Is(err, exchange.ErrNoLetter) {
		return bad("This is no letter: choose a file that ends in .eml.")
	}
	if err != nil {
		return err
	}
	if got.ID == "" || len(got.ID) > 250 {
		return bad("This letter has no name of its own, so it could come twice.")
	}
	return p.Store.Write(ctx, func(q store.Q) error {
		s, err := p.Profile(ctx, q)
		if err != nil {
			return err
		}
		sent, err := q.LetterSent(ctx, got.Answers)
		if errors.Is(app.Found(err), app.ErrNotFound) {
			return bad("This letter answers none that was sent from here.")
		}
		if err != nil {
			return err
		}
		ps := form.Problems{}
		subject, text := ps.Text("letter", got.Subject, MostLine), ps.Text("letter", got.Text, criteria.MaxText)
		if text == "" {
			ps.Add("letter", "This letter has no plain text that can be read.")
		}
		if err := ps.Err(); err != nil {
			return err
		}
		added, err := q.AddLetter(ctx, store.Letter{
			ID: app.NewID(), Box: store.BoxIn, Mail: got.ID, Answers: sent.ID, Dog: sent.Dog, Person: sent.Person, Subject: subject, Text: text,
			Raw: raw, Homework: sent.Homework, Made: p.Ms(), MadeBy: s.By,
		})
		if err == nil && !added {
			return bad("This letter is here already.")
		}
		return err
	})
}

// EnterLetter enters the lines of a letter that came, as they stand in the field "lines", as what its sender did at home; once.
func (p *Cases) EnterLetter(ctx context.Context, id string, t form.Typed) error {
	return p.Store.Write(ctx, func(q store.Q) error {
		l, err := q.LetterOf(ctx, id)
		if err != nil {
			return app.Found(err)
		}
		first, err := q.EnterLetter(ctx, id, p.Ms())
		if err != nil || !first {
			return err
		}
		return p.returned(ctx, q, l.Dog, form.Typed{"with": l.Person, "lines": t["lines"]}, store.CameByPost)
	})
}

// Lines are those of its text that may be entered: all that are not empty.
func (l Letter) Lines() string {
	lines := slices.DeleteFunc(strings.Split(l.Text, "\n"), func(line string) bool { return strings.TrimSpace(line) == "" })
	return strings.Join(lines, "\n")
}
