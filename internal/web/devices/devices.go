// Package devices lets phones and other machines in: passwords, pairing by a code, and who may come in.
package devices

import (
	"embed"
	"errors"
	"html/template"
	"strings"

	"github.com/gofiber/fiber/v3"
	"rsc.io/qr"

	"patientfox/internal/practice"
	"patientfox/internal/web/shell"
)

//go:embed *.html
var templates embed.FS

type page struct {
	practice.DevicesView
	People   []shell.Option
	Code     string // a pairing code as it is read aloud
	Link     string
	Squares  template.HTML // the link as a code to be photographed
	Reached  bool          // other machines can reach this server
	Password shell.Form
	Pairing  shell.Form
}

type signIn struct {
	People []shell.Option
	Code   string // a pairing code that waits for a yes
	Name   string // whom it lets in
}

// Mount puts the pages at /devices, /signin and /pair.
func Mount(app fiber.Router, sh *shell.Shell, p *practice.Practice) {
	tpl, door := sh.Page(templates, "devices.html"), sh.Page(templates, "signin.html")
	show := func(c fiber.Ctx, status int, change func(*page)) error {
		v, err := p.Devices(c.Context())
		if err != nil {
			return err
		}
		empty := shell.Form{Typed: practice.Typed{}}
		pg := page{DevicesView: v, Reached: sh.SignIn, Password: empty, Pairing: empty}
		for _, one := range v.People {
			pg.People = append(pg.People, shell.Option{Value: one.ID, Label: one.Name})
		}
		if len(v.People) > 0 {
			first := shell.Form{Typed: practice.Typed{"person": v.People[0].ID}}
			pg.Password, pg.Pairing = first, first
		}
		change(&pg)
		return sh.Render(c, tpl, status, shell.View{Title: "Devices", Nav: "settings", V: pg})
	}
	app.Get("/devices", func(c fiber.Ctx) error { return show(c, fiber.StatusOK, func(*page) {}) })
	app.Post("/devices/password", func(c fiber.Ctx) error {
		typed := shell.Typed(c)
		err := p.SetPassword(c.Context(), typed)
		if form, status, ok := shell.Problems(typed, err); ok {
			return show(c, status, func(pg *page) { pg.Password = form })
		}
		if err != nil {
			return err
		}
		return shell.See(c, "/devices")
	})
	app.Post("/devices/pair", func(c fiber.Ctx) error {
		typed := shell.Typed(c)
		code, err := p.Pair(c.Context(), typed)
		if form, status, ok := shell.Problems(typed, err); ok {
			return show(c, status, func(pg *page) { pg.Pairing = form })
		}
		if err != nil {
			return err
		}
		link := sh.Public(c) + "/pair/" + code
		squares, err := drawn(link)
		if err != nil {
			return err
		}
		return show(c, fiber.StatusOK, func(pg *page) { pg.Code, pg.Link, pg.Squares = spaced(code), link, squares })
	})
	app.Post("/devices/:id/out", func(c fiber.Ctx) error {
		if err := p.SignOut(c.Context(), c.Params("id")); err != nil {
			return err
		}
		return shell.See(c, "/devices")
	})

	knock := func(c fiber.Ctx, status int, v signIn, form shell.Form) error {
		all, err := p.Devices(c.Context())
		if err != nil {
			return err
		}
		for _, one := range all.People {
			v.People = append(v.People, shell.Option{Value: one.ID, Label: one.Name})
		}
		return sh.Render(c, door, status, shell.View{Title: "Sign in", Bare: true, V: v, Form: form})
	}
	enter := func(c fiber.Ctx, cookie string) error {
		sh.LetIn(c, cookie)
		return shell.See(c, "/")
	}
	app.Get("/signin", func(c fiber.Ctx) error {
		return knock(c, fiber.StatusOK, signIn{}, shell.Form{Typed: practice.Typed{}})
	})
	app.Post("/signin", func(c fiber.Ctx) error {
		typed := shell.Typed(c)
		if code := typed.Text("code"); code != "" {
			return shell.See(c, "/pair/"+strings.ToUpper(strings.NewReplacer("-", "", " ", "", "/", "", ".", "").Replace(code)))
		}
		cookie, err := p.SignIn(c.Context(), typed)
		if form, status, ok := shell.Problems(typed, err); ok {
			return knock(c, status, signIn{}, form)
		}
		if err != nil {
			return err
		}
		return enter(c, cookie)
	})
	app.Get("/pair/:code", func(c fiber.Ctx) error {
		who, err := p.Paired(c.Context(), c.Params("code"))
		if errors.Is(err, practice.ErrNotFound) {
			return knock(c, fiber.StatusNotFound, signIn{}, shell.Form{Typed: practice.Typed{}, Problems: map[string]string{"code": "This code was used, or is older than ten minutes. Make another one on the laptop."}})
		}
		if err != nil {
			return err
		}
		return knock(c, fiber.StatusOK, signIn{Code: c.Params("code"), Name: who.Name}, shell.Form{Typed: practice.Typed{}})
	})
	app.Post("/pair/:code", func(c fiber.Ctx) error {
		cookie, err := p.TakeCode(c.Context(), c.Params("code"), shell.Typed(c).Text("device"))
		if err != nil {
			return err
		}
		return enter(c, cookie)
	})
}

// spaced writes a code in groups of four.
func spaced(code string) string {
	var groups []string
	for at := 0; at < len(code); at += 4 {
		groups = append(groups, code[at:min(at+4, len(code))])
	}
	return strings.Join(groups, "-")
}

// drawn is a link as squares to be photographed, with the quiet edge that cameras need.
func drawn(link string) (template.HTML, error) {
	code, err := qr.Encode(link, qr.M)
	if err != nil {
		return "", err
	}
	var path strings.Builder
	for y := range code.Size {
		for x := range code.Size {
			if code.Black(x, y) {
				path.WriteString("M" + shell.Figure(x+4) + " " + shell.Figure(y+4) + "h1v1h-1z")
			}
		}
	}
	size := shell.Figure(code.Size + 8)
	return template.HTML(`<svg class="squares" viewBox="0 0 ` + size + ` ` + size + `" role="img" aria-label="The link as a code to photograph"><path class="ground" d="M0 0h` + size + `v` + size + `H0z"/><path d="` + path.String() + `"/></svg>`), nil //nolint:gosec // figures only
}
