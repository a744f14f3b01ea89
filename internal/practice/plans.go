package practice

import (
	"context"
	"encoding/json"
	"fmt"
	"strconv"
	"strings"

	"patientfox/core/decision"
	"patientfox/core/library"
	"patientfox/core/progression"
	"patientfox/core/reinforce"
	"patientfox/internal/store"
)

// Defaults of a new plan: paid fast, as a new skill is.
var defaultBody = library.Body{Rule: decision.Defaults(decision.Set), Band: reinforce.Band{Lo: 4, Hi: 8}, PayPieces: 1}

func encode(v any) string {
	raw, err := json.Marshal(v)
	if err != nil {
		panic(err) // our own types always encode
	}
	return string(raw)
}

// readSteps decodes step rows.
func readSteps(rows []store.Step) ([]progression.Step, error) {
	steps := make([]progression.Step, len(rows))
	for i, r := range rows {
		steps[i] = progression.Step{ID: r.ID, Rev: r.Rev, Safety: r.Safety}
		if err := json.Unmarshal([]byte(r.Criteria), &steps[i].Criteria); err != nil {
			return nil, fmt.Errorf("criteria of step %s: %w", r.ID, err)
		}
	}
	return steps, nil
}

func stepRows(steps []progression.Step) []store.Step {
	rows := make([]store.Step, len(steps))
	for i, s := range steps {
		rows[i] = store.Step{ID: s.ID, Rev: s.Rev, Criteria: encode(s.Criteria), Safety: s.Safety}
	}
	return rows
}

// changePlan makes the next version of a plan from the one typed["version"] names; where another one
// came meanwhile it answers with a Conflict.
func (p *Practice) changePlan(ctx context.Context, plan string, t Typed, why string, change func(body *library.Body, steps []progression.Step) ([]progression.Step, error)) error {
	version, _ := strconv.Atoi(t.Text("version"))
	_, err := p.once(ctx, t, func(q store.Q) (string, error) {
		row, err := q.Plan(ctx, plan)
		if err != nil {
			return "", found(err)
		}
		if row.Version != version {
			return "", &Conflict{Typed{"version": strconv.Itoa(row.Version)}}
		}
		rows, err := q.Steps(ctx, []string{plan})
		if err != nil {
			return "", err
		}
		steps, err := readSteps(rows)
		if err != nil {
			return "", err
		}
		var body library.Body
		if err := json.Unmarshal([]byte(row.Body), &body); err != nil {
			return "", err
		}
		if steps, err = change(&body, steps); err != nil {
			return "", err
		}
		me, err := q.Practice(ctx)
		if err != nil {
			return "", err
		}
		v := store.PlanVersion{Plan: row.Main, Version: version + 1, Body: encode(body), Why: why, Made: p.ms(), MadeBy: me.Person}
		if _, err := q.AddPlanVersion(ctx, v, stepRows(steps)); err != nil {
			return "", err
		}
		return plan, p.standAll(ctx, q, plan)
	})
	return err
}

// SaveRule changes when to step up and how fast to pay.
func (p *Practice) SaveRule(ctx context.Context, plan string, t Typed) error {
	ps := problems{}
	number := func(field string) int {
		n, err := strconv.Atoi(t.Text(field))
		if err != nil {
			ps.add(field, "A whole number, in figures.")
		}
		return n
	}
	rate := func(field string) float64 {
		typed := strings.Replace(t.Text(field), ",", ".", 1)
		if typed == "" {
			return 0
		}
		x, err := strconv.ParseFloat(typed, 64)
		if err != nil || !(x >= 0 && x <= 60) {
			ps.add(field, "Pays per minute from 0 to 60, in figures.")
		}
		return x
	}
	rule := decision.Rule{
		Kind: decision.Kind(t.Text("kind")), MissGuard: number("miss_guard"),
		Lenient: t.Text("lenient") != "", ErrorGuard: t.Text("error_guard") != "",
	}
	if rule.Kind == decision.Run {
		rule.Up, rule.Back = number("run_up"), number("run_back")
	} else {
		rule.Size, rule.Up, rule.Back, rule.SplitAfter = number("size"), number("up"), number("back"), number("split_after")
	}
	pay := library.Body{
		Rule: rule, Band: reinforce.Band{Lo: rate("rate_lo"), Hi: rate("rate_hi")}, PayPieces: number("pay_pieces"),
		Reward: library.Reward{
			Value: t.Text("reward_value"), Schedule: t.Text("reward_schedule"), Where: t.Text("reward_where"), How: t.Text("reward_how"),
		},
	}
	if len(ps) == 0 {
		for _, bad := range pay.Check() {
			field := bad.Field
			if rule.Kind == decision.Run && (field == "up" || field == "back") {
				field = "run_" + field
			}
			ps.add(field, bad.Text)
		}
	}
	if err := ps.err(); err != nil {
		return err
	}
	return p.changePlan(ctx, plan, t, "rule", func(b *library.Body, steps []progression.Step) ([]progression.Step, error) {
		b.Rule, b.Band, b.PayPieces, b.Reward = pay.Rule, pay.Band, pay.PayPieces, pay.Reward
		return steps, nil
	})
}

// DeletePlan puts a plan away with its tracks, or brings it back. Its record stays.
func (p *Practice) DeletePlan(ctx context.Context, id string, away bool) error {
	return p.away(ctx, away, func(q store.Q, at *int64) (bool, error) { return q.DeletePlan(ctx, id, at) })
}
