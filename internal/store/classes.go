package store

import "context"

// Class is a class that works through a programme.
type Class struct {
	ID        string `db:"id"`
	Name      string `db:"name"`
	Programme string `db:"programme"` // JSON, a programme.Programme as it was when the class began
	Start     string `db:"start"`     // YYYY-MM-DD, the day of the first meeting
	At        string `db:"at"`        // HH:MM, "" for no hour
	Minutes   int    `db:"minutes"`
	Place     string `db:"place"`
	Made      int64  `db:"made"`
	MadeBy    string `db:"made_by"`
	Version   int    `db:"version"`
	Deleted   *int64 `db:"deleted"`
	Dogs      int    `db:"dogs"` // how many are in it, read alone
}

// ClassDog is a dog of a class.
type ClassDog struct {
	Class  string `db:"class"`
	Dog    string `db:"dog"`
	Joined int    `db:"joined"` // the week in which it came in, from 1
	Plans  string `db:"plans"`  // JSON: for each row of the programme the plan, "" for none
}

// ClassDay is a class that meets on a day.
type ClassDay struct {
	ID    string `db:"id"`
	Name  string `db:"name"`
	At    string `db:"at"`
	Place string `db:"place"`
	Day   string `db:"day"` // YYYY-MM-DD
	Week  int    `db:"week"`
	Dogs  int    `db:"dogs"`
}

// Meeting is one meeting of a class that was held.
type Meeting struct {
	Class   string `db:"class"`
	Week    int    `db:"week"`
	Note    string `db:"note"`
	Missed  string `db:"missed"` // JSON, the ids of the dogs that were not there
	Version int    `db:"version"`
}

const classColumns = `c.id, c.name, c.programme, c.start, c.at, c.minutes, c.place, c.made, c.made_by, c.version, c.deleted,
	(SELECT count(*) FROM class_dogs x WHERE x.class = c.id) AS dogs`

// Classes lists those that are there, the one that began last first.
func (q Q) Classes(ctx context.Context, limit int) (list []Class, err error) {
	err = q.many(ctx, &list, `SELECT `+classColumns+` FROM classes c WHERE c.deleted IS NULL ORDER BY c.start DESC, c.id DESC LIMIT ?`, limit)
	return list, err
}

// classDays are the meetings of classes from a day to another, by day and hour: one a week, from the first on.
const classDays = `WITH RECURSIVE days (day) AS (SELECT ? UNION ALL SELECT date(day, '+1 day') FROM days WHERE day < ?)
		SELECT c.id, c.name, c.at, c.place, days.day, CAST(julianday(days.day) - julianday(c.start) AS INTEGER) / 7 + 1 AS week,
			(SELECT count(*) FROM class_dogs x WHERE x.class = c.id) AS dogs
		FROM days JOIN classes c ON c.deleted IS NULL AND c.start <= days.day
			AND CAST(julianday(days.day) - julianday(c.start) AS INTEGER) % 7 = 0
		WHERE week <= json_extract(c.programme, '$.weeks') ORDER BY days.day, c.at, c.id`

// ClassDays lists the meetings of classes from a day to another, both YYYY-MM-DD and at most some weeks apart, by day and hour.
func (q Q) ClassDays(ctx context.Context, from, to string) (list []ClassDay, err error) {
	err = q.many(ctx, &list, classDays, from, to)
	return list, err
}

// Class loads one, deleted or not.
func (q Q) Class(ctx context.Context, id string) (c Class, err error) {
	err = q.one(ctx, &c, `SELECT `+classColumns+` FROM classes c WHERE c.id = ?`, id)
	return c, err
}

// AddClass writes one; its dogs are added with AddClassDogs.
func (q Q) AddClass(ctx context.Context, c Class) error {
	return q.named(ctx, `INSERT INTO classes (id, name, programme, start, at, minutes, place, made, made_by)
		VALUES (:id, :name, :programme, :start, :at, :minutes, :place, :made, :made_by)`, c)
}

// SetClass changes what a class is called, and when and where it meets, where it is still the version that it says; ok is false where not.
func (q Q) SetClass(ctx context.Context, c Class) (ok bool, err error) {
	n, err := q.exec(ctx, `UPDATE classes SET name = ?, start = ?, at = ?, minutes = ?, place = ?, version = version + 1
		WHERE id = ? AND version = ? AND deleted IS NULL`, c.Name, c.Start, c.At, c.Minutes, c.Place, c.ID, c.Version)
	return n == 1, err
}

// DeleteClass puts a class away at a time, or brings it back with nil; it says whether there is one.
func (q Q) DeleteClass(ctx context.Context, id string, at *int64) (bool, error) {
	n, err := q.exec(ctx, `UPDATE classes SET deleted = ? WHERE id = ?`, at, id)
	return n == 1, err
}

// ClassDogs lists the dogs of a class that are there, by name.
func (q Q) ClassDogs(ctx context.Context, class string) (list []ClassDog, err error) {
	err = q.many(ctx, &list, `SELECT x.class, x.dog, x.joined, x.plans FROM class_dogs x JOIN dogs d ON d.id = x.dog
		WHERE x.class = ? AND d.deleted IS NULL ORDER BY d.name, d.id`, class)
	return list, err
}

// ClassWork is what was logged of a dog at a meeting of a class.
type ClassWork struct {
	Session string   `db:"session"`
	Dog     string   `db:"dog"`
	Day     string   `db:"day"`
	Ended   *float64 `db:"ended"` // s of the session's clock, nil while it goes on
	Signs   string   `db:"signs"` // a JSON list
	Trials  int      `db:"trials"`
	Met     int      `db:"met"`
}

// ClassWork lists what was logged in a class on a day, by dog and in the order in which it began; that of a helper that nobody accepted
// is left out, and so is what has no right answer.
func (q Q) ClassWork(ctx context.Context, class, day string) (list []ClassWork, err error) {
	err = q.many(ctx, &list, `SELECT s.id AS session, s.dog, s.day, s.ended, s.signs, count(t.id) AS trials,
			coalesce(sum(t.outcome = 'met'), 0) AS met
		FROM sessions s LEFT JOIN trials t ON t.session = s.id AND t.counts AND t.state IS NULL
		WHERE s.class = ? AND s.day = ? AND s.deleted IS NULL GROUP BY s.id ORDER BY s.dog, s.opened, s.id`, class, day)
	return list, err
}

// AddClassDogs adds dogs to a class that are not in it yet.
func (q Q) AddClassDogs(ctx context.Context, dogs []ClassDog) error {
	return insert(ctx, q, "class_dogs", "class, dog, joined, plans", dogs)
}

// LeaveClass takes a dog out of a class; its plans stay. It says whether it was in it.
func (q Q) LeaveClass(ctx context.Context, class, dog string) (bool, error) {
	n, err := q.exec(ctx, `DELETE FROM class_dogs WHERE class = ? AND dog = ?`, class, dog)
	return n == 1, err
}

// Meetings lists the meetings of a class that were held, by week.
func (q Q) Meetings(ctx context.Context, class string) (list []Meeting, err error) {
	err = q.many(ctx, &list, `SELECT class, week, note, missed, version FROM class_meetings WHERE class = ? ORDER BY week`, class)
	return list, err
}

// SetMeeting keeps a meeting, if it is still at m.Version, 0 for one that was not kept yet; it says whether it was.
func (q Q) SetMeeting(ctx context.Context, m Meeting) (bool, error) {
	n, err := q.exec(ctx, `INSERT INTO class_meetings (class, week, note, missed) SELECT ?, ?, ?, ? WHERE ? = 0 OR EXISTS
			(SELECT 1 FROM class_meetings WHERE class = ? AND week = ?)
		ON CONFLICT (class, week) DO UPDATE SET note = excluded.note, missed = excluded.missed, version = version + 1 WHERE version = ?`,
		m.Class, m.Week, m.Note, m.Missed, m.Version, m.Class, m.Week, m.Version)
	return n == 1, err
}

// NewPlans are plans that are added at once, each with its first version and where its dog stands before any work.
type NewPlans struct {
	Skills      []Skill
	Definitions []Definition
	Plans       []NewPlan     // at version 1, and 0 for a twin
	Versions    []PlanVersion // of Plans that are no twins
	Steps       []Step        // of Versions
	Standings   []Standing    // of Plans
}

// AddPlans writes them.
func (q Q) AddPlans(ctx context.Context, n NewPlans) error {
	return anyErr(
		insert(ctx, q, "skills", "id, name, kind, version, made", n.Skills),
		insert(ctx, q, "definitions", "skill, version, body, made, made_by", n.Definitions),
		insert(ctx, q, "plans", "id, dog, skill, track, twin_of, version, made", n.Plans),
		insert(ctx, q, "plan_versions", "plan, version, body, why, made, made_by", n.Versions),
		insert(ctx, q, "steps", "plan, version, ord, id, rev, criteria, safety", n.Steps),
		insert(ctx, q, "standings", standingColumns, n.Standings),
	)
}

// Programme is one of the practice's own.
type Programme struct {
	ID      string `db:"id"`
	Body    string `db:"body"` // JSON, a programme.Programme
	Made    int64  `db:"made"`
	MadeBy  string `db:"made_by"`
	Version int    `db:"version"`
}

// Programmes lists those that are there, the newest first.
func (q Q) Programmes(ctx context.Context, limit int) (list []Programme, err error) {
	err = q.many(ctx, &list, `SELECT id, body, made, made_by, version FROM programmes WHERE deleted IS NULL
		ORDER BY made DESC, id LIMIT ?`, limit)
	return list, err
}

// Programme loads one that is there.
func (q Q) Programme(ctx context.Context, id string) (p Programme, err error) {
	err = q.one(ctx, &p, `SELECT id, body, made, made_by, version FROM programmes WHERE id = ? AND deleted IS NULL`, id)
	return p, err
}

// AddProgramme writes one.
func (q Q) AddProgramme(ctx context.Context, p Programme) error {
	return q.named(ctx, `INSERT INTO programmes (id, body, made, made_by) VALUES (:id, :body, :made, :made_by)`, p)
}

// SetProgramme changes one if it is still at p.Version; it says whether it was.
func (q Q) SetProgramme(ctx context.Context, p Programme) (bool, error) {
	n, err := q.exec(ctx, `UPDATE programmes SET body = ?, version = version + 1 WHERE id = ? AND version = ? AND deleted IS NULL`,
		p.Body, p.ID, p.Version)
	return n == 1, err
}

// DeleteProgramme puts one away at a time, or brings it back with nil; it says whether there is one.
func (q Q) DeleteProgramme(ctx context.Context, id string, at *int64) (bool, error) {
	n, err := q.exec(ctx, `UPDATE programmes SET deleted = ? WHERE id = ?`, at, id)
	return n == 1, err
}
