// Package hands has the use cases of who handles a dog: whose level is a plan's.
package hands

import (
	"context"
	"slices"

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
