// Package today is the page of the day: what to work on, in order.
package today

import (
	"cmp"
	"context"
	"embed"
	"errors"
	"slices"

	"github.com/gofiber/fiber/v3"

	"patientfox/internal/app"
	"patientfox/internal/app/schedule"
	"patientfox/internal/practice"
	"patientfox/internal/web/shell"
)

//go:embed *.html
var templates embed.FS

// view is the day, and what is wrong with how it is kept.
type view struct {
	schedule.TodayView
	Disk   string // why nothing can be saved, or what is saved cannot be trusted, "" where all is well
	Copies string // what is wrong with the copies, in a sentence
	Who    string // who asks, by id
	Mine   bool   // without what others work
	Others bool   // others work something
}

// narrowed leaves out what others work today.
func (v *view) narrowed() {
	v.Slots = slices.DeleteFunc(slices.Clone(v.Slots), func(r schedule.SlotRow) bool { return r.With(v.Who) != "" })
	others := func(r app.PlanRow) bool { return v.With(r.DogID, v.Who) != "" }
	v.Next = slices.DeleteFunc(slices.Clone(v.Next), others)
	v.Probes = slices.DeleteFunc(slices.Clone(v.Probes), others)
}

// Mount puts the page at /. What is wrong with the copies is asked of copies each time.
func Mount(routes fiber.Router, sh *shell.Shell, p *practice.Practice, copies func() string) {
	page := sh.Page(templates, "today.html")
	routes.Get("/", func(c fiber.Ctx) error {
		v, err := p.Today(c.Context())
		if err != nil {
			return err
		}
		disk, err := disk(c.Context(), p)
		if err != nil {
			return err
		}
		shown := view{TodayView: v, Disk: disk, Copies: copies(), Who: cmp.Or(shell.Person(c), v.Me), Mine: c.Query("mine") != ""}
		if shown.Others = v.OfOthers(shown.Who); shown.Others && shown.Mine {
			shown.narrowed()
		}
		return sh.Render(c, page, fiber.StatusOK, shell.View{Title: "Today", Nav: "today", V: shown})
	})
}

func disk(ctx context.Context, p *practice.Practice) (string, error) {
	degraded, err := p.Healthy(ctx)
	switch {
	case errors.Is(degraded, app.ErrDamaged):
		return "The database file is damaged, so what these pages show may be wrong. Stop Patient Fox and go back to a copy.", err
	case errors.Is(degraded, app.ErrFull):
		return "The disk is full. Everything can be read, and nothing can be saved until there is room on it.", err
	case degraded != nil:
		return "The disk cannot be written to. Everything can be read, and nothing can be saved until it can.", err
	}
	return "", err
}
