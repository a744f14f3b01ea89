// Package hands has the use cases of who handles a dog: whose level is a plan's.
package hands

import (
	"cmp"
	"context"
	"slices"

	"patientfox/core/pack"
	"patientfox/core/work"
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

// SaveMainHandler changes whose level is the plan's: somebody who has one of their own.
func (p *Cases) SaveMainHandler(ctx context.Context, plan string, t form.Typed) error {
	q := p.Store.Read()
	l, err := q.Plan(ctx, plan)
	if err != nil {
		return app.Found(err)
	}
	people, err := q.Handlers(ctx, plan)
	if err != nil {
		return err
	}
	ps, chosen := form.Problems{}, t.Text("main")
	at := slices.IndexFunc(people, func(one store.Handler) bool { return one.ID == chosen })
	switch {
	case at < 0:
		ps.Add("main", "Choose one of the list.")
	case people[at].StepAt < 0 && chosen != l.MainHandler:
		ps.Add("main", people[at].Name+" has not handled this yet: a first session sets their step.")
	}
	if err := ps.Err(); err != nil {
		return err
	}
	_, err = p.Once(ctx, t, func(q store.Q) (string, error) {
		if err := q.SetMainHandler(ctx, plan, chosen); err != nil {
			return "", err
		}
		return chosen, p.Stand(ctx, q, plan)
	})
	return err
}

// Show keeps that a trainer has shown a safety step to somebody: never to oneself, and never to a child.
func (p *Cases) Show(ctx context.Context, plan, by string, t form.Typed) error {
	q := p.Store.Read()
	s, l, err := p.LookIn(ctx, q, plan)
	if err != nil {
		return err
	}
	people, err := q.People(ctx)
	if err != nil {
		return err
	}
	by = cmp.Or(by, s.By)
	find := func(id string) (one store.Person, ok bool) {
		at := slices.IndexFunc(people, func(one store.Person) bool { return one.ID == id })
		if at < 0 {
			return one, false
		}
		return people[at], true
	}
	ps := form.Problems{}
	trainer, _ := find(by)
	who, known := find(t.Text("person"))
	switch {
	case trainer.Role != pack.RoleTrainer:
		ps.Add("person", "A trainer of the practice shows it: sign in as one.")
	case !known:
		ps.Add("person", "Choose one of the list.")
	case who.ID == by:
		ps.Add("person", "Nobody shows a step to themselves.")
	case who.Role == app.RoleChild:
		ps.Add("person", "A safety step is never opened to a child.")
	}
	step := t.Text("step")
	listed := step == pack.ReallyDone && work.Of(work.Kind(l.Kind)).HandsOn
	for _, one := range l.Steps {
		listed = listed || one.ID == step && one.Safety
	}
	if !listed {
		ps.Add("step", "Choose one of the list.")
	}
	if err := ps.Err(); err != nil {
		return err
	}
	_, err = p.Once(ctx, t, func(q store.Q) (string, error) {
		one := store.Shown{ID: app.NewID(), Plan: l.Main, Step: step, Person: who.ID, By: by, Day: s.Day(p.Ms()), Made: p.Ms()}
		return one.ID, q.AddShown(ctx, one)
	})
	return err
}

// Unshow takes back that a step was shown.
func (p *Cases) Unshow(ctx context.Context, id string) error {
	return p.Away(ctx, true, func(q store.Q, at *int64) (bool, error) { return q.DeleteShown(ctx, id, at) })
}
