package practice

import (
	"context"
	"encoding/json"
	"fmt"
	"time"

	"patientfox/core/evidence"
	"patientfox/core/library"
	"patientfox/core/lookback"
	"patientfox/core/phrase"
	"patientfox/core/record"
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
	var body library.Body
	if err := json.Unmarshal([]byte(plan.Body), &body); err != nil {
		return v, err
	}
	v.View = lookback.Read(log, f, body.Band, s.words())
	v.NextTime, err = nextTime(ctx, q, plan, s.day(p.ms()), s.words())
	return v, err
}

// nextTime says where the next session of a plan opens.
func nextTime(ctx context.Context, q store.Q, plan store.Plan, today string, words phrase.Words) (string, error) {
	list, err := loadPlans(ctx, q, []store.Plan{plan}, words)
	if err != nil {
		return "", err
	}
	l := list[0]
	at := l.reached()
	return fmt.Sprintf("Step %d: %s. ", at+1, words.Step(l.steps[at].Criteria)) + planRow(l, today).Start, nil
}

// reviewDevice logs what is corrected on the page of a session.
const reviewDevice = "review"

// Correct amends the outcome of a trial, as an event of its own: what was logged stays in the log.
func (p *Practice) Correct(ctx context.Context, session string, t Typed) error {
	outcome := evidence.Outcome(t.Text("outcome"))
	if !outcome.Valid() {
		return &Invalid{map[string]string{"outcome": "Choose one of the five outcomes."}}
	}
	q := p.store.Read()
	me, err := q.Practice(ctx)
	if err != nil {
		return err
	}
	events, err := q.Events(ctx, session)
	if err != nil {
		return err
	}
	seq, known := int64(1), false
	for _, e := range events {
		known = known || e.ID == t.Text("trial") && e.Kind == record.KTrial
		if e.Dev == reviewDevice {
			seq = max(seq, e.Seq+1)
		}
	}
	if !known {
		return ErrNotFound
	}
	draft := record.NewDraft(record.KAmend, record.Amend{
		Target: t.Text("trial"), Set: map[string]json.RawMessage{"outcome": json.RawMessage(encode(outcome))},
	})
	_, err = p.Receive(ctx, []record.Event{{
		V: record.Version, ID: NewID(), Session: session, Dev: reviewDevice, Seq: seq, Wall: p.ms(),
		By: me.Person, Handler: me.Person, Kind: draft.Kind, Data: draft.Data,
	}})
	return err
}

// DeleteSession puts a session away, or brings it back. Its events stay.
func (p *Practice) DeleteSession(ctx context.Context, id string, away bool) error {
	return p.away(ctx, away, func(q store.Q, at *int64) (bool, error) { return q.DeleteSession(ctx, id, at) })
}
