package practice

import (
	"context"
	"encoding/json"
	"fmt"
	"strings"

	"patientfox/core/criteria"
	"patientfox/internal/store"
)

// DimensionRow is a dimension of the practice's own in a list.
type DimensionRow struct{ Key, Label, About string }

// ownDimensions lists those of the practice.
func ownDimensions(ctx context.Context, q store.Q) ([]criteria.Dimension, error) {
	rows, err := q.Dimensions(ctx)
	if err != nil {
		return nil, err
	}
	own := make([]criteria.Dimension, len(rows))
	for i, r := range rows {
		if err := json.Unmarshal([]byte(r.Body), &own[i]); err != nil {
			return nil, fmt.Errorf("dimension %s: %w", r.Key, err)
		}
	}
	return own, nil
}

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
func (p *Practice) AddDimension(ctx context.Context, t Typed) error {
	ps := problems{}
	d := criteria.Dimension{
		Key: criteria.Key("own-" + NewID()), Label: ps.name("label", t["label"], "the dimension"), Unit: t.Text("unit"), Max: 10000,
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
		d.Items, d.Unit, d.Max = listed(t["items"]), "", criteria.MaxItems-1
	}
	ps.criteria(d.CheckOwn())
	if err := ps.err(); err != nil {
		return err
	}
	_, err := p.once(ctx, t, func(q store.Q) (string, error) {
		own, err := ownDimensions(ctx, q)
		if err != nil {
			return "", err
		}
		if len(own) >= criteria.MaxOwn {
			return "", &Invalid{map[string]string{"label": fmt.Sprintf("At most %d of your own.", criteria.MaxOwn)}}
		}
		for _, one := range own {
			if strings.EqualFold(one.Label, d.Label) {
				return "", &Invalid{map[string]string{"label": "That one is there already."}}
			}
		}
		for _, one := range criteria.Dimensions {
			if strings.EqualFold(one.Label, d.Label) {
				return "", &Invalid{map[string]string{"label": "Everybody has that one already."}}
			}
		}
		return string(d.Key), q.SetDimension(ctx, store.OwnDimension{Key: string(d.Key), Body: encode(d), Made: p.ms()})
	})
	return err
}

// DeleteDimension puts one away, or brings it back. Steps that use it keep it.
func (p *Practice) DeleteDimension(ctx context.Context, key string, away bool) error {
	return p.away(ctx, away, func(q store.Q, at *int64) (bool, error) { return q.DeleteDimension(ctx, key, at) })
}

// listed reads a list of words: one a line, or with commas or arrows between.
func listed(typed string) []string {
	var list []string
	for _, word := range strings.FieldsFunc(typed, func(r rune) bool { return r == '\n' || r == ',' || r == ';' || r == '→' }) {
		if word = strings.TrimSpace(word); word != "" {
			list = append(list, word)
		}
	}
	return list
}
