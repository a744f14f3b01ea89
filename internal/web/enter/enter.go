// Package enter is the page on which a session is written down that was worked without a log.
package enter

import (
	"embed"
	"strings"

	"github.com/gofiber/fiber/v3"

	"patientfox/internal/app"
	"patientfox/internal/app/sessions"
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

type page struct {
	sessions.Entered
	Form shell.Form
}

// Mount puts the page under /plans/:id/enter.
func Mount(routes fiber.Router, sh *shell.Shell, p *practice.Practice) {
	s := screen{sh, p, sh.Page(templates, "enter.html")}
	routes.Get("/plans/:id/enter", func(c fiber.Ctx) error { return s.show(c, fiber.StatusOK, shell.Form{}) })
	routes.Post("/plans/:id/enter", s.save)
}

func (s screen) show(c fiber.Ctx, status int, form shell.Form) error {
	v, err := s.p.Entering(c.Context(), c.Params("id"))
	if err != nil {
		return err
	}
	if form.Typed == nil {
		form.Typed = v.Typed
	}
	title := "A session of another day · " + v.Skill + " · " + v.Dog
	return s.sh.Render(c, s.page, status, shell.View{Title: title, Nav: "dogs", V: page{v, form}})
}

func (s screen) save(c fiber.Ctx) error {
	typed := shell.Typed(c)
	id, err := s.p.Enter(c.Context(), c.Params("id"), typed)
	if form, status, ok := shell.Problems(typed, err); ok {
		return s.show(c, status, form)
	}
	if err != nil {
		return err
	}
	return shell.See(c, "/sessions/"+id)
}

// SetSteps are the steps at which a set can have been worked.
func (pg page) SetSteps() []app.Named {
	return append([]app.Named{{ID: "", Name: "The same"}}, pg.Steps[1:]...)
}

// Longer tells whether sets were typed beyond those that stand on the page at first.
func (pg page) Longer() bool {
	for field, typed := range pg.Form.Typed {
		if strings.HasPrefix(field, "set") && field >= "set3" && typed != "" {
			return true
		}
	}
	return false
}
