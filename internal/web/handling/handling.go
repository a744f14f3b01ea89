// Package handling shows what a person's trials say of how they handle: to themselves, and to trainers.
package handling

import (
	"cmp"
	"embed"

	"github.com/gofiber/fiber/v3"

	"patientfox/internal/app/insight"
	"patientfox/internal/practice"
	"patientfox/internal/web/shell"
)

//go:embed *.html
var templates embed.FS

type page struct {
	insight.HandlingView
	Own   bool
	Drawn []shell.RateRow // skill by skill
}

// Mount puts one's own at /me/handling, and that of anybody at /people/:id.
func Mount(routes fiber.Router, sh *shell.Shell, p *practice.Practice) {
	tpl := sh.Page(templates, "handling.html")
	show := func(c fiber.Ctx, id, nav string, own bool) error {
		v, err := p.Handling(c.Context(), id)
		if err != nil {
			return err
		}
		return sh.Render(c, tpl, fiber.StatusOK, shell.View{Title: "Handling by " + v.Name, Nav: nav, V: page{v, own, shell.DrawRates(v.Skills)}})
	}
	routes.Get("/me/handling", func(c fiber.Ctx) error {
		s, err := p.Settings(c.Context())
		if err != nil {
			return err
		}
		return show(c, cmp.Or(shell.Person(c), s.Me), "me", true)
	})
	routes.Get("/people/:id", func(c fiber.Ctx) error { return show(c, c.Params("id"), "settings", false) })
}
