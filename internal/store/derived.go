package store

import (
	"context"
	"fmt"
	"strings"
)

// Session is what is known of a session beside its events.
type Session struct {
	ID      string   `db:"id"`
	Stale   bool     `db:"stale"`
	Fold    int      `db:"fold"`
	Opened  int64    `db:"opened"` // UTC Unix ms
	Day     string   `db:"day"`
	Dog     string   `db:"dog"`
	Place   string   `db:"place"`
	Ended   *float64 `db:"ended"` // s of the session's clock
	Reason  string   `db:"reason"`
	Next    string   `db:"next"`
	Pieces  *int     `db:"pieces"`
	Tags    string   `db:"tags"`  // a JSON list
	Sheet   string   `db:"sheet"` // the planned session that it follows, "" for none
	Class   string   `db:"class"` // the class in whose meeting it was, "" for none
	Signs   string   `db:"signs"` // a JSON list of those that were seen of the dog and stand
	Deleted *int64   `db:"deleted"`
	Unread  string   `db:"unread"`    // why it cannot be read, "" where it can
	ReadTo  string   `db:"read_to"`   // JSON, by device: the highest number of the events that its rows were made from
	Where   string   `db:"where_"`    // the place's name, where sessions are listed
	Ready   string   `db:"ready"`     // JSON of the readiness test, "" where there was none
	Last    string   `db:"last_plan"` // the plan that was worked as it ended
}

// Ready is a readiness test before a session; nil figures (s) were not answered.
type Ready struct {
	Verdict string   `json:"verdict,omitempty"` // "" where it was left before its end
	Signs   int      `json:"signs"`             // of three
	LookS   *float64 `json:"look_s,omitempty"`
	NameS   *float64 `json:"name_s,omitempty"`
	BackS   *float64 `json:"back_s,omitempty"`
	Ticks   []string `json:"ticks,omitempty"`
}

// Block is one derived block.
type Block struct {
	ID          string  `db:"id"`
	Session     string  `db:"session"`
	Ord         int     `db:"ord"`
	Plan        string  `db:"plan"`
	PlanVersion int     `db:"plan_version"`
	Track       string  `db:"track"`
	Skill       string  `db:"skill"`
	Skills      string  `db:"skills"`
	Definition  int     `db:"definition"`
	Dog         string  `db:"dog"`
	Handler     string  `db:"handler"`
	At          float64 `db:"at"`
	Logged      int     `db:"logged"`
	Unlogged    int     `db:"unlogged"`
	Said        bool    `db:"said"`
	Left        *int    `db:"pieces_left"`
	Pays        int     `db:"pays"`
	Pieces      int     `db:"pieces"`
	Mode        string  `db:"mode"`
	Offers      int     `db:"offers"`
	Growls      int     `db:"growls"`   // and snaps
	Arousal     int     `db:"arousal"`  // the highest noted, −1 for none
	Life        int     `db:"life"`     // of its pays, those that were the distraction itself
	Withheld    int     `db:"withheld"` // cues that were not given
	Decoys      int     `db:"decoys"`
	Shied       int     `db:"shied"`      // from which the dog withdrew
	Active      float64 `db:"active"`     // s, breaks left out
	First       bool    `db:"first"`      // the first of its skill on its day: its first trial is cold
	Guest       bool    `db:"guest"`      // of another dog than the session was opened with
	Experiment  string  `db:"experiment"` // what it was given of one, as JSON; "" for none
	Level       string  `db:"level"`      // whose level was worked, "" for that of the one who began the plan
}

// Move is one derived move.
type Move struct {
	ID      string  `db:"id"`
	Session string  `db:"session"`
	Ord     int     `db:"ord"`
	Plan    string  `db:"plan"`
	At      float64 `db:"at"`
	From    string  `db:"from_step"`
	To      string  `db:"to_step"`
	Why     string  `db:"why"`
	Level   string  `db:"level"` // that it changed, as of a block
}

// Verdict is one derived verdict.
type Verdict struct {
	ID          string  `db:"id"`
	Session     string  `db:"session"`
	Ord         int     `db:"ord"`
	Plan        string  `db:"plan"`
	Step        string  `db:"step"`
	At          float64 `db:"at"`
	Recommended string  `db:"advice"`
	Action      string  `db:"deed"`
	Reasons     string  `db:"reasons"` // JSON
	Rule        string  `db:"rule"`    // JSON, of the rule that spoke
	Reads       string  `db:"reads"`   // JSON, ids of the trials it read
	Level       string  `db:"level"`   // that it was of, as of a block
}

// Standing is where a plan's dog is on the ladder with its main handler.
type Standing struct {
	Plan            string  `db:"plan"`
	Reached         string  `db:"reached"`
	Given           bool    `db:"given"`
	Since           string  `db:"since"`
	Half            string  `db:"half"` // the half step at which sessions open, "" for none
	Splits          int     `db:"splits"`
	SinceSession    string  `db:"since_session"`
	SinceAt         float64 `db:"since_at"` // s of that session's clock
	Sessions        int     `db:"sessions"`
	LastSession     string  `db:"last_session"`
	LastDay         string  `db:"last_day"`
	LastPlace       string  `db:"last_place"`
	Stopped         bool    `db:"stopped"`
	LastRecommended string  `db:"last_advice"`
	LastAction      string  `db:"last_deed"`
	Finished        bool    `db:"finished"`
	UnfollowedMoves int     `db:"apart"`
	ProbeGap        int     `db:"probe_gap"` // days; 0 while it is not finished
	ProbeDue        string  `db:"probe_due"` // YYYY-MM-DD, "" while it is not finished
	StepAt          int     `db:"step_at"`   // index of the reached step
	StepOf          int     `db:"step_of"`   // number of steps
	Rule            string  `db:"rule"`      // the kind of the plan's rule
	Entries         int     `db:"entries"`   // how often the dog came to the reached step
	Repeats         int     `db:"repeats"`   // verdicts since then that did not pass
	Stalled         int     `db:"stalled"`   // sessions without a step higher than any before
	Rung            int     `db:"rung"`      // pay is thinned to one in Rung
	Rounds          string  `db:"rounds"`    // JSON: the proof rounds that were over, as standing.Standing has them
}

// Fed is what was paid in a block with one reward.
type Fed struct {
	Session string `db:"session"`
	Block   string `db:"block"`  // "" for what was paid before the first
	Reward  string `db:"reward"` // "" where it was not said
	Pays    int    `db:"pays"`
	Pieces  int    `db:"pieces"`
}

// Derived is everything that the fold says of one session.
type Derived struct {
	Session  Session
	Blocks   []Block
	Trials   []Trial
	Moves    []Move
	Verdicts []Verdict
	Fed      []Fed
}

const sessionColumns = `id, stale, fold, opened, day, dog, place, ended, reason, next, pieces, tags, sheet, class, signs, deleted, ` +
	`unread, read_to, last_plan, ready`

const (
	blockColumns = `id, session, ord, plan, plan_version, track, skill, skills, definition, dog, handler, at, logged, unlogged, ` +
		`said, pieces_left, pays, pieces, mode, offers, growls, arousal, life, withheld, decoys, shied, active, first, guest, experiment, level`
	moveColumns    = `id, session, ord, plan, at, from_step, to_step, why, level`
	fedColumns     = `session, block, reward, pays, pieces`
	verdictColumns = `id, session, ord, plan, step, at, advice, deed, reasons, rule, reads, level`
)

// MarkOlderFolds marks the sessions that an older fold read.
func (q Q) MarkOlderFolds(ctx context.Context, fold int) error {
	_, err := q.exec(ctx, `UPDATE sessions SET stale = 1 WHERE fold < ? AND stale = 0`, fold)
	return err
}

// MarkAllStale marks every session for refolding.
func (q Q) MarkAllStale(ctx context.Context) error {
	_, err := q.exec(ctx, `UPDATE sessions SET stale = 1`)
	return err
}

// Session loads one session.
func (q Q) Session(ctx context.Context, id string) (s Session, err error) {
	err = q.one(ctx, &s, `SELECT `+prefixed("s", sessionColumns)+`, coalesce(p.name, '') AS where_
		FROM sessions s LEFT JOIN places p ON p.id = s.place WHERE s.id = ?`, id)
	return s, err
}

// DeleteSession marks a session deleted at a time, or brings it back with nil. Its events stay.
func (q Q) DeleteSession(ctx context.Context, id string, at *int64) (bool, error) {
	n, err := q.exec(ctx, `UPDATE sessions SET deleted = ?, stale = 1 WHERE id = ?`, at, id)
	return n == 1, err
}

// derivedTables hold what the fold makes of a session.
var derivedTables = []string{"blocks", "trials", "moves", "verdicts", "fed"}

// Replace puts a session's derived rows in place of those it had.
func (q Q) Replace(ctx context.Context, d Derived) error {
	for _, table := range derivedTables {
		if _, err := q.exec(ctx, `DELETE FROM `+table+` WHERE session = ?`, d.Session.ID); err != nil {
			return err
		}
	}
	if err := q.named(ctx, `UPDATE sessions SET stale = 0, fold = :fold, opened = :opened, day = :day, dog = :dog, place = :place,
		ended = :ended, reason = :reason, next = :next, pieces = :pieces, tags = :tags, sheet = :sheet, class = :class, signs = :signs,
		unread = :unread, read_to = :read_to, last_plan = :last_plan, ready = :ready WHERE id = :id`, d.Session); err != nil {
		return err
	}
	return anyErr(
		insert(ctx, q, "blocks", blockColumns, d.Blocks),
		insert(ctx, q, "trials", trialColumns, rowsOf(d.Trials)),
		insert(ctx, q, "moves", moveColumns, d.Moves),
		insert(ctx, q, "verdicts", verdictColumns, d.Verdicts),
		insert(ctx, q, "fed", fedColumns, d.Fed),
	)
}

func anyErr(errs ...error) error {
	for _, err := range errs {
		if err != nil {
			return err
		}
	}
	return nil
}

// insert writes rows a few hundred at a time, below the bound on a statement's parameters.
func insert[T any](ctx context.Context, q Q, table, columns string, rows []T) error {
	names := strings.Split(columns, ", ")
	statement := fmt.Sprintf("INSERT INTO %s (%s) VALUES (:%s)", table, columns, strings.Join(names, ", :"))
	for len(rows) > 0 {
		n := min(len(rows), 200)
		if err := q.named(ctx, statement, rows[:n]); err != nil {
			return err
		}
		rows = rows[n:]
	}
	return nil
}

// DerivedOf loads what is derived of one session, for showing and for comparing.
func (q Q) DerivedOf(ctx context.Context, session string) (d Derived, err error) {
	if d.Session, err = q.Session(ctx, session); err != nil {
		return d, err
	}
	var rows []*trialRow
	err = anyErr(
		q.many(ctx, &d.Blocks, `SELECT `+blockColumns+` FROM blocks WHERE session = ? ORDER BY ord`, session),
		q.many(ctx, &rows, `SELECT `+trialColumns+` FROM trials WHERE session = ? ORDER BY ord`, session),
		q.many(ctx, &d.Moves, `SELECT `+moveColumns+` FROM moves WHERE session = ? ORDER BY ord`, session),
		q.many(ctx, &d.Verdicts, `SELECT `+verdictColumns+` FROM verdicts WHERE session = ? ORDER BY ord`, session),
		q.many(ctx, &d.Fed, `SELECT `+fedColumns+` FROM fed WHERE session = ? ORDER BY block, reward`, session),
	)
	if err == nil {
		d.Trials, err = readRows(rows)
	}
	return d, err
}

// SessionIDs lists every session.
func (q Q) SessionIDs(ctx context.Context) (ids []string, err error) {
	err = q.many(ctx, &ids, `SELECT id FROM sessions ORDER BY id`)
	return ids, err
}

// MovesOfPlans loads the moves of the plans named, in the order of sessions and of the fold.
func (q Q) MovesOfPlans(ctx context.Context, plans []string) (list []Move, err error) {
	if len(plans) == 0 {
		return nil, nil
	}
	err = q.in(ctx, &list, `SELECT `+prefixed("m", moveColumns)+` FROM moves m JOIN sessions s ON s.id = m.session
		WHERE m.plan IN (?) AND s.deleted IS NULL ORDER BY s.opened, s.id, m.ord`, plans)
	return list, err
}

// StepWork is how much of a plan's work was at one step.
type StepWork struct {
	Plan     string `db:"plan"`
	Step     string `db:"step"`
	Sessions int    `db:"sessions"`
	Trials   int    `db:"trials"` // counted
}

// StepWorks adds up the work at each step of the plans named.
func (q Q) StepWorks(ctx context.Context, plans []string) (list []StepWork, err error) {
	if len(plans) == 0 {
		return nil, nil
	}
	err = q.in(ctx, &list, `SELECT t.plan, t.step, count(DISTINCT t.session) AS sessions, count(*) AS trials
		FROM trials t JOIN sessions s ON s.id = t.session WHERE t.plan IN (?) AND t.counts = 1 AND t.easy = 0 AND s.deleted IS NULL
		GROUP BY t.plan, t.step`, plans)
	return list, err
}

// StepMoves is how often a plan's dog went from one step to another.
type StepMoves struct {
	Plan string `db:"plan"`
	From string `db:"from_step"`
	To   string `db:"to_step"`
	N    int    `db:"n"`
}

// StepMoves counts the moves of the plans named, by the steps between which they were; those that set a handler's level apart.
func (q Q) StepMoves(ctx context.Context, plans []string) (list []StepMoves, err error) {
	if len(plans) == 0 {
		return nil, nil
	}
	err = q.in(ctx, &list, `SELECT m.plan, m.from_step, m.to_step, count(*) AS n FROM moves m JOIN sessions s ON s.id = m.session
		WHERE m.plan IN (?) AND s.deleted IS NULL AND m.why <> 'hands' GROUP BY m.plan, m.from_step, m.to_step`, plans)
	return list, err
}

// MarkFirst marks, of a dog's blocks on a day, the first of each skill that has any trial.
func (q Q) MarkFirst(ctx context.Context, dog, day string) error {
	_, err := q.exec(ctx, `UPDATE blocks SET first = logged > 0 AND NOT EXISTS (
			SELECT 1 FROM blocks o JOIN sessions os ON os.id = o.session JOIN sessions ms ON ms.id = blocks.session
			WHERE o.dog = blocks.dog AND os.day = ms.day AND os.deleted IS NULL AND o.skill = blocks.skill AND o.logged > 0
			AND (os.opened, os.id, o.ord) < (ms.opened, ms.id, blocks.ord))
		WHERE dog = ? AND session IN (SELECT id FROM sessions WHERE dog = ? AND day = ? AND deleted IS NULL
			UNION ALL SELECT g.session FROM blocks g JOIN sessions gs ON gs.id = g.session WHERE g.dog = ? AND g.guest = 1
			AND gs.day = ? AND gs.deleted IS NULL)`,
		dog, dog, day, dog, day)
	return err
}

// SessionsOfPlan lists the sessions of a plan that are not deleted, in their order.
func (q Q) SessionsOfPlan(ctx context.Context, plan string) (list []Session, err error) {
	err = q.many(ctx, &list, `SELECT `+prefixed("s", sessionColumns)+`, coalesce(p.name, '') AS where_
		FROM sessions s LEFT JOIN places p ON p.id = s.place
		WHERE s.deleted IS NULL AND s.id IN (SELECT session FROM blocks WHERE plan = ?) ORDER BY s.opened, s.id`, plan)
	return list, err
}

// SessionsBefore lists up to limit sessions that are not deleted and opened before (opened, id),
// newest first; of one dog, or of all for "".
func (q Q) SessionsBefore(ctx context.Context, dog string, opened int64, id string, limit int) (list []Session, err error) {
	const page = `deleted IS NULL AND opened > 0 AND (opened, id) < (?, ?) ORDER BY opened DESC, id DESC LIMIT ?`
	if dog == "" {
		err = q.many(ctx, &list, `SELECT `+sessionColumns+` FROM sessions WHERE `+page, opened, id, limit)
		return list, err
	}
	err = q.many(ctx, &list,
		`SELECT `+sessionColumns+` FROM sessions WHERE (dog = ? OR id IN (SELECT session FROM blocks WHERE dog = ? AND guest = 1)) AND `+page,
		dog, dog, opened, id, limit)
	return list, err
}

// TagNames lists the tags of the newest sessions, those used most first.
func (q Q) TagNames(ctx context.Context, limit int) (list []string, err error) {
	err = q.many(ctx, &list, `SELECT t.value FROM (SELECT tags FROM sessions WHERE tags <> '[]' AND deleted IS NULL
		ORDER BY opened DESC LIMIT 500) s, json_each(s.tags) t
		GROUP BY t.value ORDER BY count(*) DESC, t.value LIMIT ?`, limit)
	return list, err
}

// VerdictsOfPlan loads a plan's verdicts in order.
func (q Q) VerdictsOfPlan(ctx context.Context, plan string) (list []Verdict, err error) {
	err = q.many(ctx, &list, `SELECT `+prefixed("v", verdictColumns)+` FROM verdicts v JOIN sessions s ON s.id = v.session
		WHERE v.plan = ? AND s.deleted IS NULL ORDER BY s.opened, s.id, v.ord`, plan)
	return list, err
}

// BlocksOfPlans loads the blocks of the plans named, in order.
func (q Q) BlocksOfPlans(ctx context.Context, plans []string) (list []Block, err error) {
	if len(plans) == 0 {
		return nil, nil
	}
	err = q.in(ctx, &list, `SELECT `+prefixed("b", blockColumns)+` FROM blocks b JOIN sessions s ON s.id = b.session
		WHERE b.plan IN (?) AND s.deleted IS NULL ORDER BY s.opened, s.id, b.ord`, plans)
	return list, err
}

// BlocksOfSessions loads the blocks of the sessions named.
func (q Q) BlocksOfSessions(ctx context.Context, sessions []string) (list []Block, err error) {
	if len(sessions) == 0 {
		return nil, nil
	}
	err = q.in(ctx, &list, `SELECT `+blockColumns+` FROM blocks WHERE session IN (?) ORDER BY session, ord`, sessions)
	return list, err
}

// Chosen is something to choose from before a session: a place or a person, and whether the skill was worked there,
// or by them.
type Chosen struct {
	// place, person; last: Name is then the last day on which the skill was worked; logged: and the last on which a trial of it was
	// logged; shown: a step, Name, that was shown to a person; growled: and the last on which the dog growled or snapped; experiment: one
	// that was not stopped, Name is it as JSON
	What  string `db:"what"`
	ID    string `db:"id"`
	Name  string `db:"name"`
	Bans  string `db:"bans"`  // of a place
	Known bool   `db:"known"` // to the skill
	Been  bool   `db:"been"`  // a place: the plan was worked there
	Made  int64  `db:"made"`
	Role  string `db:"role"`     // of a person
	Last  string `db:"last_day"` // on which they handled the skill, "" for never
}

// ChoicesFor lists places and people for a dog, a skill and one of its plans, and the last day of it where there was one.
func (q Q) ChoicesFor(ctx context.Context, dog, skill, plan string) (list []Chosen, err error) {
	const worked = ` FROM blocks b JOIN sessions s ON s.id = b.session WHERE b.dog = ? AND b.skill = ? AND s.deleted IS NULL`
	err = q.many(ctx, &list, `SELECT 'last' AS what, '' AS id, max(s.day) AS name, '[]' AS bans, 1 AS known, 1 AS been, 0 AS made, '' AS role,
			'' AS last_day`+worked+` HAVING max(s.day) IS NOT NULL
		UNION ALL SELECT 'logged', '', max(s.day), '[]', 1, 1, 0, '', ''`+worked+` AND b.logged > 0 HAVING max(s.day) IS NOT NULL
		UNION ALL SELECT 'growled', '', max(s.day), '[]', 1, 1, 0, '', '' FROM blocks b JOIN sessions s ON s.id = b.session
			WHERE b.dog = ? AND b.growls > 0 AND s.deleted IS NULL HAVING max(s.day) IS NOT NULL
		UNION ALL SELECT 'place', p.id, p.name, p.bans, EXISTS (SELECT 1`+worked+` AND s.place = p.id), EXISTS (SELECT 1`+worked+`
			AND s.place = p.id AND b.plan = ?), p.made, '', '' FROM places p WHERE p.deleted IS NULL
		UNION ALL SELECT 'person', w.id, w.name, '[]', EXISTS (SELECT 1`+worked+` AND b.handler = w.id), 0, w.made, w.role,
			coalesce((SELECT max(s.day)`+worked+` AND b.handler = w.id), '') FROM people w WHERE w.deleted IS NULL
		UNION ALL SELECT 'shown', person, step, '[]', 1, 0, made, '', day FROM shown WHERE deleted IS NULL AND plan =
			(SELECT coalesce(twin_of, id) FROM plans WHERE id = ?)
		UNION ALL SELECT 'experiment', id, json_object('ID', id, 'Plan', plan, 'WayA', way_a, 'WayB', way_b, 'Pairs', pairs, 'Each', each,
			'Seed', seed), '[]', 1, 0, made, '', ''
			FROM (SELECT * FROM experiments WHERE plan = ? ORDER BY made DESC, id DESC LIMIT 1) WHERE ended IS NULL
		ORDER BY 1, 7, 2`, dog, skill, dog, skill, dog, dog, skill, dog, skill, plan, dog, skill, dog, skill, plan, plan)
	return list, err
}

const standingColumns = `plan, reached, given, since, half, splits, since_session, since_at, sessions, last_session, last_day, ` +
	`last_place, stopped, last_advice, last_deed, finished, apart, probe_gap, probe_due, step_at, step_of, rule, entries, repeats, ` +
	`stalled, rung, rounds`

// SetStanding writes where a plan's dog is on the ladder, in place of what was there.
func (q Q) SetStanding(ctx context.Context, s Standing) error {
	return q.named(ctx,
		`INSERT OR REPLACE INTO standings (`+standingColumns+`) VALUES (:`+strings.ReplaceAll(standingColumns, ", ", ", :")+`)`, s)
}

func prefixed(table, columns string) string {
	return table + "." + strings.ReplaceAll(columns, ", ", ", "+table+".")
}

// OpenSession is a session that was begun and not ended.
type OpenSession struct {
	Session string `db:"session"`
	Plan    string `db:"plan"`
	Dog     string `db:"dog"`
	Skill   string `db:"skill"`
	Opened  int64  `db:"opened"`
}

// SessionLine says in figures what a session was.
type SessionLine struct {
	Session string `db:"session"`
	Skill   string `db:"skill"`
	Kind    string `db:"kind"` // of work; "" where it had several
	Place   string `db:"place"`
	Trials  int    `db:"trials"`
	Met     int    `db:"met"`

	Logged   int `db:"logged"`
	Unlogged int `db:"unlogged"`
	More     int `db:"more"` // plans beside the first
	Growls   int `db:"growls"`
}

// SessionLines sums up the sessions named.
func (q Q) SessionLines(ctx context.Context, sessions []string) (list []SessionLine, err error) {
	if len(sessions) == 0 {
		return nil, nil
	}
	err = q.in(ctx, &list, `SELECT s.id AS session, k.name AS skill, coalesce(p.name, '') AS place,
		(SELECT CASE WHEN count(DISTINCT l.kind) = 1 THEN max(l.kind) ELSE '' END FROM blocks x JOIN skills l ON l.id = x.skill
		WHERE x.session = s.id) AS kind,
		(SELECT count(DISTINCT x.plan) - 1 FROM blocks x WHERE x.session = s.id) AS more,
		(SELECT count(*) FROM trials t WHERE t.session = s.id AND t.counts AND NOT t.easy AND t.outcome <> 'void') AS trials,
		(SELECT count(*) FROM trials t WHERE t.session = s.id AND t.counts AND NOT t.easy AND t.outcome = 'met') AS met,
		(SELECT sum(x.logged) FROM blocks x WHERE x.session = s.id) AS logged, (SELECT sum(x.unlogged) FROM blocks x
		WHERE x.session = s.id) AS unlogged, (SELECT sum(x.growls) FROM blocks x WHERE x.session = s.id) AS growls
		FROM sessions s JOIN blocks b ON b.session = s.id AND b.ord = 0 JOIN skills k ON k.id = b.skill LEFT JOIN places p ON p.id = s.place
		WHERE s.id IN (?)`, sessions)
	return list, err
}
