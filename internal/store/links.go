package store

import (
	"context"
	"database/sql"
	"errors"
)

// Link lets somebody of a dog's household read its homework, and send back what came of it. There is one for each person and dog.
type Link struct {
	ID      string `db:"id"`
	Token   []byte `db:"token"` // SHA-256 of what stands in its address
	Dog     string `db:"dog"`
	Person  string `db:"person"`
	Made    int64  `db:"made"` // UTC ms
	MadeBy  string `db:"made_by"`
	Expires int64  `db:"expires"` // UTC ms
	Opened  int64  `db:"opened"`  // last, UTC ms, to about an hour; 0 for never
}

// SetLink keeps a link in the place of the one that there was for its dog and person, which ends.
func (k *Keys) SetLink(ctx context.Context, l Link) error {
	return k.exec(ctx, "keeping a link", `INSERT INTO links (id, token, dog, person, made, made_by, expires, opened)
		VALUES (?, ?, ?, ?, ?, ?, ?, 0) ON CONFLICT (dog, person) DO UPDATE SET id = excluded.id, token = excluded.token,
		made = excluded.made, made_by = excluded.made_by, expires = excluded.expires, opened = 0`,
		l.ID, l.Token, l.Dog, l.Person, l.Made, l.MadeBy, l.Expires)
}

// LinkByToken finds a link; ErrNone where there is none, or it has expired at now.
func (k *Keys) LinkByToken(ctx context.Context, token []byte, now int64) (l Link, err error) {
	err = k.db.GetContext(ctx, &l, `SELECT * FROM links WHERE token = ? AND expires > ?`, token, now)
	if errors.Is(err, sql.ErrNoRows) {
		return l, ErrNone
	}
	return l, failed("looking a link up", err)
}

// LinksOf lists the links of a dog that have not expired at now.
func (k *Keys) LinksOf(ctx context.Context, dog string, now int64) (list []Link, err error) {
	err = k.db.SelectContext(ctx, &list, `SELECT * FROM links WHERE dog = ? AND expires > ? ORDER BY made`, dog, now)
	return list, failed("listing links", err)
}

// OpenedLink keeps when a link was opened.
func (k *Keys) OpenedLink(ctx context.Context, id string, now int64) error {
	return k.exec(ctx, "keeping that a link was opened", `UPDATE links SET opened = ? WHERE id = ?`, now, id)
}

// EndLinks ends those of a person.
func (k *Keys) EndLinks(ctx context.Context, person string) error {
	return k.exec(ctx, "ending links", `DELETE FROM links WHERE person = ?`, person)
}

// EndLink ends a link of a dog at once; it says whether there was one.
func (k *Keys) EndLink(ctx context.Context, dog, id string) (bool, error) {
	return k.changed(ctx, "ending a link", `DELETE FROM links WHERE id = ? AND dog = ?`, id, dog)
}
