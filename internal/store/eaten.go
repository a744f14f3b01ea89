package store

import "context"

// Eaten is food beside sessions.
type Eaten struct {
	ID      string  `db:"id"`
	Dog     string  `db:"dog"`
	Day     string  `db:"day"`
	Kind    string  `db:"kind"`
	What    string  `db:"what"`
	Reward  string  `db:"reward"`
	From    *int    `db:"from_"` // minutes from midnight
	Until   *int    `db:"until"`
	Pieces  int     `db:"pieces"`
	Kcal    float64 `db:"kcal"`
	Made    int64   `db:"made"`
	Deleted *int64  `db:"deleted"`
}

// EatenOn lists what the dogs named ate beside sessions from one day to another.
func (q Q) EatenOn(ctx context.Context, dogs []string, from, to string) (list []Eaten, err error) {
	if len(dogs) == 0 {
		return nil, nil
	}
	err = q.in(ctx, &list, `SELECT id, dog, day, kind, what, reward, from_, until, pieces, kcal, made, deleted FROM eaten
		WHERE dog IN (?) AND day BETWEEN ? AND ? AND deleted IS NULL ORDER BY dog, day, coalesce(from_, 0), made, id`, dogs, from, to)
	return list, err
}

// AddEaten writes one.
func (q Q) AddEaten(ctx context.Context, e Eaten) error {
	return q.named(ctx, `INSERT INTO eaten (id, dog, day, kind, what, reward, from_, until, pieces, kcal, made)
		VALUES (:id, :dog, :day, :kind, :what, :reward, :from_, :until, :pieces, :kcal, :made)`, e)
}

// DeleteEaten marks one deleted at a time, or brings it back with nil.
func (q Q) DeleteEaten(ctx context.Context, id string, at *int64) (bool, error) {
	n, err := q.exec(ctx, `UPDATE eaten SET deleted = ? WHERE id = ?`, at, id)
	return n == 1, err
}

// FedDay is what a dog was paid in the sessions of a day with one reward.
type FedDay struct {
	Dog     string `db:"dog"`
	Day     string `db:"day"`
	Session string `db:"session"`
	Skill   string `db:"skill"` // of the session's first block
	Opened  int64  `db:"opened"`
	Reward  string `db:"reward"`
	Pays    int    `db:"pays"`
	Pieces  int    `db:"pieces"`
}

// FedOn adds up what was paid in the sessions of the dogs named from one day to another, session by session.
func (q Q) FedOn(ctx context.Context, dogs []string, from, to string) (list []FedDay, err error) {
	if len(dogs) == 0 {
		return nil, nil
	}
	err = q.in(ctx, &list, `SELECT s.dog, s.day, s.id AS session, coalesce(k.name, '') AS skill, s.opened, f.reward, sum(f.pays) AS pays, sum(f.pieces) AS pieces
		FROM sessions s JOIN fed f ON f.session = s.id LEFT JOIN blocks b ON b.session = s.id AND b.ord = 0 LEFT JOIN skills k ON k.id = b.skill
		WHERE s.dog IN (?) AND s.day BETWEEN ? AND ? AND s.deleted IS NULL GROUP BY s.id, f.reward ORDER BY s.dog, s.opened, s.id, f.reward`, dogs, from, to)
	return list, err
}
