// Package journal shows who changed what, and hands it out as a file.
package journal

import (
	"embed"
	"net/url"

	"github.com/gofiber/fiber/v3"

	"patientfox/internal/app/form"
	"patientfox/internal/app/journal"
	"patientfox/internal/practice"
	"patientfox/internal/web/shell"
)

//go:embed *.html
var templates embed.FS

type page struct {
	journal.View
	Query    string // what is asked for, as it stands in an address, "" for all
	Narrowed bool
	Older    string // the address of the next page, "" for none
}

// asked are the fields that narrow the journal.
var asked = []string{"dog", "person", "area", "from", "to"}

// Mount puts it at /journal, and its file under it.
func Mount(routes fiber.Router, sh *shell.Shell, p *practice.Practice) {
	tpl := sh.Page(templates, "journal.html")
	routes.Get("/journal", func(c fiber.Ctx) error {
		t, query := read(c)
		t["before"] = c.Query("before")
		v, err := p.Journal(c.Context(), t)
		f, status := shell.Form{Typed: t}, fiber.StatusOK
		if again, wrong, ok := shell.Problems(t, err); ok {
			f, status, err = again, wrong, nil
		}
		if err != nil {
			return err
		}
		pg := page{View: v, Query: query.Encode(), Narrowed: len(query) > 0}
		if v.Earlier != "" {
			query.Set("before", v.Earlier)
			pg.Older = "/journal?" + query.Encode()
		}
		return sh.Render(c, tpl, status, shell.View{Title: "Journal", Nav: "settings", V: pg, Form: f})
	})
	routes.Get("/journal/file", func(c fiber.Ctx) error {
		t, _ := read(c)
		table, err := p.JournalTable(c.Context(), t)
		if _, _, ok := shell.Problems(t, err); ok {
			_, query := read(c)
			return shell.See(c, "/journal?"+query.Encode())
		}
		if err != nil {
			return err
		}
		return shell.CSV(c, table)
	})
}

// read is what an address asks for.
func read(c fiber.Ctx) (form.Typed, url.Values) {
	t, query := form.Typed{}, url.Values{}
	for _, name := range asked {
		if value := c.Query(name); value != "" {
			t[name] = value
			query.Set(name, value)
		}
	}
	return t, query
}
