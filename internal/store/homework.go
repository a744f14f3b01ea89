package store

import "context"

// Given is a sheet of homework as it was given to somebody.
type Given struct {
	ID     string `db:"id"`
	Dog    string `db:"dog"`
	Person string `db:"person"`
	Day    string `db:"day"`
	Skills string `db:"skills"` // JSON, a list of GivenSkill
	Line   string `db:"line"`
	Large  bool   `db:"large"`
	Made   int64  `db:"made"`
	MadeBy string `db:"made_by"`
}

// GivenSkill is one skill of a sheet, at the step that it asked for.
type GivenSkill struct {
	Plan string `json:"plan"`
	Step string `json:"step"`
	Rev  int    `json:"rev"`
}

// GiveHomework keeps a sheet.
func (q Q) GiveHomework(ctx context.Context, g Given) error {
	return q.named(ctx, `INSERT INTO homework (id, dog, person, day, skills, line, large, made, made_by)
		VALUES (:id, :dog, :person, :day, :skills, :line, :large, :made, :made_by)`, g)
}

// GivenOf lists the sheets of a dog, the latest first, at most so many.
func (q Q) GivenOf(ctx context.Context, dog string, limit int) (list []Given, err error) {
	err = q.many(ctx, &list, `SELECT id, dog, person, day, skills, line, large, made, made_by FROM homework
		WHERE dog = ? ORDER BY made DESC, rowid DESC LIMIT ?`, dog, limit)
	return list, err
}

// Returned is what came back from home of one skill, once.
type Returned struct {
	ID      string `db:"id"`
	Dog     string `db:"dog"`
	Plan    string `db:"plan"`
	Person  string `db:"person"`
	Step    string `db:"step"`
	Rev     int    `db:"rev"`
	Day     string `db:"day"`
	Place   string `db:"place"`
	Met     int    `db:"met"`
	Of      int    `db:"of"`
	Relaxed int    `db:"relaxed"`
	Unsure  int    `db:"unsure"`
	Worried int    `db:"worried"`
	Remark  string `db:"remark"`
	Came    string `db:"came"`
	Level   string `db:"level"`
	Moves   string `db:"moves"` // JSON, a list of progression.Move
	Held    string `db:"held"`  // why a good set raised nothing, one of the Held below
	Made    int64  `db:"made"`  // UTC ms: its place among the sessions
	MadeBy  string `db:"made_by"`
	Who     string `db:"who"` // the person's name, read alone
}

// How a line came back.
const (
	CameOnPaper = "paper"
	CameByPost  = "post"
	CameByLink  = "link"
)

// Why a good set raised nothing.
const (
	HeldEasier = "easier" // it was of an easier step than their own
	HeldTop    = "top"    // no handler is further than the main one, nor past a step that was not shown
	HeldProof  = "proof"  // the main handler's step is proved in sessions
	HeldOnly   = "only"   // there is nothing to train at home
	HeldFirst  = "first"  // nobody has worked it in a session
)

const returnedColumns = `id, dog, plan, person, step, rev, day, place, met, of, relaxed, unsure, worried, remark, came, level, ` +
	`moves, held, made, made_by`

// AddReturned keeps a line that came back.
func (q Q) AddReturned(ctx context.Context, r Returned) error {
	return insert(ctx, q, "homework_lines", returnedColumns, []Returned{r})
}

// Sent is whose a line is that came by a link before, whether it was taken back or not; empty where none of that id did.
func (q Q) Sent(ctx context.Context, id string) (dog, person string, err error) {
	var found []struct {
		Dog    string `db:"dog"`
		Person string `db:"person"`
	}
	if err = q.many(ctx, &found, `SELECT dog, person FROM homework_lines WHERE id = ?`, id); err != nil || len(found) == 0 {
		return "", "", err
	}
	return found[0].Dog, found[0].Person, nil
}

// SentSince counts what came by links from somebody about a dog since a moment, UTC ms, with what was taken back.
func (q Q) SentSince(ctx context.Context, dog, person string, since int64) (n int, err error) {
	err = q.one(ctx, &n, `SELECT count(*) FROM homework_lines WHERE dog = ? AND person = ? AND came = 'link' AND made >= ?`,
		dog, person, since)
	return n, err
}

// DeleteSent puts a line away that somebody sent by a link since a moment, UTC ms; it answers with its plan, "" where there is none such.
func (q Q) DeleteSent(ctx context.Context, dog, person, id string, since, at int64) (plan string, err error) {
	var plans []string
	err = q.many(ctx, &plans, `UPDATE homework_lines SET deleted = ? WHERE id = ? AND dog = ? AND person = ? AND came = 'link' AND made >= ?
		AND deleted IS NULL RETURNING plan`, at, id, dog, person, since)
	if err != nil || len(plans) == 0 {
		return "", err
	}
	return plans[0], nil
}

// ReturnedOf lists what came back of a dog's skills since a day, YYYY-MM-DD, in the order in which it did.
func (q Q) ReturnedOf(ctx context.Context, dog, since string) (list []Returned, err error) {
	err = q.many(ctx, &list, `SELECT `+returnedColumns+`, coalesce((SELECT name FROM people w WHERE w.id = person), '') AS who
		FROM homework_lines WHERE dog = ? AND day >= ? AND deleted IS NULL ORDER BY made, rowid`, dog, since)
	return list, err
}

// ReturnedTo lists what came back of one plan, in the order in which it did.
func (q Q) ReturnedTo(ctx context.Context, plan string) (list []Returned, err error) {
	err = q.many(ctx, &list, `SELECT `+returnedColumns+` FROM homework_lines WHERE plan = ? AND deleted IS NULL ORDER BY made, rowid`, plan)
	return list, err
}

// DeleteReturned puts a line of a dog away, or brings it back with nil; it answers with its plan, "" where there is no such line.
func (q Q) DeleteReturned(ctx context.Context, dog, id string, at *int64) (plan string, err error) {
	var plans []string
	err = q.many(ctx, &plans, `UPDATE homework_lines SET deleted = ? WHERE id = ? AND dog = ? RETURNING plan`, at, id, dog)
	if err != nil || len(plans) == 0 {
		return "", err
	}
	return plans[0], nil
}

// VisitCount is how often the trials of one step were met in one session.
type VisitCount struct {
	Plan    string `db:"plan"`
	Step    string `db:"step"`
	Rev     int    `db:"rev"`
	Session string `db:"session"`
	Day     string `db:"day"`
	Opened  int64  `db:"opened"` // UTC ms
	Met     int    `db:"met"`
	Of      int    `db:"of"`
	Worried int    `db:"worried"` // in which the dog was worried or over its threshold
}

// VisitCounts counts what was seen in the sessions of some plans since a day, YYYY-MM-DD, by step and session.
func (q Q) VisitCounts(ctx context.Context, plans []string, since string) (list []VisitCount, err error) {
	if len(plans) == 0 {
		return nil, nil
	}
	err = q.in(ctx, &list, `SELECT t.plan, t.step, t.rev, t.session, s.day, s.opened, sum(t.outcome = 'met' AND NOT t.easy) AS met,
			sum(t.outcome <> 'void' AND NOT t.easy) AS of, coalesce(sum(t.state >= 3), 0) AS worried
		FROM trials t JOIN sessions s ON s.id = t.session WHERE s.deleted IS NULL AND t.counts AND s.day >= ? AND t.plan IN (?)
		GROUP BY t.plan, t.step, t.rev, t.session`, since, plans)
	return list, err
}

// Release says when a plan of a dog was released for home, UTC ms, or that it is not with 0; it says whether there was one.
func (q Q) Release(ctx context.Context, dog, plan string, at int64) (bool, error) {
	n, err := q.exec(ctx, `UPDATE plans SET released = ? WHERE id = ? AND dog = ?`, at, plan, dog)
	return n == 1, err
}

// House is what holds in a dog's house, a line each, with whom to call.
type House struct {
	Dog       string `db:"dog"`
	Never     string `db:"never"`
	Invited   string `db:"invited"`
	Always    string `db:"always"`
	Version   int    `db:"version"`
	Vet       string `db:"vet"`
	Emergency string `db:"emergency"`
	Recap     string `db:"recap"` // the last day of the latest week whose recap was kept, "" for none
}

// HouseOf loads that of a dog; no rules are at version 0.
func (q Q) HouseOf(ctx context.Context, dog string) (h House, err error) {
	err = q.one(ctx, &h, `SELECT d.id AS dog, coalesce(h.never, '') AS never, coalesce(h.invited, '') AS invited,
			coalesce(h.always, '') AS always, coalesce(h.version, 0) AS version, coalesce(c.vet, '') AS vet,
			coalesce(c.emergency, '') AS emergency, coalesce((SELECT max(day) FROM recaps r WHERE r.dog = d.id), '') AS recap
		FROM dogs d LEFT JOIN house h ON h.dog = d.id LEFT JOIN contacts c ON c.dog = d.id WHERE d.id = ?`, dog)
	return h, err
}

// SetHouse changes the rules if they are still at h.Version; it says whether they were.
func (q Q) SetHouse(ctx context.Context, h House) (bool, error) {
	n, err := q.exec(ctx, `INSERT INTO house (dog, never, invited, always) SELECT ?, ?, ?, ? WHERE ? = 0 OR EXISTS
			(SELECT 1 FROM house WHERE dog = ?) ON CONFLICT (dog) DO UPDATE SET never = excluded.never, invited = excluded.invited,
			always = excluded.always, version = version + 1 WHERE version = ?`,
		h.Dog, h.Never, h.Invited, h.Always, h.Version, h.Dog, h.Version)
	return n == 1, err
}
