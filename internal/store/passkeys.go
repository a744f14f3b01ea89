package store

import "context"

// Passkey is a key that lets somebody in without a password; its secret never leaves the device that made it.
type Passkey struct {
	ID         []byte `db:"id"` // of the credential
	Person     string `db:"person"`
	Name       string `db:"name"`       // what they call it
	Host       string `db:"host"`       // the name under which it was made, and alone works
	Credential string `db:"credential"` // JSON, as the library keeps it
	Made       int64  `db:"made"`       // UTC Unix ms
	Used       int64  `db:"used"`       // likewise, 0 for never
}

// AddPasskey keeps one.
func (k *Keys) AddPasskey(ctx context.Context, p Passkey) error {
	return k.exec(ctx, "keeping a passkey", `INSERT INTO passkeys (id, person, name, host, credential, made) VALUES (?, ?, ?, ?, ?, ?)`,
		p.ID, p.Person, p.Name, p.Host, p.Credential, p.Made)
}

// PasskeysOf lists those of a person, the oldest first.
func (k *Keys) PasskeysOf(ctx context.Context, person string) (list []Passkey, err error) {
	err = k.db.SelectContext(ctx, &list, `SELECT * FROM passkeys WHERE person = ? ORDER BY made, id`, person)
	return list, failed("reading passkeys", err)
}

// UsedPasskey keeps that one was used, with what the library wants to know the next time.
func (k *Keys) UsedPasskey(ctx context.Context, id []byte, credential string, now int64) error {
	return k.exec(ctx, "keeping that a passkey was used", `UPDATE passkeys SET credential = ?, used = ? WHERE id = ?`, credential, now, id)
}

// DropPasskey forgets one of a person's; it says whether there was one.
func (k *Keys) DropPasskey(ctx context.Context, person string, id []byte) (bool, error) {
	return k.changed(ctx, "forgetting a passkey", `DELETE FROM passkeys WHERE person = ? AND id = ?`, person, id)
}

// DropPasskeys forgets all of a person's.
func (k *Keys) DropPasskeys(ctx context.Context, person string) error {
	return k.exec(ctx, "forgetting passkeys", `DELETE FROM passkeys WHERE person = ?`, person)
}
