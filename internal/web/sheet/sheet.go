// Package sheet is the page of one planned session: to read, to change, and to print.
package sheet

import (
	"embed"

	"github.com/gofiber/fiber/v3"

	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/app/schedule"
	"patientfox/internal/practice"
	"patientfox/internal/web/shell"
)

//go:embed *.html
var templates embed.FS

type page struct {
	schedule.SheetView
	Edit shell.Form
	Open bool
}

type newPage struct {
	ID, Name string
	Places   []app.Named
	People   []app.Named
}

// Mount puts the pages under /sheets.
func Mount(routes fiber.Router, sh *shell.Shell, p *practice.Practice) {
	one, fresh := sh.Page(templates, "sheet.html"), sh.Page(templates, "new.html")
	show := func(c fiber.Ctx, status int, form *shell.Form) error {
		v, err := p.Sheet(c.Context(), c.Params("id"))
		if err != nil {
			return err
		}
		pg := page{SheetView: v, Edit: shell.Form{Typed: v.Form}, Open: c.Query("edit") != ""}
		if form != nil {
			pg.Edit, pg.Open = *form, true
		}
		return sh.Render(c, one, status, shell.View{Title: v.Dog + ", " + v.Day, Nav: "today", V: pg})
	}
	routes.Get("/sheets/:id", func(c fiber.Ctx) error { return show(c, fiber.StatusOK, nil) })
	routes.Post("/sheets/:id", func(c fiber.Ctx) error {
		typed := shell.Typed(c)
		err := p.SaveSheet(c.Context(), c.Params("id"), typed)
		if form, status, ok := shell.Problems(typed, err); ok {
			return show(c, status, &form)
		}
		if err != nil {
			return err
		}
		to := "/sheets/" + c.Params("id")
		if typed.Text("op") != "save" {
			to += "?edit=1#edit"
		}
		return shell.See(c, to)
	})
	routes.Post("/sheets/:id/away", func(c fiber.Ctx) error {
		if err := p.DeleteSheet(c.Context(), c.Params("id"), c.FormValue("back") == ""); err != nil {
			return err
		}
		return shell.See(c, "/sheets/"+c.Params("id"))
	})
	renderNew := func(c fiber.Ctx, status int, form shell.Form) error {
		v, err := p.NewSheet(c.Context(), c.Params("id"))
		if err != nil {
			return err
		}
		return sh.Render(c, fresh, status, shell.View{
			Title: "Plan a session · " + v.Name, Nav: "today", V: newPage{v.ID, v.Name, v.Places, v.People}, Form: form,
		})
	}
	routes.Get("/dogs/:id/sheets/new", func(c fiber.Ctx) error {
		return renderNew(c, fiber.StatusOK, shell.Form{Typed: form.Typed{"day": c.Query("day")}})
	})
	routes.Post("/dogs/:id/sheets", func(c fiber.Ctx) error {
		typed := shell.Typed(c)
		id, err := p.AddSheet(c.Context(), c.Params("id"), typed)
		if form, status, ok := shell.Problems(typed, err); ok {
			return renderNew(c, status, form)
		}
		if err != nil {
			return err
		}
		return shell.See(c, "/sheets/"+id)
	})
}
