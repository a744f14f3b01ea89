// Package homework is the sheet of what a household trains between two visits, on a page and on paper.
package homework

import (
	"embed"
	"strings"

	"github.com/gofiber/fiber/v3"

	"patientfox/core/homework"
	cases "patientfox/internal/app/homework"
	"patientfox/internal/practice"
	"patientfox/internal/web/shell"
)

//go:embed *.html
var templates embed.FS

// page is the sheet with what its pictures are called.
type page struct{ cases.View }

// Mount puts the page under /dogs/:id/homework. What is on the sheet is asked for in its address; nothing is changed by that.
func Mount(routes fiber.Router, sh *shell.Shell, p *practice.Practice) {
	sheet := sh.Page(templates, "homework.html", "signs.html")
	routes.Get("/dogs/:id/homework", func(c fiber.Ctx) error {
		asked := cases.Asked{With: strings.Clone(c.Query("with")), Line: strings.Clone(c.Query("line")), Large: c.Query("large") != ""}
		for _, one := range c.Request().URI().QueryArgs().PeekMulti("skill") {
			asked.Skills = append(asked.Skills, string(one))
		}
		v, err := p.Homework(c.Context(), c.Params("id"), asked)
		if err != nil {
			return err
		}
		return sh.Render(c, sheet, fiber.StatusOK, shell.View{Title: "Homework · " + v.Dog, Nav: "dogs", V: page{v}})
	})
}

// Looks are the faces by which a household reports what a dog was exposed to.
func (page) Looks() []string { return []string{"relaxed", "unsure", "worried"} }

// Says is the word over a picture of the strip.
func (page) Says(sign homework.Sign) string {
	switch sign {
	case homework.Say:
		return "Say"
	case homework.Show:
		return "Show"
	case homework.Cue:
		return "Cue"
	case homework.Does:
		return "It does it"
	case homework.Meets:
		return "It meets"
	case homework.Mark:
		return "Mark"
	}
	return "Feed"
}
