package demo

import (
	"context"
	"fmt"
	"math/rand/v2"
	"time"

	"patientfox/core/trial"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
)

// brushed is a dog's care over four months, which its owner is half way to doing alone.
var brushed = plan{
	dog: "Pilchard", from: "brush-and-towel", ability: 2.1, slope: 0.32, gain: 0.022, every: 5,
	places: []string{"the net shed"}, hands: "Maren Oduya",
	typed: form.Typed{"skill": "Brush and towel"},
}

// owner is who takes it over.
const owner = "Nan Fenwick"

// shared is how many visits the owner shares in each stage before the next.
const shared = 2

// takesOver has the brushing worked for four months: by the trainer, and in every second visit with the owner, who holds him first, then
// feeds, then brushes.
func (m *maker) takesOver(ctx context.Context) error {
	m.clock = m.now.AddDate(0, 0, -119)
	if err := m.p.SavePerson(ctx, form.Typed{"name": owner, "role": app.RoleFamily}); err != nil {
		return err
	}
	v, err := m.p.Settings(ctx)
	if err != nil {
		return err
	}
	for _, one := range v.People {
		m.ids[one.Name] = one.ID
	}
	pl := brushed
	if err := m.plan(ctx, &pl); err != nil {
		return err
	}
	r := m.runs[len(m.runs)-1]
	r.rng, r.says = rand.New(rand.NewPCG(97, 4)), rand.New(rand.NewPCG(97, 5))
	begun := m.clock.Truncate(24 * time.Hour)
	for day := 0; day < 118; day += pl.every {
		m.clock = begun.AddDate(0, 0, day).Add(15 * time.Hour)
		r.hands, r.roles = "", trial.Roles{}
		if visit := day / pl.every; visit%2 == 1 {
			switch {
			case visit/2 < shared:
				r.roles.Holds = m.ids[owner]
			case visit/2 < 2*shared:
				r.roles.Feeds = m.ids[owner]
			default:
				r.hands = owner
			}
		}
		if err := m.session(ctx, r, day, false); err != nil {
			return fmt.Errorf("%s on day %d: %w", pl.typed["skill"], day, err)
		}
	}
	return nil
}
