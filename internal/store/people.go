package store

import (
	"cmp"
	"context"
	"errors"
	"slices"
)

// Practice is the one row about the practice itself.
type Practice struct {
	Name    string  `db:"name"`
	Zone    string  `db:"zone"`
	Person  string  `db:"person"`
	By      string  `db:"-"`      // who does what is being done: see As
	Epoch   string  `db:"epoch"`  // another one after each restore
	Length  string  `db:"length"` // m, ft or paces
	PaceM   float64 `db:"pace_m"`
	Hours   string  `db:"hours"`  // when the trainer works, a line a day from Monday on
	States  string  `db:"states"` // JSON, how the practice describes the five states; "" is the usual
	Made    int64   `db:"made"`
	Version int     `db:"version"`
}

// Practice reads it; ErrNone in a new database. Nearly every page asks for it, so the readers keep it until a transaction writes it.
func (q Q) Practice(ctx context.Context) (p Practice, err error) {
	p, err = q.practice(ctx)
	by, _ := ctx.Value(doer{}).(string)
	p.By = cmp.Or(by, p.Person)
	return p, err
}

// doer is the key of who does something.
type doer struct{}

// As is a context in which somebody does what is done, by id; without it that is whoever the server's own machine works as.
func As(ctx context.Context, person string) context.Context {
	return context.WithValue(ctx, doer{}, person)
}

func (q Q) practice(ctx context.Context) (p Practice, err error) {
	if q.tx == nil || q.tx.snapshot {
		known, at, ok := q.s.known()
		if ok {
			return known, nil
		}
		defer func() {
			if q.tx != nil {
				return // it may be older than what is there now
			}
			if err == nil {
				q.s.know(p, at)
			}
		}()
	}
	err = q.one(ctx, &p, `SELECT name, zone, person, epoch, length, pace_m, hours, states, made, version FROM practice WHERE id = 1`)
	return p, err
}

// AddPractice writes the row of a new database.
func (q Q) AddPractice(ctx context.Context, p Practice) error {
	q.tx.practice = true
	return q.named(ctx, `INSERT INTO practice (id, name, zone, person, epoch, made) VALUES (1, :name, :zone, :person, :epoch, :made)`, p)
}

// SetPractice changes what can be set of it if the row is still at its version; it says whether it
// was.
func (q Q) SetPractice(ctx context.Context, p Practice) (bool, error) {
	q.tx.practice = true
	n, err := q.exec(ctx, `UPDATE practice SET name = ?, zone = ?, length = ?, pace_m = ?, hours = ?, states = ?, version = version + 1
		WHERE id = 1 AND version = ?`,
		p.Name, p.Zone, p.Length, p.PaceM, p.Hours, p.States, p.Version)
	return n == 1, err
}

// Person is somebody who handles or logs.
type Person struct {
	ID    string `db:"id"`
	Name  string `db:"name"`
	Role  string `db:"role"`  // trainer, helper, family, child or viewer
	Owner bool   `db:"owner"` // of the practice
	Made  int64  `db:"made"`
	Left  *int64 `db:"deleted"` // when they left, UTC Unix ms
}

// Everybody lists who is there and who was, in the order in which they came.
func (q Q) Everybody(ctx context.Context) (list []Person, err error) {
	err = q.many(ctx, &list, `SELECT id, name, role, owner, made, deleted FROM people ORDER BY made, id`)
	return list, err
}

// People lists who is there.
func (q Q) People(ctx context.Context) (list []Person, err error) {
	list, err = q.Everybody(ctx)
	return slices.DeleteFunc(list, func(p Person) bool { return p.Left != nil }), err
}

// LeavePerson notes when somebody left, or that they are back with nil; it says whether there is such a person.
func (q Q) LeavePerson(ctx context.Context, id string, at *int64) (bool, error) {
	n, err := q.exec(ctx, `UPDATE people SET deleted = ?, owner = CASE WHEN ? IS NULL THEN owner ELSE 0 END WHERE id = ?`, at, at, id)
	return n == 1, err
}

// AddPerson writes a new person.
func (q Q) AddPerson(ctx context.Context, p Person) error {
	return q.named(ctx, `INSERT INTO people (id, name, role, owner, made) VALUES (:id, :name, :role, :owner, :made)`, p)
}

// SetPerson changes a name, and what somebody is with whether they own the practice unless that is ""; it says whether there was such a
// person.
func (q Q) SetPerson(ctx context.Context, p Person) (bool, error) {
	n, err := q.exec(ctx, `UPDATE people SET name = ?, role = CASE ? WHEN '' THEN role ELSE ? END,
		owner = CASE ? WHEN '' THEN owner ELSE ? END WHERE id = ? AND deleted IS NULL`, p.Name, p.Role, p.Role, p.Role, p.Owner, p.ID)
	return n == 1, err
}

// Place is somewhere to train.
type Place struct {
	ID   string `db:"id"`
	Name string `db:"name"`
	Bans string `db:"bans"` // what is not used there, a JSON list
	Made int64  `db:"made"`
}

// Places lists all places in the order in which they were added.
func (q Q) Places(ctx context.Context) (list []Place, err error) {
	err = q.many(ctx, &list, `SELECT id, name, bans, made FROM places WHERE deleted IS NULL ORDER BY made, id`)
	return list, err
}

// KnowsPlace tells whether there is, or was, a place of an id.
func (q Q) KnowsPlace(ctx context.Context, id string) (known bool, err error) {
	err = q.one(ctx, &known, `SELECT EXISTS (SELECT 1 FROM places WHERE id = ?)`, id)
	return known, err
}

// AddPlace writes a new place.
func (q Q) AddPlace(ctx context.Context, p Place) error {
	return q.named(ctx, `INSERT INTO places (id, name, made) VALUES (:id, :name, :made)`, p)
}

// RenamePlace changes a name; it says whether there was such a place.
func (q Q) RenamePlace(ctx context.Context, id, name string) (bool, error) {
	n, err := q.exec(ctx, `UPDATE places SET name = ? WHERE id = ? AND deleted IS NULL`, name, id)
	return n == 1, err
}

// SetBans changes what is not used at a place; it says whether there was such a place.
func (q Q) SetBans(ctx context.Context, id, bans string) (bool, error) {
	n, err := q.exec(ctx, `UPDATE places SET bans = ? WHERE id = ? AND deleted IS NULL`, bans, id)
	return n == 1, err
}

// FormKey returns what a form with this key answered before, "" if it never came, and the hash of what it said; nil where that
// was not kept.
func (q Q) FormKey(ctx context.Context, key string) (result string, content []byte, err error) {
	var row struct {
		Result  string `db:"result"`
		Content []byte `db:"content"`
	}
	err = q.one(ctx, &row, `SELECT result, content FROM form_keys WHERE key = ?`, key)
	if errors.Is(err, ErrNone) {
		return "", nil, nil
	}
	return row.Result, row.Content, err
}

// AddFormKey keeps what a form said and answered, and forgets those older than before.
func (q Q) AddFormKey(ctx context.Context, key, result string, content []byte, now, before int64) error {
	if _, err := q.exec(ctx, `DELETE FROM form_keys WHERE made < ?`, before); err != nil {
		return err
	}
	_, err := q.exec(ctx, `INSERT INTO form_keys (key, result, content, made) VALUES (?, ?, ?, ?)`, key, result, content, now)
	return err
}
