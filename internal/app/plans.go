package app

import (
	"context"
	"encoding/json"
	"fmt"
	"patientfox/core/library"
	"patientfox/core/progression"
	"patientfox/core/work"
	"patientfox/internal/app/form"
	"patientfox/internal/store"
	"strconv"
)

func JSONInto(raw string, to any) error { return json.Unmarshal([]byte(raw), to) }

func Encode(v any) string {
	raw, err := json.Marshal(v)
	if err != nil {
		panic(err) // our own types always encode
	}
	return string(raw)
}

// readSteps decodes step rows.
func ReadSteps(rows []store.Step) ([]progression.Step, error) {
	steps := make([]progression.Step, len(rows))
	for i, r := range rows {
		steps[i] = progression.Step{ID: r.ID, Rev: r.Rev, Safety: r.Safety}
		if err := json.Unmarshal([]byte(r.Criteria), &steps[i].Criteria); err != nil {
			return nil, fmt.Errorf("criteria of step %s: %w", r.ID, err)
		}
	}
	return steps, nil
}

func StepRows(steps []progression.Step) []store.Step {
	rows := make([]store.Step, len(steps))
	for i, s := range steps {
		rows[i] = store.Step{ID: s.ID, Rev: s.Rev, Criteria: Encode(s.Criteria), Safety: s.Safety}
	}
	return rows
}

// changePlan makes the next version of a plan from the one typed["version"] names; where another one
// came meanwhile it answers with a Conflict.
func (p *Practice) ChangePlan(ctx context.Context, plan string, t form.Typed, why string, change func(body *library.Body, steps []progression.Step) ([]progression.Step, error)) error {
	version, _ := strconv.Atoi(t.Text("version"))
	_, err := p.Once(ctx, t, func(q store.Q) (string, error) {
		row, err := q.Plan(ctx, plan)
		if err != nil {
			return "", Found(err)
		}
		if row.Version != version {
			return "", &form.Conflict{Now: form.Typed{"version": strconv.Itoa(row.Version)}}
		}
		rows, err := q.Steps(ctx, []string{plan})
		if err != nil {
			return "", err
		}
		steps, err := ReadSteps(rows)
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
		if err := bodyProblems(body, work.Kind(row.Kind)); err != nil {
			return "", err
		}
		me, err := q.Practice(ctx)
		if err != nil {
			return "", err
		}
		v := store.PlanVersion{Plan: row.Main, Version: version + 1, Body: Encode(body), Why: why, Made: p.Ms(), MadeBy: me.Person}
		if newest, err := q.AddPlanVersion(ctx, v, StepRows(steps)); err != nil {
			return "", err
		} else if !newest {
			return "", &form.Conflict{Now: form.Typed{"version": strconv.Itoa(v.Version)}}
		}
		return plan, p.StandAll(ctx, q, plan)
	})
	return err
}

func bodyProblems(b library.Body, kind work.Kind) error {
	ps := form.Problems{}
	ps.Criteria(b.Check(kind))
	return ps.Err()
}
