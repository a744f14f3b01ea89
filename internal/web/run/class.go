package run

import (
	"context"
	"errors"
	"slices"

	"github.com/gofiber/fiber/v3"

	"patientfox/core/pack"
	"patientfox/internal/app"
	"patientfox/internal/app/classes"
	"patientfox/internal/app/sessions"
	"patientfox/internal/derive"
	"patientfox/internal/practice"
	"patientfox/internal/web/shell"
)

// field is what a phone carries of the day, with the meetings of its classes.
type field struct {
	sessions.Field
	Classes []classes.Floor `json:"classes"`
}

// meeting is one meeting of a class, with the packs of its dogs.
type meeting struct {
	classes.Floor
	Packs []pack.Pack `json:"packs"`
}

// mountClass puts the page of a class under /run, and what it and the other pages carry under /api.
func mountClass(routes fiber.Router, sh *shell.Shell, p *practice.Practice) {
	page := sh.Page(files, "class.html", "glyphs.html")
	routes.Get("/run/class", func(c fiber.Ctx) error {
		return sh.Render(c, page, fiber.StatusOK, shell.View{Title: "Class", Bare: true, Script: "run/class.js", V: blank()})
	})
	routes.Get("/api/field", func(c fiber.Ctx) error {
		day, err := p.Field(c.Context())
		if err != nil {
			return err
		}
		floors, err := p.FloorsToday(c.Context())
		if err != nil {
			return err
		}
		if day.Packs, err = carries(c.Context(), p, day.Packs, floors); err != nil {
			return err
		}
		day.Packs = used(c, day.Packs)
		return private(c, field{day, floors})
	})
	routes.Get("/api/classes/:id", func(c fiber.Ctx) error {
		floor, err := p.Floor(c.Context(), c.Params("id"))
		if err != nil {
			return err
		}
		packs, err := carries(c.Context(), p, nil, []classes.Floor{floor})
		if err != nil {
			return err
		}
		return private(c, meeting{floor, used(c, packs)})
	})
	routes.Get("/api/classes/:id/floor", func(c fiber.Ctx) error {
		floor, err := p.Floor(c.Context(), c.Params("id"))
		if err != nil {
			return err
		}
		return private(c, floor)
	})
}

// carries adds the packs of the meetings to those that are there. One that is put away, or being read, is left out: the phone goes on
// with its own.
func carries(ctx context.Context, p *practice.Practice, packs []pack.Pack, floors []classes.Floor) ([]pack.Pack, error) {
	packs = slices.Clone(packs)
	for _, f := range floors {
		for _, d := range f.Dogs {
			for _, plan := range d.Plans {
				if plan == "" || slices.ContainsFunc(packs, func(one pack.Pack) bool { return one.Plan == plan }) {
					continue
				}
				one, err := p.Pack(ctx, plan)
				if errors.Is(err, app.ErrNotFound) || errors.Is(err, derive.ErrBehind) || errors.Is(err, derive.ErrAside) {
					continue
				}
				if err != nil {
					return nil, err
				}
				packs = append(packs, one)
			}
		}
	}
	return packs, nil
}
