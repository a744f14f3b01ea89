package store

import "context"

// Recap is what a dog's people are told of a week.
type Recap struct {
	Dog     string `db:"dog"`
	Day     string `db:"day"` // YYYY-MM-DD, the last of the week
	Praise  string `db:"praise"`
	Line    string `db:"line"`   // from the trainer
	Skills  string `db:"skills"` // JSON: what is said of each plan
	Version int    `db:"version"`
	Made    int64  `db:"made"`
	MadeBy  string `db:"made_by"`
}

// RecapsOf lists those of a dog, the latest week first.
func (q Q) RecapsOf(ctx context.Context, dog string) (list []Recap, err error) {
	err = q.many(ctx, &list, `SELECT dog, day, praise, line, skills, version, made, made_by FROM recaps WHERE dog = ? ORDER BY day DESC`, dog)
	return list, err
}

// SetRecap keeps one where the one before it, if any, is still at r.Version, 0 for none; it says whether it was.
func (q Q) SetRecap(ctx context.Context, r Recap) (bool, error) {
	n, err := q.exec(ctx, `INSERT INTO recaps (dog, day, praise, line, skills, made, made_by) SELECT ?, ?, ?, ?, ?, ?, ? WHERE ? = 0
			OR EXISTS (SELECT 1 FROM recaps WHERE dog = ? AND day = ?)
		ON CONFLICT (dog, day) DO UPDATE SET praise = excluded.praise, line = excluded.line, skills = excluded.skills,
			made = excluded.made, made_by = excluded.made_by, version = version + 1 WHERE version = ?`,
		r.Dog, r.Day, r.Praise, r.Line, r.Skills, r.Made, r.MadeBy, r.Version, r.Dog, r.Day, r.Version)
	return n == 1, err
}

// PlanWork is how much a plan was worked in a week, with what came between; of the plan "" it has what else is new with the dog.
type PlanWork struct {
	Plan     string  `db:"plan"`
	Sessions int     `db:"sessions"`
	Logged   int     `db:"logged"`
	Active   float64 `db:"active"` // s
	Growls   int     `db:"growls"` // and snaps
	News     string  `db:"news"`   // setbacks, a line each; of the plan "" the rewards that were added
	Before   bool    `db:"before"` // it was worked before the week
	Fell     int     `db:"fell"`   // steps that setbacks took since the week
}

// WeekOf adds up the work on the plans of a dog from one day to another, both YYYY-MM-DD and in it. The rewards are those made between two
// moments, UTC ms, the later not in it.
func (q Q) WeekOf(ctx context.Context, dog, from, to string, after, before int64) (list []PlanWork, err error) {
	err = q.many(ctx, &list, `SELECT l.id AS plan, count(DISTINCT s.id) AS sessions,
			coalesce(sum(b.logged) FILTER (WHERE s.id IS NOT NULL), 0) AS logged,
			coalesce(sum(b.active) FILTER (WHERE s.id IS NOT NULL), 0.0) AS active,
			coalesce(sum(b.growls) FILTER (WHERE s.id IS NOT NULL), 0) AS growls,
			coalesce((SELECT group_concat(what, char(10)) FROM setbacks k WHERE k.plan = l.id AND k.deleted IS NULL
				AND k.day BETWEEN ? AND ?), '') AS news,
			EXISTS (SELECT 1 FROM blocks e JOIN sessions es ON es.id = e.session WHERE e.plan = l.id AND es.deleted IS NULL AND es.day < ?)
				AS before,
			coalesce((SELECT sum(steps) FROM setbacks f WHERE f.plan = l.id AND f.deleted IS NULL AND f.day > ?), 0) AS fell
		FROM plans l LEFT JOIN blocks b ON b.plan = l.id
			LEFT JOIN sessions s ON s.id = b.session AND s.deleted IS NULL AND s.day BETWEEN ? AND ?
		WHERE l.dog = ? GROUP BY l.id
		UNION ALL SELECT '', 0, 0, 0.0, 0, coalesce(group_concat(name, char(10)), ''), 0, 0 FROM rewards
		WHERE dog = ? AND deleted IS NULL AND made >= ? AND made < ?`, from, to, from, to, from, to, dog, dog, after, before)
	return list, err
}

// DatedMove is a move with the day of its session.
type DatedMove struct {
	Move
	Day string `db:"day"` // YYYY-MM-DD
}

// MovesSince loads the moves of some plans at the level of their main handler in sessions since a day, YYYY-MM-DD, in their order.
func (q Q) MovesSince(ctx context.Context, plans []string, since string) (list []DatedMove, err error) {
	if len(plans) == 0 {
		return nil, nil
	}
	err = q.in(ctx, &list, `SELECT `+prefixed("m", moveColumns)+`, s.day FROM moves m JOIN sessions s ON s.id = m.session
		WHERE m.plan IN (?) AND m.level = '' AND s.deleted IS NULL AND s.day >= ? ORDER BY s.opened, s.id, m.ord`, plans, since)
	return list, err
}
