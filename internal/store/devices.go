package store

import "context"

// Device is a phone or another machine that was let in.
type Device struct {
	ID      string `db:"id"`
	Person  string `db:"person"`
	Token   []byte `db:"token"` // SHA-256 of its cookie
	Name    string `db:"name"`
	Made    int64  `db:"made"`
	Revoked *int64 `db:"revoked"`
	Who     string `db:"who"` // the person's name, where devices are listed
}

// Devices lists those that may come in, the newest first.
func (q Q) Devices(ctx context.Context) (list []Device, err error) {
	err = q.many(ctx, &list, `SELECT d.id, d.person, d.token, d.name, d.made, d.revoked, w.name AS who FROM devices d JOIN people w ON w.id = d.person
		WHERE d.revoked IS NULL ORDER BY d.made DESC, d.id`)
	return list, err
}

// DeviceByToken finds who a cookie belongs to; ErrNone where it may not come in.
func (q Q) DeviceByToken(ctx context.Context, token []byte) (d Device, err error) {
	err = q.one(ctx, &d, `SELECT d.id, d.person, d.token, d.name, d.made, d.revoked, w.name AS who FROM devices d JOIN people w ON w.id = d.person
		WHERE d.token = ? AND d.revoked IS NULL AND w.deleted IS NULL`, token)
	return d, err
}

// AddDevice lets one in.
func (q Q) AddDevice(ctx context.Context, d Device) error {
	return q.named(ctx, `INSERT INTO devices (id, person, token, name, made) VALUES (:id, :person, :token, :name, :made)`, d)
}

// RevokeDevice keeps one out from now on; it says whether there was such a one.
func (q Q) RevokeDevice(ctx context.Context, id string, now int64) (bool, error) {
	n, err := q.exec(ctx, `UPDATE devices SET revoked = ? WHERE id = ? AND revoked IS NULL`, now, id)
	return n == 1, err
}

// SetLogin gives a person a password.
func (q Q) SetLogin(ctx context.Context, person, hash string, now int64) error {
	_, err := q.exec(ctx, `INSERT OR REPLACE INTO logins (person, hash, made) VALUES (?, ?, ?)`, person, hash, now)
	return err
}

// Login is the hash of a person's password; ErrNone where there is none.
func (q Q) Login(ctx context.Context, person string) (hash string, err error) {
	err = q.one(ctx, &hash, `SELECT l.hash FROM logins l JOIN people w ON w.id = l.person WHERE l.person = ? AND w.deleted IS NULL`, person)
	return hash, err
}

// AddPairing keeps a code until it expires, and forgets those that have.
func (q Q) AddPairing(ctx context.Context, code []byte, person string, now, expires int64) error {
	if _, err := q.exec(ctx, `DELETE FROM pairings WHERE expires < ?`, now); err != nil {
		return err
	}
	_, err := q.exec(ctx, `INSERT INTO pairings (code, person, expires) VALUES (?, ?, ?)`, code, person, expires)
	return err
}

// Pairing is whom a code lets in; ErrNone where it is not known, or no longer.
func (q Q) Pairing(ctx context.Context, code []byte, now int64) (person string, err error) {
	err = q.one(ctx, &person, `SELECT person FROM pairings WHERE code = ? AND expires >= ?`, code, now)
	return person, err
}

// UsePairing takes a code away; it says whether it was there.
func (q Q) UsePairing(ctx context.Context, code []byte) (bool, error) {
	n, err := q.exec(ctx, `DELETE FROM pairings WHERE code = ?`, code)
	return n == 1, err
}
