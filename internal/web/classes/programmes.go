package classes

import (
	"fmt"
	"net/url"
	"strings"

	"github.com/gofiber/fiber/v3"

	"patientfox/core/programme"
	"patientfox/internal/app/classes"
	"patientfox/internal/app/form"
	"patientfox/internal/web/shell"
)

// programmesPage is the list, with the one that was put away just now.
type programmesPage struct {
	List []programme.Programme
	Away string
	Read shell.Form
}

// programmePage is a programme with the form that changes one of the practice's own.
type programmePage struct {
	classes.ProgrammeView
	Edit shell.Form
}

// slot is one row of the form.
type slot struct{ From, Aims string }

// mountProgrammes puts the programmes under /programmes.
func (s screen) mountProgrammes(routes fiber.Router) {
	list := s.sh.Page(templates, "programmes.html")
	show := func(c fiber.Ctx, status int, read shell.Form) error {
		all, err := s.p.Programmes(c.Context())
		if err != nil {
			return err
		}
		pg := programmesPage{all, strings.Clone(c.Query("put")), read}
		return s.sh.Render(c, list, status, shell.View{Title: "Programmes", Nav: "library", V: pg})
	}
	routes.Get("/programmes", func(c fiber.Ctx) error { return show(c, fiber.StatusOK, shell.Form{Typed: form.Typed{}}) })
	routes.Post("/programmes", func(c fiber.Ctx) error {
		typed := form.Typed{"key": c.FormValue("key")}
		file, err := shell.File(c, "file")
		if err != nil {
			return err
		}
		key, err := s.p.ReadProgramme(c.Context(), typed, file)
		if again, status, ok := shell.Problems(typed, err); ok {
			return show(c, status, again)
		}
		if err != nil {
			return err
		}
		return shell.See(c, "/programmes/"+key)
	})
	routes.Get("/programmes/:key/file", func(c fiber.Ctx) error {
		name, body, err := s.p.ProgrammeFile(c.Context(), c.Params("key"))
		if err != nil {
			return err
		}
		return shell.Download(c, name, body)
	})
	s.mountProgramme(routes)
}

// mountProgramme puts one programme under its key.
func (s screen) mountProgramme(routes fiber.Router) {
	routes.Get("/programmes/:key", func(c fiber.Ctx) error { return s.showProgramme(c, fiber.StatusOK, nil) })
	routes.Post("/programmes/:key/copy", func(c fiber.Ctx) error {
		key, err := s.p.CopyProgramme(c.Context(), c.Params("key"), shell.Typed(c))
		if err != nil {
			return err
		}
		return shell.See(c, "/programmes/"+key)
	})
	routes.Post("/programmes/:key", func(c fiber.Ctx) error {
		typed := shell.Typed(c)
		err := s.p.SaveProgramme(c.Context(), c.Params("key"), typed)
		if again, status, ok := shell.Problems(typed, err); ok {
			return s.showProgramme(c, status, &again)
		}
		if err != nil {
			return err
		}
		return shell.See(c, "/programmes/"+c.Params("key"))
	})
	routes.Post("/programmes/:key/away", func(c fiber.Ctx) error {
		key, back := c.Params("key"), c.FormValue("back") != ""
		if err := s.p.DeleteProgramme(c.Context(), key, !back); err != nil {
			return err
		}
		if back {
			return shell.See(c, "/programmes/"+key)
		}
		return shell.See(c, "/programmes?put="+url.QueryEscape(key))
	})
}

func (s screen) showProgramme(c fiber.Ctx, status int, again *shell.Form) error {
	v, err := s.p.Programme(c.Context(), c.Params("key"))
	if err != nil {
		return err
	}
	pg := programmePage{v, shell.Form{Typed: v.Form}}
	if again != nil {
		pg.Edit = *again
	}
	return s.sh.Render(c, s.programme, status, shell.View{Title: v.Name, Nav: "library", V: pg})
}

// Slots are the rows of the form: those that are there, and some to fill.
func (pg programmePage) Slots() (list []slot) {
	for n := 1; n <= programme.MaxRows; n++ {
		list = append(list, slot{fmt.Sprintf("from%d", n), fmt.Sprintf("aims%d", n)})
	}
	return list
}

// Options are what a row can be of.
func (pg programmePage) Options() []shell.Option {
	list := []shell.Option{{Label: "Nothing"}}
	for _, one := range pg.Of {
		list = append(list, shell.Option{Value: one.ID, Label: one.Name})
	}
	return list
}
