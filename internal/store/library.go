package store

import (
	"context"
	"encoding/json"
	"errors"
)

// Template is a template of the practice's own, as JSON.
type Template struct {
	ID   string `db:"id"`
	Name string `db:"name"`
	Kind string `db:"kind"`
	Body string `db:"body"`
	Made int64  `db:"made"`
}

// Templates lists the practice's own templates by name.
func (q Q) Templates(ctx context.Context) (list []Template, err error) {
	err = q.many(ctx, &list, `SELECT id, name, kind, body, made FROM templates WHERE deleted IS NULL ORDER BY name, id LIMIT 500`)
	return list, err
}

// AddTemplate writes a template of the practice's own.
func (q Q) AddTemplate(ctx context.Context, t Template) error {
	return q.named(ctx, `INSERT INTO templates (id, name, kind, body, made) VALUES (:id, :name, :kind, :body, :made)`, t)
}

// DeleteTemplate marks a template deleted at a time, or brings it back with nil.
func (q Q) DeleteTemplate(ctx context.Context, id string, at *int64) (bool, error) {
	n, err := q.exec(ctx, `UPDATE templates SET deleted = ? WHERE id = ?`, at, id)
	return n == 1, err
}

// OwnDimension is a dimension of the practice's own, as JSON.
type OwnDimension struct {
	Key  string `db:"key"`
	Body string `db:"body"`
	Made int64  `db:"made"`
}

// Dimensions lists the practice's own dimensions, oldest first.
func (q Q) Dimensions(ctx context.Context) (list []OwnDimension, err error) {
	err = q.many(ctx, &list, `SELECT key, body, made FROM dimensions WHERE deleted IS NULL ORDER BY made, key`)
	return list, err
}

// SetDimension writes a dimension of the practice's own, new or changed.
func (q Q) SetDimension(ctx context.Context, d OwnDimension) error {
	return q.named(ctx, `INSERT INTO dimensions (key, body, made) VALUES (:key, :body, :made)
		ON CONFLICT (key) DO UPDATE SET body = excluded.body, deleted = NULL, version = version + 1`, d)
}

// DeleteDimension marks a dimension deleted at a time, or brings it back with nil. Steps that use it
// keep it.
func (q Q) DeleteDimension(ctx context.Context, key string, at *int64) (bool, error) {
	n, err := q.exec(ctx, `UPDATE dimensions SET deleted = ? WHERE key = ?`, at, key)
	return n == 1, err
}

// Breach is something that happened between sessions against a plan's management.
type Breach struct {
	ID   string `db:"id"`
	Plan string `db:"plan"`
	Day  string `db:"day"` // YYYY-MM-DD
	What string `db:"what"`
	Note string `db:"note"`
	Made int64  `db:"made"`
}

// Beside is what is told of a plan beside its sessions.
type Beside struct {
	Breaches []Breach // newest first
	Notes    []Note   // to colleagues and open, newest first
}

// BesidePlan lists it, at most so many of each. Breaches are of the plan whose ladder it climbs.
func (q Q) BesidePlan(ctx context.Context, plan, main string, limit int) (b Beside, err error) {
	var row struct {
		Breaches string `db:"breaches"`
		Notes    string `db:"notes"`
	}
	err = q.one(ctx, &row, `SELECT
		(SELECT json_group_array(json_object('ID', id, 'Plan', plan, 'Day', day, 'What', what, 'Note', note, 'Made', made)) FROM (SELECT *
			FROM breaches WHERE plan = ? AND deleted IS NULL ORDER BY day DESC, made DESC LIMIT ?)) AS breaches,
		(SELECT json_group_array(json_object('ID', id, 'Text', text, 'By', by_name, 'To', to_name)) FROM (`+noteSelect+`
			AND n.plan = ? AND n.done IS NULL ORDER BY n.made DESC, n.id LIMIT ?)) AS notes`, main, limit, plan, limit)
	if err == nil {
		err = errors.Join(json.Unmarshal([]byte(row.Breaches), &b.Breaches), json.Unmarshal([]byte(row.Notes), &b.Notes))
	}
	return b, err
}

// AddBreach writes one.
func (q Q) AddBreach(ctx context.Context, b Breach) error {
	return q.named(ctx, `INSERT INTO breaches (id, plan, day, what, note, made) VALUES (:id, :plan, :day, :what, :note, :made)`, b)
}

// DeleteBreach marks one deleted at a time, or brings it back with nil.
func (q Q) DeleteBreach(ctx context.Context, id string, at *int64) (bool, error) {
	n, err := q.exec(ctx, `UPDATE breaches SET deleted = ? WHERE id = ?`, at, id)
	return n == 1, err
}
