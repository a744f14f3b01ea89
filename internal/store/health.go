package store

import "context"

// The kinds of what is known of a dog's health.
const (
	HealthWeight   = "weight"
	HealthSore     = "sore"
	HealthMedicine = "medicine"
	HealthSeen     = "seen" // by a veterinarian
	HealthOther    = "other"
)

// Health is one thing that is known of a dog's health.
type Health struct {
	ID   string   `db:"id"`
	Dog  string   `db:"dog"`
	Kind string   `db:"kind"`
	Day  string   `db:"day"`
	Kg   *float64 `db:"kg"`
	What string   `db:"what"`
	Said string   `db:"said"`
	Over string   `db:"over"`
	Made int64    `db:"made"`
}

// GoesOn tells whether a dog is sore there, or is given it, on a day. A medicine is given on its last day still.
func (h Health) GoesOn(day string) bool {
	return h.Kind == HealthSore && h.Over == "" || h.Kind == HealthMedicine && (h.Over == "" || h.Over >= day)
}

// HealthOf lists what is known of a dog's health, the latest first.
func (q Q) HealthOf(ctx context.Context, dog string) (list []Health, err error) {
	err = q.many(ctx, &list, `SELECT id, dog, kind, day, kg, what, said, over, made FROM health
		WHERE dog = ? AND deleted IS NULL ORDER BY day DESC, made DESC, rowid DESC LIMIT 2000`, dog)
	return list, err
}

// AddHealth keeps one.
func (q Q) AddHealth(ctx context.Context, h Health) error {
	return q.named(ctx, `INSERT INTO health (id, dog, kind, day, kg, what, said, over, made)
		VALUES (:id, :dog, :kind, :day, :kg, :what, :said, :over, :made)`, h)
}

// EndHealth says on which day one was over, or that it goes on with ""; it says whether there was one.
func (q Q) EndHealth(ctx context.Context, dog, id, day string) (bool, error) {
	n, err := q.exec(ctx, `UPDATE health SET over = ? WHERE id = ? AND dog = ? AND deleted IS NULL`, day, id, dog)
	return n == 1, err
}

// DeleteHealth puts one of a dog away, or brings it back with nil; it says whether there was one.
func (q Q) DeleteHealth(ctx context.Context, dog, id string, at *int64) (bool, error) {
	n, err := q.exec(ctx, `UPDATE health SET deleted = ? WHERE id = ? AND dog = ?`, at, id, dog)
	return n == 1, err
}

// SetWeight changes a dog's weight alone, kg.
func (q Q) SetWeight(ctx context.Context, dog string, kg float64) error {
	_, err := q.exec(ctx, `UPDATE dogs SET weight_kg = ?, version = version + 1 WHERE id = ?`, kg, dog)
	return err
}

// Contacts are whom to call for a dog, and whether it may be photographed.
type Contacts struct {
	Dog       string `db:"dog"`
	Vet       string `db:"vet"`
	Emergency string `db:"emergency"`
	Photos    string `db:"photos"`
	Agreed    string `db:"agreed"`
	Version   int    `db:"version"`
}

// ContactsOf loads those of a dog; none are at version 0.
func (q Q) ContactsOf(ctx context.Context, dog string) (c Contacts, err error) {
	var list []Contacts
	err = q.many(ctx, &list, `SELECT dog, vet, emergency, photos, agreed, version FROM contacts WHERE dog = ?`, dog)
	if err == nil && len(list) > 0 {
		return list[0], nil
	}
	return Contacts{Dog: dog}, err
}

// SetContacts changes them if they are still at c.Version; it says whether they were.
func (q Q) SetContacts(ctx context.Context, c Contacts) (bool, error) {
	n, err := q.exec(ctx, `INSERT INTO contacts (dog, vet, emergency, photos, agreed) SELECT ?, ?, ?, ?, ? WHERE ? = 0 OR EXISTS
			(SELECT 1 FROM contacts WHERE dog = ?) ON CONFLICT (dog) DO UPDATE SET vet = excluded.vet, emergency = excluded.emergency,
			photos = excluded.photos, agreed = excluded.agreed, version = version + 1 WHERE version = ?`,
		c.Dog, c.Vet, c.Emergency, c.Photos, c.Agreed, c.Version, c.Dog, c.Version)
	return n == 1, err
}
