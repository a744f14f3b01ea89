// Package household is the page that a dog's household has by a link: its homework, what it sent back, and the weeks as the trainer tells
// them. The link reaches nothing else.
package household

import (
	"embed"
	"encoding/json"
	"errors"
	"strings"
	"time"

	"github.com/gofiber/fiber/v3"
	"github.com/gofiber/fiber/v3/middleware/limiter"

	"patientfox/internal/app"
	"patientfox/internal/app/homework"
	"patientfox/internal/practice"
	"patientfox/internal/web/shell"
)

//go:embed *.html *.js
var files embed.FS

// How often a minute, before it has to wait.
const (
	guesses  = 20  // an address may ask for links that are not there
	requests = 120 // a link may be used
)

// scripts are served under the names that they have in here.
var scripts = []string{"press.js", "household.js"}

// Assets are the screen's files, by the names under which they are served.
func Assets() map[string][]byte {
	added := map[string][]byte{}
	for _, name := range scripts {
		added["household/"+name] = read(name)
	}
	return added
}

func read(name string) []byte {
	body, err := files.ReadFile(name)
	if err != nil {
		panic(err) // it is embedded
	}
	return body
}

// page is a sheet with its address.
type page struct {
	homework.AtHome
	Path string
}

// week is a recap with the address of the sheet.
type week struct {
	homework.Recap
	Path string
}

type screen struct {
	sh                 *shell.Shell
	p                  *practice.Practice
	sheet, week, ended *shell.Page
}

// Mount puts the pages under /h/: whoever has the token comes in, and nobody else learns whether there is one.
func Mount(routes fiber.Router, sh *shell.Shell, p *practice.Practice) {
	s := screen{sh, p, sh.Page(files, "sheet.html"), sh.Page(files, "week.html"), sh.Page(files, "ended.html")}
	guessed := limiter.New(limiter.Config{
		Max: guesses, Expiration: time.Minute, LimitReached: shell.TooOften, Next: func(c fiber.Ctx) bool { return linkOf(c) != nil },
	})
	used := limiter.New(limiter.Config{
		Max: requests, Expiration: time.Minute, LimitReached: shell.TooOften,
		Next:         func(c fiber.Ctx) bool { return linkOf(c) == nil },
		KeyGenerator: func(c fiber.Ctx) string { return linkOf(c).ID },
	})
	s.mountWorker(routes)
	routes.Get("/h/:token", s.known, guessed, used, s.found(s.show))
	routes.Get("/h/:token/week", s.known, guessed, used, s.found(s.showWeek))
	routes.Post("/h/:token/lines", s.known, guessed, used, s.found(s.take))
	routes.Post("/h/:token/lines/:one/away", s.known, guessed, used, s.found(func(c fiber.Ctx, l homework.Link) error {
		if err := p.TakeBackAtHome(c.Context(), l, c.Params("one")); err != nil {
			return err
		}
		return c.SendStatus(fiber.StatusNoContent)
	}))
}

const linkKey = "link"

func linkOf(c fiber.Ctx) *homework.Link {
	l, _ := c.Locals(linkKey).(*homework.Link)
	return l
}

// known looks the link up. Its address is a secret, so it is told to nobody to whom the page leads.
func (s screen) known(c fiber.Ctx) error {
	c.Set(fiber.HeaderReferrerPolicy, "no-referrer")
	c.Set("X-Robots-Tag", "noindex")
	l, err := s.p.Link(c.Context(), c.Params("token"))
	switch {
	case err == nil:
		c.Locals(linkKey, &l)
	case !errors.Is(err, app.ErrNotFound):
		return err
	}
	return c.Next()
}

// found hands the link on; where there is none, or it shows nothing any more, the page says so in one way.
func (s screen) found(show func(fiber.Ctx, homework.Link) error) fiber.Handler {
	return func(c fiber.Ctx) error {
		err := app.ErrNotFound
		if l := linkOf(c); l != nil {
			err = show(c, *l)
		}
		if errors.Is(err, app.ErrNotFound) && c.Method() == fiber.MethodGet {
			return s.sh.Render(c, s.ended, fiber.StatusNotFound, shell.View{Title: "Homework", Bare: true, Outside: true})
		}
		return err
	}
}

func (s screen) show(c fiber.Ctx, l homework.Link) error {
	v, err := s.p.AtHome(c.Context(), l)
	if err != nil {
		return err
	}
	return s.sh.Render(c, s.sheet, fiber.StatusOK, shell.View{
		Title: "Homework · " + v.Dog, Bare: true, Outside: true, Script: "household/household.js", V: page{v, c.Path()},
	})
}

func (s screen) showWeek(c fiber.Ctx, l homework.Link) error {
	v, err := s.p.KeptRecap(c.Context(), l, strings.Clone(c.Query("to")))
	if err != nil {
		return err
	}
	return s.sh.Render(c, s.week, fiber.StatusOK, shell.View{
		Title: "The week · " + v.Dog, Bare: true, Outside: true, Script: "household/household.js",
		V: week{v, strings.TrimSuffix(c.Path(), "/week")},
	})
}

// take answers, line by line, what became of those that a phone sent.
func (s screen) take(c fiber.Ctx, l homework.Link) error {
	var sent struct {
		Lines []homework.Sent `json:"lines"`
	}
	if err := json.Unmarshal(c.Body(), &sent); err != nil {
		return fiber.ErrBadRequest
	}
	taken, err := s.p.FromHome(c.Context(), l, sent.Lines)
	if err != nil {
		return err
	}
	return c.JSON(taken)
}

// mountWorker serves the worker that keeps these pages; its place bounds it to /h/.
func (s screen) mountWorker(routes fiber.Router) {
	list := []string{s.sh.Assets.URL("app.css"), s.sh.Assets.URL("favicon.svg"), s.sh.Assets.URL("fonts/atkinson.woff2")}
	for name := range Assets() {
		list = append(list, s.sh.Assets.URL(name))
	}
	names, err := json.Marshal(list)
	if err != nil {
		panic(err) // strings always encode
	}
	worker := strings.NewReplacer("__BUILD__", s.sh.Assets.Build(), `["__FILES__"]`, string(names)).Replace(string(read("sw.js")))
	routes.Get("/h/sw.js", func(c fiber.Ctx) error {
		c.Set(fiber.HeaderContentType, "text/javascript; charset=utf-8")
		c.Set(fiber.HeaderCacheControl, "no-cache")
		return c.SendString(worker)
	})
}
