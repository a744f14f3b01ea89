package store

import "context"

// Sheet is a session as it is planned.
type Sheet struct {
	ID          string   `db:"id"`
	Dog         string   `db:"dog"`
	Day         string   `db:"day"`   // YYYY-MM-DD
	Start       int      `db:"start"` // minutes from midnight
	Minutes     int      `db:"minutes"`
	Household   bool     `db:"household"`
	Place       string   `db:"place"`
	Handler     string   `db:"handler"`
	Body        string   `db:"body"` // JSON
	Version     int      `db:"version"`
	Made        int64    `db:"made"`
	Deleted     *int64   `db:"deleted"`
	DogName     string   `db:"dog_name"`
	DogFlags    string   `db:"dog_flags"`
	DogBorn     string   `db:"dog_born"`
	DogFeeding  string   `db:"dog_feeding"`
	DogKg       *float64 `db:"dog_kg"`
	PlaceName   string   `db:"place_name"`
	HandlerName string   `db:"handler_name"`
	Bans        string   `db:"bans"`    // of its place, a JSON list
	Session     string   `db:"session"` // the session that followed it, "" while none did
	Ended       bool     `db:"ended"`   // that one was ended
}

const sheetSelect = `SELECT h.id, h.dog, h.day, h.start, h.minutes, h.household, h.place, h.handler, h.body, h.version, h.made, h.deleted,
	d.name AS dog_name, d.born AS dog_born, d.flags AS dog_flags, d.feeding AS dog_feeding, d.weight_kg AS dog_kg, coalesce(p.name,
	'') AS place_name, coalesce(w.name, '') AS handler_name, coalesce(p.bans, '[]') AS bans,
	coalesce(s.id, '') AS session, coalesce(s.ended IS NOT NULL, 0) AS ended
	FROM sheets h JOIN dogs d ON d.id = h.dog LEFT JOIN places p ON p.id = h.place LEFT JOIN people w ON w.id = h.handler
	LEFT JOIN sessions s ON s.id = (SELECT o.id FROM sessions o WHERE o.sheet = h.id AND o.sheet <> '' AND o.deleted IS NULL
	ORDER BY o.opened DESC LIMIT 1) `

// Sheets lists those of the dogs named, of all for nil, from one day to another, in their order.
func (q Q) Sheets(ctx context.Context, dogs []string, from, to string) (list []Sheet, err error) {
	const order = ` ORDER BY h.day, h.start, d.name, h.id LIMIT 2000`
	if dogs == nil {
		err = q.many(ctx, &list, sheetSelect+`WHERE h.day BETWEEN ? AND ? AND h.deleted IS NULL AND d.deleted IS NULL`+order, from, to)
		return list, err
	}
	if len(dogs) == 0 {
		return nil, nil
	}
	err = q.in(ctx, &list, sheetSelect+`WHERE h.dog IN (?) AND h.day BETWEEN ? AND ? AND h.deleted IS NULL`+order, dogs, from, to)
	return list, err
}

// Sheet loads one, put away or not.
func (q Q) Sheet(ctx context.Context, id string) (s Sheet, err error) {
	err = q.one(ctx, &s, sheetSelect+`WHERE h.id = ?`, id)
	return s, err
}

// AddSheets writes new ones.
func (q Q) AddSheets(ctx context.Context, list []Sheet) error {
	return insert(ctx, q, "sheets", `id, dog, day, start, minutes, household, place, handler, body, made`, list)
}

// SetSheet changes one if it is still at s.Version; it says whether it was.
func (q Q) SetSheet(ctx context.Context, s Sheet) (bool, error) {
	n, err := q.exec(ctx, `UPDATE sheets SET day = ?, start = ?, minutes = ?, household = ?, place = ?, handler = ?, body = ?,
		version = version + 1
		WHERE id = ? AND version = ? AND deleted IS NULL`, s.Day, s.Start, s.Minutes, s.Household, s.Place, s.Handler, s.Body, s.ID, s.Version)
	return n == 1, err
}

// DeleteSheet marks one put away at a time, or brings it back with nil.
func (q Q) DeleteSheet(ctx context.Context, id string, at *int64) (bool, error) {
	n, err := q.exec(ctx, `UPDATE sheets SET deleted = ? WHERE id = ?`, at, id)
	return n == 1, err
}

// DeleteSheets puts away those that were made at one moment for the days given, and that nobody has changed or run.
func (q Q) DeleteSheets(ctx context.Context, made int64, from, to string, at int64) (int64, error) {
	return q.exec(ctx,
		`UPDATE sheets SET deleted = ? WHERE made = ? AND day BETWEEN ? AND ? AND version = 1 AND deleted IS NULL
			AND NOT EXISTS (SELECT 1 FROM sessions s WHERE s.sheet = sheets.id AND s.sheet <> '')`,
		at, made, from, to)
}

// Pace is how long a plan's trials took, from one to the next.
type Pace struct {
	Plan   string  `db:"plan"`
	Active float64 `db:"active"` // s
	Logged int     `db:"logged"`
	Tried  bool    `db:"tried"` // anything was tried at the reached step
}

// Paces adds up the trials of the dogs named since a day, plan by plan, and tells where nothing was tried yet at the
// reached step.
func (q Q) Paces(ctx context.Context, dogs []string, since string) (list []Pace, err error) {
	if len(dogs) == 0 {
		return nil, nil
	}
	err = q.in(ctx, &list, `SELECT p.id AS plan, coalesce(sum(b.active), 0) AS active, coalesce(sum(b.logged), 0) AS logged,
		EXISTS (SELECT 1 FROM trials x JOIN standings t ON t.plan = x.plan AND t.reached = x.step WHERE x.plan = p.id) AS tried
		FROM plans p LEFT JOIN sessions s ON s.dog = p.dog AND s.day >= ? AND s.deleted IS NULL
		LEFT JOIN blocks b ON b.session = s.id AND b.plan = p.id AND b.mode = '' AND b.active > 0
		WHERE p.dog IN (?) AND p.deleted IS NULL GROUP BY p.id`, since, dogs)
	return list, err
}
