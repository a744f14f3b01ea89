package homework

import (
	"strings"

	"github.com/gofiber/fiber/v3"

	"patientfox/internal/web/shell"
)

// mountLinks makes and ends the links by which households read a sheet on their phones. A token is shown once, on the page that answers.
func (s screen) mountLinks(routes fiber.Router) {
	routes.Post("/dogs/:id/homework/link", func(c fiber.Ctx) error {
		if s.sh.Households == "" {
			return fiber.NewError(fiber.StatusConflict, "Patient Fox has no address that households’ phones reach and trust.")
		}
		typed, token := shell.Typed(c), ""
		err := s.p.Give(c.Context(), c.Params("id"), typed) // what comes back is of its steps
		if err == nil {
			token, err = s.p.MakeLink(c.Context(), c.Params("id"), typed)
		}
		if again, status, ok := shell.Problems(typed, err); ok {
			return s.show(c, status, askedFor(typed), page{Sheet: again})
		}
		if err != nil {
			return err
		}
		pg := page{Link: strings.TrimSuffix(s.sh.Households, "/") + "/h/" + token}
		if pg.Squares, err = shell.Squares(pg.Link); err != nil {
			return err
		}
		return s.show(c, fiber.StatusOK, askedFor(typed), pg)
	})
	routes.Post("/dogs/:id/homework/links/:one/end", func(c fiber.Ctx) error {
		if err := s.p.EndLink(c.Context(), c.Params("id"), c.Params("one")); err != nil {
			return err
		}
		return shell.See(c, address(c, c.FormValue("with")))
	})
}
