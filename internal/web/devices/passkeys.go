package devices

import (
	"errors"

	"github.com/gofiber/fiber/v3"

	"patientfox/internal/app/people"
	"patientfox/internal/web/shell"
)

// mountPasskeys puts the questions to browsers, and their answers, at /me/passkeys and /signin/passkey.
func (s screen) mountPasskeys(routes fiber.Router) {
	routes.Post("/me/passkeys", func(c fiber.Ctx) error {
		q, err := s.p.MakePasskey(c.Context(), shell.Person(c), s.sh.Address(c))
		return asks(c, q, err)
	})
	routes.Post("/me/passkeys/:token", func(c fiber.Ctx) error {
		name := c.Query("name")
		err := s.p.AddPasskey(c.Context(), shell.Person(c), s.sh.Address(c), c.Params("token"), name, c.Body())
		return answered(c, err, "The passkey could not be made. Try again.")
	})
	routes.Post("/me/passkeys/:id/away", func(c fiber.Ctx) error {
		if err := s.p.DropPasskey(c.Context(), shell.Person(c), c.Params("id")); err != nil {
			return err
		}
		return shell.See(c, "/me#passkeys")
	})
	routes.Post("/signin/passkey", func(c fiber.Ctx) error {
		q, err := s.p.AskPasskey(s.sh.Address(c))
		return asks(c, q, err)
	})
	routes.Post("/signin/passkey/:token", func(c fiber.Ctx) error {
		cookie, err := s.p.PasskeySignIn(c.Context(), c.IP(), s.sh.Address(c), c.Params("token"), "A device with a passkey", c.Body())
		var soon *people.TooSoon
		if errors.As(err, &soon) {
			return tooSoon(c, soon)
		}
		if err == nil {
			s.sh.LetIn(c, cookie)
		}
		return answered(c, err, "That passkey is not known here. Use a code or a password.")
	})
}

// asks answers with a question to the browser.
func asks(c fiber.Ctx, q people.Question, err error) error {
	if err != nil {
		return err
	}
	c.Set(fiber.HeaderCacheControl, "no-store")
	return c.JSON(q)
}

// answered says whether an answer was taken.
func answered(c fiber.Ctx, err error, not string) error {
	if people.PasskeyProblem(err) {
		return fiber.NewError(fiber.StatusUnprocessableEntity, not)
	}
	if err != nil {
		return err
	}
	return c.JSON(struct{}{})
}
