package derive

import (
	"context"
	"encoding/json"
	"strings"
	"time"

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
	if _, ok := b.Plans[plan]; !ok {
		return nil
	}
	sessions, err := q.SessionsOfPlan(ctx, plan)
	if err != nil {
		return err
	}
	moves, err := q.MovesOfPlans(ctx, []string{plan})
	if err != nil {
		return err
	}
	verdicts, err := q.VerdictsOfPlan(ctx, plan)
	if err != nil {
		return err
	}
	setbacks, err := q.Setbacks(ctx, plan)
	if err != nil {
		return err
	}
	blocks, err := q.BlocksOfPlans(ctx, []string{plan})
	if err != nil {
		return err
	}
	var body library.Body
	if err := json.Unmarshal([]byte(b.Plans[plan].Body), &body); err != nil {
		return err
	}
	now := b.Current(plan)
	ladder := standing.Ladder{
		All: b.union(plan), Now: now, MaxRung: work.Of(work.Kind(b.Plans[plan].Kind)).MaxRung(body.Lifeline), Lo: body.Pay.Band.Lo,
	}
	if len(setbacks) > 0 {
		versions, err := q.PlanVersions(ctx, b.Plans[plan].Main, b.Plans[plan].Version)
		if err != nil {
			return err
		}
		for _, v := range versions {
			ladder.Versions = append(ladder.Versions, standing.Version{Made: v.Made, Steps: b.steps[plan][v.Version]})
		}
	}
	begun := b.steps[plan][1]
	if len(blocks) == 0 {
		begun = now // never worked: at the first step, whatever was edited
	} else if then := b.steps[plan][blocks[0].PlanVersion]; len(then) > 0 {
		begun = then // on the ladder as it was then
	}
	visits := visitsOf(plan, sessions, moves, verdicts, blocks)
	ladder.Proof.Rules = body.Proofs(now)
	if err := withTrials(ctx, q, plan, ladder, visits); err != nil {
		return err
	}
	stands := standing.Of(ladder, begun, visits, fallsOf(setbacks))
	return q.SetStanding(ctx, standingRow(plan, string(body.Rule.Kind), stands, now, sessions))
}

// fallsOf are setbacks as a standing reads them.
func fallsOf(setbacks []store.Setback) (falls []standing.Setback) {
	for _, one := range setbacks {
		falls = append(falls, standing.Setback{ID: one.ID, At: one.At, Made: one.Made, Steps: one.Steps})
	}
	return falls
}

// withTrials puts their trials into the visits of a plan, where any of its steps is proved.
func withTrials(ctx context.Context, q store.Q, plan string, ladder standing.Ladder, visits []standing.Visit) error {
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
		if v := of[rows[i].Session]; v != nil {
			v.Trials = append(v.Trials, rows[i].Trial)
		}
	}
	return nil
}

// visitsOf are the sessions of a plan as far as they worked it, in their order.
func visitsOf(plan string, sessions []store.Session, moves []store.Move, verdicts []store.Verdict, blocks []store.Block) []standing.Visit {
	visits, of := make([]standing.Visit, len(sessions)), make(map[string]*standing.Visit, len(sessions))
	for i, one := range sessions {
		visits[i] = standing.Visit{
			Session: one.ID, Opened: one.Opened, Day: one.Day, Place: one.Place, Stopped: one.Reason == "stop" && one.Last == plan,
		}
		of[one.ID] = &visits[i]
	}
	for _, m := range moves {
		if v := of[m.Session]; v != nil {
			v.Moves = append(v.Moves, standing.Move{Move: progression.Move{ID: m.ID, From: m.From, To: m.To, Why: progression.Why(m.Why)}, At: m.At})
		}
	}
	for _, one := range verdicts {
		v := of[one.Session]
		if v == nil {
			continue
		}
		said := standing.Verdict{
			Step: one.Step, At: one.At, Recommended: decision.Verdict(one.Recommended), Action: one.Action,
			Sets: strings.Contains(one.Rule, `"kind":"set"`),
		}
		var reasons []decision.Reason
		if json.Unmarshal([]byte(one.Reasons), &reasons) == nil { // older logs hold some that nobody can read
			for _, r := range reasons {
				said.Codes = append(said.Codes, r.Code)
			}
		}
		v.Verdicts = append(v.Verdicts, said)
	}
	for _, b := range blocks {
		if v := of[b.Session]; v != nil {
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
		row.ProbeGap, row.ProbeDue = s.Probe.Gap, DayNamed(s.Probe.Day)
	}
	return row
}

// DayNumber counts days, so that gaps between them are whole.
func DayNumber(day string) int {
	n, _ := standing.Day(day) // of nothing written so it is the first of all
	return n
}

// DayNamed is DayNumber backwards.
func DayNamed(number int) string {
	return time.Unix(int64(number)*86400, 0).UTC().Format(time.DateOnly)
}
