// Package pay is the page of how one plan is paid: value, rate and schedule, step by step.
package pay

import (
	"embed"
	"net/url"

	"github.com/gofiber/fiber/v3"

	"patientfox/core/library"
	"patientfox/core/reinforce"
	"patientfox/internal/app/rewards"
	"patientfox/internal/practice"
	"patientfox/internal/web/shell"
)

//go:embed *.html
var templates embed.FS

type page struct {
	rewards.PayView
	Plan, Step                        shell.Form
	EditPlan, EditStep                bool
	Tiers, Ways, Purposes, Deliveries []reinforce.Named
	Arousals                          []shell.Option
	Odd                               []rewards.PayStep // steps about whose pay something is not sound
}

var arousals = []shell.Option{{Value: library.Lively, Label: "lively"}, {Value: library.Settling, Label: "settling"}}

// Mount puts the page under /plans/:id/pay.
func Mount(routes fiber.Router, sh *shell.Shell, p *practice.Practice) {
	tpl := sh.Page(templates, "pay.html")
	show := func(c fiber.Ctx, status int, which, step string, form shell.Form) error {
		if step == "" {
			step = c.Query("step")
		}
		v, err := p.Pay(c.Context(), c.Params("id"), step)
		if err != nil {
			return err
		}
		pg := page{
			PayView: v, Plan: shell.Form{Typed: v.Form}, Step: shell.Form{Typed: v.StepForm}, EditStep: c.Query("step") != "",
			Tiers: reinforce.Tiers, Ways: reinforce.Ways, Purposes: reinforce.Purposes, Deliveries: reinforce.Deliveries, Arousals: arousals,
		}
		switch which {
		case "plan":
			pg.Plan, pg.EditPlan = form, true
		case "step":
			pg.Step, pg.EditStep = form, true
		}
		pg.Plan.Name, pg.Step.Name = "plan", "step"
		for _, one := range v.Steps {
			if len(one.Lints) > 0 {
				pg.Odd = append(pg.Odd, one)
			}
		}
		return sh.Render(c, tpl, status, shell.View{Title: "Pay · " + v.Skill + " · " + v.Dog, Nav: "dogs", V: pg})
	}
	routes.Get("/plans/:id/pay", func(c fiber.Ctx) error { return show(c, fiber.StatusOK, "", "", shell.Form{}) })
	routes.Post("/plans/:id/pay", func(c fiber.Ctx) error {
		typed := shell.Typed(c)
		err := p.SavePay(c.Context(), c.Params("id"), typed)
		which, step := "plan", typed.Text("step")
		if step != "" {
			which = "step"
		}
		if form, status, ok := shell.Problems(typed, err); ok {
			return show(c, status, which, step, form)
		}
		if err != nil {
			return err
		}
		to := "/plans/" + c.Params("id") + "/pay"
		if step != "" {
			to += "?step=" + url.QueryEscape(step) + "#steps"
		}
		return shell.See(c, to)
	})
}
