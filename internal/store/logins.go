package store

import "context"

// SetLogin gives a person a password.
func (q Q) SetLogin(ctx context.Context, person, hash string, now int64) error {
	_, err := q.exec(ctx, `INSERT OR REPLACE INTO logins (person, hash, made) VALUES (?, ?, ?)`, person, hash, now)
	return err
}

// DropLogin takes a person's password away; it says whether there was one.
func (q Q) DropLogin(ctx context.Context, person string) (bool, error) {
	n, err := q.exec(ctx, `DELETE FROM logins WHERE person = ?`, person)
	return n == 1, err
}

// Login is the hash of a person's password; ErrNone where there is none.
func (q Q) Login(ctx context.Context, person string) (hash string, err error) {
	err = q.one(ctx, &hash, `SELECT l.hash FROM logins l JOIN people w ON w.id = l.person WHERE l.person = ? AND w.deleted IS NULL`, person)
	return hash, err
}
