package store

import (
	"context"
	"encoding/json"

	"github.com/jmoiron/sqlx"

	"patientfox/core/criteria"
	"patientfox/core/trial"
)

// Trial is one derived trial, with what a table over many sessions has beside it.
type Trial struct {
	trial.Trial
	Ord        int
	Plan       string
	Definition int    // the version under which it was judged
	Level      string // whose level was worked, as of its block
	CardSays   string // what the card of a deck asked, "" for none
	Approx     string // the word for what was offered, by the list of the step that asked
	Opened     int64  // likewise, UTC ms
	Logged     int    // of its block, where the latest are listed
	Unlogged   int    // likewise
}

// trialRow is a trial as the table has it.
type trialRow struct {
	ID         string   `db:"id"`
	Session    string   `db:"session"`
	Ord        int      `db:"ord"`
	Block      string   `db:"block"`
	Plan       string   `db:"plan"`
	Step       string   `db:"step"`
	Rev        int      `db:"rev"`
	Definition int      `db:"definition"`
	At         float64  `db:"at"`
	Began      float64  `db:"began"`
	Outcome    string   `db:"outcome"`
	Tapped     string   `db:"tapped"`
	LatencyS   *float64 `db:"latency_s"`
	HeldS      *float64 `db:"held_s"`
	Cues       int      `db:"cues"`
	Easy       bool     `db:"easy"`
	State      *int     `db:"state"`
	Tally      bool     `db:"tally"`
	Counts     bool     `db:"counts"`
	Instead    string   `db:"instead"`
	Skill      string   `db:"skill"`
	Source     string   `db:"source"`
	After      string   `db:"after"`
	Pays       int      `db:"pays"`
	Pieces     int      `db:"pieces"`
	Dev        string   `db:"dev"`
	By         string   `db:"by"`
	Handler    string   `db:"handler"`
	Measures   string   `db:"measures"` // JSON, "" for none
	Judge      int      `db:"judge"`
	AfterCue   bool     `db:"after_cue"`
	Slow       bool     `db:"slow"`
	Again      bool     `db:"again"`
	Unmeasured bool     `db:"unmeasured"`
	Assisted   bool     `db:"assisted"`
	Splits     int      `db:"splits"` // taken by then since the reached step became that
	Pulled     bool     `db:"pulled"` // beside its measures: rules read it
	Level      string   `db:"level"`
	Logged     int      `db:"logged"`
	Unlogged   int      `db:"unlogged"`
	Place      string   `db:"place"`
	Day        string   `db:"day"`
	Opened     int64    `db:"opened"`
}

const (
	trialColumns = `id, session, ord, block, plan, step, rev, definition, at, began, outcome, tapped, latency_s, held_s, cues, ` +
		`easy, state, tally, counts, instead, skill, source, after, pays, pieces, dev, by, handler, measures, ` +
		`judge, after_cue, slow, again, unmeasured, assisted, splits, pulled, level`
	readColumns = `id, session, block, step, rev, definition, at, began, outcome, latency_s, held_s, cues, easy, ` +
		`state, tally, counts, judge, after_cue, slow, again, unmeasured, assisted, splits, pulled, level`
	countedColumns = readColumns + `, plan, tapped`
	fullColumns    = readColumns + `, instead, skill, source, after, pays, handler, measures`
)

// measured is the JSON of a row's measures.
type measured struct {
	trial.Measures
	trial.Touch
	RecoveryS *float64      `json:"recovery_s,omitempty"`
	Approx    string        `json:"approx,omitempty"`
	FedFirst  bool          `json:"fed_first,omitempty"`
	Errors    []string      `json:"errors,omitempty"`
	Card      string        `json:"card,omitempty"`
	Phases    []trial.Phase `json:"phases,omitempty"`
	Prompts   int           `json:"prompts,omitempty"`
	Prompt    string        `json:"prompt,omitempty"`
	Mistake   string        `json:"mistake,omitempty"`
	Hand      string        `json:"hand,omitempty"`
	trial.Roles

	Worked map[criteria.Key]float64 `json:"worked,omitempty"`
}

func rowsOf(trials []Trial) []trialRow {
	rows := make([]trialRow, len(trials))
	for i := range trials {
		t := &trials[i]
		rows[i] = trialRow{
			ID: t.ID, Session: t.Session, Ord: t.Ord, Block: t.Block, Plan: t.Plan, Step: t.Step, Rev: t.Rev, Definition: t.Definition,
			At: t.At, Began: t.From, Outcome: string(t.Outcome), Tapped: string(t.Tapped), LatencyS: t.LatencyS, HeldS: t.HeldS, Cues: t.Cues,
			Easy: t.Easy, State: t.State, Tally: t.Tally, Counts: !t.Waits, Instead: t.Instead, Skill: t.Skill, Source: t.Source, After: t.After,
			Pays: t.Pays, Pieces: t.Pieces, Dev: t.Dev, By: t.By, Handler: t.Handler,
			Judge: t.Judge, AfterCue: t.AfterCue, Slow: t.Slow, Again: t.Again, Unmeasured: t.Unmeasured,
			Assisted: t.Assisted, Splits: t.Splits, Pulled: t.Pulled, Level: t.Level,
		}
		// Figures and words cannot fail.
		text, _ := json.Marshal(measured{
			t.Measures, t.Touch, t.RecoveryS, t.Approx, t.FedFirst, t.Errors, t.CardSays, t.Phases, t.Prompts, t.Prompt, t.Mistake, t.Hand,
			t.Roles, t.Worked,
		})
		if string(text) != "{}" {
			rows[i].Measures = string(text)
		}
	}
	return rows
}

// readRows reads rows that were loaded one by one: a list of rows would be copied whole each time it grows.
func readRows(rows []*trialRow) ([]Trial, error) {
	trials := make([]Trial, len(rows))
	for i := range rows {
		r, t := rows[i], &trials[i]
		t.ID, t.Session, t.Ord, t.Block, t.Plan, t.Step, t.Rev, t.Definition = r.ID, r.Session, r.Ord, r.Block, r.Plan, r.Step, r.Rev,
			r.Definition
		t.At, t.From, t.Outcome, t.Tapped = r.At, r.Began, trial.Outcome(r.Outcome), trial.Outcome(r.Tapped)
		t.LatencyS, t.HeldS, t.Cues, t.Easy, t.State, t.Tally, t.Waits = r.LatencyS, r.HeldS, r.Cues, r.Easy, r.State, r.Tally, !r.Counts
		t.Instead, t.Skill, t.Source, t.After, t.Pays, t.Pieces = r.Instead, r.Skill, r.Source, r.After, r.Pays, r.Pieces
		t.Dev, t.By, t.Handler, t.Place, t.Day, t.Opened, t.Logged, t.Unlogged = r.Dev, r.By, r.Handler, r.Place, r.Day, r.Opened,
			r.Logged, r.Unlogged
		t.Judge, t.AfterCue, t.Slow, t.Again, t.Unmeasured, t.Assisted = r.Judge, r.AfterCue, r.Slow, r.Again, r.Unmeasured, r.Assisted
		t.Splits, t.Pulled, t.Level = r.Splits, r.Pulled, r.Level
		if r.Measures == "" {
			continue
		}
		var m measured
		if err := json.Unmarshal([]byte(r.Measures), &m); err != nil {
			return nil, err
		}
		t.Measures, t.Touch, t.RecoveryS, t.Approx, t.FedFirst = m.Measures, m.Touch, m.RecoveryS, m.Approx, m.FedFirst
		t.Errors, t.Worked, t.Prompts, t.Prompt, t.Mistake, t.CardSays = m.Errors, m.Worked, m.Prompts, m.Prompt, m.Mistake, m.Card
		t.Phases, t.Hand, t.Roles = m.Phases, m.Hand, m.Roles
	}
	return trials, nil
}

// TrialsOfPlans loads what the trials of the plans named count for, by plan, in the order of sessions
// and of the fold; their other columns stay empty.
func (q Q) TrialsOfPlans(ctx context.Context, plans []string) ([]Trial, error) {
	if len(plans) == 0 {
		return nil, nil
	}
	var rows []*trialRow
	err := q.in(ctx, &rows, `SELECT `+
		prefixed("t", countedColumns)+`, s.place, s.day, s.opened FROM trials t JOIN sessions s ON s.id = t.session
		WHERE t.plan IN (?) AND s.deleted IS NULL ORDER BY t.plan, s.opened, s.id, t.ord`, plans)
	if err != nil {
		return nil, err
	}
	return readRows(rows)
}

// RecentTrials is TrialsOfPlans for the last sessions of each plan, so many, and for all since its reached step
// became that.
func (q Q) RecentTrials(ctx context.Context, plans []string, sessions int) ([]Trial, error) {
	if len(plans) == 0 {
		return nil, nil
	}
	query, args, err := sqlx.In(`WITH ranked AS (
			SELECT b.plan, s.id, s.opened, row_number() OVER (PARTITION BY b.plan ORDER BY s.opened DESC, s.id DESC) AS back
			FROM (SELECT DISTINCT plan, session FROM blocks WHERE plan IN (?)) b JOIN sessions s ON s.id = b.session WHERE s.deleted IS NULL),
		chosen AS (
			SELECT r.plan, r.id FROM ranked r LEFT JOIN standings t ON t.plan = r.plan LEFT JOIN sessions o ON o.id = t.since_session
			WHERE r.back <= ? OR o.id IS NOT NULL AND r.opened >= o.opened)
		SELECT `+prefixed("t", countedColumns)+`, s.place, s.day, s.opened, b.logged, b.unlogged FROM chosen c JOIN sessions s ON s.id = c.id
		JOIN trials t ON t.session = c.id AND t.plan = c.plan JOIN blocks b ON b.id = t.block
		ORDER BY t.plan, s.opened, s.id, t.ord`, plans, sessions)
	if err != nil {
		return nil, err
	}
	var rows []*trialRow
	if err := q.many(ctx, &rows, query, args...); err != nil {
		return nil, err
	}
	return readRows(rows)
}

// TrialsTogether loads the trials of several plans as TrialsInFull does, in one order of sessions.
func (q Q) TrialsTogether(ctx context.Context, plans []string) ([]Trial, error) {
	if len(plans) == 0 {
		return nil, nil
	}
	var rows []*trialRow
	err := q.in(ctx, &rows, `SELECT `+
		prefixed("t", fullColumns)+`, t.plan, s.place, s.day, s.opened FROM trials t JOIN sessions s ON s.id = t.session
		WHERE t.plan IN (?) AND s.deleted IS NULL ORDER BY s.opened, s.id, t.ord`, plans)
	if err != nil {
		return nil, err
	}
	return readRows(rows)
}

// LastTogether is TrialsTogether for the last sessions of the plans, so many in all.
func (q Q) LastTogether(ctx context.Context, plans []string, sessions int) ([]Trial, error) {
	if len(plans) == 0 {
		return nil, nil
	}
	var rows []*trialRow
	query, args, err := sqlx.In(`SELECT `+prefixed("t", fullColumns)+`, t.plan, s.place, s.day, s.opened FROM (
			SELECT id, place, day, opened FROM sessions WHERE deleted IS NULL AND id IN (SELECT session FROM blocks WHERE plan IN (?))
			ORDER BY opened DESC, id DESC LIMIT ?) s
		JOIN trials t ON t.session = s.id AND t.plan IN (?) ORDER BY s.opened, s.id, t.ord`, plans, sessions, plans)
	if err == nil {
		err = q.many(ctx, &rows, query, args...)
	}
	if err != nil {
		return nil, err
	}
	return readRows(rows)
}

// TrialsWith is TrialsTogether for what somebody had a part in: they handled, held or fed.
func (q Q) TrialsWith(ctx context.Context, plans []string, who string) ([]Trial, error) {
	if len(plans) == 0 || who == "" {
		return nil, nil
	}
	var rows []*trialRow
	err := q.in(ctx, &rows, `SELECT `+prefixed("t", fullColumns)+`, t.by, t.plan, s.place, s.day, s.opened
		FROM trials t JOIN sessions s ON s.id = t.session
		WHERE t.plan IN (?) AND (t.handler = ? OR t.measures <> '' AND ? IN (t.measures ->> 'holds', t.measures ->> 'feeds'))
			AND s.deleted IS NULL ORDER BY s.opened, s.id, t.ord`, plans, who, who)
	if err != nil {
		return nil, err
	}
	return readRows(rows)
}

// TrialsInFull loads the trials of one plan with all that its evidence reads, in the order of sessions and of
// the fold; what was tapped stays empty.
func (q Q) TrialsInFull(ctx context.Context, plan string) ([]Trial, error) {
	var rows []*trialRow
	err := q.many(ctx, &rows, `SELECT `+
		prefixed("t", fullColumns)+`, s.place, s.day, s.opened FROM trials t JOIN sessions s ON s.id = t.session
		WHERE t.plan = ? AND s.deleted IS NULL ORDER BY s.opened, s.id, t.ord`, plan)
	if err != nil {
		return nil, err
	}
	for _, row := range rows {
		row.Plan = plan
	}
	return readRows(rows)
}
