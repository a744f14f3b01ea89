package store

import (
	"context"

	"patientfox/core/record"
)

// Sessions are read anew in the background: what follows says which are behind, and keeps what could not be read.

// Behind counts the sessions whose rows are behind their events, and the plans whose standing is.
func (q Q) Behind(ctx context.Context) (sessions, plans int, err error) {
	if err = q.one(ctx, &sessions, `SELECT count(*) FROM sessions WHERE stale = 1`); err == nil {
		err = q.one(ctx, &plans, `SELECT count(*) FROM plans_behind WHERE why = ''`)
	}
	return sessions, plans, err
}

// StaleSessions lists sessions to be read: those with new events first, then those that an older fold read, dog by dog.
func (q Q) StaleSessions(ctx context.Context, fold, limit int) (ids []string, err error) {
	err = q.many(ctx, &ids, `SELECT id FROM sessions WHERE stale = 1 AND fold IN (0, ?) ORDER BY fold DESC, dog, opened LIMIT ?`, fold, limit)
	if err != nil || len(ids) > 0 {
		return ids, err
	}
	err = q.many(ctx, &ids, `SELECT id FROM sessions WHERE stale = 1 ORDER BY fold, dog, opened LIMIT ?`, limit)
	return ids, err
}

// StaleOfDog lists sessions to be read in which plans of a dog were worked.
func (q Q) StaleOfDog(ctx context.Context, dog string, limit int) (ids []string, err error) {
	err = q.many(ctx, &ids, `SELECT DISTINCT s.id FROM plans p CROSS JOIN session_plans sp ON sp.plan = p.id CROSS
		JOIN sessions s ON s.id = sp.session
		WHERE p.dog = ? AND s.stale = 1 ORDER BY s.id LIMIT ?`, dog, limit)
	return ids, err
}

// DogBehind tells whether anything that the plans of a dog depend on is still to be read, and whether the standing of one of
// them, "" for none, cannot be worked out.
func (q Q) DogBehind(ctx context.Context, dog, plan string) (behind, aside bool, err error) {
	var row struct {
		Behind bool `db:"behind"`
		Aside  bool `db:"aside"`
	}
	err = q.one(ctx, &row, `SELECT EXISTS (SELECT 1 FROM plans p CROSS JOIN plans_behind b ON b.plan = p.id WHERE p.dog = ? AND b.why = '')
		OR EXISTS (SELECT 1 FROM plans p CROSS JOIN session_plans sp ON sp.plan = p.id CROSS JOIN sessions s ON s.id = sp.session
		WHERE p.dog = ? AND s.stale = 1) AS behind,
		EXISTS (SELECT 1 FROM plans_behind b WHERE b.plan = ? AND b.why <> '') AS aside`, dog, dog, plan)
	return row.Behind, row.Aside, err
}

// PlansBehind lists plans whose standing is to be worked out and whose sessions have all been read; of one dog, or of
// all for "".
func (q Q) PlansBehind(ctx context.Context, dog string, limit int) (ids []string, err error) {
	err = q.many(ctx, &ids, `SELECT b.plan FROM plans_behind b WHERE b.why = '' AND (? = '' OR b.plan IN (SELECT id FROM plans WHERE dog = ?))
		AND NOT EXISTS (SELECT 1 FROM session_plans sp JOIN sessions s ON s.id = sp.session WHERE sp.plan = b.plan AND s.stale = 1)
		LIMIT ?`, dog, dog, limit)
	return ids, err
}

// PlanBehind says that a plan's standing, and that of the other tracks of its ladder, is behind.
func (q Q) PlanBehind(ctx context.Context, plan string) error {
	_, err := q.exec(ctx, `INSERT INTO plans_behind (plan) SELECT id FROM plans
		WHERE coalesce(twin_of, id) = (SELECT coalesce(twin_of, id) FROM plans WHERE id = ?)
		ON CONFLICT (plan) DO UPDATE SET why = ''`, plan)
	return err
}

// PlanStands says that a plan's standing is up to date; with why, that it cannot be worked out.
func (q Q) PlanStands(ctx context.Context, plan, why string) error {
	if why != "" {
		_, err := q.exec(ctx, `INSERT INTO plans_behind (plan, why) VALUES (?, ?) ON CONFLICT (plan) DO UPDATE SET why = excluded.why`, plan, why)
		return err
	}
	_, err := q.exec(ctx, `DELETE FROM plans_behind WHERE plan = ?`, plan)
	return err
}

// LastPos is the position of a session's newest event, 0 before the first.
func (q Q) LastPos(ctx context.Context, session string) (pos int64, err error) {
	err = q.one(ctx, &pos, `SELECT coalesce(max(pos), 0) FROM events WHERE session = ?`, session)
	return pos, err
}

// WorksOn keeps that a session has a block of a plan.
func (q Q) WorksOn(ctx context.Context, session, plan string) error {
	_, err := q.exec(ctx, `INSERT OR IGNORE INTO session_plans (plan, session) VALUES (?, ?)`, plan, session)
	return err
}

// PlansOfSession lists the plans that a session has blocks of.
func (q Q) PlansOfSession(ctx context.Context, session string) (ids []string, err error) {
	err = q.many(ctx, &ids, `SELECT plan FROM session_plans WHERE session = ? ORDER BY plan`, session)
	return ids, err
}

// ReadTo says how far the latest sessions of a plan have been read, archived ones among them.
func (q Q) ReadTo(ctx context.Context, plan string, limit int) (list []Session, err error) {
	err = q.many(ctx, &list,
		`SELECT s.id, s.read_to FROM session_plans sp JOIN sessions s ON s.id = sp.session WHERE sp.plan = ?
			ORDER BY s.opened DESC, s.id DESC LIMIT ?`,
		plan, limit)
	return list, err
}

// SetAside takes the derived rows of a session away that cannot be read, and says why; its events stay.
func (q Q) SetAside(ctx context.Context, session string, fold int, why string) error {
	for _, table := range derivedTables {
		if _, err := q.exec(ctx, `DELETE FROM `+table+` WHERE session = ?`, session); err != nil {
			return err
		}
	}
	_, err := q.exec(ctx, `UPDATE sessions SET stale = 0, fold = ?, unread = ? WHERE id = ?`, fold, why, session)
	return err
}

// LeaveOut keeps which events a session is read without, in place of those it was, and marks it for reading.
func (q Q) LeaveOut(ctx context.Context, session string, events []string) error {
	if _, err := q.exec(ctx, `DELETE FROM left_out WHERE session = ?`, session); err != nil {
		return err
	}
	for _, id := range events {
		raw, err := blob(id)
		if err != nil {
			return err
		}
		if _, err := q.exec(ctx, `INSERT INTO left_out (event, session) VALUES (?, ?)`, raw, session); err != nil {
			return err
		}
	}
	_, err := q.exec(ctx, `UPDATE sessions SET stale = 1 WHERE id = ?`, session)
	return err
}

// Unread is a session that is set aside, or a plan whose standing cannot be worked out.
type Unread struct {
	ID     string `db:"id"`
	Why    string `db:"why"`
	Dog    string `db:"dog"`    // its name, "" where that cannot be told
	Name   string `db:"name"`   // of a plan: its skill
	Opened int64  `db:"opened"` // of a session, UTC ms; 0 where that cannot be told
	Plan   bool   `db:"plan"`
}

// Unread lists them, the newest sessions first.
func (q Q) Unread(ctx context.Context, limit int) (list []Unread, err error) {
	err = q.many(ctx, &list, `SELECT s.id, s.unread AS why, coalesce(d.name, '') AS dog, '' AS name,
			coalesce((SELECT e.wall FROM events e WHERE e.session = s.id AND e.kind = 'open' ORDER BY e.pos LIMIT 1), s.opened) AS opened, 0 AS plan
			FROM sessions s LEFT JOIN dogs d ON d.id = coalesce((SELECT p.dog FROM session_plans sp JOIN plans p ON p.id = sp.plan
			WHERE sp.session = s.id LIMIT 1), s.dog)
			WHERE s.unread <> '' AND s.deleted IS NULL
		UNION ALL SELECT p.id, b.why, d.name, k.name, 0, 1 FROM plans_behind b JOIN plans p ON p.id = b.plan
		JOIN dogs d ON d.id = p.dog JOIN skills k ON k.id = p.skill
			WHERE b.why <> '' AND p.deleted IS NULL
		ORDER BY plan, opened DESC LIMIT ?`, limit)
	return list, err
}

// LogRow is one event as it was stored.
type LogRow struct {
	record.Event
	Pos  int64
	Left bool // the session is read without it
}

// LogPage lists a session's events from a position on, in the order in which they came.
func (q Q) LogPage(ctx context.Context, session string, after int64, limit int) (list []LogRow, err error) {
	var rows []struct {
		eventRow
		Pos  int64 `db:"pos"`
		Left bool  `db:"left"`
	}
	err = q.many(ctx, &rows, `SELECT pos, `+eventColumns+`, EXISTS (SELECT 1 FROM left_out o WHERE o.event = events.id) AS left
		FROM events WHERE session = ? AND pos > ? ORDER BY pos LIMIT ?`, session, after, limit)
	for _, r := range rows {
		list = append(list, LogRow{r.event(), r.Pos, r.Left})
	}
	return list, err
}

// EventsOf counts the events of a session, and those that it is read without.
func (q Q) EventsOf(ctx context.Context, session string) (all, left int, err error) {
	if err = q.one(ctx, &all, `SELECT count(*) FROM events WHERE session = ?`, session); err == nil {
		err = q.one(ctx, &left, `SELECT count(*) FROM left_out WHERE session = ?`, session)
	}
	return all, left, err
}
