// Package library has the templates to begin from: the list, one template, and files out and in.
package library

import (
	"embed"
	"net/url"

	"github.com/gofiber/fiber/v3"

	"patientfox/internal/app/form"
	"patientfox/internal/app/plans"
	"patientfox/internal/practice"
	"patientfox/internal/web/shell"
)

//go:embed *.html
var templates embed.FS

type screen struct {
	sh        *shell.Shell
	p         *practice.Practice
	list, one *shell.Page
}

// Mount puts the pages under /library.
func Mount(routes fiber.Router, sh *shell.Shell, p *practice.Practice) {
	s := screen{sh, p, sh.Page(templates, "list.html"), sh.Page(templates, "one.html")}
	routes.Get("/library", func(c fiber.Ctx) error { return s.showList(c, fiber.StatusOK, shell.Form{Typed: form.Typed{}}) })
	routes.Post("/library", s.read)
	routes.Get("/library/:from", s.showOne)
	routes.Get("/library/:from/file", s.file)
	routes.Post("/library/:id/away", s.away)
}

type listPage struct {
	plans.LibraryView
	Away string // the template that was put away a moment ago
}

func (s screen) showList(c fiber.Ctx, status int, form shell.Form) error {
	v, err := s.p.Library(c.Context())
	if err != nil {
		return err
	}
	return s.sh.Render(c, s.list, status, shell.View{Title: "Library", Nav: "library", V: listPage{v, c.Query("away")}, Form: form})
}

func from(c fiber.Ctx) (string, error) {
	name, err := url.PathUnescape(c.Params("from"))
	if err != nil {
		return "", fiber.ErrNotFound
	}
	return name, nil
}

func (s screen) showOne(c fiber.Ctx) error {
	name, err := from(c)
	if err != nil {
		return err
	}
	v, err := s.p.Template(c.Context(), name)
	if err != nil {
		return err
	}
	return s.sh.Render(c, s.one, fiber.StatusOK, shell.View{Title: v.Name, Nav: "library", V: v})
}

func (s screen) file(c fiber.Ctx) error {
	from, err := from(c)
	if err != nil {
		return err
	}
	name, body, err := s.p.TemplateFile(c.Context(), from)
	if err != nil {
		return err
	}
	return shell.Download(c, name, body)
}

func (s screen) read(c fiber.Ctx) error {
	typed := form.Typed{"key": c.FormValue("key")}
	body, err := shell.File(c, "file")
	if err != nil {
		return err
	}
	to, err := s.p.ReadTemplate(c.Context(), typed, body)
	if form, status, ok := shell.Problems(typed, err); ok {
		return s.showList(c, status, form)
	}
	if err != nil {
		return err
	}
	return shell.See(c, "/library/"+url.PathEscape(to))
}

func (s screen) away(c fiber.Ctx) error {
	back := c.FormValue("back") != ""
	if err := s.p.DeleteTemplate(c.Context(), c.Params("id"), !back); err != nil {
		return err
	}
	if back {
		return shell.See(c, "/library")
	}
	return shell.See(c, "/library?away="+c.Params("id"))
}
