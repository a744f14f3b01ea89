package practice

import (
	"context"
	"encoding/json"
	"fmt"
	"time"

	"patientfox/core/lookback"
	"patientfox/core/phrase"
	"patientfox/internal/store"
)

// ReviewView is the page of one session.
type ReviewView struct {
	lookback.View
	ID, Plan, Dog, DogID, Skill string
	Day, Place, Time            string
	Open                        bool
	Away                        bool
	NextTime                    string // where the next session opens
}

// Review shows one session.
func (p *Practice) Review(ctx context.Context, id string) (ReviewView, error) {
	return remember(ctx, p, "session "+id, func() (ReviewView, error) { return p.makeReview(ctx, id) })
}

func (p *Practice) makeReview(ctx context.Context, id string) (v ReviewView, err error) {
	q := p.store.Read()
	row, err := q.Session(ctx, id)
	if err != nil {
		return v, found(err)
	}
	log, f, b, err := fold(ctx, q, id)
	if err != nil {
		return v, err
	}
	if len(f.Blocks) == 0 {
		return v, ErrNotFound
	}
	s, err := p.settings(ctx, q)
	if err != nil {
		return v, err
	}
	places, err := q.Places(ctx)
	if err != nil {
		return v, err
	}
	plan, known := b.plans[f.Blocks[0].Plan]
	if !known {
		return v, ErrNotFound
	}
	at := time.UnixMilli(f.Wall).In(s.zone)
	v = ReviewView{
		ID: id, Plan: plan.ID, Dog: plan.DogName, DogID: plan.Dog, Skill: plan.SkillName, Day: at.Format("Monday 2 January"), Time: at.Format("15:04"),
		Open: f.Ended == nil, Away: row.Deleted != nil,
	}
	for _, one := range places {
		if one.ID == f.Place {
			v.Place = one.Name
		}
	}
	var body planBody
	if err := json.Unmarshal([]byte(plan.Body), &body); err != nil {
		return v, err
	}
	v.View = lookback.Read(log, f, body.Band)
	v.NextTime, err = nextTime(ctx, q, plan, s.day(p.ms()))
	return v, err
}

// nextTime says where the next session of a plan opens.
func nextTime(ctx context.Context, q store.Q, plan store.Plan, today string) (string, error) {
	list, err := loadPlans(ctx, q, []store.Plan{plan})
	if err != nil {
		return "", err
	}
	l := list[0]
	at := l.reached()
	return fmt.Sprintf("Step %d: %s. ", at+1, phrase.Step(l.steps[at].Criteria)) + planRow(l, today).Start, nil
}

// DeleteSession puts a session away, or brings it back. Its events stay.
func (p *Practice) DeleteSession(ctx context.Context, id string, away bool) error {
	return p.away(ctx, away, func(q store.Q, at *int64) (bool, error) { return q.DeleteSession(ctx, id, at) })
}
