package store

import (
	"context"
	"crypto/rand"
	"database/sql"
	"errors"
	"net/url"
	"os"
	"strings"

	"github.com/jmoiron/sqlx"
)

// Keys are what lets devices in, and what signs forms: in a file beside the database, of the owner's alone, and in no copy of
// the database. It is safe for concurrent use, by several processes too.
type Keys struct{ db *sqlx.DB }

const keysSchema = `
CREATE TABLE IF NOT EXISTS secret (id INTEGER PRIMARY KEY CHECK (id = 1), value BLOB NOT NULL) STRICT;
-- Phones and other machines that were let in; their cookie is kept as its SHA-256.
CREATE TABLE IF NOT EXISTS devices (
  id      TEXT PRIMARY KEY,
  person  TEXT NOT NULL,
  token   BLOB NOT NULL UNIQUE,
  name    TEXT NOT NULL,
  made    INTEGER NOT NULL, -- UTC ms, likewise the others
  used    INTEGER NOT NULL, -- to about a day
  revoked INTEGER
) STRICT;
-- Codes by which a device is let in once; kept as their SHA-256. A claimed one is known to one browser alone.
CREATE TABLE IF NOT EXISTS pairings (
  code    BLOB PRIMARY KEY,
  person  TEXT NOT NULL,
  expires INTEGER NOT NULL,
  claimed INTEGER NOT NULL DEFAULT 0
) STRICT;
-- Links by which somebody of a dog's household reads its homework and sends back what came of it; kept as their SHA-256.
CREATE TABLE IF NOT EXISTS links (
  id      TEXT PRIMARY KEY,
  token   BLOB NOT NULL UNIQUE,
  dog     TEXT NOT NULL,
  person  TEXT NOT NULL,
  made    INTEGER NOT NULL, -- UTC ms, likewise the others
  made_by TEXT NOT NULL,
  expires INTEGER NOT NULL,
  opened  INTEGER NOT NULL DEFAULT 0 -- last, to about an hour; 0 for never
) STRICT;
CREATE UNIQUE INDEX IF NOT EXISTS links_of ON links (dog, person);
-- Keys that let somebody in without a password; what is here lets nobody in.
CREATE TABLE IF NOT EXISTS passkeys (
  id         BLOB PRIMARY KEY,
  person     TEXT NOT NULL,
  name       TEXT NOT NULL,
  host       TEXT NOT NULL, -- the name under which it was made, and alone works
  credential TEXT NOT NULL, -- JSON
  made       INTEGER NOT NULL, -- UTC ms, likewise the next
  used       INTEGER NOT NULL DEFAULT 0
) STRICT;
CREATE INDEX IF NOT EXISTS passkeys_of ON passkeys (person);`

// KeysPath is where the keys of a database lie.
func KeysPath(path string) string { return strings.TrimSuffix(path, ".db") + ".keys" }

// OpenKeys opens the keys of the database at path, or makes some.
func OpenKeys(ctx context.Context, path string) (*Keys, error) {
	path = KeysPath(path)
	file, err := os.OpenFile(path, os.O_CREATE|os.O_RDWR, 0o600)
	if err != nil {
		return nil, err
	}
	if err := errors.Join(file.Close(), os.Chmod(path, 0o600)); err != nil {
		return nil, err
	}
	db, err := sqlx.Open("sqlite",
		"file:"+(&url.URL{Path: path}).EscapedPath()+
			"?_pragma=busy_timeout(5000)&_pragma=synchronous(FULL)&_pragma=secure_delete(1)&_txlock=immediate")
	if err != nil {
		return nil, err
	}
	db.SetMaxOpenConns(1)
	k := &Keys{db}
	if _, err := db.ExecContext(ctx, keysSchema); err != nil {
		return nil, errors.Join(failed("opening the keys in "+path, err), db.Close())
	}
	secret := make([]byte, 32)
	if _, err := rand.Read(secret); err != nil {
		return nil, errors.Join(err, db.Close())
	}
	if err := k.exec(ctx, "making a secret", `INSERT INTO secret (id, value) SELECT 1, ? WHERE NOT EXISTS (SELECT 1 FROM secret)`,
		secret); err != nil {
		return nil, errors.Join(err, db.Close())
	}
	return k, nil
}

// Close closes the file.
func (k *Keys) Close() error { return k.db.Close() }

func (k *Keys) exec(ctx context.Context, doing, query string, args ...any) error {
	_, err := k.db.ExecContext(ctx, query, args...)
	return failed(doing, err)
}

func (k *Keys) changed(ctx context.Context, doing, query string, args ...any) (bool, error) {
	result, err := k.db.ExecContext(ctx, query, args...)
	if err != nil {
		return false, failed(doing, err)
	}
	n, err := result.RowsAffected()
	return n > 0, failed(doing, err)
}

// takeOver keeps what an older database holds of keys, from before they had a file.
func (k *Keys) takeOver(ctx context.Context, db *sqlx.DB) error {
	var secret []byte
	err := db.GetContext(ctx, &secret, `SELECT secret FROM practice WHERE id = 1`)
	if errors.Is(err, sql.ErrNoRows) {
		return nil
	}
	if err != nil {
		return failed("reading the form secret", err)
	}
	if err := k.exec(ctx, "keeping the form secret", `UPDATE secret SET value = ?`, secret); err != nil {
		return err
	}
	var known int
	if err := db.GetContext(ctx, &known, `SELECT count(*) FROM sqlite_master WHERE name = 'devices'`); err != nil || known == 0 {
		return failed("looking for devices", err)
	}
	var devices []Device
	if err := db.SelectContext(ctx, &devices, `SELECT id, person, token, name, made, made AS used, revoked FROM devices`); err != nil {
		return failed("reading devices", err)
	}
	for _, d := range devices {
		if err := k.exec(ctx, "keeping a device", `INSERT OR IGNORE INTO devices (id, person, token, name, made, used, revoked)
			VALUES (?, ?, ?, ?, ?, ?, ?)`,
			d.ID, d.Person, d.Token, d.Name, d.Made, d.Used, d.Revoked); err != nil {
			return err
		}
	}
	// What was not used since is not known; six months begin with today.
	return k.exec(ctx, "keeping devices", `UPDATE devices SET used = max(used, CAST(unixepoch('subsec') * 1000 AS INTEGER))`)
}

// wipe takes what lets devices in out of a copy of an older database.
func wipe(ctx context.Context, db *sqlx.DB) error {
	var tables []string
	if err := db.SelectContext(ctx, &tables, `SELECT name FROM sqlite_master WHERE name IN ('devices', 'pairings')`); err != nil {
		return failed("looking into the copy", err)
	}
	statements := []string{"PRAGMA secure_delete = ON", "UPDATE practice SET secret = zeroblob(32)"}
	for _, table := range tables {
		statements = append(statements, "DELETE FROM "+table)
	}
	for _, statement := range append(statements, "VACUUM") {
		if _, err := db.ExecContext(ctx, statement); err != nil {
			return failed(statement, err)
		}
	}
	return nil
}

// Secret signs forms.
func (k *Keys) Secret(ctx context.Context) (secret []byte, err error) {
	err = k.db.GetContext(ctx, &secret, `SELECT value FROM secret`)
	return secret, failed("reading the form secret", err)
}

// Device is a phone or another machine that was let in.
type Device struct {
	ID      string `db:"id"`
	Person  string `db:"person"`
	Token   []byte `db:"token"` // SHA-256 of its cookie
	Name    string `db:"name"`
	Made    int64  `db:"made"`
	Used    int64  `db:"used"` // to about a day
	Revoked *int64 `db:"revoked"`
}

// Devices lists those that may come in and were used since, the newest first.
func (k *Keys) Devices(ctx context.Context, since int64) (list []Device, err error) {
	err = k.db.SelectContext(ctx, &list, `SELECT * FROM devices WHERE revoked IS NULL AND used >= ? ORDER BY made DESC, id`, since)
	return list, failed("listing devices", err)
}

// DeviceByToken finds who a cookie belongs to; ErrNone where it may not come in, or was not used since.
func (k *Keys) DeviceByToken(ctx context.Context, token []byte, since int64) (d Device, err error) {
	err = k.db.GetContext(ctx, &d, `SELECT * FROM devices WHERE token = ? AND revoked IS NULL AND used >= ?`, token, since)
	if errors.Is(err, sql.ErrNoRows) {
		return d, ErrNone
	}
	return d, failed("looking a device up", err)
}

// AddDevice lets one in.
func (k *Keys) AddDevice(ctx context.Context, d Device) error {
	return k.exec(ctx, "letting a device in",
		`INSERT INTO devices (id, person, token, name, made, used) VALUES (?, ?, ?, ?, ?, ?)`, d.ID, d.Person, d.Token, d.Name,
		d.Made, d.Made)
}

// UsedDevice keeps that a device was used.
func (k *Keys) UsedDevice(ctx context.Context, id string, now int64) error {
	return k.exec(ctx, "keeping that a device is used", `UPDATE devices SET used = ? WHERE id = ?`, now, id)
}

// RevokeDevice keeps one out from now on; it says whether there was such a one.
func (k *Keys) RevokeDevice(ctx context.Context, id string, now int64) (bool, error) {
	return k.changed(ctx, "signing a device out", `UPDATE devices SET revoked = ? WHERE id = ? AND revoked IS NULL`, now, id)
}

// RevokeOthers keeps a person's devices out, but for one ("" for none).
func (k *Keys) RevokeOthers(ctx context.Context, person, but string, now int64) error {
	return k.exec(ctx, "signing devices out", `UPDATE devices SET revoked = ? WHERE person = ? AND id <> ? AND revoked IS NULL`,
		now, person, but)
}

// AddPairing keeps a code until it expires, and forgets those that have.
func (k *Keys) AddPairing(ctx context.Context, code []byte, person string, now, expires int64) error {
	if err := k.exec(ctx, "forgetting codes", `DELETE FROM pairings WHERE expires < ?`, now); err != nil {
		return err
	}
	return k.exec(ctx, "keeping a code", `INSERT INTO pairings (code, person, expires) VALUES (?, ?, ?)`, code, person, expires)
}

// ClaimPairing puts a claim, which one browser alone knows, in a code's place; it says whether the code was there.
func (k *Keys) ClaimPairing(ctx context.Context, code, claim []byte, now int64) (bool, error) {
	return k.changed(ctx, "claiming a code",
		`UPDATE pairings SET code = ?, claimed = 1 WHERE code = ? AND claimed = 0 AND expires >= ?`, claim, code, now)
}

// Claimed is whom a claim lets in; ErrNone where it is not known, or no longer.
func (k *Keys) Claimed(ctx context.Context, claim []byte, now int64) (person string, err error) {
	err = k.db.GetContext(ctx, &person, `SELECT person FROM pairings WHERE code = ? AND claimed = 1 AND expires >= ?`, claim, now)
	if errors.Is(err, sql.ErrNoRows) {
		return "", ErrNone
	}
	return person, failed("looking a code up", err)
}

// UseClaim lets a device in by a claim, which is used up with it; it says whether the claim was there.
func (k *Keys) UseClaim(ctx context.Context, claim []byte, now int64, d Device) (there bool, err error) {
	tx, err := k.db.BeginTxx(ctx, nil)
	if err != nil {
		return false, failed("letting a device in", err)
	}
	defer tx.Rollback() //nolint:errcheck // after a commit there is nothing to roll back
	result, err := tx.ExecContext(ctx, `DELETE FROM pairings WHERE code = ? AND claimed = 1 AND expires >= ?`, claim, now)
	if err != nil {
		return false, failed("using a code", err)
	}
	if n, err := result.RowsAffected(); err != nil || n == 0 {
		return false, failed("using a code", err)
	}
	if _, err := tx.ExecContext(ctx, `INSERT INTO devices (id, person, token, name, made, used) VALUES (?, ?, ?, ?, ?, ?)`, d.ID,
		d.Person, d.Token, d.Name, d.Made, d.Made); err != nil {
		return false, failed("letting a device in", err)
	}
	return true, failed("letting a device in", tx.Commit())
}
