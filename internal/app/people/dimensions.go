package people

import (
	"context"
	"fmt"
	"strings"

	"patientfox/core/criteria"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/store"
)

// DimensionRow is a dimension of the practice's own in a list.
type DimensionRow struct{ Key, Label, About string }

func dimensionRows(own []criteria.Dimension) []DimensionRow {
	rows := make([]DimensionRow, len(own))
	for i, d := range own {
		about := "more is harder"
		switch {
		case d.Scale == criteria.Ranked:
			about = strings.Join(d.Items, " → ")
		case d.Scale == criteria.Unranked:
			about = strings.Join(d.Items, ", ") + "; without an order"
		case d.Harder < 0:
			about = "less is harder"
		}
		if d.Unit != "" {
			about = d.Unit + ", " + about
		}
		rows[i] = DimensionRow{string(d.Key), d.Label, about}
	}
	return rows
}

// AddDimension adds a dimension of the practice's own: a figure with a unit and a direction, or a list
// of words.
func (p *Cases) AddDimension(ctx context.Context, t form.Typed) error {
	ps := form.Problems{}
	d := criteria.Dimension{
		Key: criteria.Key("own-" + app.NewID()), Label: ps.Name("label", t["label"], "the dimension"), Unit: t.Text("unit"), Max: 10000,
	}
	switch t.Text("harder") {
	case "more":
		d.Harder = 1
	case "less":
		d.Harder = -1
	case "list":
		d.Harder, d.Scale = 1, criteria.Ranked
	case "any":
		d.Scale = criteria.Unranked
	}
	if d.IsList() {
		d.Items, d.Unit, d.Max = form.Lines(t["items"]), "", criteria.MaxItems-1
	}
	ps.Criteria(d.CheckOwn())
	if err := ps.Err(); err != nil {
		return err
	}
	_, err := p.Once(ctx, t, func(q store.Q) (string, error) {
		own, err := app.OwnDimensions(ctx, q)
		if err != nil {
			return "", err
		}
		if len(own) >= criteria.MaxCustomDimensions {
			return "", &form.Invalid{Problems: map[string]string{"label": fmt.Sprintf("At most %d of your own.", criteria.MaxCustomDimensions)}}
		}
		for _, one := range own {
			if strings.EqualFold(one.Label, d.Label) {
				return "", &form.Invalid{Problems: map[string]string{"label": "That one is there already."}}
			}
		}
		for _, one := range criteria.Dimensions {
			if strings.EqualFold(one.Label, d.Label) {
				return "", &form.Invalid{Problems: map[string]string{"label": "Everybody has that one already."}}
			}
		}
		return string(d.Key), q.SetDimension(ctx, store.OwnDimension{Key: string(d.Key), Body: store.JSON(d), Made: p.Ms()})
	})
	return err
}

// DeleteDimension puts one away, or brings it back. Steps that use it keep it.
func (p *Cases) DeleteDimension(ctx context.Context, key string, away bool) error {
	return p.Away(ctx, away, func(q store.Q, at *int64) (bool, error) { return q.DeleteDimension(ctx, key, at) })
}
