// Package recap is what a dog's people are told of a week of its training, on a page and on paper.
package recap

import (
	"embed"
	"net/url"
	"strings"

	"github.com/gofiber/fiber/v3"

	"patientfox/internal/app/homework"
	"patientfox/internal/practice"
	"patientfox/internal/web/shell"
)

//go:embed *.html
var templates embed.FS

type screen struct {
	sh   *shell.Shell
	p    *practice.Practice
	page *shell.Page
}

// page is the week with the form that changes it.
type page struct {
	homework.Recap
	Edit shell.Form
}

// Mount puts the page under /dogs/:id/recap. The week is the one that ends on the day that is asked for in its address.
func Mount(routes fiber.Router, sh *shell.Shell, p *practice.Practice) {
	s := screen{sh, p, sh.Page(templates, "recap.html")}
	routes.Get("/dogs/:id/recap", func(c fiber.Ctx) error { return s.show(c, fiber.StatusOK, c.Query("to"), nil) })
	routes.Post("/dogs/:id/recap", func(c fiber.Ctx) error {
		typed := shell.Typed(c)
		err := p.SaveRecap(c.Context(), c.Params("id"), typed)
		if again, status, ok := shell.Problems(typed, err); ok {
			return s.show(c, status, typed.Text("to"), &again)
		}
		if err != nil {
			return err
		}
		return shell.See(c, "/dogs/"+c.Params("id")+"/recap?to="+url.QueryEscape(typed.Text("to")))
	})
	routes.Post("/dogs/:id/recap/post", func(c fiber.Ctx) error {
		err := p.PostRecap(c.Context(), c.Params("id"), c.FormValue("to"))
		if again, status, ok := shell.Problems(shell.Typed(c), err); ok {
			return s.show(c, status, c.FormValue("to"), &again)
		}
		if err != nil {
			return err
		}
		return shell.See(c, "/post")
	})
}

func (s screen) show(c fiber.Ctx, status int, to string, again *shell.Form) error {
	v, err := s.p.Recap(c.Context(), c.Params("id"), strings.Clone(to), c.Query("anew") != "")
	if err != nil {
		return err
	}
	pg := page{v, shell.Form{Typed: v.Form}}
	if again != nil {
		pg.Edit = *again
	}
	return s.sh.Render(c, s.page, status, shell.View{Title: "Recap · " + v.Dog, Nav: "dogs", V: pg})
}
