package store

import (
	"context"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"strings"

	"patientfox/core/record"
)

type eventRow struct {
	ID       []byte `db:"id"`
	Session  string `db:"session"`
	V        int    `db:"v"`
	Dev      string `db:"dev"`
	Seq      int64  `db:"seq"`
	T        int64  `db:"t"`
	Wall     int64  `db:"wall"`
	By       string `db:"by"`
	Handler  string `db:"handler"`
	Kind     string `db:"kind"`
	Data     string `db:"data"`
	Received int64  `db:"received"`
}

const eventColumns = `id, session, v, dev, seq, t, wall, by, handler, kind, data`

func blob(id string) ([]byte, error) { return hex.DecodeString(strings.ReplaceAll(id, "-", "")) }

func text(id []byte) string {
	if len(id) != 16 {
		return ""
	}
	return fmt.Sprintf("%x-%x-%x-%x-%x", id[0:4], id[4:6], id[6:8], id[8:10], id[10:16])
}

func (r eventRow) event() record.Event {
	return record.Event{
		V: r.V, ID: text(r.ID), Session: r.Session, Dev: r.Dev, Seq: r.Seq, T: r.T, Wall: r.Wall,
		By: r.By, Handler: r.Handler, Kind: record.Kind(r.Kind), Data: json.RawMessage(r.Data),
	}
}

// EnsureSession makes a session known and marks it for refolding.
func (q Q) EnsureSession(ctx context.Context, id string) error {
	_, err := q.exec(ctx, `INSERT INTO sessions (id, stale) VALUES (?, 1) ON CONFLICT (id) DO UPDATE SET stale = 1`, id)
	return err
}

// AddEvent stores one event once.
func (q Q) AddEvent(ctx context.Context, e record.Event, received int64) (record.Receipt, error) {
	id, err := blob(e.ID)
	if err != nil {
		return "", err
	}
	data := string(e.Data)
	if data == "" {
		data = "{}"
	}
	n, err := q.exec(ctx, `INSERT INTO events (`+eventColumns+
		`, received) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?) ON CONFLICT (id) DO NOTHING`,
		id, e.Session, e.V, e.Dev, e.Seq, e.T, e.Wall, e.By, e.Handler, string(e.Kind), data, received)
	if err != nil {
		return "", err
	}
	if n == 1 {
		return record.Stored, nil
	}
	var known eventRow
	if err := q.one(ctx, &known, `SELECT `+eventColumns+` FROM events WHERE id = ?`, id); err != nil {
		return "", err
	}
	e.Data = json.RawMessage(data)
	if record.Same(known.event(), e) {
		return record.Duplicate, nil
	}
	body, err := json.Marshal(e)
	if err != nil {
		return "", err
	}
	_, err = q.exec(ctx, `INSERT INTO events_aside (id, body, received) VALUES (?, ?, ?)`, id, string(body), received)
	return record.Conflict, err
}

// readable leaves out the events that a session is read without.
const readable = ` AND NOT EXISTS (SELECT 1 FROM left_out o WHERE o.event = events.id)`

// Events loads the log of a session as it came, without what it is read without.
func (q Q) Events(ctx context.Context, session string) ([]record.Event, error) {
	return q.events(ctx, `SELECT `+eventColumns+` FROM events WHERE session = ?`+readable+` ORDER BY pos`, session)
}

// AllEvents loads the whole log of a session as it came.
func (q Q) AllEvents(ctx context.Context, session string) ([]record.Event, error) {
	return q.events(ctx, `SELECT `+eventColumns+` FROM events WHERE session = ? ORDER BY pos`, session)
}

func (q Q) events(ctx context.Context, query, session string) ([]record.Event, error) {
	var rows []eventRow
	if err := q.many(ctx, &rows, query, session); err != nil {
		return nil, err
	}
	events := make([]record.Event, len(rows))
	for i, r := range rows {
		events[i] = r.event()
	}
	return events, nil
}

// EventsAfter loads what came of a session after a position, at most n; at is the last of their positions.
func (q Q) EventsAfter(ctx context.Context, session string, after int64, limit int) (events []record.Event, at int64, err error) {
	var rows []struct {
		eventRow
		Pos int64 `db:"pos"`
	}
	if err = q.many(ctx, &rows,
		`SELECT pos, `+eventColumns+` FROM events WHERE session = ? AND pos > ?`+readable+` ORDER BY pos LIMIT ?`, session, after,
		limit); err != nil {
		return nil, after, err
	}
	at = after
	for _, r := range rows {
		events, at = append(events, r.event()), r.Pos
	}
	return events, at, nil
}

// ZeroOf is the server's time at which a session's clock stood at zero, UTC ms, as nearly as what its first device
// sent can tell; ErrNone where nothing came.
func (q Q) ZeroOf(ctx context.Context, session string) (zero int64, err error) {
	err = q.one(ctx, &zero, `SELECT min(e.received - e.t) FROM events e WHERE e.session = ?
		AND e.dev = (SELECT o.dev FROM events o WHERE o.session = e.session AND o.kind = 'open' ORDER BY o.pos LIMIT 1)
		HAVING count(*) > 0`, session)
	return zero, err
}

// EventCount counts all events, and those set aside.
func (q Q) EventCount(ctx context.Context) (events, aside int, err error) {
	if err = q.one(ctx, &events, `SELECT count(*) FROM events`); err == nil {
		err = q.one(ctx, &aside, `SELECT count(*) FROM events_aside`)
	}
	return events, aside, err
}
