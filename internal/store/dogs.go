package store

import "context"

// Dog is one dog.
type Dog struct {
	ID        string   `db:"id"`
	Name      string   `db:"name"`
	Born      string   `db:"born"`      // YYYY-MM-DD or ""
	WeightKg  *float64 `db:"weight_kg"` // kg
	Household string   `db:"household"`
	Flags     string   `db:"flags"`
	Notes     string   `db:"notes"`
	Feeding   string   `db:"feeding"` // JSON
	Routine   string   `db:"routine"` // JSON
	Version   int      `db:"version"`
	Made      int64    `db:"made"`
	Deleted   *int64   `db:"deleted"`
	Growled   string   `db:"growled"` // the day on which it last growled or snapped in a session, "" for never; where one dog is loaded
}

const dogColumns = `id, name, born, weight_kg, household, flags, notes, feeding, routine, version, made, deleted`

// Dogs lists up to limit dogs whose (name, id) comes after the given one.
func (q Q) Dogs(ctx context.Context, afterName, afterID string, limit int) (list []Dog, err error) {
	err = q.many(ctx, &list, `SELECT `+dogColumns+` FROM dogs
		WHERE deleted IS NULL AND (name, id) > (?, ?) ORDER BY name, id LIMIT ?`, afterName, afterID, limit)
	return list, err
}

// Housemates lists the other dogs that live in a dog's household, by its name.
func (q Q) Housemates(ctx context.Context, dog, household string) (ids []string, err error) {
	err = q.many(ctx, &ids, `SELECT id FROM dogs WHERE deleted IS NULL AND id <> ? AND trim(household) = trim(?) COLLATE NOCASE
		AND trim(household) <> '' ORDER BY name, id LIMIT 20`, dog, household)
	return ids, err
}

// DogsAway lists the dogs that were put away last.
func (q Q) DogsAway(ctx context.Context, limit int) (list []Dog, err error) {
	err = q.many(ctx, &list, `SELECT `+dogColumns+` FROM dogs WHERE deleted IS NOT NULL ORDER BY deleted DESC, id LIMIT ?`, limit)
	return list, err
}

// Dog loads one dog, deleted or not.
func (q Q) Dog(ctx context.Context, id string) (d Dog, err error) {
	err = q.one(ctx, &d, `SELECT `+dogColumns+`, (SELECT coalesce(max(s.day), '') FROM blocks b JOIN sessions s ON s.id = b.session
		WHERE b.dog = dogs.id AND b.growls > 0 AND s.deleted IS NULL) AS growled FROM dogs WHERE id = ?`, id)
	return d, err
}

// AddDog writes a new dog.
func (q Q) AddDog(ctx context.Context, d Dog) error {
	return q.named(ctx, `INSERT INTO dogs (id, name, born, weight_kg, household, flags, notes, feeding, routine, made)
		VALUES (:id, :name, :born, :weight_kg, :household, :flags, :notes, :feeding, :routine, :made)`, d)
}

// SetDog changes a dog if it is still at d.Version; it says whether it was.
func (q Q) SetDog(ctx context.Context, d Dog) (bool, error) {
	n, err := q.exec(ctx, `UPDATE dogs SET name = ?, born = ?, weight_kg = ?, household = ?, flags = ?, notes = ?, routine = ?,
		version = version + 1
		WHERE id = ? AND version = ? AND deleted IS NULL`, d.Name, d.Born, d.WeightKg, d.Household, d.Flags, d.Notes, d.Routine, d.ID, d.Version)
	return n == 1, err
}

// SetFeeding changes how a dog is fed if it is still at d.Version; it says whether it was.
func (q Q) SetFeeding(ctx context.Context, d Dog) (bool, error) {
	n, err := q.exec(ctx,
		`UPDATE dogs SET weight_kg = ?, feeding = ?, version = version + 1 WHERE id = ? AND version = ? AND deleted IS NULL`,
		d.WeightKg, d.Feeding, d.ID, d.Version)
	return n == 1, err
}

// DeleteDog marks a dog deleted at a time, or brings it back with nil.
func (q Q) DeleteDog(ctx context.Context, id string, at *int64) (bool, error) {
	n, err := q.exec(ctx, `UPDATE dogs SET deleted = ? WHERE id = ?`, at, id)
	return n == 1, err
}
