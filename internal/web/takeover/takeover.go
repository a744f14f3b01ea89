// Package takeover is the page of how somebody takes a dog over from its main handler.
package takeover

import (
	"embed"

	"github.com/gofiber/fiber/v3"

	"patientfox/internal/practice"
	"patientfox/internal/web/shell"
)

//go:embed *.html
var templates embed.FS

// Mount puts the page under /dogs/:id/takeover.
func Mount(routes fiber.Router, sh *shell.Shell, p *practice.Practice) {
	page := sh.Page(templates, "takeover.html")
	routes.Get("/dogs/:id/takeover", func(c fiber.Ctx) error {
		v, err := p.TakeOver(c.Context(), c.Params("id"), c.Query("with"))
		if err != nil {
			return err
		}
		return sh.Render(c, page, fiber.StatusOK, shell.View{Title: "Taking over · " + v.Dog, Nav: "dogs", V: v})
	})
}
