// Package devices lets phones and other machines in: passwords, pairing by a code, and who may come in.
package devices

import (
	"embed"
	"errors"
	"fmt"
	"html/template"
	"strconv"
	"strings"
	"time"

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
	Print    string        // the fingerprint of the certificate that phones trust
	Password shell.Form
	Pairing  shell.Form
}

type signIn struct {
	Name        string // whom a claimed code lets in, "" where none was
	Fingerprint string // of the certificate that phones trust
}

// claimCookie names the cookie of a browser that has claimed a code.
const claimCookie = "pf_claim"

// Mount puts the pages at /devices, /signin and /pair.
func Mount(app fiber.Router, sh *shell.Shell, p *practice.Practice) {
	tpl, door := sh.Page(templates, "devices.html"), sh.Page(templates, "signin.html")
	show := func(c fiber.Ctx, status int, change func(*page)) error {
		v, err := p.Devices(c.Context())
		if err != nil {
			return err
		}
		empty := shell.Form{Typed: practice.Typed{}}
		pg := page{DevicesView: v, Reached: sh.SignIn, Print: sh.Fingerprint, Password: empty, Pairing: empty}
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
		err := p.SetPassword(c.Context(), shell.Cookie(c), typed)
		if form, status, ok := shell.Problems(typed, err); ok {
			for _, secret := range []string{"password", "again", "old"} {
				delete(form.Typed, secret) // never written into a page
			}
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
		v.Fingerprint = sh.Fingerprint
		return sh.Render(c, door, status, shell.View{Title: "Sign in", Bare: true, V: v, Form: form})
	}
	enter := func(c fiber.Ctx, cookie string) error {
		sh.LetIn(c, cookie)
		return shell.See(c, "/")
	}
	// claim takes a code for this browser. The code is gone with that: who opens its link after, or finds it in a history,
	// is not let in by it.
	claim := func(c fiber.Ctx, code string) error {
		claimed, err := p.ClaimCode(c.Context(), c.IP(), code)
		var soon *practice.TooSoon
		switch {
		case errors.As(err, &soon):
			return tooSoon(c, soon)
		case errors.Is(err, practice.ErrNotFound):
			return knock(c, fiber.StatusNotFound, signIn{}, shell.Form{Typed: practice.Typed{}, Problems: map[string]string{"code": "This code was used, or is older than ten minutes. Make another one on the laptop."}})
		case err != nil:
			return err
		}
		sh.Cookie(c, fiber.Cookie{Name: claimCookie, Value: claimed, Path: "/pair", MaxAge: 600, SameSite: fiber.CookieSameSiteLaxMode})
		return shell.See(c, "/pair")
	}
	app.Get("/signin", func(c fiber.Ctx) error {
		return knock(c, fiber.StatusOK, signIn{}, shell.Form{Typed: practice.Typed{}})
	})
	app.Post("/signin", func(c fiber.Ctx) error {
		typed := shell.Typed(c)
		if code := typed.Text("code"); code != "" {
			return claim(c, code)
		}
		cookie, err := p.SignIn(c.Context(), c.IP(), typed)
		var soon *practice.TooSoon
		if errors.As(err, &soon) {
			return tooSoon(c, soon)
		}
		if form, status, ok := shell.Problems(typed, err); ok {
			delete(form.Typed, "password")
			return knock(c, status, signIn{}, form)
		}
		if err != nil {
			return err
		}
		return enter(c, cookie)
	})
	app.Get("/pair/:code", func(c fiber.Ctx) error { return claim(c, c.Params("code")) })
	app.Get("/pair", func(c fiber.Ctx) error {
		who, err := p.Claimed(c.Context(), c.Cookies(claimCookie))
		if errors.Is(err, practice.ErrNotFound) {
			return shell.See(c, "/signin")
		}
		if err != nil {
			return err
		}
		return knock(c, fiber.StatusOK, signIn{Name: who.Name}, shell.Form{Typed: practice.Typed{}})
	})
	app.Post("/pair", func(c fiber.Ctx) error {
		cookie, err := p.TakeClaim(c.Context(), c.Cookies(claimCookie), shell.Typed(c).Text("device"))
		if errors.Is(err, practice.ErrNotFound) {
			return shell.See(c, "/signin")
		}
		if err != nil {
			return err
		}
		sh.Cookie(c, fiber.Cookie{Name: claimCookie, Path: "/pair", MaxAge: -1})
		return enter(c, cookie)
	})
}

// tooSoon says how long somebody has to wait who tried too often.
func tooSoon(c fiber.Ctx, soon *practice.TooSoon) error {
	wait := soon.Wait.Round(time.Second) + time.Second
	c.Set(fiber.HeaderRetryAfter, strconv.Itoa(int(wait.Seconds())))
	return fiber.NewError(fiber.StatusTooManyRequests, fmt.Sprintf("Too many tries. Wait %s, then try again.", wait))
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
