package practice

import (
	"context"
	"strconv"
	"time"

	"patientfox/core/criteria"
	"patientfox/internal/store"
)

// usualSetback is how many steps a setback lowers the reached one, where nobody says otherwise.
const usualSetback = 2

// AddSetback logs that something forced the dog past its step, on a day, and lowers the reached step.
func (p *Practice) AddSetback(ctx context.Context, plan string, t Typed) error {
	q := p.store.Read()
	s, row, err := p.withPlan(ctx, q, plan)
	if err != nil {
		return err
	}
	ps := problems{}
	what := ps.text("what", t["what"], criteria.MaxText)
	if what == "" {
		ps.add("what", "Say what happened.")
	}
	steps := usualSetback
	if typed := t.Text("steps"); typed != "" {
		if steps, err = strconv.Atoi(typed); err != nil || steps < 1 || steps > 20 {
			ps.add("steps", "A whole number from 1 to 20.")
		}
	}
	now := p.now().In(s.zone)
	day := t.Text("day")
	if day == "" {
		day = now.Format(dayLayout)
	}
	at, err := time.ParseInLocation(dayLayout, day, s.zone)
	switch {
	case err != nil || day > now.Format(dayLayout):
		ps.add("day", "A day up to today, as year-month-day.")
	case day == now.Format(dayLayout):
		at = now
	default:
		at = at.AddDate(0, 0, 1).Add(-time.Millisecond) // after that day's sessions
	}
	if err := ps.err(); err != nil {
		return err
	}
	_, err = p.once(ctx, t, func(q store.Q) (string, error) {
		one := store.Setback{ID: NewID(), Plan: row.ID, Day: day, At: at.UnixMilli(), Steps: steps, What: what, Made: p.ms()}
		if err := q.AddSetback(ctx, one); err != nil {
			return "", err
		}
		return one.ID, p.stand(ctx, q, row.ID)
	})
	return err
}

// DeleteSetback takes one back; the dog then stands where its moves say.
func (p *Practice) DeleteSetback(ctx context.Context, id string) error {
	one, err := p.store.Read().Setback(ctx, id)
	if err != nil {
		return found(err)
	}
	return p.store.Write(ctx, func(q store.Q) error {
		at := p.ms()
		if there, err := q.DeleteSetback(ctx, id, &at); err != nil {
			return err
		} else if !there {
			return ErrNotFound
		}
		return p.stand(ctx, q, one.Plan)
	})
}
