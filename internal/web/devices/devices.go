// Package devices lets phones and other machines in: passwords, pairing by a code, and who may come in.
package devices

import (
	"embed"
	"errors"
	"html/template"
	"strings"

	"github.com/gofiber/fiber/v3"

	"patientfox/internal/app/form"
	"patientfox/internal/app/people"
	"patientfox/internal/practice"
	"patientfox/internal/web/shell"
)

//go:embed *.html
var templates embed.FS

type page struct {
	people.DevicesView
	People   []shell.Option
	Code     string // a pairing code as it is read aloud
	Link     string
	Squares  template.HTML // the link as a code to be photographed
	Reached  bool          // other machines can reach this server
	Print    string        // the fingerprint of the certificate that phones trust
	Password shell.Form
	Pairing  shell.Form
}

// screen is the pages and what they show.
type screen struct {
	sh       *shell.Shell
	p        *practice.Practice
	devices  *shell.Page
	doorstep *shell.Page
	own      *shell.Page
}

// Mount puts the pages at /devices, /signin, /pair and /me.
func Mount(routes fiber.Router, sh *shell.Shell, p *practice.Practice) {
	s := screen{sh, p, sh.Page(templates, "devices.html"), sh.Page(templates, "signin.html"), sh.Page(templates, "me.html")}
	s.mountMe(routes)
	routes.Get("/devices", func(c fiber.Ctx) error { return s.show(c, fiber.StatusOK, func(*page) {}) })
	routes.Post("/devices/password", s.setPassword)
	routes.Post("/devices/pair", s.pair)
	routes.Post("/devices/:id/out", s.signOut)
	routes.Get("/signin", func(c fiber.Ctx) error {
		return s.knock(c, fiber.StatusOK, signIn{}, shell.Form{Typed: form.Typed{}})
	})
	routes.Post("/signin", s.signIn)
	routes.Get("/pair/:code", func(c fiber.Ctx) error { return s.claim(c, c.Params("code")) })
	routes.Get("/pair", s.claimed)
	routes.Post("/pair", s.take)
}

func (s screen) show(c fiber.Ctx, status int, change func(*page)) error {
	v, err := s.p.Devices(c.Context())
	if err != nil {
		return err
	}
	empty := shell.Form{Typed: form.Typed{}}
	pg := page{DevicesView: v, Reached: s.sh.SignIn, Print: s.sh.Fingerprint, Password: empty, Pairing: empty}
	for _, one := range v.People {
		pg.People = append(pg.People, shell.Option{Value: one.ID, Label: one.Name})
	}
	if len(v.People) > 0 {
		first := shell.Form{Typed: form.Typed{"person": v.People[0].ID}}
		pg.Password, pg.Pairing = first, first
	}
	change(&pg)
	return s.sh.Render(c, s.devices, status, shell.View{Title: "Devices", Nav: "settings", V: pg})
}

func (s screen) setPassword(c fiber.Ctx) error {
	return s.setsPassword(c, shell.Typed(c), "/devices", func(status int, again shell.Form) error {
		return s.show(c, status, func(pg *page) { pg.Password = again })
	})
}

// setsPassword sets the password that was typed, and goes on; what cannot stand is shown again, without it.
func (s screen) setsPassword(c fiber.Ctx, typed form.Typed, on string, show func(status int, again shell.Form) error) error {
	err := s.p.SetPassword(c.Context(), shell.Cookie(c), typed)
	var soon *people.TooSoon
	if errors.As(err, &soon) {
		return tooSoon(c, soon)
	}
	if again, status, ok := shell.Problems(typed, err); ok {
		for _, secret := range []string{"password", "again", "old"} {
			delete(again.Typed, secret) // never written into a page
		}
		return show(status, again)
	}
	if err != nil {
		return err
	}
	return shell.See(c, on)
}

func (s screen) pair(c fiber.Ctx) error {
	typed := shell.Typed(c)
	code, err := s.p.Pair(c.Context(), typed)
	if form, status, ok := shell.Problems(typed, err); ok {
		return s.show(c, status, func(pg *page) { pg.Pairing = form })
	}
	if err != nil {
		return err
	}
	link := s.sh.Public(c) + "/pair/" + code
	squares, err := shell.Squares(link)
	if err != nil {
		return err
	}
	return s.show(c, fiber.StatusOK, func(pg *page) { pg.Code, pg.Link, pg.Squares = spaced(code), link, squares })
}

func (s screen) signOut(c fiber.Ctx) error {
	if err := s.p.SignOut(c.Context(), c.Params("id")); err != nil {
		return err
	}
	return shell.See(c, "/devices")
}

// spaced writes a code in groups of four.
func spaced(code string) string {
	var groups []string
	for at := 0; at < len(code); at += 4 {
		groups = append(groups, code[at:min(at+4, len(code))])
	}
	return strings.Join(groups, "-")
}
