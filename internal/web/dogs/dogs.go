// Package dogs has the list of dogs, the page of one dog, and their forms.
package dogs

import (
	"embed"
	"encoding/base64"
	"strings"

	"github.com/gofiber/fiber/v3"

	"patientfox/core/reinforce"
	"patientfox/internal/app"
	"patientfox/internal/app/dogs"
	"patientfox/internal/app/form"
	"patientfox/internal/app/team"
	"patientfox/internal/practice"
	"patientfox/internal/web/figures"
	"patientfox/internal/web/shell"
)

//go:embed *.html
var templates embed.FS

type screen struct {
	sh                        *shell.Shell
	p                         *practice.Practice
	list, one, form, sessions *shell.Page
}

// Mount puts the pages under /dogs.
func Mount(routes fiber.Router, sh *shell.Shell, p *practice.Practice) {
	s := screen{
		sh, p, sh.Page(templates, "list.html"), sh.Page(templates, "dog.html", "table.html"),
		sh.Page(templates, "form.html"),
		sh.Page(templates, "sessions.html", "table.html"),
	}
	routes.Get("/dogs", s.showList)
	routes.Get("/dogs/new", s.showNew)
	routes.Post("/dogs", s.add)
	routes.Get("/dogs/:id", s.showOne)
	routes.Get("/dogs/:id/edit", s.showEdit)
	routes.Post("/dogs/:id", s.save)
	routes.Post("/dogs/:id/away", s.away)
	routes.Get("/dogs/:id/sessions", s.showSessions)
}

func (s screen) showList(c fiber.Ctx) error {
	after, err := base64.RawURLEncoding.DecodeString(c.Query("after"))
	if err != nil {
		return fiber.ErrBadRequest
	}
	v, err := s.p.Dogs(c.Context(), string(after))
	if err != nil {
		return err
	}
	v.Next = base64.RawURLEncoding.EncodeToString([]byte(v.Next))
	return s.sh.Render(c, s.list, fiber.StatusOK, shell.View{Title: "Dogs", Nav: "dogs", V: v})
}

type dogRow struct {
	app.PlanRow
	Mini figures.Mini
}

type dogPage struct {
	dogs.DogView
	Told    []team.NoteRow // by a colleague to others
	Rows    []dogRow
	Map     figures.Needs
	JustPut bool // a plan was put away a moment ago
}

func (s screen) showOne(c fiber.Ctx) error {
	v, err := s.p.Dog(c.Context(), c.Params("id"))
	if err != nil {
		return err
	}
	told, err := s.p.NotesOn(c.Context(), v.ID)
	if err != nil {
		return err
	}
	page := dogPage{DogView: v, Told: told, JustPut: c.Query("put") != ""}
	for _, row := range v.Plans {
		sets := make([]figures.LevelSet, len(row.Mini))
		for i, m := range row.Mini {
			sets[i] = figures.LevelSet{Step: m.Step, Full: m.Full}
		}
		page.Rows = append(page.Rows, dogRow{row, figures.DrawMini(row.Of, sets, row.At-1)})
	}
	page.Map = needsMap(v)
	return s.sh.Render(c, s.one, fiber.StatusOK, shell.View{Title: v.Name, Nav: "dogs", V: page})
}

func needsMap(v dogs.DogView) figures.Needs {
	var nodes []figures.NeedNode
	var edges []figures.NeedEdge
	for _, n := range v.Skills {
		nodes = append(nodes, figures.NeedNode{
			ID: strings.ToLower(n.Name), Name: n.Name, Planned: n.Plan != "", Part: n.Part, Finished: n.Finished,
		})
	}
	for _, n := range v.Needs {
		edges = append(edges, figures.NeedEdge{
			From: strings.ToLower(n.Needs), To: strings.ToLower(n.Skill), Met: n.Met, Waived: n.Waived, Text: n.Text,
		})
	}
	return figures.DrawNeeds(nodes, edges)
}

func (s screen) showSessions(c fiber.Ctx) error {
	v, err := s.p.Sessions(c.Context(), c.Params("id"), c.Query("before"))
	if err != nil {
		return err
	}
	return s.sh.Render(c, s.sessions, fiber.StatusOK, shell.View{Title: "Sessions of " + v.Name, Nav: "dogs", V: v})
}

type formPage struct {
	ID    string // "" for a new dog
	Foods []reinforce.UsualFood
}

func (s screen) renderForm(c fiber.Ctx, status int, id string, form shell.Form) error {
	v := shell.View{Title: "Add a dog", Nav: "dogs", V: formPage{ID: id, Foods: reinforce.UsualFoods}, Form: form}
	if id != "" {
		v.Title = "Edit " + form.Typed["name"]
	}
	return s.sh.Render(c, s.form, status, v)
}

func (s screen) showNew(c fiber.Ctx) error {
	return s.renderForm(c, fiber.StatusOK, "", shell.Form{Typed: form.Typed{}})
}

func (s screen) showEdit(c fiber.Ctx) error {
	typed, wrong, err := s.p.DogForm(c.Context(), c.Params("id"))
	if err != nil {
		return err
	}
	return s.renderForm(c, fiber.StatusOK, c.Params("id"), shell.Form{Typed: typed, Problems: wrong})
}

func (s screen) add(c fiber.Ctx) error {
	typed := shell.Typed(c)
	id, err := s.p.AddDog(c.Context(), typed)
	if form, status, ok := shell.Problems(typed, err); ok {
		return s.renderForm(c, status, "", form)
	}
	if err != nil {
		return err
	}
	return shell.See(c, "/dogs/"+id)
}

func (s screen) save(c fiber.Ctx) error {
	typed := shell.Typed(c)
	err := s.p.SaveDog(c.Context(), c.Params("id"), typed)
	if form, status, ok := shell.Problems(typed, err); ok {
		return s.renderForm(c, status, c.Params("id"), form)
	}
	if err != nil {
		return err
	}
	return shell.See(c, "/dogs/"+c.Params("id"))
}

func (s screen) away(c fiber.Ctx) error {
	if err := s.p.DeleteDog(c.Context(), c.Params("id"), c.FormValue("back") == ""); err != nil {
		return err
	}
	return shell.See(c, "/dogs/"+c.Params("id"))
}
