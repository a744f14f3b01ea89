package store

import "context"

// Reward is what a dog works for.
type Reward struct {
	ID       string  `db:"id"`
	Dog      string  `db:"dog"`
	Name     string  `db:"name"`
	Kind     string  `db:"kind"`
	Grams    float64 `db:"grams"`    // of a piece
	Kcal     float64 `db:"kcal"`     // of a piece, or of a filling
	Contains string  `db:"contains"` // a JSON list
	NotAt    string  `db:"not_at"`   // a JSON list of places
	Note     string  `db:"note"`
	Tier     int     `db:"tier"`   // by hand, 0 none
	Tested   int     `db:"tested"` // by the last test, 0 none
	TestedLo int     `db:"tested_lo"`
	TestedHi int     `db:"tested_hi"`
	TestedOn string  `db:"tested_on"` // YYYY-MM-DD
	Version  int     `db:"version"`
	Made     int64   `db:"made"`
	Deleted  *int64  `db:"deleted"`
	Today    *int    `db:"today"` // tier of one day, 0 not used; nil as usual
}

const rewardSelect = `SELECT r.id, r.dog, r.name, r.kind, r.grams, r.kcal, r.contains, r.not_at, r.note, r.tier, r.tested,
	r.tested_lo, r.tested_hi,
	r.tested_on, r.version, r.made, r.deleted, d.tier AS today FROM rewards r LEFT JOIN reward_days d ON d.reward = r.id AND d.day = ? `

// Rewards lists those of the dogs named that are not put away, with what differs on a day.
func (q Q) Rewards(ctx context.Context, dogs []string, day string) (list []Reward, err error) {
	if len(dogs) == 0 {
		return nil, nil
	}
	err = q.in(ctx, &list, rewardSelect+`WHERE r.dog IN (?) AND r.deleted IS NULL ORDER BY r.dog, r.made, r.id`, day, dogs)
	return list, err
}

// Reward loads one, put away or not.
func (q Q) Reward(ctx context.Context, id string) (r Reward, err error) {
	err = q.one(ctx, &r, rewardSelect+`WHERE r.id = ?`, "", id)
	return r, err
}

// AddReward writes a new one.
func (q Q) AddReward(ctx context.Context, r Reward) error {
	return q.named(ctx, `INSERT INTO rewards (id, dog, name, kind, grams, kcal, contains, not_at, note, tier, made)
		VALUES (:id, :dog, :name, :kind, :grams, :kcal, :contains, :not_at, :note, :tier, :made)`, r)
}

// SetReward changes one if it is still at r.Version; it says whether it was.
func (q Q) SetReward(ctx context.Context, r Reward) (bool, error) {
	n, err := q.exec(ctx, `UPDATE rewards SET name = ?, kind = ?, grams = ?, kcal = ?, contains = ?, not_at = ?, note = ?, tier = ?,
		version = version + 1
		WHERE id = ? AND version = ? AND deleted IS NULL`, r.Name, r.Kind, r.Grams, r.Kcal, r.Contains, r.NotAt, r.Note, r.Tier, r.ID, r.Version)
	return n == 1, err
}

// SetTested keeps what a test said of a reward.
func (q Q) SetTested(ctx context.Context, id string, tier, lo, hi int, day string) error {
	_, err := q.exec(ctx,
		`UPDATE rewards SET tested = ?, tested_lo = ?, tested_hi = ?, tested_on = ?, tier = 0, version = version + 1 WHERE id = ?`,
		tier, lo, hi, day, id)
	return err
}

// DeleteReward marks one put away at a time, or brings it back with nil.
func (q Q) DeleteReward(ctx context.Context, id string, at *int64) (bool, error) {
	n, err := q.exec(ctx, `UPDATE rewards SET deleted = ? WHERE id = ?`, at, id)
	return n == 1, err
}

// SetRewardDay says what a reward is worth on one day: 0 is not used, nil as usual.
func (q Q) SetRewardDay(ctx context.Context, id, day string, tier *int) error {
	if _, err := q.exec(ctx, `DELETE FROM reward_days WHERE reward = ? AND day = ?`, id, day); err != nil || tier == nil {
		return err
	}
	_, err := q.exec(ctx, `INSERT INTO reward_days (reward, day, tier) VALUES (?, ?, ?)`, id, day, *tier)
	return err
}

// Test is a preference test.
type Test struct {
	ID      string `db:"id"`
	Dog     string `db:"dog"`
	Rewards string `db:"rewards"` // a JSON list of ids
	Seed    int64  `db:"seed"`
	Day     string `db:"day"`
	Made    int64  `db:"made"`
	Done    *int64 `db:"done"`
	Deleted *int64 `db:"deleted"`
}

// Choice is one offer of a test.
type Choice struct {
	Test  string `db:"test"`
	Ord   int    `db:"ord"`
	Left  string `db:"left_"`
	Right string `db:"right_"`
	Took  string `db:"took"` // "" for neither
	Made  int64  `db:"made"`
}

const testColumns = `id, dog, rewards, seed, day, made, done, deleted`

// Tests lists a dog's tests that were not thrown away, newest first.
func (q Q) Tests(ctx context.Context, dog string, limit int) (list []Test, err error) {
	err = q.many(ctx, &list,
		`SELECT `+testColumns+` FROM tests WHERE dog = ? AND deleted IS NULL ORDER BY made DESC, id DESC LIMIT ?`, dog, limit)
	return list, err
}

// Test loads one.
func (q Q) Test(ctx context.Context, id string) (t Test, err error) {
	err = q.one(ctx, &t, `SELECT `+testColumns+` FROM tests WHERE id = ? AND deleted IS NULL`, id)
	return t, err
}

// AddTest writes a new one.
func (q Q) AddTest(ctx context.Context, t Test) error {
	return q.named(ctx, `INSERT INTO tests (id, dog, rewards, seed, day, made) VALUES (:id, :dog, :rewards, :seed, :day, :made)`, t)
}

// EndTest marks that a test's tiers were taken.
func (q Q) EndTest(ctx context.Context, id string, at int64) error {
	_, err := q.exec(ctx, `UPDATE tests SET done = ? WHERE id = ?`, at, id)
	return err
}

// DeleteTest marks one thrown away at a time, or brings it back with nil.
func (q Q) DeleteTest(ctx context.Context, id string, at *int64) (bool, error) {
	n, err := q.exec(ctx, `UPDATE tests SET deleted = ? WHERE id = ?`, at, id)
	return n == 1, err
}

// Choices lists the offers of a test in their order.
func (q Q) Choices(ctx context.Context, test string) (list []Choice, err error) {
	err = q.many(ctx, &list, `SELECT test, ord, left_, right_, took, made FROM test_choices WHERE test = ? ORDER BY ord`, test)
	return list, err
}

// AddChoice writes the next offer, if it is still the next; it says whether it was.
func (q Q) AddChoice(ctx context.Context, c Choice) (bool, error) {
	n, err := q.exec(ctx, `INSERT OR IGNORE INTO test_choices (test, ord, left_, right_, took, made) VALUES (?, ?, ?, ?, ?, ?)`,
		c.Test, c.Ord, c.Left, c.Right, c.Took, c.Made)
	return n == 1, err
}

// DropChoice takes the last offer back.
func (q Q) DropChoice(ctx context.Context, test string) error {
	_, err := q.exec(ctx, `DELETE FROM test_choices WHERE test = ? AND ord = (SELECT max(ord) FROM test_choices WHERE test = ?)`, test, test)
	return err
}
