// Package copies is the page that shows the practice's copies, makes one, and hands one out.
package copies

import (
	"context"
	"embed"
	"fmt"
	"strings"
	"time"

	"github.com/gofiber/fiber/v3"

	"patientfox/internal/copies"
	"patientfox/internal/practice"
	"patientfox/internal/web/shell"
)

//go:embed *.html
var templates embed.FS

type page struct {
	Rows   []row
	Newest string // how old the newest copy is
	Making bool
	Failed string // why the last one was not made
	Folder string
	Copied string // the state of the continuous copy, "" where there is none
	Behind bool   // it is
}

type row struct{ Name, Made, Size, Proved string }

// Mount puts the page at /copies.
func Mount(routes fiber.Router, sh *shell.Shell, p *practice.Practice, k *copies.Keeper, continuous *copies.Continuous) {
	tpl := sh.Page(templates, "copies.html")
	routes.Get("/copies", func(c fiber.Ctx) error {
		list, err := k.List()
		if err != nil {
			return err
		}
		zone, err := p.Zone(c.Context())
		if err != nil {
			return err
		}
		pg := page{Folder: k.Folder(), Newest: "There is no copy yet."}
		making, said := k.State()
		if pg.Making = making; said != nil {
			pg.Failed = failed(said)
		}
		for _, one := range list {
			proved := "not yet"
			if !one.Proved.IsZero() {
				proved = one.Proved.In(zone).Format("2 Jan, 15:04")
			}
			pg.Rows = append(pg.Rows, row{one.Name, one.Made.In(zone).Format("Mon 2 Jan 2006, 15:04"), copies.Size(uint64(one.Bytes)), proved})
		}
		if len(list) > 0 {
			pg.Newest = "The newest copy is " + age(k.Now().Sub(list[0].Made)) + " old."
		}
		if continuous != nil {
			pg.Copied, pg.Behind = stands(continuous)
		}
		if making {
			c.Set("Refresh", "2")
		}
		return sh.Render(c, tpl, fiber.StatusOK, shell.View{Title: "Copies", Nav: "settings", V: pg})
	})
	routes.Post("/copies", func(c fiber.Ctx) error {
		if making, _ := k.State(); !making {
			done := make(chan struct{})
			go func() {
				defer close(done)
				_, _ = k.Make(context.Background()) // the keeper keeps why it failed, and the page says so
			}()
			select { // a small practice is copied while one waits; a large one shows that it is
			case <-done:
			case <-time.After(time.Second):
			}
		}
		return shell.See(c, "/copies")
	})
	routes.Get("/copies/:name", func(c fiber.Ctx) error {
		list, err := k.List()
		if err != nil {
			return err
		}
		for _, one := range list {
			if one.Name == c.Params("name") {
				c.Set(fiber.HeaderCacheControl, "private, no-store")
				return c.Download(one.Path, one.Name)
			}
		}
		return fiber.ErrNotFound
	})
}

// Wrong tells in a sentence what is wrong with the copies of a practice, "" where nothing is; continuous may be nil.
func Wrong(k *copies.Keeper, continuous *copies.Continuous) func() string {
	return func() string {
		if _, said := k.State(); said != nil {
			return failed(said)
		}
		if continuous != nil {
			if says, behind := stands(continuous); behind {
				return says
			}
		}
		return ""
	}
}

// failed makes a sentence of why a copy failed.
func failed(said error) string {
	text := said.Error()
	return strings.ToUpper(text[:1]) + text[1:] + "."
}

// stands gives the state of a continuous copy, and whether it is behind.
func stands(continuous *copies.Continuous) (says string, late bool) {
	behind, err := continuous.Behind()
	switch to := place(continuous.To); {
	case err != nil:
		return "The copy to " + to + " cannot be reached. It has been behind for " + age(behind) + ".", true
	case behind > lateAfter:
		return "The copy to " + to + " has been behind for " + age(behind) + ".", true
	default:
		return "Everything is copied to " + to + " as it is saved. You can go back to any minute of the last 30 days.", false
	}
}

// lateAfter is for how long a continuous copy may be without something before that is worth a word.
const lateAfter = time.Minute

// place is where a copy goes, without what belongs to the way there.
func place(to string) string {
	to, _, _ = strings.Cut(to, "?")
	return to
}

// age says how old something is.
func age(d time.Duration) string {
	switch {
	case d < 2*time.Minute:
		return "a minute"
	case d < 2*time.Hour:
		return fmt.Sprintf("%d minutes", int(d.Minutes()))
	case d < 48*time.Hour:
		return fmt.Sprintf("%d hours", int(d.Hours()))
	}
	return fmt.Sprintf("%d days", int(d.Hours()/24))
}
