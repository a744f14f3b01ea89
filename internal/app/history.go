package app

import (
	"context"
	"fmt"
	"slices"

	"patientfox/core/evidence"
	"patientfox/core/phrase"
	"patientfox/core/progression"
	"patientfox/core/trial"
	"patientfox/internal/store"
)

// notAll says how much of a session was not logged; "" where all was.
func notAll(logged, unlogged int) string {
	if unlogged == 0 {
		return ""
	}
	return ", " + phrase.Coverage(logged, unlogged)
}

// CameTo says what a session came to, and how much of it was logged where that was not all. The word is what a trial that went well is
// called.
func CameTo(word string, met, n, logged, unlogged int) string {
	if n == 0 {
		return "No counted trial" + notAll(logged, unlogged)
	}
	return fmt.Sprintf("%d of %d %s", met, n, word) + notAll(logged, unlogged)
}

// UnionOf is every step the plan had, as far as the trials name steps that are gone: those come in
// below the step that followed them in the record.
func UnionOf(h History, l Plan) []progression.Step {
	all := slices.Clone(l.Steps)
	last := ""
	for _, t := range h.Trials {
		if progression.Index(all, t.Step) < 0 {
			at := progression.Index(all, last) + 1
			all = slices.Insert(all, at, progression.Step{ID: t.Step})
		}
		last = t.Step
	}
	return all
}

// SessionRows lists the sessions of a plan whose trials that went well are called by a word, newest first.
func SessionRows(h History, word, today string) []SessionRow {
	tally := map[string][]trial.Outcome{}
	for _, t := range h.Trials {
		if !t.Waits && !t.Easy {
			tally[t.Session] = append(tally[t.Session], trial.Outcome(t.Outcome))
		}
	}
	logged, unlogged := map[string]int{}, map[string]int{}
	for _, b := range h.Blocks {
		logged[b.Session] += b.Logged
		unlogged[b.Session] += b.Unlogged
	}
	var rows []SessionRow
	for _, s := range slices.Backward(h.Sessions) {
		row := SessionRow{ID: s.ID, Day: ShortDay(s.Day, today), Place: s.Where, Open: s.Ended == nil}
		c := evidence.Count(tally[s.ID])
		row.Line = CameTo(word, c.Met, c.N(), logged[s.ID], unlogged[s.ID])
		if s.Next != "" {
			row.Line += " · " + FirstLine(s.Next)
		}
		if rows = append(rows, row); len(rows) == RowsShown {
			break
		}
	}
	return rows
}

// History is what the record says of one plan.
type History struct {
	Sessions []store.Session
	Blocks   []store.Block
	Trials   []store.Trial
}

// ReadHistory loads the history of a plan.
func ReadHistory(ctx context.Context, q store.Q, plan string) (h History, err error) {
	if h.Sessions, err = q.SessionsOfPlan(ctx, plan); err != nil {
		return h, err
	}
	if h.Blocks, err = q.BlocksOfPlans(ctx, []string{plan}); err != nil {
		return h, err
	}
	if h.Trials, err = q.TrialsOfPlans(ctx, []string{plan}); err != nil {
		return h, err
	}
	MarkCold(h.Trials, h.Blocks)
	return h, nil
}

// SessionRow is one session in a list.
type SessionRow struct {
	ID, Day, Place, Skill, Line string
	Open                        bool
}
