package store

import (
	"cmp"
	"context"
	"encoding/json"
	"errors"
	"slices"

	"patientfox/core/care"
	"patientfox/core/standing"
)

// CareTask is something that is really done to a dog, again and again or for a course of days.
type CareTask struct {
	ID      string `db:"id"`
	Dog     string `db:"dog"`
	DogName string `db:"dog_name"` // when it is loaded
	Name    string `db:"name"`
	Sites   string `db:"sites"`       // JSON, a list of words
	Every   int    `db:"every_days"`  // 0 for a course
	Days    int    `db:"course_days"` // of a course
	PerDay  int    `db:"per_day"`
	From    string `db:"from_day"` // YYYY-MM-DD
	Whose   string `db:"whose"`    // "", "vet" or "groomer"
	Named   string `db:"named"`
	Said    string `db:"said"`
	Skill   string `db:"skill"` // touches of it that were really done are times of the task; "" for none
	Made    int64  `db:"made"`
	Version int    `db:"version"` // counts its changes
	Done    string `db:"done"`    // JSON, the latest times as CareDone has them, newest first
}

// CareDone is one time that a task was done at one site.
type CareDone struct {
	ID     string `db:"id"`
	Task   string `db:"task"`
	Site   string `db:"site"`
	Day    string `db:"day"` // YYYY-MM-DD
	Person string `db:"person"`
	Amount string `db:"amount"`
	Left   bool   `db:"left"`
	Made   int64  `db:"made"`

	Session string `db:"session"` // where a touch was that was really done; "" of what was logged by hand
	Part    string `db:"part"`    // of the site, of such a touch: which claw
}

// Read decodes a task, with the times that it was done, newest first, and what they are to what is due.
func (t CareTask) Read() (task care.Task, done []CareDone, times []care.Done, err error) {
	if err := json.Unmarshal([]byte(t.Done), &done); err != nil {
		return task, nil, nil, err
	}
	for _, one := range slices.Backward(done) {
		day, _ := standing.Day(one.Day)
		times = append(times, care.Done{Site: one.Site, Day: day, Left: one.Left, Part: one.Part})
	}
	from, _ := standing.Day(t.From)
	task = care.Task{Every: t.Every, Days: t.Days, PerDay: t.PerDay, From: from, Theirs: t.Whose != "", Named: t.Named != ""}
	err = json.Unmarshal([]byte(t.Sites), &task.Sites)
	return task, done, times, err
}

// doneLoaded is how many of a task's times are loaded: a course at several sites is among them whole, and what is due rests on the last
// time at each site.
const doneLoaded = 400

// What was logged by hand, and the touches of the task's skill that were really done at one of its sites.
const careTaskSelect = `SELECT t.id, t.dog, d.name AS dog_name, t.name, t.sites, t.every_days, t.course_days, t.per_day, t.from_day,
	t.whose, t.named, t.said, t.skill, t.made, t.version, (SELECT json_group_array(json_object('ID', x.id, 'Site', x.site, 'Day', x.day,
		'Person', x.person, 'Amount', x.amount, 'Left', json(iif(x.left, 'true', 'false')), 'Session', x.session, 'Part', x.part)) FROM (
		SELECT n.id, n.site, n.day, n.person, n.amount, n.left, n.made, '' AS session, '' AS part
			FROM care_done n WHERE n.task = t.id AND n.deleted IS NULL
		UNION ALL SELECT '', e.value, s.day, r.handler, '', 0, s.opened, s.id, coalesce(json_extract(r.measures, '$.part'), '')
			FROM plans p JOIN trials r ON r.plan = p.id AND instr(r.measures, '"done":true') > 0 JOIN sessions s ON s.id = r.session
			JOIN json_each(t.sites) e ON e.value = json_extract(r.measures, '$.site')
				OR p.track <> '' AND e.value = json_extract(r.measures, '$.site') || ', ' || p.track
			WHERE t.skill <> '' AND p.skill = t.skill AND p.dog = t.dog AND s.deleted IS NULL AND r.counts AND r.outcome <> 'void'
			AND json_extract(r.measures, '$.done')
		ORDER BY 3 DESC, 7 DESC, 1 DESC LIMIT ?) x) AS done
	FROM care_tasks t JOIN dogs d ON d.id = t.dog `

// CareTasks lists the tasks of a dog with their latest times.
func (q Q) CareTasks(ctx context.Context, dog string) (list []CareTask, err error) {
	err = q.many(ctx, &list, careTaskSelect+`WHERE t.dog = ? AND t.deleted IS NULL ORDER BY t.made, t.id`, doneLoaded, dog)
	return list, err
}

// FromHome is what households sent about a dog and nobody may have looked at yet.
type FromHome struct {
	Dog, DogName string
	Lines        int // that came by links
	Letters      int // with homework whose lines were not entered
}

// DayBegins is what a day begins with, over all dogs that are there.
type DayBegins struct {
	Open []OpenSession // the newest that were not ended
	Care []CareTask    // at most as many as were asked for
	Home []FromHome    // by dog

	Classes []ClassDay // that meet, by hour

	Assigned []Assignment // who works which dog
	Notes    []DayNote    // to colleagues, newest first
	Roles    []string     // of everybody who is there
}

// DayNote is an open note as a day shows it.
type DayNote struct{ ID, Dog, Text, Whom, By string }

// OfToday lists it, with the lines from households since a moment, UTC ms; today is YYYY-MM-DD.
func (q Q) OfToday(ctx context.Context, tasks int, since int64, today string) (d DayBegins, err error) {
	var row struct {
		Open string `db:"open"`
		Care string `db:"care"`
		Home string `db:"home"`

		Classes string `db:"classes"`

		Assigned string `db:"assigned"`
		Notes    string `db:"notes"`
		Roles    string `db:"roles"`
	}
	err = q.one(ctx, &row, `SELECT
		(SELECT json_group_array(json_object('Session', s.id, 'Plan', b.plan, 'Dog', d.name, 'Skill', k.name, 'Opened', s.opened))
			FROM (SELECT id, opened FROM sessions WHERE ended IS NULL AND deleted IS NULL AND opened > 0 ORDER BY opened DESC LIMIT 5) s
			JOIN blocks b ON b.session = s.id AND b.ord = 0 JOIN dogs d ON d.id = b.dog JOIN skills k ON k.id = b.skill) AS open,
		(SELECT json_group_array(json_object('Dog', dog, 'DogName', dog_name, 'Name', name, 'Sites', sites, 'Every', every_days,
			'Days', course_days, 'PerDay', per_day, 'From', from_day, 'Whose', whose, 'Named', named, 'Done', '' || done)) FROM (`+careTaskSelect+`
			WHERE t.deleted IS NULL AND d.deleted IS NULL ORDER BY d.name, t.made, t.id LIMIT ?)) AS care,
		(SELECT json_group_array(json_object('Dog', id, 'DogName', name, 'Lines', lines, 'Letters', letters)) FROM (SELECT d.id, d.name,
			(SELECT count(*) FROM homework_lines h WHERE h.dog = d.id AND h.made >= ? AND h.came = 'link' AND h.deleted IS NULL) AS lines,
			(SELECT count(*) FROM letters l WHERE l.dog = d.id AND l.box = 'in' AND l.homework = 1 AND l.entered IS NULL) AS letters
			FROM dogs d WHERE d.deleted IS NULL ORDER BY d.name, d.id) WHERE lines > 0 OR letters > 0) AS home,
		(SELECT json_group_array(json_object('ID', id, 'Name', name, 'At', at, 'Place', place, 'Week', week, 'Dogs', dogs))
			FROM (`+classDays+`)) AS classes,
		(SELECT json_group_array(json_object('Dog', a.dog, 'Person', a.person, 'Name', p.name)) FROM assignments a
			JOIN people p ON p.id = a.person WHERE a.day = ?) AS assigned,
		(SELECT json_group_array(json_object('ID', id, 'Dog', name, 'Text', text, 'Whom', whom, 'By', made_by)) FROM (SELECT n.id, d.name,
			n.text, n.whom, n.made_by FROM notes n JOIN dogs d ON d.id = n.dog WHERE n.done IS NULL AND n.deleted IS NULL
			ORDER BY n.made DESC, n.id LIMIT 50)) AS notes,
		(SELECT json_group_array(role) FROM people WHERE deleted IS NULL) AS roles`,
		doneLoaded, tasks, since, today, today, today)
	if err == nil {
		err = errors.Join(json.Unmarshal([]byte(row.Open), &d.Open), json.Unmarshal([]byte(row.Care), &d.Care),
			json.Unmarshal([]byte(row.Home), &d.Home), json.Unmarshal([]byte(row.Classes), &d.Classes),
			json.Unmarshal([]byte(row.Assigned), &d.Assigned), json.Unmarshal([]byte(row.Notes), &d.Notes),
			json.Unmarshal([]byte(row.Roles), &d.Roles))
	}
	slices.SortStableFunc(d.Open, func(a, b OpenSession) int { return cmp.Compare(b.Opened, a.Opened) })
	return d, err
}

// CareOfAll lists the tasks of all dogs that are there, with their latest times.
func (q Q) CareOfAll(ctx context.Context, limit int) (list []CareTask, err error) {
	err = q.many(ctx, &list, careTaskSelect+`WHERE t.deleted IS NULL AND d.deleted IS NULL ORDER BY d.name, t.made, t.id LIMIT ?`,
		doneLoaded, limit)
	return list, err
}

// CareTask loads one task with its latest times; one that was put away is ErrNone.
func (q Q) CareTask(ctx context.Context, id string) (t CareTask, err error) {
	err = q.one(ctx, &t, careTaskSelect+`WHERE t.id = ? AND t.deleted IS NULL`, doneLoaded, id)
	return t, err
}

// AddCareTask writes one.
func (q Q) AddCareTask(ctx context.Context, t CareTask) error {
	return q.named(ctx, `INSERT INTO care_tasks
			(id, dog, name, sites, every_days, course_days, per_day, from_day, whose, named, said, skill, made)
		VALUES (:id, :dog, :name, :sites, :every_days, :course_days, :per_day, :from_day, :whose, :named, :said, :skill, :made)`, t)
}

// SetCareTask changes a task of its dog where it is still the version that it says; ok is false where it is not.
func (q Q) SetCareTask(ctx context.Context, t CareTask) (ok bool, err error) {
	n, err := q.exec(ctx, `UPDATE care_tasks SET name = ?, sites = ?, every_days = ?, course_days = ?, per_day = ?, from_day = ?, whose = ?,
		named = ?, said = ?, skill = ?, version = version + 1 WHERE id = ? AND dog = ? AND version = ? AND deleted IS NULL`,
		t.Name, t.Sites, t.Every, t.Days, t.PerDay, t.From, t.Whose, t.Named, t.Said, t.Skill, t.ID, t.Dog, t.Version)
	return n == 1, err
}

// DeleteCareTask marks one deleted at a time, or brings it back with nil.
func (q Q) DeleteCareTask(ctx context.Context, id string, at *int64) (bool, error) {
	n, err := q.exec(ctx, `UPDATE care_tasks SET deleted = ? WHERE id = ?`, at, id)
	return n == 1, err
}

// AddCareDone writes one time.
func (q Q) AddCareDone(ctx context.Context, d CareDone) error {
	return q.named(ctx, `INSERT INTO care_done (id, task, site, day, person, amount, left, made)
		VALUES (:id, :task, :site, :day, :person, :amount, :left, :made)`, d)
}

// DeleteCareDone marks one time of a dog's task deleted at a time.
func (q Q) DeleteCareDone(ctx context.Context, dog, id string, at int64) (bool, error) {
	n, err := q.exec(ctx, `UPDATE care_done SET deleted = ? WHERE id = ? AND deleted IS NULL
		AND task IN (SELECT id FROM care_tasks WHERE dog = ?)`, at, id, dog)
	return n == 1, err
}

// CareMark is a site of a dog that is sore, or never touched.
type CareMark struct {
	Dog  string `db:"dog"`
	Site string `db:"site"`
	Mark string `db:"mark"`
	Said string `db:"said"`
	Told bool   `db:"told"` // it is of what is known of the dog's health, and ends there
}

// CareMarks lists those of a dog; a site that is sore by what is known of its health is marked as well.
func (q Q) CareMarks(ctx context.Context, dog string) (list []CareMark, err error) {
	err = q.many(ctx, &list, `SELECT dog, site, mark, said, 0 AS told FROM care_marks WHERE dog = ?1
		UNION ALL SELECT dog, what, 'sore', max(said), 1 FROM health WHERE dog = ?1 AND kind = 'sore' AND over = '' AND deleted IS NULL
			AND what NOT IN (SELECT site FROM care_marks WHERE dog = ?1) GROUP BY dog, what
		ORDER BY site`, dog)
	return list, err
}

// SetCareMark marks a site, or takes its mark away where that is "".
func (q Q) SetCareMark(ctx context.Context, m CareMark) error {
	if m.Mark == "" {
		_, err := q.exec(ctx, `DELETE FROM care_marks WHERE dog = ? AND site = ?`, m.Dog, m.Site)
		return err
	}
	return q.named(ctx, `INSERT INTO care_marks (dog, site, mark, said) VALUES (:dog, :site, :mark, :said)
		ON CONFLICT (dog, site) DO UPDATE SET mark = excluded.mark, said = excluded.said`, m)
}
