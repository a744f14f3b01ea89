package devices

import (
	"errors"

	"github.com/gofiber/fiber/v3"

	"patientfox/internal/app/form"
	"patientfox/internal/app/people"
	"patientfox/internal/web/shell"
)

// mePage is who somebody is here, and how far they reach.
type mePage struct {
	people.MeView
	Password shell.Form
}

// mountMe puts one's own page at /me.
func (s screen) mountMe(routes fiber.Router) {
	routes.Get("/me", func(c fiber.Ctx) error { return s.me(c, fiber.StatusOK, shell.Form{Typed: form.Typed{}}) })
	routes.Post("/me/password", func(c fiber.Ctx) error {
		typed := shell.Typed(c)
		typed["person"] = shell.Person(c)
		err := s.p.SetPassword(c.Context(), shell.Cookie(c), typed)
		var soon *people.TooSoon
		if errors.As(err, &soon) {
			return tooSoon(c, soon)
		}
		if again, status, ok := shell.Problems(typed, err); ok {
			for _, secret := range []string{"password", "again", "old"} {
				delete(again.Typed, secret) // never written into a page
			}
			return s.me(c, status, again)
		}
		if err != nil {
			return err
		}
		return shell.See(c, "/me")
	})
	out := func(path string, everywhere bool) {
		routes.Post(path, func(c fiber.Ctx) error {
			if err := s.p.SignOutMine(c.Context(), shell.Cookie(c), everywhere); err != nil {
				return err
			}
			return shell.See(c, "/signin")
		})
	}
	out("/me/out", false)
	out("/me/everywhere", true)
}

func (s screen) me(c fiber.Ctx, status int, password shell.Form) error {
	v, err := s.p.Me(c.Context(), shell.Cookie(c))
	if err != nil {
		return err
	}
	return s.sh.Render(c, s.own, status, shell.View{Title: "You", Nav: "me", V: mePage{v, password}})
}
