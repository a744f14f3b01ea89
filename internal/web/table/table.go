// Package table shows a ladder as a table, in which figures of many steps are changed, pasted and mended at once, and copies a ladder to
// other dogs. Nothing is saved before the press that says so.
package table

import (
	"embed"
	"strconv"

	"github.com/gofiber/fiber/v3"

	"patientfox/internal/app/form"
	"patientfox/internal/practice"
	"patientfox/internal/web/shell"
)

//go:embed *.html
var templates embed.FS

type screen struct {
	sh           *shell.Shell
	p            *practice.Practice
	page, copies *shell.Page
}

// Mount puts the pages under /plans/:id/table and /plans/:id/copy.
func Mount(routes fiber.Router, sh *shell.Shell, p *practice.Practice) {
	s := screen{sh, p, sh.Page(templates, "table.html"), sh.Page(templates, "copy.html")}
	routes.Get("/plans/:id/table", func(c fiber.Ctx) error {
		return s.show(c, fiber.StatusOK, shell.Form{Typed: form.Typed{}})
	})
	routes.Post("/plans/:id/table", s.change)
	routes.Get("/plans/:id/copy", func(c fiber.Ctx) error { return s.showCopies(c, fiber.StatusOK, shell.Form{Typed: form.Typed{}}) })
	routes.Post("/plans/:id/copy", s.copy)
}

// change does what the pressed button names: a change that is shown, or the saving.
func (s screen) change(c fiber.Ctx) error {
	typed := shell.Typed(c)
	if typed["op"] != "save" {
		return s.show(c, fiber.StatusOK, shell.Form{Typed: typed})
	}
	err := s.p.SaveTable(c.Context(), c.Params("id"), typed)
	if again, status, ok := shell.Problems(typed, err); ok {
		again.Typed["op"] = ""
		return s.show(c, status, again)
	}
	if err != nil {
		return err
	}
	return shell.See(c, "/plans/"+c.Params("id")+"?undo=1")
}

func (s screen) show(c fiber.Ctx, status int, shown shell.Form) error {
	v, problems, err := s.p.Table(c.Context(), c.Params("id"), shown.Typed)
	if err != nil {
		return err
	}
	shown.Typed = v.Typed
	if len(problems) > 0 {
		shown.Problems, status = problems, fiber.StatusUnprocessableEntity
	}
	return s.sh.Render(c, s.page, status, shell.View{Title: "Steps as a table · " + v.Skill, Nav: "dogs", V: v, Form: shown})
}

func (s screen) showCopies(c fiber.Ctx, status int, shown shell.Form) error {
	v, err := s.p.Copies(c.Context(), c.Params("id"))
	if err != nil {
		return err
	}
	return s.sh.Render(c, s.copies, status, shell.View{Title: "Copy to other dogs · " + v.Skill, Nav: "dogs", V: v, Form: shown})
}

func (s screen) copy(c fiber.Ctx) error {
	typed := shell.Typed(c)
	n, err := s.p.Copy(c.Context(), c.Params("id"), typed)
	if again, status, ok := shell.Problems(typed, err); ok {
		return s.showCopies(c, status, again)
	}
	if err != nil {
		return err
	}
	return shell.See(c, "/plans/"+c.Params("id")+"?copied="+strconv.Itoa(n))
}
