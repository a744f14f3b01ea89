// Package learning is the pages of what sessions show together: those of a dog over all its skills, and those of the practice.
package learning

import (
	"embed"

	"github.com/gofiber/fiber/v3"

	"patientfox/internal/app"
	"patientfox/internal/app/learning"
	"patientfox/internal/practice"
	"patientfox/internal/web/figures"
	"patientfox/internal/web/shell"
)

//go:embed *.html
var templates embed.FS

type dogPage struct {
	learning.DogView
	Parts []part
	Came  *figures.Reliability
}

// part is a section of the page, with what is drawn of it.
type part struct {
	app.Section
	Rows []shell.RateRow
}

// Mount puts a dog's page under /dogs/:id/learning, and that of the practice under /learning.
func Mount(routes fiber.Router, sh *shell.Shell, p *practice.Practice) {
	mountPractice(routes, sh, p)
	ofDog := sh.Page(templates, "dog.html")
	routes.Get("/dogs/:id/learning", func(c fiber.Ctx) error {
		v, err := p.DogLearning(c.Context(), c.Params("id"))
		if err != nil {
			return err
		}
		pg := dogPage{DogView: v, Came: shell.DrawCame(v.Predictions)}
		for _, s := range []app.Section{v.Within, v.Between} {
			pg.Parts = append(pg.Parts, part{s, shell.DrawRates(s.Rates)})
		}
		return sh.Render(c, ofDog, fiber.StatusOK, shell.View{Title: "Learning · " + v.Name, Nav: "dogs", V: pg})
	})
}
