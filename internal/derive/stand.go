package derive

import (
	"cmp"
	"context"
	"encoding/json"
	"slices"
	"strings"

	"patientfox/core/decision"
	"patientfox/core/library"
	"patientfox/core/progression"
	"patientfox/core/record"
	"patientfox/core/standing"
	"patientfox/core/work"
	"patientfox/internal/store"
)

// Stand works out where a plan's dog is: its step follows moves, and setbacks between them. Where that fails, and the
// database is not to blame, the plan keeps its last standing and says so.
func (p *Reader) Stand(ctx context.Context, q store.Q, plan string) error {
	why := ""
	err := Guarded(func() error { return p.track(ctx, q, plan) })
	if store.Failed(err) || ctx.Err() != nil {
		return err
	}
	if err != nil {
		why = "record"
		p.Log.Error("where a dog stands cannot be worked out", "plan", plan, "error", err.Error())
	}
	return q.PlanStands(ctx, plan, why)
}

func (p *Reader) track(ctx context.Context, q store.Q, plan string) error {
	b, err := ReadBook(ctx, q, []string{plan})
	if err != nil {
		return err
	}
	row, ok := b.Plans[plan]
	if !ok {
		return nil
	}
	r, err := worked(ctx, q, plan)
	if err != nil {
		return err
	}
	var body library.Body
	if err := json.Unmarshal([]byte(row.Body), &body); err != nil {
		return err
	}
	ladder, err := ladderOf(ctx, q, b, row, body, r)
	if err != nil {
		return err
	}
	if at := r.first(""); row.Founder == "" && at >= 0 {
		row.Founder, row.MainHandler = r.blocks[at].Handler, cmp.Or(row.MainHandler, r.blocks[at].Handler)
		if err := q.SetFounder(ctx, plan, row.Founder); err != nil {
			return err
		}
	}
	main, others := row.MainLevel(), []store.Level{}
	for _, level := range r.levels(main) {
		visits := r.visits(plan, level)
		if err := withTrials(ctx, q, plan, level, ladder, visits); err != nil {
			return err
		}
		between, err := r.between(level)
		if err != nil {
			return err
		}
		stands := standing.Of(ladder, r.begun(b, plan, level, ladder.Now), visits, between)
		kept := standingRow(plan, string(body.Rule.Kind), stands, ladder.Now, r.sessions)
		if level == main {
			if err := q.SetStanding(ctx, kept); err != nil {
				return err
			}
			continue
		}
		kept.LastSession, kept.LastDay = r.lastOf(level, visits)
		others = append(others, store.Level{Standing: kept, Level: level})
	}
	return q.SetLevels(ctx, plan, others)
}

// Unworked is where the dog of a new plan stands on its ladder, before any work.
func Unworked(plan string, kind work.Kind, body library.Body, steps []progression.Step) store.Standing {
	ladder := standing.Ladder{All: steps, Now: steps, MaxRung: work.Of(kind).MaxRung(body.Lifeline), Lo: body.Pay.Band.Lo}
	ladder.Proof.Rules = body.Proofs(steps)
	return standingRow(plan, string(body.Rule.Kind), standing.Of(ladder, steps, nil, nil), steps, nil)
}

// worksOf is what was worked of a plan.
type worksOf struct {
	sessions []store.Session
	moves    []store.Move
	verdicts []store.Verdict
	setbacks []store.Setback
	blocks   []store.Block
	returned []store.Returned // from home
}

// worked loads what was worked of a plan.
func worked(ctx context.Context, q store.Q, plan string) (r worksOf, err error) {
	if r.sessions, err = q.SessionsOfPlan(ctx, plan); err != nil {
		return r, err
	}
	if r.moves, err = q.MovesOfPlans(ctx, []string{plan}); err != nil {
		return r, err
	}
	if r.verdicts, err = q.VerdictsOfPlan(ctx, plan); err != nil {
		return r, err
	}
	if r.setbacks, err = q.Setbacks(ctx, plan); err != nil {
		return r, err
	}
	if r.blocks, err = q.BlocksOfPlans(ctx, []string{plan}); err != nil {
		return r, err
	}
	r.returned, err = q.ReturnedTo(ctx, plan)
	return r, err
}

// ladderOf is what a plan's dog climbs.
func ladderOf(ctx context.Context, q store.Q, b Book, row store.Plan, body library.Body, r worksOf) (ladder standing.Ladder, err error) {
	now := b.Current(row.ID)
	ladder = standing.Ladder{
		All: b.union(row.ID), Now: now, MaxRung: work.Of(work.Kind(row.Kind)).MaxRung(body.Lifeline), Lo: body.Pay.Band.Lo,
	}
	ladder.Proof.Rules = body.Proofs(now)
	if len(r.setbacks) == 0 {
		return ladder, nil
	}
	versions, err := q.PlanVersions(ctx, row.Main, row.Version)
	for _, v := range versions {
		ladder.Versions = append(ladder.Versions, standing.Version{Made: v.Made, Steps: b.steps[row.ID][v.Version]})
	}
	return ladder, err
}

// first is the first block that worked a level, −1 where none did.
func (r worksOf) first(level string) int {
	return slices.IndexFunc(r.blocks, func(one store.Block) bool { return one.Level == level })
}

// begun are the steps as they were when a level was first worked: it began at the first of them. Without any work they are those of
// now, whatever was edited.
func (r worksOf) begun(b Book, plan, level string, now []progression.Step) []progression.Step {
	if len(r.blocks) == 0 {
		return now
	}
	if then := b.steps[plan][r.blocks[max(0, r.first(level))].PlanVersion]; len(then) > 0 {
		return then
	}
	return b.steps[plan][1]
}

// levels are those that were worked, in sessions or at home, the main one first, whether it was or not.
func (r worksOf) levels(main string) []string {
	levels := []string{main}
	add := func(level string) {
		if !slices.Contains(levels, level) {
			levels = append(levels, level)
		}
	}
	for _, b := range r.blocks {
		add(b.Level)
	}
	for _, one := range r.returned {
		if one.Moves != noMoves {
			add(one.Level)
		}
	}
	return levels
}

// noMoves is what a line is stored with that changed no level.
const noMoves = "[]"

// between is what changed a level between sessions: setbacks, and what came back from home. A setback before somebody's first work is of
// those who handled before.
func (r worksOf) between(level string) (list []standing.Between, err error) {
	since := int64(0)
	if at := r.first(level); level != "" && at >= 0 {
		since = openedOf(r.sessions, r.blocks[at].Session)
	}
	for _, one := range r.returned {
		if one.Level != level || one.Moves == noMoves {
			continue
		}
		b := standing.Between{ID: one.ID, At: one.Made, Made: one.Made}
		if err := store.FromJSON(one.Moves, &b.Moves); err != nil {
			return nil, err
		}
		if list = append(list, b); level != "" && (since == 0 || one.Made < since) {
			since = one.Made
		}
	}
	for _, one := range r.setbacks {
		if one.At > since {
			list = append(list, standing.Between{ID: one.ID, At: one.At, Made: one.Made, Steps: one.Steps})
		}
	}
	slices.SortStableFunc(list, func(a, b standing.Between) int { return cmp.Compare(a.At, b.At) })
	return list, nil
}

// lastOf is the session in which a level beside the main one was worked last, and the last day on which it was, at home or in a session.
func (r worksOf) lastOf(level string, visits []standing.Visit) (session, day string) {
	if at := lastAt(visits); at >= 0 {
		session, day = visits[at].Session, visits[at].Day
	}
	for _, one := range r.returned {
		if one.Level == level {
			day = max(day, one.Day)
		}
	}
	return session, day
}

// openedOf is when a session was opened, UTC ms.
func openedOf(sessions []store.Session, id string) int64 {
	at := slices.IndexFunc(sessions, func(one store.Session) bool { return one.ID == id })
	return sessions[at].Opened
}

// lastAt is the last visit that worked the level, −1 where none did.
func lastAt(visits []standing.Visit) int {
	for i := len(visits) - 1; i >= 0; i-- {
		if !visits[i].Apart {
			return i
		}
	}
	return -1
}

// withTrials puts the trials of a level into the visits of a plan, where any of its steps is proved.
func withTrials(ctx context.Context, q store.Q, plan, level string, ladder standing.Ladder, visits []standing.Visit) error {
	if len(ladder.Proof.Rules) == 0 {
		return nil
	}
	rows, err := q.TrialsOfPlans(ctx, []string{plan})
	if err != nil {
		return err
	}
	of := make(map[string]*standing.Visit, len(visits))
	for i := range visits {
		of[visits[i].Session] = &visits[i]
	}
	for i := range rows {
		if v := of[rows[i].Session]; v != nil && rows[i].Level == level {
			v.Trials = append(v.Trials, rows[i].Trial)
		}
	}
	return nil
}

// visits are the sessions of a plan in their order, with the moves and verdicts of one of its levels.
func (r worksOf) visits(plan, level string) []standing.Visit {
	visits, of := make([]standing.Visit, len(r.sessions)), make(map[string]*standing.Visit, len(r.sessions))
	for i, one := range r.sessions {
		visits[i] = standing.Visit{
			Session: one.ID, Opened: one.Opened, Day: one.Day, Place: one.Place, Stopped: one.Reason == "stop" && one.Last == plan,
			Apart: true,
		}
		of[one.ID] = &visits[i]
	}
	for _, m := range r.moves {
		if v := of[m.Session]; v != nil && m.Level == level {
			v.Moves = append(v.Moves, standing.Move{Move: progression.Move{ID: m.ID, From: m.From, To: m.To, Why: progression.Why(m.Why)}, At: m.At})
		}
	}
	for _, one := range r.verdicts {
		v := of[one.Session]
		if v == nil || one.Level != level {
			continue
		}
		said := standing.Verdict{
			Step: one.Step, At: one.At, Recommended: decision.Verdict(one.Recommended), Action: one.Action,
			Sets: strings.Contains(one.Rule, `"kind":"set"`),
		}
		var reasons []decision.Reason
		if json.Unmarshal([]byte(one.Reasons), &reasons) == nil { // older logs hold some that nobody can read
			for _, one := range reasons {
				said.Codes = append(said.Codes, one.Code)
			}
		}
		v.Verdicts = append(v.Verdicts, said)
	}
	for _, b := range r.blocks {
		if v := of[b.Session]; v != nil {
			v.Apart = v.Apart && b.Level != level
			v.Blocks = append(v.Blocks, standing.Work{
				Teaches: record.Mode(b.Mode).Teaches(), Pays: b.Pays, Active: b.Active,
				Block: b.ID, Definition: b.Definition, Unlogged: b.Unlogged,
			})
		}
	}
	return visits
}

// standingRow is a standing as lists read it.
func standingRow(plan, rule string, s standing.Standing, now []progression.Step, sessions []store.Session) store.Standing {
	row := store.Standing{
		Plan: plan, Reached: s.Position.Reached, Given: s.Position.Given, Since: s.Position.Since,
		Half: s.Position.Half, Splits: s.Position.Splits, SinceSession: s.Since.Session, SinceAt: s.Since.At,
		Sessions: s.Visits, LastPlace: s.LastPlace, Stopped: s.Stopped, LastRecommended: s.Recommended, LastAction: s.Action,
		Finished: s.Finished, UnfollowedMoves: s.UnfollowedMoves,
		StepAt: max(0, progression.Index(now, s.Position.Reached)), StepOf: len(now), Rule: rule, Entries: s.Entries,
		Repeats: s.Repeats, Stalled: s.Stalled, Rung: s.Rung, Rounds: store.JSON(s.Rounds),
	}
	if n := len(sessions); n > 0 {
		row.LastSession, row.LastDay = sessions[n-1].ID, sessions[n-1].Day
	}
	if s.Probe.Gap > 0 {
		row.ProbeGap, row.ProbeDue = s.Probe.Gap, standing.Named(s.Probe.Day)
	}
	return row
}

// DayNumber counts days, so that gaps between them are whole.
func DayNumber(day string) int {
	n, _ := standing.Day(day) // of nothing written so it is the first of all
	return n
}
