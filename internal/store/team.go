package store

import "context"

// Assignment is who works a dog on a day.
type Assignment struct {
	Dog    string `db:"dog"`
	Day    string `db:"day"` // YYYY-MM-DD
	Person string `db:"person"`
	Name   string `db:"name"` // of the person
}

// Assignments lists who works which dog on a day.
func (q Q) Assignments(ctx context.Context, day string) (list []Assignment, err error) {
	err = q.many(ctx, &list, `SELECT a.dog, a.day, a.person, p.name FROM assignments a JOIN people p ON p.id = a.person WHERE a.day = ?`, day)
	return list, err
}

// Assign says who works a dog on a day, nobody with the person "". The day's session plans of the dog are theirs then, but for those of
// the household and those that were begun.
func (q Q) Assign(ctx context.Context, a Assignment) error {
	if a.Person == "" {
		_, err := q.exec(ctx, `DELETE FROM assignments WHERE dog = ? AND day = ?`, a.Dog, a.Day)
		return err
	}
	if _, err := q.exec(ctx, `INSERT INTO assignments (dog, day, person) VALUES (?, ?, ?)
		ON CONFLICT (dog, day) DO UPDATE SET person = excluded.person`, a.Dog, a.Day, a.Person); err != nil {
		return err
	}
	_, err := q.exec(ctx, `UPDATE sheets SET handler = ?, version = version + 1 WHERE dog = ? AND day = ? AND handler <> ? AND household = 0
		AND deleted IS NULL AND NOT EXISTS (SELECT 1 FROM sessions s WHERE s.sheet = sheets.id AND s.deleted IS NULL)`,
		a.Person, a.Dog, a.Day, a.Person)
	return err
}

// Note is what one colleague tells another of a dog, of one of its plans or of a trial.
type Note struct {
	ID      string `db:"id"`
	Dog     string `db:"dog"`
	DogName string `db:"dog_name"`
	Plan    string `db:"plan"` // "" for the dog as a whole
	Skill   string `db:"skill"`
	Session string `db:"session"`
	Trial   string `db:"trial"`
	Number  int    `db:"number"` // of the trial
	Whom    string `db:"whom"`   // "" for all
	To      string `db:"to_name"`
	Text    string `db:"text"`
	Made    int64  `db:"made"`
	MadeBy  string `db:"made_by"`
	By      string `db:"by_name"`
	Done    *int64 `db:"done"` // UTC Unix ms
	DoneBy  string `db:"done_by"`
}

// AddNote writes one.
func (q Q) AddNote(ctx context.Context, n Note) error {
	return q.named(ctx, `INSERT INTO notes (id, dog, plan, session, trial, number, whom, text, made, made_by)
		VALUES (:id, :dog, :plan, :session, :trial, :number, :whom, :text, :made, :made_by)`, n)
}

// SetNoteDone says that a note was dealt with, or that it was not with nil; it says whether there is such a note.
func (q Q) SetNoteDone(ctx context.Context, id, by string, at *int64) (bool, error) {
	n, err := q.exec(ctx, `UPDATE notes SET done = ?, done_by = ? WHERE id = ? AND deleted IS NULL`, at, by, id)
	return n == 1, err
}

const noteSelect = `SELECT n.id, n.dog, d.name AS dog_name, n.plan, coalesce(k.name, '') AS skill, n.session, n.trial, n.number, n.whom,
	coalesce(w.name, '') AS to_name, n.text, n.made, n.made_by, coalesce(b.name, '') AS by_name, n.done, n.done_by
	FROM notes n JOIN dogs d ON d.id = n.dog LEFT JOIN plans p ON p.id = n.plan LEFT JOIN skills k ON k.id = p.skill
	LEFT JOIN people w ON w.id = n.whom LEFT JOIN people b ON b.id = n.made_by WHERE n.deleted IS NULL `

// OpenNotes lists what was not dealt with yet, newest first.
func (q Q) OpenNotes(ctx context.Context, limit int) (list []Note, err error) {
	err = q.many(ctx, &list, noteSelect+`AND n.done IS NULL ORDER BY n.made DESC, n.id LIMIT ?`, limit)
	return list, err
}

// DoneNotes lists what was dealt with last.
func (q Q) DoneNotes(ctx context.Context, limit int) (list []Note, err error) {
	err = q.many(ctx, &list, noteSelect+`AND n.done IS NOT NULL ORDER BY n.done DESC, n.id LIMIT ?`, limit)
	return list, err
}

// NotesOfDog lists the open notes on a dog and its plans, newest first.
func (q Q) NotesOfDog(ctx context.Context, dog string, limit int) (list []Note, err error) {
	err = q.many(ctx, &list, noteSelect+`AND n.dog = ? AND n.done IS NULL ORDER BY n.made DESC, n.id LIMIT ?`, dog, limit)
	return list, err
}

// TrialPlace is where a trial is: whose, in which plan, and the how-manieth of its session.
type TrialPlace struct {
	Dog    string `db:"dog"`
	Plan   string `db:"plan"`
	Number int    `db:"number"`
}

// TrialPlace finds it; ErrNone where there is none.
func (q Q) TrialPlace(ctx context.Context, session, trial string) (at TrialPlace, err error) {
	err = q.one(ctx, &at, `SELECT s.dog, t.plan, (SELECT count(*) FROM trials o WHERE o.session = t.session AND o.ord <= t.ord) AS number
		FROM trials t JOIN sessions s ON s.id = t.session WHERE t.session = ? AND t.id = ?`, session, trial)
	return at, err
}

// DogDay is how much is planned for a dog on a day.
type DogDay struct {
	ID       string `db:"id"`
	Name     string `db:"name"`
	Sessions int    `db:"sessions"` // session plans that are not the household's
	With     string `db:"with_id"`  // who works it, "" for nobody in particular
}

// DogDays lists the dogs that are there, those with something planned first.
func (q Q) DogDays(ctx context.Context, day string, limit int) (list []DogDay, err error) {
	err = q.many(ctx, &list, `SELECT d.id, d.name, coalesce(a.person, '') AS with_id,
		(SELECT count(*) FROM sheets s WHERE s.dog = d.id AND s.day = ? AND s.household = 0 AND s.deleted IS NULL) AS sessions
		FROM dogs d LEFT JOIN assignments a ON a.dog = d.id AND a.day = ? WHERE d.deleted IS NULL
		ORDER BY sessions = 0 AND a.person IS NULL, d.name, d.id LIMIT ?`, day, day, limit)
	return list, err
}

// HandedDog is a dog that somebody works on a day, with what they have to know of it.
type HandedDog struct {
	ID        string `db:"id"`
	Name      string `db:"name"`
	Flags     string `db:"flags"`
	Notes     string `db:"notes"`
	Feeding   string `db:"feeding"` // JSON
	Household string `db:"household"`
	Vet       string `db:"vet"`
	Emergency string `db:"emergency"`
	Never     string `db:"never"` // house rules, a line each
	Invited   string `db:"invited"`
	Always    string `db:"always"`
}

// HandedDogs lists the dogs that somebody works on a day.
func (q Q) HandedDogs(ctx context.Context, day, person string) (list []HandedDog, err error) {
	err = q.many(ctx, &list, `SELECT d.id, d.name, d.flags, d.notes, d.feeding, d.household, coalesce(c.vet, '') AS vet,
		coalesce(c.emergency, '') AS emergency, coalesce(h.never, '') AS never, coalesce(h.invited, '') AS invited,
		coalesce(h.always, '') AS always
		FROM assignments a JOIN dogs d ON d.id = a.dog LEFT JOIN contacts c ON c.dog = d.id LEFT JOIN house h ON h.dog = d.id
		WHERE a.day = ? AND a.person = ? AND d.deleted IS NULL ORDER BY d.name, d.id`, day, person)
	return list, err
}
