// Package health is the page of what is known of a dog's health, and of whom to call.
package health

import (
	"embed"
	"fmt"

	"github.com/gofiber/fiber/v3"

	"patientfox/core/criteria"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/app/health"
	"patientfox/internal/practice"
	"patientfox/internal/web/figures"
	"patientfox/internal/web/shell"
)

//go:embed *.html
var templates embed.FS

type page struct {
	health.View
	Add     shell.Form // of the kind named in it
	Edit    shell.Form // of the contacts
	End     shell.Form // of what is over
	Figure  figures.Weights
	JustPut string // what was put away just now
}

// FormOf is the form of one kind: as it was typed, where that could not stand.
func (pg page) FormOf(kind string) shell.Form {
	if pg.Add.Typed["kind"] == kind {
		again := pg.Add
		again.Name = kind
		return again
	}
	return shell.Form{Name: kind, Typed: form.Typed{"day": pg.Today}}
}

// EndOf is the form that says when one was over.
func (pg page) EndOf(row health.Row) shell.Form {
	if pg.End.Typed["one"] == row.ID {
		return pg.End
	}
	return shell.Form{Name: "over-" + row.ID, Typed: form.Typed{"over": pg.Today}}
}

// Photos are what can be said of photographs.
func (pg page) Photos() []app.Named { return health.Photos }

// Says tells the weights of the figure in a line.
func (pg page) Says() string {
	list := pg.Weights
	return fmt.Sprintf("Weight from %s kg to %s kg", criteria.Figure(list[0].Kg), criteria.Figure(list[len(list)-1].Kg))
}

type screen struct {
	sh   *shell.Shell
	p    *practice.Practice
	page *shell.Page
}

// Mount puts the page under /dogs/:id/health.
func Mount(routes fiber.Router, sh *shell.Shell, p *practice.Practice) {
	s := screen{sh, p, sh.Page(templates, "health.html")}
	routes.Get("/dogs/:id/health", func(c fiber.Ctx) error { return s.show(c, fiber.StatusOK, page{JustPut: c.Query("put")}) })
	routes.Post("/dogs/:id/health", func(c fiber.Ctx) error {
		typed := shell.Typed(c)
		err := p.SaveHealth(c.Context(), c.Params("id"), typed)
		return s.saved(c, typed, err, func(again shell.Form) page { return page{Add: again} })
	})
	routes.Post("/dogs/:id/contacts", func(c fiber.Ctx) error {
		typed := shell.Typed(c)
		err := p.SaveContacts(c.Context(), c.Params("id"), typed)
		return s.saved(c, typed, err, func(again shell.Form) page { return page{Edit: again} })
	})
	routes.Post("/dogs/:id/health/:one/over", func(c fiber.Ctx) error {
		typed := shell.Typed(c)
		err := p.EndHealth(c.Context(), c.Params("id"), c.Params("one"), typed)
		return s.saved(c, typed, err, func(again shell.Form) page {
			again.Typed["one"], again.Name = c.Params("one"), "over-"+c.Params("one")
			return page{End: again}
		})
	})
	routes.Post("/dogs/:id/health/:one/away", func(c fiber.Ctx) error {
		away := c.FormValue("back") == ""
		if err := p.PutHealthAway(c.Context(), c.Params("id"), c.Params("one"), away); err != nil {
			return err
		}
		put := ""
		if away {
			put = "?put=" + c.Params("one")
		}
		return shell.See(c, "/dogs/"+c.Params("id")+"/health"+put)
	})
}

// saved goes on after a form, or shows it again.
func (s screen) saved(c fiber.Ctx, typed form.Typed, err error, with func(shell.Form) page) error {
	if again, status, ok := shell.Problems(typed, err); ok {
		return s.show(c, status, with(again))
	}
	if err != nil {
		return err
	}
	return shell.See(c, "/dogs/"+c.Params("id")+"/health")
}

func (s screen) show(c fiber.Ctx, status int, pg page) error {
	v, err := s.p.Health(c.Context(), c.Params("id"))
	if err != nil {
		return err
	}
	pg.View = v
	if pg.Add.Typed == nil {
		pg.Add.Typed = form.Typed{}
	}
	if pg.Edit.Typed == nil {
		pg.Edit.Typed = v.Contacts
	}
	pg.Edit.Name = "contacts"
	var weights []figures.WeightIn
	for _, one := range v.Weights {
		weights = append(weights, figures.WeightIn{Day: app.DaysBetween(v.Weights[0].Day, one.Day), Kg: one.Kg})
	}
	pg.Figure = figures.DrawWeights(360, 90, weights)
	return s.sh.Render(c, s.page, status, shell.View{Title: "Health · " + v.Dog, Nav: "dogs", V: pg})
}
