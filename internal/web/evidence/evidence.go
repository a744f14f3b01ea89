// Package evidence is the page of what the record says of one plan.
package evidence

import (
	"embed"
	"strings"

	"github.com/gofiber/fiber/v3"

	"patientfox/internal/practice"
	"patientfox/internal/web/shell"
)

//go:embed *.html
var templates embed.FS

// Mount puts the page under /plans/:id/evidence.
func Mount(routes fiber.Router, sh *shell.Shell, p *practice.Practice) {
	tpl := sh.Page(templates, "evidence.html")
	routes.Get("/plans/:id/evidence", func(c fiber.Ctx) error {
		v, err := p.Evidence(c.Context(), c.Params("id"))
		if err != nil {
			return err
		}
		return sh.Render(c, tpl, fiber.StatusOK, shell.View{Title: "Evidence · " + v.Skill + " · " + v.Dog, Nav: "dogs", V: v})
	})
	routes.Get("/plans/:id/evidence/:file", func(c fiber.Ctx) error {
		t, err := p.EvidenceTable(c.Context(), c.Params("id"), strings.TrimSuffix(c.Params("file"), ".csv"))
		if err != nil {
			return err
		}
		return shell.CSV(c, t)
	})
}
