package homework

import (
	"github.com/gofiber/fiber/v3"

	cases "patientfox/internal/app/homework"
	"patientfox/internal/web/shell"
)

// fridge is the sheet for everybody, with the form of its rules.
type fridge struct {
	cases.Fridge
	Edit shell.Form
}

// mountFridge puts the sheet for the fridge under /dogs/:id/homework/fridge.
func (s screen) mountFridge(routes fiber.Router) {
	sheet := s.sh.Page(templates, "fridge.html")
	show := func(c fiber.Ctx, status int, again *shell.Form) error {
		v, err := s.p.Fridge(c.Context(), c.Params("id"))
		if err != nil {
			return err
		}
		pg := fridge{v, shell.Form{Typed: v.Form}}
		if again != nil {
			pg.Edit = *again
		}
		return s.sh.Render(c, sheet, status, shell.View{Title: "For the fridge · " + v.Dog, Nav: "dogs", V: pg})
	}
	routes.Get("/dogs/:id/homework/fridge", func(c fiber.Ctx) error { return show(c, fiber.StatusOK, nil) })
	routes.Post("/dogs/:id/homework/fridge", func(c fiber.Ctx) error {
		typed := shell.Typed(c)
		err := s.p.SaveHouse(c.Context(), c.Params("id"), typed)
		if again, status, ok := shell.Problems(typed, err); ok {
			return show(c, status, &again)
		}
		if err != nil {
			return err
		}
		return shell.See(c, "/dogs/"+c.Params("id")+"/homework/fridge")
	})
}
