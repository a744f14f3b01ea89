// Package care is the page of a dog's care: how it takes each tool at each site, and what is really done when.
package care

import (
	"embed"
	"fmt"

	"github.com/gofiber/fiber/v3"

	"patientfox/internal/app"
	"patientfox/internal/app/care"
	"patientfox/internal/app/form"
	"patientfox/internal/practice"
	"patientfox/internal/web/shell"
)

//go:embed *.html
var templates embed.FS

type page struct {
	care.View
	Add, Mark shell.Form
	Done      shell.Form // of the task named in it
	JustPut   string     // the task that was put away just now
}

// DoneForm is the form that logs that a task was done: as it was typed, where that is the one.
func (pg page) DoneForm(task string) shell.Form {
	if pg.Done.Typed["task"] == task {
		return pg.Done
	}
	return shell.Form{Name: "done-" + task, Typed: form.Typed{}}
}

// TaskForm is the form that changes a task: as it was typed, where that could not stand.
func (pg page) TaskForm(row care.TaskRow) shell.Form {
	if pg.Add.Typed["id"] == row.ID {
		again := pg.Add
		again.Name = "task-" + row.ID
		return again
	}
	return shell.Form{Name: "task-" + row.ID, Typed: row.Typed}
}

// AddForm is the form that adds a task.
func (pg page) AddForm() shell.Form {
	if pg.Add.Typed["id"] != "" {
		return shell.Form{Typed: form.Typed{}}
	}
	return pg.Add
}

// Tried tells whether a task's form was sent and could not stand.
func (pg page) Tried(task string) bool { return pg.Done.Typed["task"] == task }

// Whose and Marks are what can be chosen.
func (pg page) Whose() []app.Named { return care.Whose }

// Marks are what can be said of a site.
func (pg page) Marks() []app.Named { return care.Marks }

// Shape is the shape of a state.
func (pg page) Shape(state int) string { return fmt.Sprintf("state%d", state) }

type screen struct {
	sh   *shell.Shell
	p    *practice.Practice
	page *shell.Page
}

// Mount puts the page under /dogs/:id/care.
func Mount(routes fiber.Router, sh *shell.Shell, p *practice.Practice) {
	s := screen{sh, p, sh.Page(templates, "care.html")}
	routes.Get("/dogs/:id/care", func(c fiber.Ctx) error { return s.show(c, fiber.StatusOK, page{JustPut: c.Query("put")}) })
	card := sh.Page(templates, "card.html")
	routes.Get("/dogs/:id/care/card", func(c fiber.Ctx) error {
		v, err := p.CareCard(c.Context(), c.Params("id"), c.Query("for") == "owner")
		if err != nil {
			return err
		}
		return sh.Render(c, card, fiber.StatusOK, shell.View{Title: "Care card · " + v.Dog, Nav: "dogs", V: v})
	})
	routes.Post("/dogs/:id/care/tasks", func(c fiber.Ctx) error {
		typed := shell.Typed(c)
		err := p.SaveTask(c.Context(), c.Params("id"), typed)
		return s.saved(c, typed, err, "tasks", func(again shell.Form) page { return page{Add: again} })
	})
	routes.Post("/dogs/:id/care/tasks/:task", func(c fiber.Ctx) error {
		typed := shell.Typed(c)
		err := p.LogDone(c.Context(), c.Params("id"), c.Params("task"), typed)
		return s.saved(c, typed, err, "task-"+c.Params("task"), func(again shell.Form) page {
			again.Typed["task"], again.Name = c.Params("task"), "done-"+c.Params("task")
			return page{Done: again}
		})
	})
	routes.Post("/dogs/:id/care/tasks/:task/away", func(c fiber.Ctx) error {
		away := c.FormValue("back") == ""
		if err := p.PutTaskAway(c.Context(), c.Params("task"), away); err != nil {
			return err
		}
		put := ""
		if away {
			put = "?put=" + c.Params("task")
		}
		return shell.See(c, "/dogs/"+c.Params("id")+"/care"+put)
	})
	routes.Post("/dogs/:id/care/done/:done/away", func(c fiber.Ctx) error {
		if err := p.TakeDone(c.Context(), c.Params("id"), c.Params("done")); err != nil {
			return err
		}
		return shell.See(c, "/dogs/"+c.Params("id")+"/care#tasks")
	})
	routes.Post("/dogs/:id/care/marks", func(c fiber.Ctx) error {
		typed := shell.Typed(c)
		err := p.MarkSite(c.Context(), c.Params("id"), typed)
		return s.saved(c, typed, err, "marks", func(again shell.Form) page { return page{Mark: again} })
	})
}

// saved goes on after a form, or shows it again.
func (s screen) saved(c fiber.Ctx, typed form.Typed, err error, part string, with func(shell.Form) page) error {
	if again, status, ok := shell.Problems(typed, err); ok {
		return s.show(c, status, with(again))
	}
	if err != nil {
		return err
	}
	return shell.See(c, "/dogs/"+c.Params("id")+"/care#"+part)
}

func (s screen) show(c fiber.Ctx, status int, pg page) error {
	v, err := s.p.Care(c.Context(), c.Params("id"), c.Query("with"))
	if err != nil {
		return err
	}
	pg.View = v
	for _, one := range []*shell.Form{&pg.Add, &pg.Mark} {
		if one.Typed == nil {
			one.Typed = form.Typed{}
		}
	}
	pg.Mark.Name = "mark"
	return s.sh.Render(c, s.page, status, shell.View{Title: "Care · " + v.Dog, Nav: "dogs", V: pg})
}
