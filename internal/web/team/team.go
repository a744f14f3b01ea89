// Package team shows a day with others: who works which dog, notes to colleagues, and the sheet that a stand-in is handed.
package team

import (
	"embed"
	"net/url"
	"strings"

	"github.com/gofiber/fiber/v3"

	"patientfox/internal/app/form"
	"patientfox/internal/app/team"
	"patientfox/internal/practice"
	"patientfox/internal/web/shell"
)

//go:embed *.html
var templates embed.FS

type screen struct {
	sh                  *shell.Shell
	p                   *practice.Practice
	day, note, handOver *shell.Page
}

// Mount puts the day at /team, a note at /team/note, and what somebody is handed at /team/handover.
func Mount(routes fiber.Router, sh *shell.Shell, p *practice.Practice) {
	s := screen{
		sh, p, sh.Page(templates, "team.html", "notes.html"), sh.Page(templates, "note.html", "notes.html"), sh.Page(templates, "handover.html"),
	}
	routes.Get("/team", func(c fiber.Ctx) error { return s.showDay(c, c.Query("day"), fiber.StatusOK, nil) })
	routes.Post("/team/day", s.assign)
	routes.Get("/team/note", func(c fiber.Ctx) error {
		return s.showNote(c, fiber.StatusOK, shell.Form{Typed: asked(func(name string) string { return c.Query(name) })})
	})
	routes.Post("/team/note", s.write)
	routes.Post("/team/notes/:id", func(c fiber.Ctx) error {
		if err := p.EndNote(c.Context(), c.Params("id"), c.FormValue("back") == ""); err != nil {
			return err
		}
		return shell.See(c, "/team#notes")
	})
	routes.Get("/team/handover", func(c fiber.Ctx) error {
		v, err := p.HandOver(c.Context(), c.Query("with"), c.Query("day"))
		if err != nil {
			return err
		}
		return sh.Render(c, s.handOver, fiber.StatusOK, shell.View{Title: "Hand-over for " + v.With.Name, Nav: "today", V: v})
	})
}

func (s screen) showDay(c fiber.Ctx, day string, status int, again *shell.Form) error {
	v, err := s.p.Team(c.Context(), day)
	if err != nil {
		return err
	}
	f := shell.Form{Typed: v.Typed()}
	if again != nil {
		f = *again
	}
	return s.sh.Render(c, s.day, status, shell.View{Title: "Team", Nav: "today", V: v, Form: f})
}

func (s screen) assign(c fiber.Ctx) error {
	typed := shell.Typed(c)
	err := s.p.Assign(c.Context(), typed)
	if again, status, ok := shell.Problems(typed, err); ok {
		for name, now := range again.Now {
			if strings.HasPrefix(name, "was_") {
				again.Typed[name] = now // saving again is done knowing it
			}
		}
		return s.showDay(c, typed.Text("day"), status, &again)
	}
	if err != nil {
		return err
	}
	return shell.See(c, "/team?"+url.Values{"day": {typed.Text("day")}}.Encode())
}

// asked is what a note is about, as an address or a form says it.
func asked(of func(string) string) form.Typed {
	t := form.Typed{}
	for _, name := range []string{"dog", "plan", "session", "trial"} {
		if value := of(name); value != "" {
			t[name] = value
		}
	}
	return t
}

// note is the page on which one is written.
type note struct {
	team.NewNote
	About map[string]string // the fields that say what it is about
	Title string
}

func (s screen) showNote(c fiber.Ctx, status int, f shell.Form) error {
	about := asked(f.Typed.Text)
	v, err := s.p.NewNote(c.Context(), about)
	if err != nil {
		return err
	}
	return s.sh.Render(c, s.note, status, shell.View{Title: "Note to a colleague", Nav: "today", V: note{v, about, v.About}, Form: f})
}

func (s screen) write(c fiber.Ctx) error {
	typed := shell.Typed(c)
	err := s.p.AddNote(c.Context(), typed)
	if again, status, ok := shell.Problems(typed, err); ok {
		return s.showNote(c, status, again)
	}
	if err != nil {
		return err
	}
	return shell.See(c, "/team#notes")
}
