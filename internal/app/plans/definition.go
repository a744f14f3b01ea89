package plans

import (
	"context"
	"strconv"

	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/store"
)

// SaveDefinition writes the next version of what "right" means. The past keeps the version it ran
// under; stretches of evidence begin anew.
func (p *Cases) SaveDefinition(ctx context.Context, plan string, t form.Typed) error {
	ps := form.Problems{}
	def := form.Figures{}.ReadDefinition(ps, t)
	ps.Criteria(def.Check())
	if err := ps.Err(); err != nil {
		return err
	}
	version, _ := strconv.Atoi(t.Text("version"))
	return p.Store.Write(ctx, func(q store.Q) error {
		row, err := q.Plan(ctx, plan)
		if err != nil {
			return app.Found(err)
		}
		defs, err := q.Definitions(ctx, []string{row.Skill})
		if err != nil {
			return err
		}
		now, err := app.DefinitionOf(defs, row.Skill, row.Definition)
		if err != nil {
			return err
		}
		if row.Definition != version {
			return &form.Conflict{Now: form.TypedDefinition(now, row.Definition)}
		}
		if now == def {
			return nil
		}
		me, err := q.Practice(ctx)
		if err != nil {
			return err
		}
		newest, err := q.AddDefinition(ctx, store.Definition{
			Skill: row.Skill, Version: version + 1, Body: store.JSON(def), Made: p.Ms(), MadeBy: me.By,
		})
		if err == nil && !newest {
			return &form.Conflict{Now: form.TypedDefinition(now, row.Definition)}
		}
		return err
	})
}
