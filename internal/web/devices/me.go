package devices

import (
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
		return s.setsPassword(c, typed, "/me", func(status int, again shell.Form) error { return s.me(c, status, again) })
	})
	out := func(path string, everywhere bool) {
		routes.Post(path, func(c fiber.Ctx) error {
			if err := s.p.SignOutMine(c.Context(), shell.Cookie(c), everywhere); err != nil {
				return err
			}
			return shell.See(c, "/signin")
		})
	}
	s.mountPasskeys(routes)
	out("/me/out", false)
	out("/me/everywhere", true)
}

func (s screen) me(c fiber.Ctx, status int, password shell.Form) error {
	v, err := s.p.Me(c.Context(), shell.Cookie(c), s.sh.Address(c))
	if err != nil {
		return err
	}
	return s.sh.Render(c, s.own, status, shell.View{Title: "You", Nav: "me", V: mePage{v, password}})
}
