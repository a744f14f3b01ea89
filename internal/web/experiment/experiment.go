// Package experiment is the page of two ways of working a plan that are compared by chance.
package experiment

import (
	"embed"

	"github.com/gofiber/fiber/v3"

	"patientfox/internal/app/experiments"
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
	experiments.View
	Form shell.Form
}

// Mount puts the page under /plans/:id/experiment.
func Mount(routes fiber.Router, sh *shell.Shell, p *practice.Practice) {
	s := screen{sh, p, sh.Page(templates, "experiment.html")}
	routes.Get("/plans/:id/experiment", func(c fiber.Ctx) error { return s.show(c, fiber.StatusOK, shell.Form{}) })
	routes.Post("/plans/:id/experiment", s.start)
	routes.Post("/plans/:id/experiment/:experiment/stop", s.stop)
}

func (s screen) show(c fiber.Ctx, status int, form shell.Form) error {
	v, err := s.p.Experiments(c.Context(), c.Params("id"))
	if err != nil {
		return err
	}
	if form.Typed == nil {
		form.Typed = v.Typed
	}
	return s.sh.Render(c, s.page, status, shell.View{Title: "Experiment · " + v.Skill + " · " + v.Dog, Nav: "dogs", V: page{v, form}})
}

func (s screen) start(c fiber.Ctx) error {
	typed := shell.Typed(c)
	err := s.p.StartExperiment(c.Context(), c.Params("id"), typed)
	if form, status, ok := shell.Problems(typed, err); ok {
		return s.show(c, status, form)
	}
	if err != nil {
		return err
	}
	return shell.See(c, "/plans/"+c.Params("id")+"/experiment")
}

func (s screen) stop(c fiber.Ctx) error {
	if err := s.p.StopExperiment(c.Context(), c.Params("id"), c.Params("experiment")); err != nil {
		return err
	}
	return shell.See(c, "/plans/"+c.Params("id")+"/experiment")
}
