package store

import (
	"context"
	"fmt"
	"strings"
)

// Skill is what is taught, with the version of its definition in force.
type Skill struct {
	ID      string `db:"id"`
	Name    string `db:"name"`
	Kind    string `db:"kind"`
	Version int    `db:"version"`
	Made    int64  `db:"made"`
}

// Definition is one version of what "right" means, as JSON.
type Definition struct {
	Skill   string `db:"skill"`
	Version int    `db:"version"`
	Body    string `db:"body"`
	Made    int64  `db:"made"`
	MadeBy  string `db:"made_by"`
	By      string `db:"by_name"` // who made it, by name, where versions are read
}

// Skills lists all skills by name.
func (q Q) Skills(ctx context.Context) (list []Skill, err error) {
	err = q.many(ctx, &list, `SELECT id, name, kind, version, made FROM skills WHERE deleted IS NULL ORDER BY name, id LIMIT 500`)
	return list, err
}

// AddSkill writes a new skill; its definition is written with AddDefinition.
func (q Q) AddSkill(ctx context.Context, s Skill) error {
	return q.named(ctx, `INSERT INTO skills (id, name, kind, version, made) VALUES (:id, :name, :kind, :version, :made)`, s)
}

// AddDefinition writes the next version of a skill's definition and puts it in force, if the one
// before it is still the newest; it says whether it was.
func (q Q) AddDefinition(ctx context.Context, d Definition) (bool, error) {
	n, err := q.exec(ctx, `UPDATE skills SET version = ? WHERE id = ? AND version IN (?, ?)`, d.Version, d.Skill, d.Version-1, d.Version)
	if err != nil || n == 0 {
		return false, err
	}
	return true,
		q.named(ctx, `INSERT INTO definitions (skill, version, body, made, made_by) VALUES (:skill, :version, :body, :made, :made_by)`, d)
}

// Definitions loads versions of skills' definitions: all versions of the skills named.
func (q Q) Definitions(ctx context.Context, skills []string) (list []Definition, err error) {
	if len(skills) == 0 {
		return nil, nil
	}
	err = q.in(ctx, &list, `SELECT f.skill, f.version, f.body, f.made, f.made_by, coalesce(p.name, '') AS by_name
		FROM definitions f LEFT JOIN people p ON p.id = f.made_by WHERE f.skill IN (?) ORDER BY f.skill, f.version`, skills)
	return list, err
}

// Plan is a progression of one dog and one skill in its newest version, with what its pages need
// beside it: the dog's name and flags, the skill's definition in force, and where the dog is on the ladder.
type Plan struct {
	ID          string   `db:"id"`
	Dog         string   `db:"dog"`
	DogName     string   `db:"dog_name"`
	DogFlags    string   `db:"dog_flags"`
	DogSore     string   `db:"dog_sore"`    // where the dog is sore, with commas between
	DogBorn     string   `db:"dog_born"`    // YYYY-MM-DD or ""
	DogFeeding  string   `db:"dog_feeding"` // JSON
	Skill       string   `db:"skill"`
	SkillName   string   `db:"skill_name"`
	Kind        string   `db:"kind"`
	Definition  int      `db:"definition"`
	DefBody     string   `db:"def_body"`
	Sharing     int      `db:"sharing"`      // plans that follow the same definition, this one too
	SinceOpened int64    `db:"since_opened"` // when the session was opened since which the reached step is that, UTC ms
	Track       string   `db:"track"`
	Main        string   `db:"main"`         // the plan whose ladder this one climbs: its own id, or of the plan it is a track of
	Founder     string   `db:"founder"`      // who began it, by id: blocks that name no level are of theirs; "" where nobody has yet
	MainHandler string   `db:"main_handler"` // whose level is the plan's; "" where nobody handled it yet
	Others      int      `db:"others"`       // who have a level beside the main handler's
	Released    int64    `db:"released"`     // when it was released for home, where it had only been kept away, UTC ms; 0 for never
	Version     int      `db:"version"`
	Body        string   `db:"body"`
	Made        int64    `db:"made"`
	Deleted     *int64   `db:"deleted"`
	Standing    Standing `db:"standing"`
}

// LevelOf is whose level blocks name where somebody handles: "" for the one who began the plan.
func (p Plan) LevelOf(handler string) string {
	if handler == p.Founder {
		return ""
	}
	return handler
}

// MainLevel is the level of the main handler.
func (p Plan) MainLevel() string { return p.LevelOf(p.MainHandler) }

// planSelect joins a plan's standing as nullable columns: a new plan has none until it is worked out.
var planSelect = `SELECT p.id, p.dog, d.name AS dog_name, d.flags AS dog_flags,
	coalesce((SELECT group_concat(DISTINCT h.what) FROM health h WHERE h.dog = d.id AND h.kind = 'sore' AND h.over = ''
		AND h.deleted IS NULL), '') AS dog_sore, d.born AS dog_born, d.feeding AS dog_feeding,
	p.skill, s.name AS skill_name, s.kind,
	s.version AS definition, f.body AS def_body, p.track, p.founder, p.main_handler, p.released,
	(SELECT count(*) FROM levels e WHERE e.plan = p.id) AS others, m.id AS main, m.version, v.body, p.made, p.deleted,
	(SELECT count(*) FROM plans o WHERE o.skill = p.skill AND o.deleted IS NULL AND o.twin_of IS NULL) AS sharing,
	coalesce((SELECT o.opened FROM sessions o WHERE o.id = t.since_session), 0) AS since_opened, ` + standingSelect() + `
	FROM plans p JOIN plans m ON m.id = coalesce(p.twin_of, p.id) JOIN dogs d ON d.id = p.dog JOIN skills s ON s.id = p.skill
	JOIN definitions f ON f.skill = s.id AND f.version = s.version
	JOIN plan_versions v ON v.plan = m.id AND v.version = m.version
	LEFT JOIN standings t ON t.plan = p.id `

func standingSelect() string {
	var parts []string
	for _, column := range strings.Split(standingColumns, ", ") {
		empty := "''"
		switch column {
		case "given", "sessions", "stopped", "finished", "apart", "probe_gap", "step_at", "step_of", "entries", "repeats", "stalled",
			"splits":
			empty = "0"
		case "since_at":
			empty = "0.0"
		case "rung":
			empty = "1"
		case "rounds":
			empty = "'null'"
		}
		parts = append(parts, fmt.Sprintf(`coalesce(t.%s, %s) AS "standing.%s"`, column, empty, column))
	}
	return strings.Join(parts, ", ")
}

// Plan loads one plan in its newest version, deleted or not.
func (q Q) Plan(ctx context.Context, id string) (p Plan, err error) {
	err = q.one(ctx, &p, planSelect+`WHERE p.id = ?`, id)
	return p, err
}

// Plans lists the plans of the dogs named, all dogs for nil.
func (q Q) Plans(ctx context.Context, dogs []string, limit int) (list []Plan, err error) {
	const order = ` ORDER BY d.name, p.made, p.id LIMIT ?`
	if dogs == nil {
		err = q.many(ctx, &list, planSelect+`WHERE p.deleted IS NULL AND d.deleted IS NULL`+order, limit)
		return list, err
	}
	if len(dogs) == 0 {
		return nil, nil
	}
	err = q.in(ctx, &list, planSelect+`WHERE p.deleted IS NULL AND p.dog IN (?)`+order, dogs, limit)
	return list, err
}

// Head is a plan's standing with its dog.
type Head struct {
	Standing
	Dog     string `db:"dog"`
	DogName string `db:"dog_name"`
	InClass bool   `db:"in_class"` // of a class that goes on
}

// PlanHeads lists the standings of all plans, with their plans' ids: what a list needs to choose from them. today is YYYY-MM-DD.
func (q Q) PlanHeads(ctx context.Context, limit int, today string) (list []Head, err error) {
	err = q.many(ctx, &list, `WITH taught AS (SELECT j.value AS plan FROM classes c JOIN class_dogs x ON x.class = c.id, json_each(x.plans) j
			WHERE c.deleted IS NULL AND ? < date(c.start, '+' || (7 * json_extract(c.programme, '$.weeks')) || ' days'))
		SELECT p.id IN (SELECT plan FROM taught) AS in_class, p.id AS plan, p.dog, d.name AS dog_name, coalesce(t.sessions, 0) AS sessions,
		coalesce(t.last_day, '') AS last_day, coalesce(t.stopped, 0) AS stopped,
		coalesce(t.last_advice, '') AS last_advice, coalesce(t.last_deed, '') AS last_deed, coalesce(t.finished, 0) AS finished,
		coalesce(t.probe_due, '') AS probe_due,
		coalesce(t.step_at, 0) AS step_at, coalesce(t.step_of, 0) AS step_of, coalesce(t.rule, '') AS rule, coalesce(t.entries,
		0) AS entries, coalesce(t.repeats, 0) AS repeats, coalesce(t.stalled, 0) AS stalled
		FROM plans p JOIN dogs d ON d.id = p.dog LEFT JOIN standings t ON t.plan = p.id
		WHERE p.deleted IS NULL AND d.deleted IS NULL ORDER BY d.name, p.made, p.id LIMIT ?`, today, limit)
	return list, err
}

// PlansByID loads the plans named, in no order.
func (q Q) PlansByID(ctx context.Context, ids []string) (list []Plan, err error) {
	if len(ids) == 0 {
		return nil, nil
	}
	err = q.in(ctx, &list, planSelect+`WHERE p.id IN (?)`, ids)
	return list, err
}

// PlansBeside lists the plans of a plan's dog, itself first.
func (q Q) PlansBeside(ctx context.Context, id string, limit int) (list []Plan, err error) {
	err = q.many(ctx, &list, planSelect+`WHERE p.deleted IS NULL AND p.dog = (SELECT dog FROM plans WHERE id = ?)
		ORDER BY p.id <> ?, p.made, p.id LIMIT ?`, id, id, limit)
	return list, err
}

// PlansAway lists the plans of a dog that were put away: a plan with its tracks, or one track alone.
func (q Q) PlansAway(ctx context.Context, dog string, limit int) (list []Plan, err error) {
	err = q.many(ctx, &list,
		planSelect+`WHERE p.deleted IS NOT NULL AND (p.twin_of IS NULL OR m.deleted IS NULL) AND p.dog = ? ORDER BY p.deleted DESC, p.id LIMIT ?`,
		dog, limit)
	return list, err
}

// Tracks lists the plans that climb the same ladder as the one named, itself too, in the order in which
// they were made.
func (q Q) Tracks(ctx context.Context, main string) (list []Plan, err error) {
	err = q.many(ctx, &list,
		planSelect+`WHERE m.id = ? AND (p.deleted IS NULL OR p.id = m.id) ORDER BY p.twin_of IS NOT NULL, p.made, p.id`, main)
	return list, err
}

// Siblings lists the ids of the plans that climb the same ladder, the one named too.
func (q Q) Siblings(ctx context.Context, plan string) (ids []string, err error) {
	err = q.many(ctx, &ids, `SELECT id FROM plans
		WHERE coalesce(twin_of, id) = (SELECT coalesce(twin_of, id) FROM plans WHERE id = ?) ORDER BY id`, plan)
	return ids, err
}

// NewPlan is what a new plan is made of.
type NewPlan struct {
	ID     string  `db:"id"`
	Dog    string  `db:"dog"`
	Skill  string  `db:"skill"`
	Track  string  `db:"track"`
	TwinOf *string `db:"twin_of"` // nil for a ladder of its own
	Made   int64   `db:"made"`

	Version int `db:"version"` // 0 until its first version is written
}

// AddPlan writes a new plan; its first version is written with AddPlanVersion, unless it is a track of
// another one.
func (q Q) AddPlan(ctx context.Context, p NewPlan) error {
	return q.named(ctx,
		`INSERT INTO plans (id, dog, skill, track, twin_of, version, made) VALUES (:id, :dog, :skill, :track, :twin_of, :version, :made)`,
		p)
}

// SetFounder says who began a plan, where nobody is known to have: they are its main handler, unless one was chosen.
func (q Q) SetFounder(ctx context.Context, id, person string) error {
	_, err := q.exec(ctx, `UPDATE plans SET founder = ?, main_handler = CASE main_handler WHEN '' THEN ? ELSE main_handler END
		WHERE id = ? AND founder = ''`, person, person, id)
	return err
}

// SetMainHandler changes whose level is a plan's.
func (q Q) SetMainHandler(ctx context.Context, id, person string) error {
	_, err := q.exec(ctx, `UPDATE plans SET main_handler = ? WHERE id = ?`, person, id)
	return err
}

// NameTrack gives a plan's track a name.
func (q Q) NameTrack(ctx context.Context, id, track string) error {
	_, err := q.exec(ctx, `UPDATE plans SET track = ? WHERE id = ?`, track, id)
	return err
}

// DeletePlan marks a plan and its tracks deleted at a time, or brings them back with nil.
func (q Q) DeletePlan(ctx context.Context, id string, at *int64) (bool, error) {
	n, err := q.exec(ctx, `UPDATE plans SET deleted = ? WHERE id = ? OR twin_of = ?`, at, id, id)
	return n >= 1, err
}

// PlanVersion is one immutable version of a plan.
type PlanVersion struct {
	Plan    string `db:"plan"`
	Version int    `db:"version"`
	Body    string `db:"body"`
	Why     string `db:"why"`
	Made    int64  `db:"made"`
	MadeBy  string `db:"made_by"`
	By      string `db:"by_name"` // who made it, by name, where versions are listed
	Steps   int    `db:"steps"`   // how many it has, where versions are listed
}

// Step is one step in one version of a plan.
type Step struct {
	Plan     string `db:"plan"`
	Version  int    `db:"version"`
	Ord      int    `db:"ord"`
	ID       string `db:"id"`
	Rev      int    `db:"rev"`
	Criteria string `db:"criteria"`
	Safety   bool   `db:"safety"`
}

// AddPlanVersion writes the next version with its steps, if the one before it is still the newest;
// it says whether it was.
func (q Q) AddPlanVersion(ctx context.Context, v PlanVersion, steps []Step) (bool, error) {
	n, err := q.exec(ctx, `UPDATE plans SET version = ? WHERE id = ? AND version = ?`, v.Version, v.Plan, v.Version-1)
	if err != nil || n == 0 {
		return false, err
	}
	if err := q.named(ctx, `INSERT INTO plan_versions (plan, version, body, why, made, made_by)
		VALUES (:plan, :version, :body, :why, :made, :made_by)`, v); err != nil {
		return false, err
	}
	for i := range steps {
		steps[i].Plan, steps[i].Version, steps[i].Ord = v.Plan, v.Version, i
	}
	if len(steps) == 0 {
		return true, nil
	}
	return true, q.named(ctx, `INSERT INTO steps (plan, version, ord, id, rev, criteria, safety)
		VALUES (:plan, :version, :ord, :id, :rev, :criteria, :safety)`, steps)
}

// Steps loads the steps of the plans named in their newest versions, by plan and order.
func (q Q) Steps(ctx context.Context, plans []string) (list []Step, err error) {
	if len(plans) == 0 {
		return nil, nil
	}
	err = q.in(ctx, &list, `SELECT p.id AS plan, t.version, t.ord, t.id, t.rev, t.criteria, t.safety FROM plans p
		JOIN plans m ON m.id = coalesce(p.twin_of, p.id) JOIN steps t ON t.plan = m.id AND t.version = m.version
		WHERE p.id IN (?) ORDER BY p.id, t.ord`, plans)
	return list, err
}

// StepsOfVersions loads every version's steps of the plans named, by plan, version and order.
func (q Q) StepsOfVersions(ctx context.Context, plans []string) (list []Step, err error) {
	if len(plans) == 0 {
		return nil, nil
	}
	err = q.in(ctx, &list, `SELECT p.id AS plan, t.version, t.ord, t.id, t.rev, t.criteria, t.safety FROM plans p
		JOIN steps t ON t.plan = coalesce(p.twin_of, p.id) WHERE p.id IN (?) ORDER BY p.id, t.version, t.ord`, plans)
	return list, err
}

// PlanVersions lists the versions of a plan, newest first.
func (q Q) PlanVersions(ctx context.Context, plan string, limit int) (list []PlanVersion, err error) {
	err = q.many(ctx, &list, `SELECT v.plan, v.version, v.body, v.why, v.made, v.made_by, coalesce(p.name, '') AS by_name,
		(SELECT count(*) FROM steps t WHERE t.plan = v.plan AND t.version = v.version) AS steps
		FROM plan_versions v LEFT JOIN people p ON p.id = v.made_by WHERE v.plan = ? ORDER BY v.version DESC LIMIT ?`, plan, limit)
	return list, err
}

// BodiesOf lists what all versions of some plans hold beside their steps.
func (q Q) BodiesOf(ctx context.Context, plans []string) (list []PlanVersion, err error) {
	if len(plans) == 0 {
		return nil, nil
	}
	err = q.in(ctx, &list, `SELECT plan, version, body FROM plan_versions WHERE plan IN (?) ORDER BY plan, version`, plans)
	return list, err
}

// PlanName is a plan's skill and track.
type PlanName struct {
	ID    string `db:"id"`
	Skill string `db:"skill"`
	Track string `db:"track"`
}

// PlanNames names the plans given, those put away too.
func (q Q) PlanNames(ctx context.Context, ids []string) (list []PlanName, err error) {
	if len(ids) == 0 {
		return nil, nil
	}
	err = q.in(ctx, &list, `SELECT p.id, s.name AS skill, p.track FROM plans p JOIN skills s ON s.id = p.skill WHERE p.id IN (?)`, ids)
	return list, err
}

// ProbeDue is a finished skill and the day on which it is probed next.
type ProbeDue struct {
	Plan  string `db:"plan"`
	Dog   string `db:"dog"`
	Skill string `db:"skill"`
	Due   string `db:"due"`
}

// ProbesDue lists the finished skills that are probed next from one day to another, those overdue on today among
// them.
func (q Q) ProbesDue(ctx context.Context, from, to, today string) (list []ProbeDue, err error) {
	err = q.many(ctx, &list, `SELECT p.id AS plan, d.name AS dog, s.name AS skill, t.probe_due AS due FROM standings t
		JOIN plans p ON p.id = t.plan JOIN dogs d ON d.id = p.dog JOIN skills s ON s.id = p.skill
		WHERE t.finished AND t.probe_due <> '' AND max(t.probe_due, ?) BETWEEN ? AND ? AND p.deleted IS NULL
		AND d.deleted IS NULL ORDER BY d.name, s.name, p.id LIMIT 200`, today, from, to)
	return list, err
}
