// Package outlook is the page of what lies ahead of a plan: a forecast by a simulated learner that is fitted to the
// dog, and the same learner under each rule.
package outlook

import (
	"embed"
	"net/url"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"patientfox/internal/app/forecasts"
	"patientfox/internal/practice"
	"patientfox/internal/web/figures"
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
	forecasts.OutlookView
	Base, Query string
	Ahead       figures.Ranges // the plan's own forecast
	Rules       figures.Ranges // sessions under each rule
	RuleRows    []forecasts.RuleRow
}

// Mount puts the page under /plans/:id/outlook.
func Mount(routes fiber.Router, sh *shell.Shell, p *practice.Practice) {
	s := screen{sh, p, sh.Page(templates, "outlook.html")}
	routes.Get("/plans/:id/outlook", s.show)
	routes.Get("/plans/:id/outlook/:file", s.file)
	routes.Get("/api/plans/:id/outlook/:what", func(c fiber.Ctx) error {
		look := p.Looking(asked(c), c.Params("what"))
		c.Set(fiber.HeaderCacheControl, "no-store")
		return c.JSON(fiber.Map{"running": look.Running, "part": look.Part})
	})
	routes.Get("/api/plans/:id/alone", func(c fiber.Ctx) error {
		v, err := p.Alone(c.Context(), asked(c))
		if err != nil {
			return err
		}
		c.Set(fiber.HeaderCacheControl, "no-store")
		return c.JSON(v)
	})
	routes.Post("/plans/:id/outlook/:what", s.ahead)
}

func (s screen) show(c fiber.Ctx) error {
	v, err := s.p.Outlook(c.Context(), asked(c))
	if err != nil {
		return err
	}
	pg := page{OutlookView: v, Base: "/plans/" + v.ID + "/outlook", Query: query(strconv.FormatUint(v.Seed, 10), v.With.ID), RuleRows: v.Rules}
	var rows []figures.RangeIn
	for _, r := range v.Rules {
		rows = append(rows, figures.RangeIn{
			Label: r.Name, Lo: r.Sessions.Lo, Mid: r.Sessions.Mid, Hi: r.Sessions.Hi, Open: r.Sessions.Open, Own: r.Own,
		})
	}
	pg.Rules = figures.DrawRanges(760, rows)
	if len(v.Rows) > 0 {
		r := v.Rows[0]
		pg.Ahead = figures.DrawRanges(760, []figures.RangeIn{{Label: r.Label, Lo: r.Lo, Mid: r.Mid, Hi: r.Hi, Open: r.Open, Own: true}})
	}
	return s.sh.Render(c, s.page, fiber.StatusOK, shell.View{Title: "Outlook · " + v.Skill + " · " + v.Dog, Nav: "dogs", V: pg})
}

func (s screen) file(c fiber.Ctx) error {
	t, err := s.p.OutlookTable(c.Context(), asked(c), strings.TrimSuffix(c.Params("file"), ".csv"))
	if err != nil {
		return err
	}
	return shell.CSV(c, t)
}

// asked is what a page of this address is of.
func asked(c fiber.Ctx) forecasts.Ask {
	return forecasts.Ask{Plan: c.Params("id"), Seed: c.Query("seed"), With: c.Query("with")}
}

func query(seed, with string) string {
	q := url.Values{"seed": {seed}}
	if with != "" {
		q.Set("with", with)
	}
	return "?" + q.Encode()
}

// ahead begins a computation, or stops it.
func (s screen) ahead(c fiber.Ctx) error {
	ask := forecasts.Ask{Plan: c.Params("id"), Seed: c.FormValue("seed"), With: c.FormValue("with")}
	if err := s.p.LookAhead(c.Context(), ask, c.Params("what"), c.FormValue("stop") != ""); err != nil {
		return err
	}
	return shell.See(c, "/plans/"+ask.Plan+"/outlook"+query(ask.Seed, ask.With)+"#"+c.Params("what"))
}

// work is one computation on the page: how far it is, or what begins it.
type work struct {
	forecasts.LookView
	Plan, What, Token, With string
	Seed                    uint64
}

// Work is the computation of that name.
func (pg page) Work(what, token string) work {
	look := pg.Forecast
	if what == "compare" {
		look = pg.Compare
	}
	return work{look, pg.ID, what, token, pg.With.ID, pg.Seed}
}
