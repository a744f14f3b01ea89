// Package today is the page of the day: what to work on, in order.
package today

import (
	"embed"

	"github.com/gofiber/fiber/v3"

	"patientfox/internal/practice"
	"patientfox/internal/web/shell"
)

//go:embed *.html
var templates embed.FS

// Mount puts the page at /.
func Mount(app fiber.Router, sh *shell.Shell, p *practice.Practice) {
	page := sh.Page(templates, "today.html")
	app.Get("/", func(c fiber.Ctx) error {
		v, err := p.Today(c.Context())
		if err != nil {
			return err
		}
		return sh.Render(c, page, fiber.StatusOK, shell.View{Title: "Today", Nav: "today", V: v})
	})
}
