package plans

import (
	"context"
	"strconv"
	"time"

	"patientfox/core/criteria"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/store"
)

// AddSetback logs that something forced the dog past its step, on a day, and lowers the reached step.
func (p *Cases) AddSetback(ctx context.Context, plan string, t form.Typed) error {
	q := p.Store.Read()
	s, row, err := p.WithPlan(ctx, q, plan)
	if err != nil {
		return err
	}
	ps := form.Problems{}
	what := ps.Text("what", t["what"], criteria.MaxText)
	if what == "" {
		ps.Add("what", "Say what happened.")
	}
	steps := app.UsualSetback
	if typed := t.Text("steps"); typed != "" {
		if steps, err = strconv.Atoi(typed); err != nil || steps < 1 || steps > 20 {
			ps.Add("steps", "A whole number from 1 to 20.")
		}
	}
	now := p.Now().In(s.Zone)
	day := t.Text("day")
	if day == "" {
		day = now.Format(app.DayLayout)
	}
	at, err := time.ParseInLocation(app.DayLayout, day, s.Zone)
	switch {
	case err != nil || day > now.Format(app.DayLayout):
		ps.Add("day", "A day up to today, as year-month-day.")
	case day == now.Format(app.DayLayout):
		at = now
	default:
		at = at.AddDate(0, 0, 1).Add(-time.Millisecond) // after that day's sessions
	}
	if err := ps.Err(); err != nil {
		return err
	}
	_, err = p.Once(ctx, t, func(q store.Q) (string, error) {
		one := store.Setback{ID: app.NewID(), Plan: row.ID, Day: day, At: at.UnixMilli(), Steps: steps, What: what, Made: p.Ms()}
		if err := q.AddSetback(ctx, one); err != nil {
			return "", err
		}
		return one.ID, p.Stand(ctx, q, row.ID)
	})
	return err
}

// DeleteSetback takes one back; the dog is then where its moves say.
func (p *Cases) DeleteSetback(ctx context.Context, id string) error {
	one, err := p.Store.Read().Setback(ctx, id)
	if err != nil {
		return app.Found(err)
	}
	return p.Store.Write(ctx, func(q store.Q) error {
		at := p.Ms()
		if there, err := q.DeleteSetback(ctx, id, &at); err != nil {
			return err
		} else if !there {
			return app.ErrNotFound
		}
		return p.Stand(ctx, q, one.Plan)
	})
}
