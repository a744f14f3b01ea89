package store

import "context"

// Level is where a plan's dog is with another handler.
type Level struct {
	Standing
	Level       string `db:"level"`
	SinceOpened int64  `db:"since_opened"` // when the session was opened since which the reached step is that, UTC ms
}

// SetLevels writes where a plan's dog is with its other handlers, in place of what was there.
func (q Q) SetLevels(ctx context.Context, plan string, levels []Level) error {
	if _, err := q.exec(ctx, `DELETE FROM levels WHERE plan = ?`, plan); err != nil {
		return err
	}
	return insert(ctx, q, "levels", standingColumns+", level", levels)
}

// Levels loads where a plan's dog is with its handlers beside the main one.
func (q Q) Levels(ctx context.Context, plan string) (list []Level, err error) {
	err = q.many(ctx, &list, `SELECT `+prefixed("l", standingColumns)+`, l.level, coalesce(s.opened, 0) AS since_opened
		FROM levels l LEFT JOIN sessions s ON s.id = l.since_session WHERE l.plan = ? ORDER BY l.level`, plan)
	return list, err
}

// Handler is somebody who may handle a plan's dog, with where it is with them.
type Handler struct {
	Person
	StepAt  int    `db:"step_at"`  // index of the step that it has reached with them, −1 where they have no level beside the main handler's
	LastDay string `db:"last_day"` // of a session of theirs, "" where they have no such level
	Shown   string `db:"shown"`    // JSON, the safety steps that were shown to them, as Shown has them
}

// Handlers lists everybody with the level that they have on a plan; of those who are gone only who has one.
func (q Q) Handlers(ctx context.Context, plan string) (list []Handler, err error) {
	err = q.many(ctx, &list, `SELECT w.id, w.name, w.role, w.made, coalesce(l.step_at, -1) AS step_at, coalesce(l.last_day, '') AS last_day,
			(SELECT json_group_array(json_object('ID', x.id, 'Step', x.step, 'By', x.by, 'Day', x.day)) FROM shown x
				WHERE x.plan = coalesce(p.twin_of, p.id) AND x.person = w.id AND x.deleted IS NULL) AS shown
		FROM plans p JOIN people w LEFT JOIN levels l ON l.plan = p.id AND l.level = CASE w.id WHEN p.founder THEN '' ELSE w.id END
		WHERE p.id = ? AND (w.deleted IS NULL OR l.plan IS NOT NULL) ORDER BY w.made, w.id`, plan)
	return list, err
}

// Handled is where a dog is on a plan with one handler.
type Handled struct {
	Plan    string `db:"plan"`
	StepAt  int    `db:"step_at"`  // −1 where they have no level beside the main handler's
	LastDay string `db:"last_day"` // of a session of theirs
	Role    string `db:"role"`     // of the handler
	Shown   string `db:"shown"`    // JSON, the ids of the safety steps that were shown to them
}

// HandledBy lists where the plans of dogs are with a handler.
func (q Q) HandledBy(ctx context.Context, dogs []string, handler string) (list []Handled, err error) {
	if len(dogs) == 0 {
		return nil, nil
	}
	err = q.in(ctx, &list, `SELECT p.id AS plan, coalesce(l.step_at, -1) AS step_at, coalesce(l.last_day, '') AS last_day,
			coalesce((SELECT role FROM people WHERE id = ?), '') AS role,
			(SELECT json_group_array(x.step) FROM shown x WHERE x.plan = coalesce(p.twin_of, p.id) AND x.person = ? AND x.deleted IS NULL) AS shown
		FROM plans p LEFT JOIN levels l ON l.plan = p.id AND l.level = CASE p.founder WHEN ? THEN '' ELSE ? END
		WHERE p.deleted IS NULL AND p.dog IN (?)`, handler, handler, handler, handler, dogs)
	return list, err
}

// HandledAs is where a dog is on a plan with somebody of the practice.
type HandledAs struct {
	Handled
	Person string `db:"person"`
	Name   string `db:"name"`
}

// HandledByAll lists where the plans of a dog are with everybody of the practice, in the order in which people were added.
func (q Q) HandledByAll(ctx context.Context, dog string) (list []HandledAs, err error) {
	err = q.many(ctx, &list, `SELECT p.id AS plan, w.id AS person, w.name, w.role, coalesce(l.step_at, -1) AS step_at,
			coalesce(l.last_day, '') AS last_day, (SELECT json_group_array(x.step) FROM shown x
				WHERE x.plan = coalesce(p.twin_of, p.id) AND x.person = w.id AND x.deleted IS NULL) AS shown
		FROM people w JOIN plans p LEFT JOIN levels l ON l.plan = p.id AND l.level = CASE w.id WHEN p.founder THEN '' ELSE w.id END
		WHERE p.deleted IS NULL AND p.dog = ? AND w.deleted IS NULL ORDER BY w.made, w.id, p.made, p.id`, dog)
	return list, err
}

// Shown is a safety step that a trainer has shown to somebody.
type Shown struct {
	ID     string `db:"id"`
	Plan   string `db:"plan"` // whose ladder it is
	Step   string `db:"step"`
	Person string `db:"person"`
	By     string `db:"by"`
	Day    string `db:"day"`
	Made   int64  `db:"made"`
}

// AddShown keeps that a step was shown.
func (q Q) AddShown(ctx context.Context, s Shown) error {
	return q.named(ctx, `INSERT INTO shown (id, plan, step, person, by, day, made) VALUES (:id, :plan, :step, :person, :by, :day, :made)`, s)
}

// DeleteShown takes one back, or brings it back with nil; it says whether there was one.
func (q Q) DeleteShown(ctx context.Context, id string, at *int64) (bool, error) {
	n, err := q.exec(ctx, `UPDATE shown SET deleted = ? WHERE id = ?`, at, id)
	return n == 1, err
}

// TrialsBy loads the trials that somebody handled in sessions opened since a moment (UTC ms), the latest sessions first, so many at most.
func (q Q) TrialsBy(ctx context.Context, handler string, since int64, most int) ([]Trial, error) {
	var rows []*trialRow
	err := q.many(ctx, &rows, `SELECT `+prefixed("t", fullColumns)+`, t.plan, s.place, s.day, s.opened
		FROM sessions s JOIN trials t ON t.session = s.id WHERE s.opened >= ? AND s.deleted IS NULL AND t.handler = ?
		ORDER BY s.opened DESC, s.id, t.ord LIMIT ?`, since, handler, most)
	if err != nil {
		return nil, err
	}
	return readRows(rows)
}

// BlocksBy lists the blocks that somebody handled in sessions opened since a moment (UTC ms), the latest first, so many at most: those of
// classes not, whose pays nobody logs.
func (q Q) BlocksBy(ctx context.Context, handler string, since int64, most int) (list []Block, err error) {
	err = q.many(ctx, &list, `SELECT `+prefixed("b", blockColumns)+` FROM sessions s JOIN blocks b ON b.session = s.id
		WHERE s.opened >= ? AND s.deleted IS NULL AND s.class = '' AND b.handler = ? ORDER BY s.opened DESC, b.ord LIMIT ?`, since, handler, most)
	return list, err
}
