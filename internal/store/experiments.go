package store

import "context"

// Experiment is two ways of working a plan that are compared by chance.
type Experiment struct {
	ID    string `db:"id"`
	Plan  string `db:"plan"`
	WayA  string `db:"way_a"`
	WayB  string `db:"way_b"`
	Pairs int    `db:"pairs"`
	Each  int    `db:"each"`
	Seed  int64  `db:"seed"`
	Made  int64  `db:"made"`
	Ended *int64 `db:"ended"` // stopped before its end
}

// Experiments lists those of a plan, newest first.
func (q Q) Experiments(ctx context.Context, plan string, limit int) (list []Experiment, err error) {
	err = q.many(ctx, &list, `SELECT id, plan, way_a, way_b, pairs, each, seed, made, ended FROM experiments WHERE plan = ?
		ORDER BY made DESC, id DESC LIMIT ?`, plan, limit)
	return list, err
}

// AddExperiment writes one.
func (q Q) AddExperiment(ctx context.Context, e Experiment) error {
	return q.named(ctx, `INSERT INTO experiments (id, plan, way_a, way_b, pairs, each, seed, made)
		VALUES (:id, :plan, :way_a, :way_b, :pairs, :each, :seed, :made)`, e)
}

// EndExperiment stops one that is under way; it says whether there was one.
func (q Q) EndExperiment(ctx context.Context, id, plan string, at int64) (bool, error) {
	n, err := q.exec(ctx, `UPDATE experiments SET ended = ? WHERE id = ? AND plan = ? AND ended IS NULL`, at, id, plan)
	return n == 1, err
}
