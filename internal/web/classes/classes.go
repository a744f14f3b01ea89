// Package classes is the pages of programmes, and of the classes that work through them.
package classes

import (
	"embed"
	"net/url"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"patientfox/internal/app/classes"
	"patientfox/internal/app/form"
	"patientfox/internal/practice"
	"patientfox/internal/web/shell"
)

//go:embed *.html
var templates embed.FS

type screen struct {
	sh                  *shell.Shell
	p                   *practice.Practice
	new, one, programme *shell.Page
}

// listPage is the classes, with the one that was put away just now.
type listPage struct {
	classes.ListView
	Away string
}

// newPage is the form of a new class.
type newPage struct {
	classes.Form
	Edit shell.Form
}

// page is a class with its forms.
type page struct {
	classes.View
	Meeting, Change, More shell.Form
}

// Mount puts the pages under /classes and /programmes.
func Mount(routes fiber.Router, sh *shell.Shell, p *practice.Practice) {
	s := screen{sh, p, sh.Page(templates, "new.html"), sh.Page(templates, "class.html"), sh.Page(templates, "programme.html")}
	list := sh.Page(templates, "list.html")
	s.mountProgrammes(routes)
	routes.Get("/classes", func(c fiber.Ctx) error {
		v, err := p.Classes(c.Context())
		if err != nil {
			return err
		}
		return sh.Render(c, list, fiber.StatusOK, shell.View{Title: "Classes", Nav: "week", V: listPage{v, strings.Clone(c.Query("put"))}})
	})
	routes.Get("/classes/new", func(c fiber.Ctx) error {
		return s.form(c, fiber.StatusOK, shell.Form{Typed: form.Typed{"programme": c.Query("programme"), "minutes": "60"}})
	})
	routes.Post("/classes/new", func(c fiber.Ctx) error {
		typed := shell.Typed(c)
		id, err := p.AddClass(c.Context(), typed)
		if again, status, ok := shell.Problems(typed, err); ok {
			return s.form(c, status, again)
		}
		if err != nil {
			return err
		}
		return shell.See(c, "/classes/"+id)
	})
	routes.Get("/classes/:id", func(c fiber.Ctx) error { return s.show(c, fiber.StatusOK, c.Query("week"), func(*page) {}) })
	s.mountForms(routes)
}

// mountForms puts what changes a class under its page.
func (s screen) mountForms(routes fiber.Router) {
	saves := func(path string, save func(c fiber.Ctx, t form.Typed) error, again func(*page, shell.Form)) {
		routes.Post("/classes/:id"+path, func(c fiber.Ctx) error {
			typed := shell.Typed(c)
			err := save(c, typed)
			if bad, status, ok := shell.Problems(typed, err); ok {
				return s.show(c, status, typed.Text("week"), func(pg *page) { again(pg, bad) })
			}
			if err != nil {
				return err
			}
			return shell.See(c, "/classes/"+c.Params("id")+"?week="+url.QueryEscape(typed.Text("week")))
		})
	}
	saves("/meeting", func(c fiber.Ctx, t form.Typed) error { return s.p.SaveMeeting(c.Context(), c.Params("id"), t) },
		func(pg *page, bad shell.Form) { pg.Meeting = bad })
	saves("/edit", func(c fiber.Ctx, t form.Typed) error { return s.p.SaveClass(c.Context(), c.Params("id"), t) },
		func(pg *page, bad shell.Form) { pg.Change = bad })
	saves("/dogs", func(c fiber.Ctx, t form.Typed) error { return s.p.JoinClass(c.Context(), c.Params("id"), t) },
		func(pg *page, bad shell.Form) { pg.More = bad })
	saves("/dogs/:dog/leave", func(c fiber.Ctx, _ form.Typed) error {
		return s.p.LeaveClass(c.Context(), c.Params("id"), c.Params("dog"))
	},
		func(*page, shell.Form) {})
	routes.Post("/classes/:id/away", func(c fiber.Ctx) error {
		back := c.FormValue("back") != ""
		if err := s.p.DeleteClass(c.Context(), c.Params("id"), !back); err != nil {
			return err
		}
		if back {
			return shell.See(c, "/classes/"+c.Params("id"))
		}
		return shell.See(c, "/classes?put="+url.QueryEscape(c.Params("id")))
	})
}

func (s screen) form(c fiber.Ctx, status int, edit shell.Form) error {
	v, err := s.p.NewClass(c.Context())
	if err != nil {
		return err
	}
	if edit.Typed.Text("start") == "" && status == fiber.StatusOK {
		edit.Typed["start"] = v.Today
	}
	return s.sh.Render(c, s.new, status, shell.View{Title: "A new class", Nav: "week", V: newPage{v, edit}})
}

// Options are the programmes to choose from.
func (pg newPage) Options() []shell.Option {
	list := []shell.Option{{Label: "Choose a programme"}}
	for _, one := range pg.Programmes {
		list = append(list, shell.Option{Value: one.Key, Label: one.Name + ", " + strconv.Itoa(one.Weeks) + " weeks"})
	}
	return list
}

// Ticked tells whether a dog's box was.
func (pg newPage) Ticked(dog string) bool { return pg.Edit.Typed.Text("dog_"+dog) != "" }

func (s screen) show(c fiber.Ctx, status int, week string, change func(*page)) error {
	n, _ := strconv.Atoi(week) // none is that of today
	v, err := s.p.Class(c.Context(), c.Params("id"), n)
	if err != nil {
		return err
	}
	pg := page{v, shell.Form{Typed: v.Form}, shell.Form{Typed: v.Edit}, shell.Form{Typed: form.Typed{}}}
	change(&pg)
	return s.sh.Render(c, s.one, status, shell.View{Title: v.Name, Nav: "week", V: pg})
}

// There tells whether a dog is ticked as having been at the meeting: as it was sent, where the form comes back.
func (pg page) There(d classes.DogRow) bool {
	if len(pg.Meeting.Problems) > 0 || pg.Meeting.Changed {
		return pg.Meeting.Typed.Text("dog_"+d.ID) != ""
	}
	return !d.Missing
}
