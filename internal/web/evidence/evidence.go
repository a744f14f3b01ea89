// Package evidence is the page of what the record says of one plan.
package evidence

import (
	"embed"
	"strings"

	"github.com/gofiber/fiber/v3"

	"patientfox/internal/app"
	"patientfox/internal/app/insight"
	"patientfox/internal/practice"
	"patientfox/internal/web/figures"
	"patientfox/internal/web/shell"
)

//go:embed *.html
var templates embed.FS

// page is the evidence with its figures.
type page struct {
	insight.EvidencePage
	Parts []part
}

// part is a section of the page, with what is drawn of it.
type part struct {
	app.Section
	Rows  []shell.RateRow
	Drawn *figures.Rests
}

func draw(v insight.EvidencePage) page {
	pg := page{EvidencePage: v}
	for _, s := range v.Sections {
		one := part{Section: s, Rows: shell.DrawRates(s.Rates)}
		if len(s.Rests) > 0 {
			var rests []figures.RestIn
			for _, r := range s.Rests {
				rests = append(rests, figures.RestIn{Href: "/sessions/" + r.Session, Title: r.Day + ", " + r.Place, Place: r.Place, Value: r.Value})
			}
			f := figures.DrawRests(760, rests)
			one.Drawn = &f
		}
		pg.Parts = append(pg.Parts, one)
	}
	return pg
}

// Mount puts the page under /plans/:id/evidence.
func Mount(routes fiber.Router, sh *shell.Shell, p *practice.Practice) {
	tpl := sh.Page(templates, "evidence.html")
	routes.Get("/plans/:id/evidence", func(c fiber.Ctx) error {
		v, err := p.Evidence(c.Context(), c.Params("id"), c.Query("with"))
		if err != nil {
			return err
		}
		return sh.Render(c, tpl, fiber.StatusOK, shell.View{Title: "Evidence · " + v.Skill + " · " + v.Dog, Nav: "dogs", V: draw(v)})
	})
	routes.Get("/plans/:id/evidence/:file", func(c fiber.Ctx) error {
		t, err := p.EvidenceTable(c.Context(), c.Params("id"), c.Query("with"), strings.TrimSuffix(c.Params("file"), ".csv"))
		if err != nil {
			return err
		}
		return shell.CSV(c, t)
	})
}
