// Package load is the page of what makes a plan's skill harder and easier for its dog, and of how far predictions came true.
package load

import (
	"embed"

	"github.com/gofiber/fiber/v3"

	"patientfox/internal/app/loads"
	"patientfox/internal/practice"
	"patientfox/internal/web/figures"
	"patientfox/internal/web/shell"
)

//go:embed *.html
var templates embed.FS

type page struct {
	loads.View
	Contours *figures.Contours
	Effects  []effect
	Came     *figures.Reliability
}

// effect is a row of what weighs, with its range drawn.
type effect struct {
	loads.EffectRow
	Figure figures.Effect
}

// Mount puts the page under /plans/:id/load.
func Mount(routes fiber.Router, sh *shell.Shell, p *practice.Practice) {
	show := sh.Page(templates, "load.html")
	routes.Get("/plans/:id/load", func(c fiber.Ctx) error {
		v, err := p.Load(c.Context(), c.Params("id"), c.Query("step"), c.Query("place"))
		if err != nil {
			return err
		}
		return sh.Render(c, show, fiber.StatusOK, shell.View{Title: "Load · " + v.Skill + " · " + v.Dog, Nav: "dogs", V: draw(v)})
	})
}

func draw(v loads.View) page {
	pg := page{View: v}
	for _, e := range v.Effects {
		pg.Effects = append(pg.Effects, effect{e, figures.DrawEffect(220, 30, e.Size, e.Lo, e.Hi)})
	}
	if f := v.Field; f != nil {
		in := figures.ContoursIn{
			Base: f.Base, PerDoubling: f.PerDoubling, PerLevel: f.PerLevel, Near: f.Tried.Near, Far: f.Tried.Far,
			Strongest: float64(f.Tried.Strongest()), Metres: f.Metres,
		}
		for _, s := range f.Spots {
			in.Spots = append(in.Spots, figures.SpotIn(s))
		}
		if f.At != nil {
			at := figures.SpotIn(*f.At)
			in.At = &at
		}
		drawn := figures.DrawContours(760, in)
		pg.Contours = &drawn
	}
	pg.Came = shell.DrawCame(v.Predictions)
	return pg
}
