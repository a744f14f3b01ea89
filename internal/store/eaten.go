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

// Ate is something that a dog ate on a day: what it was paid in a session with one reward, or food beside sessions.
type Ate struct {
	Dog     string  `db:"dog"`
	Day     string  `db:"day"`
	Session string  `db:"session"` // "" beside sessions
	What    string  `db:"what"`    // the skill of the session's first block, or what was eaten
	Opened  int64   `db:"opened"`  // UTC Unix ms, of a session
	Reward  string  `db:"reward"`
	Pieces  int     `db:"pieces"`
	Extra   bool    `db:"extra"` // on top of meals, as its plan says
	ID      string  `db:"id"`    // beside sessions
	From    *int    `db:"from_"` // likewise, minutes from midnight
	Until   *int    `db:"until"`
	Kcal    float64 `db:"kcal"` // likewise
}

// AteOn lists what the dogs named ate from one day to another, session by session and beside them.
func (q Q) AteOn(ctx context.Context, dogs []string, from, to string) (list []Ate, err error) {
	if len(dogs) == 0 {
		return nil, nil
	}
	err = q.in(ctx, &list, `SELECT s.dog, s.day, s.id AS session, coalesce(k.name, '') AS what, s.opened, f.reward, sum(f.pieces) AS pieces,
			coalesce(json_extract(v.body, '$.pay.extra'), 0) AS extra, '' AS id, NULL AS from_, NULL AS until, 0.0 AS kcal
		FROM sessions s JOIN fed f ON f.session = s.id LEFT JOIN blocks b ON b.session = s.id AND b.ord = 0 LEFT JOIN skills k ON k.id = b.skill
		LEFT JOIN blocks own ON own.id = f.block LEFT JOIN plans p ON p.id = own.plan LEFT JOIN plans m ON m.id = coalesce(p.twin_of, p.id)
		LEFT JOIN plan_versions v ON v.plan = m.id AND v.version = m.version
		WHERE s.dog IN (?) AND s.day BETWEEN ? AND ? AND s.deleted IS NULL GROUP BY s.id, f.reward, extra
		UNION ALL
		SELECT dog, day, '', what, 0, reward, pieces, 0, id, from_, until, kcal FROM eaten WHERE dog IN (?)
		AND day BETWEEN ? AND ? AND deleted IS NULL
		ORDER BY 1, 2, 5, 10, 9, 6`, dogs, from, to, dogs, from, to)
	return list, err
}
