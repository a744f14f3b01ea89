package app

import (
	"context"
	"encoding/json"
	"strconv"

	"patientfox/core/library"
	"patientfox/core/progression"
	"patientfox/core/work"
	"patientfox/internal/app/form"
	"patientfox/internal/store"
)

// Away puts something away, or brings it back. Where it is not there it answers ErrNotFound.
func (p *Practice) Away(ctx context.Context, away bool, set func(q store.Q, at *int64) (bool, error)) error {
	return p.Store.Write(ctx, func(q store.Q) error {
		var at *int64
		if away {
			now := p.Ms()
			at = &now
		}
		ok, err := set(q, at)
		if err == nil && !ok {
			return ErrNotFound
		}
		return err
	})
}

// ChangePlan makes the next version of a plan from the one typed["version"] names; where another one
// came meanwhile it answers with a Conflict.
func (p *Practice) ChangePlan(
	ctx context.Context, plan string, t form.Typed, why string,
	change func(body *library.Body, steps []progression.Step) ([]progression.Step, error),
) error {
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
		steps, err := store.ReadSteps(rows)
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
		v := store.PlanVersion{Plan: row.Main, Version: version + 1, Body: store.JSON(body), Why: why, Made: p.Ms(), MadeBy: me.By}
		if newest, err := q.AddPlanVersion(ctx, v, store.StepRows(steps)); err != nil {
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
