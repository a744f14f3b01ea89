package store

import "context"

// Setback is something that forced a dog past its step. It lowers the reached step.
type Setback struct {
	ID    string `db:"id"`
	Plan  string `db:"plan"`
	Day   string `db:"day"` // YYYY-MM-DD
	At    int64  `db:"at"`  // UTC Unix ms: its place among the sessions
	Steps int    `db:"steps"`
	What  string `db:"what"`
	Made  int64  `db:"made"`
}

// Setbacks lists those of a plan in their order.
func (q Q) Setbacks(ctx context.Context, plan string) (list []Setback, err error) {
	err = q.many(ctx, &list,
		`SELECT id, plan, day, at, steps, what, made FROM setbacks WHERE plan = ? AND deleted IS NULL ORDER BY at, made, id`, plan)
	return list, err
}

// Setback loads one, deleted or not.
func (q Q) Setback(ctx context.Context, id string) (s Setback, err error) {
	err = q.one(ctx, &s, `SELECT id, plan, day, at, steps, what, made FROM setbacks WHERE id = ?`, id)
	return s, err
}

// AddSetback writes one.
func (q Q) AddSetback(ctx context.Context, s Setback) error {
	return q.named(ctx, `INSERT INTO setbacks (id, plan, day, at, steps, what, made) VALUES (:id, :plan, :day, :at, :steps, :what, :made)`, s)
}

// DeleteSetback marks one deleted at a time, or brings it back with nil.
func (q Q) DeleteSetback(ctx context.Context, id string, at *int64) (bool, error) {
	n, err := q.exec(ctx, `UPDATE setbacks SET deleted = ? WHERE id = ?`, at, id)
	return n == 1, err
}
