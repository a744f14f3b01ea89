package sessions

import (
	"context"
	"errors"

	"patientfox/core/pack"
	"patientfox/core/record"
	"patientfox/internal/app"
	"patientfox/internal/derive"
	"patientfox/internal/store"
)

// Joined is what a second device needs to come into a running session.
type Joined struct {
	Session string      `json:"session"`
	Dog     string      `json:"dog"`
	Plan    string      `json:"plan"` // that is worked now
	Packs   []pack.Pack `json:"packs"`
	Zero    int64       `json:"zero"` // the server's time at which the session's clock stood at zero, UTC ms
	Now     int64       `json:"now"`  // the server's time, UTC ms
	Ended   bool        `json:"ended"`
}

// Join lets a second device into a running session.
func (p *Cases) Join(ctx context.Context, session string) (j Joined, err error) {
	q := p.Store.Read()
	row, err := q.Session(ctx, session)
	if err != nil {
		return j, app.Found(err)
	}
	if row.Deleted != nil {
		return j, app.ErrNotFound
	}
	_, f, b, err := p.Fold(ctx, q, session)
	if err != nil {
		return j, err
	}
	j = Joined{Session: session, Now: p.Ms(), Ended: f.Ended != nil}
	if j.Zero, err = q.ZeroOf(ctx, session); errors.Is(err, store.ErrNone) || err == nil && f.At == nil {
		return j, app.ErrNotFound
	}
	if err != nil {
		return j, err
	}
	j.Plan = f.At.Plan
	for _, id := range workedIn(f) {
		pack, err := p.Pack(ctx, id)
		if err != nil {
			return j, err
		}
		j.Dog = b.Plans[id].DogName
		j.Packs = append(j.Packs, pack)
	}
	return j, nil
}

// Since is what came of a session since a position of the log.
type Since struct {
	Events  []record.Event `json:"events"`
	At      int64          `json:"at"`
	Deleted bool           `json:"deleted,omitempty"` // the session was put away; what comes is kept all the same
}

// EventsSince lets the devices of a session see each other's events.
func (p *Cases) EventsSince(ctx context.Context, session string, after int64) (s Since, err error) {
	q := p.Store.Read()
	row, err := q.Session(ctx, session)
	if errors.Is(err, store.ErrNone) {
		return Since{At: after}, nil // nothing of it has come yet
	}
	if err != nil {
		return s, err
	}
	s.Deleted = row.Deleted != nil
	s.Events, s.At, err = q.EventsAfter(ctx, session, after, derive.MaxBatch)
	return s, err
}
