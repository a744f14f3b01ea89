// Package homework is the sheet of what a household trains between two visits, on a page and on paper.
package homework

import (
	"embed"
	"html/template"
	"net/url"
	"strings"

	"github.com/gofiber/fiber/v3"

	"patientfox/internal/app/form"
	cases "patientfox/internal/app/homework"
	"patientfox/internal/practice"
	"patientfox/internal/web/shell"
)

//go:embed *.html
var templates embed.FS

// page is the sheet with what its pictures are called, and what came back.
type page struct {
	cases.View
	Form    shell.Form // of what came back, as it was typed
	Sheet   shell.Form // of giving it
	JustPut string     // the line that was taken back just now

	Linkable bool          // households' phones reach this server
	Link     string        // that was made just now
	Squares  template.HTML // as a code to be photographed
}

type screen struct {
	sh   *shell.Shell
	p    *practice.Practice
	page *shell.Page
}

// Mount puts the page under /dogs/:id/homework. What is on the sheet is asked for in its address; it is kept when it is given.
func Mount(routes fiber.Router, sh *shell.Shell, p *practice.Practice) {
	s := screen{sh, p, sh.Page(templates, "homework.html")}
	s.mountFile(routes)
	s.mountFridge(routes)
	s.mountLinks(routes)
	routes.Get("/dogs/:id/homework", func(c fiber.Ctx) error {
		return s.show(c, fiber.StatusOK, askedOf(c), page{JustPut: strings.Clone(c.Query("put"))})
	})
	routes.Post("/dogs/:id/homework", func(c fiber.Ctx) error {
		typed := shell.Typed(c)
		err := p.Give(c.Context(), c.Params("id"), typed)
		return s.saved(c, typed, err, func(again shell.Form) page { return page{Sheet: again} })
	})
	routes.Post("/dogs/:id/homework/lines", func(c fiber.Ctx) error {
		typed := shell.Typed(c)
		err := p.Return(c.Context(), c.Params("id"), typed)
		return s.saved(c, typed, err, func(again shell.Form) page { return page{Form: again} })
	})
	routes.Post("/dogs/:id/homework/:plan/release", func(c fiber.Ctx) error {
		if err := p.Release(c.Context(), c.Params("id"), c.Params("plan"), c.FormValue("back") != ""); err != nil {
			return err
		}
		return shell.See(c, address(c, c.FormValue("with")))
	})
	routes.Post("/dogs/:id/homework/lines/:one/away", func(c fiber.Ctx) error {
		away, put := c.FormValue("back") == "", ""
		if err := p.PutReturnedAway(c.Context(), c.Params("id"), c.Params("one"), away); err != nil {
			return err
		}
		if away {
			put = "&put=" + url.QueryEscape(c.Params("one"))
		}
		return shell.See(c, address(c, c.FormValue("with"))+put)
	})
}

// askedOf is what the address asks for.
func askedOf(c fiber.Ctx) cases.Asked {
	asked := cases.Asked{
		With: strings.Clone(c.Query("with")), Line: strings.Clone(c.Query("line")), Large: c.Query("large") != "", Anew: c.Query("anew") != "",
	}
	for _, one := range c.Request().URI().QueryArgs().PeekMulti("skill") {
		asked.Skills = append(asked.Skills, string(one))
	}
	return asked
}

// askedFor is what a form of the sheet asks for.
func askedFor(typed form.Typed) cases.Asked {
	asked := cases.Asked{With: typed.Text("with"), Skills: form.Listed(typed["skills"]), Line: typed["line"], Large: typed["large"] != ""}
	asked.Anew = len(asked.Skills) > 0
	return asked
}

// File is the address of the sheet as a file.
func (pg page) File() string {
	asked := url.Values{"with": {pg.With.ID}, "line": {pg.Line}, "anew": {"1"}}
	if pg.Large {
		asked.Set("large", "1")
	}
	for _, one := range pg.Skills {
		asked.Add("skill", one.Plan)
	}
	return "/dogs/" + pg.ID + "/homework/file?" + asked.Encode()
}

func address(c fiber.Ctx, with string) string {
	return "/dogs/" + c.Params("id") + "/homework?with=" + url.QueryEscape(with)
}

// saved goes on after a form, or shows it again on the sheet that it was sent from.
func (s screen) saved(c fiber.Ctx, typed form.Typed, err error, with func(shell.Form) page) error {
	if again, status, ok := shell.Problems(typed, err); ok {
		return s.show(c, status, askedFor(typed), with(again))
	}
	if err != nil {
		return err
	}
	return shell.See(c, address(c, typed.Text("with")))
}

func (s screen) show(c fiber.Ctx, status int, asked cases.Asked, pg page) (err error) {
	if pg.View, err = s.p.Homework(c.Context(), c.Params("id"), asked); err != nil {
		return err
	}
	pg.Linkable = s.sh.Households != ""
	if pg.Form.Typed == nil {
		pg.Form.Typed = form.Typed{}
	}
	return s.sh.Render(c, s.page, status, shell.View{Title: "Homework · " + pg.Dog, Nav: "dogs", V: pg})
}

// Plans are those on the sheet, with commas between.
func (pg page) Plans() string {
	var ids []string
	for _, one := range pg.Skills {
		ids = append(ids, one.Plan)
	}
	return strings.Join(ids, ", ")
}

// Recent and Earlier are what came back.
func (pg page) Recent() []cases.Row { return pg.Back[:min(recent, len(pg.Back))] }

// Earlier are the lines behind those.
func (pg page) Earlier() []cases.Row { return pg.Back[min(recent, len(pg.Back)):] }

// came is a line that came back with what its form needs.
type came struct {
	cases.Row
	Dog, With, Token string
}

// Came is one.
func (pg page) Came(row cases.Row, token string) came { return came{row, pg.ID, pg.With.ID, token} }

const recent = 4 // lines that are shown at once
