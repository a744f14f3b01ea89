// Package run is the Run screen and what it talks to: a page without a dog's data, the packs that it
// runs on, and the door for its events. What it shows is computed by core/screen in a Worker.
package run

import (
	"embed"
	"encoding/json"
	"io/fs"
	"mime"
	"slices"

	"github.com/gofiber/fiber/v3"

	"patientfox/core/caution"
	"patientfox/core/criteria"
	"patientfox/core/pack"
	"patientfox/core/record"
	"patientfox/core/reinforce"
	"patientfox/internal/derive"
	"patientfox/internal/practice"
	"patientfox/internal/web/shell"
)

//go:embed *.html *.js
var files embed.FS

// dist holds the core built for the browser. It is made by `make`, never committed; a placeholder
// lets a bare `go build` work.
//
//go:embed dist
var dist embed.FS

// scripts are the screen's modules; remote.js is the simulated remote's own, and field.js is on every page.
var scripts = []string{
	"run.js", "state.js", "setup.js", "board.js", "closing.js", "panels.js", "draw.js", "form.js", "hands.js", "senses.js",
	"beside.js", "carried.js", "refused.js", "packs.js", "field.js",
	"core.js", "db.js", "sender.js", "remote.js", "class.js", "tile.js",
}

// Assets are the screen's files, by the names under which they are served.
func Assets() map[string][]byte {
	added := map[string][]byte{}
	for _, name := range scripts {
		body, err := files.ReadFile(name)
		if err != nil {
			panic(err)
		}
		added["run/"+name] = body
	}
	for _, name := range []string{"fieldcore.wasm.br", "wasm_exec.js"} {
		if body, err := dist.ReadFile("dist/" + name); err == nil {
			added["run/"+name] = body
		}
	}
	return added
}

// Built tells whether the program carries the browser's core.
func Built() bool {
	_, err := fs.Stat(dist, "dist/fieldcore.wasm.br")
	return err == nil
}

// static is what the page without a dog's data shows all the same.
type static struct {
	Built  bool
	Afters []after
	Care   string            // the caution of those with Care
	Places []reinforce.Named // where a treat can go
}

// after is something that was done after an error.
type after struct {
	What string
	Care bool
}

func blank() static {
	s := static{Built: Built(), Care: caution.For(caution.Where{Recorded: true})[0], Places: reinforce.Places}
	for _, done := range criteria.DoneAfter {
		s.Afters = append(s.Afters, after{done, criteria.Cautioned(done)})
	}
	return s
}

// Mount puts the page at /run and its API under /api.
func Mount(routes fiber.Router, sh *shell.Shell, p *practice.Practice) {
	page := sh.Page(files, "run.html", "glyphs.html")
	worker, err := files.ReadFile("worker.js")
	if err != nil {
		panic(err)
	}
	routes.Get("/run", func(c fiber.Ctx) error {
		return sh.Render(c, page, fiber.StatusOK, shell.View{Title: "Session", Bare: true, Script: "run/run.js", V: blank()})
	})
	routes.Get("/run/worker.js", func(c fiber.Ctx) error {
		// The one answer that may compile wasm.
		c.Set("Content-Security-Policy", shell.WorkerPolicy)
		c.Set(fiber.HeaderContentType, "text/javascript; charset=utf-8")
		c.Set(fiber.HeaderCacheControl, "no-cache")
		return c.Send(worker)
	})
	stand := sh.Page(files, "remote.html")
	routes.Get("/remote", func(c fiber.Ctx) error {
		return sh.Render(c, stand, fiber.StatusOK, shell.View{Title: "Simulated remote", Bare: true, Script: "run/remote.js"})
	})
	mountShell(routes, sh)
	mountClass(routes, sh, p)
	routes.Get("/api/packs/:plan", func(c fiber.Ctx) error {
		one, err := p.Pack(c.Context(), c.Params("plan"))
		if err != nil {
			return err
		}
		return private(c, used(c, []pack.Pack{one})[0])
	})
	routes.Get("/api/sheets/:sheet", func(c fiber.Ctx) error {
		planned, err := p.SheetPack(c.Context(), c.Params("sheet"))
		if err != nil {
			return err
		}
		planned.Packs = used(c, planned.Packs)
		return private(c, planned)
	})
	routes.Get("/api/sessions/:id", func(c fiber.Ctx) error {
		joined, err := p.Join(c.Context(), c.Params("id"))
		if err != nil {
			return err
		}
		joined.Packs = used(c, joined.Packs)
		return private(c, joined)
	})
	routes.Get("/api/sessions/:id/events", func(c fiber.Ctx) error {
		since, err := p.EventsSince(c.Context(), c.Params("id"), fiber.Query[int64](c, "after"))
		if err != nil {
			return err
		}
		return private(c, since)
	})
	routes.Post("/api/events", func(c fiber.Ctx) error { return receive(c, p, sh.Epoch) })
}

// used makes packs those of the person whose device asks for them: who logs with it. What is remembered stays as it is.
func used(c fiber.Ctx, packs []pack.Pack) []pack.Pack {
	person := shell.Person(c)
	if person == "" {
		return packs
	}
	packs = slices.Clone(packs)
	for i := range packs {
		packs[i].Person = person
	}
	return packs
}

// private answers what nobody but the asking device may keep.
func private(c fiber.Ctx, v any) error {
	c.Set(fiber.HeaderCacheControl, "private, no-store")
	return c.JSON(v)
}

// receive stores a batch of events; the answer is per id, and follows the commit.
func receive(c fiber.Ctx, p *practice.Practice, epoch string) error {
	if c.Get(shell.EventHeader) == "" {
		return fiber.NewError(fiber.StatusForbidden, "Events come from the Run screen, with its own header.")
	}
	if kind, _, err := mime.ParseMediaType(c.Get(fiber.HeaderContentType)); err != nil || kind != fiber.MIMEApplicationJSON {
		return fiber.NewError(fiber.StatusUnsupportedMediaType, "Events are sent as JSON.")
	}
	var batch struct {
		Events []json.RawMessage `json:"events"`
	}
	if err := json.Unmarshal(c.Body(), &batch); err != nil {
		return fiber.ErrBadRequest
	}
	if len(batch.Events) > derive.MaxBatch {
		return fiber.ErrRequestEntityTooLarge
	}
	// One event that cannot be read never blocks its batch.
	receipts := make([]derive.Receipt, len(batch.Events))
	var events []record.Event
	var at []int
	for i, raw := range batch.Events {
		var e record.Event
		if err := json.Unmarshal(raw, &e); err != nil {
			var named struct{ ID string }
			_ = json.Unmarshal(raw, &named)
			receipts[i] = derive.Receipt{ID: named.ID, Result: derive.Refused, Why: "the event cannot be read"}
			continue
		}
		events, at = append(events, e), append(at, i)
	}
	given, err := p.Receive(c.Context(), events)
	if err != nil {
		return err
	}
	for i, receipt := range given {
		receipts[at[i]] = receipt
	}
	c.Set(fiber.HeaderCacheControl, "no-store")
	return c.JSON(fiber.Map{"receipts": receipts, "epoch": epoch})
}
