package dogs

import (
	"github.com/gofiber/fiber/v3"

	"patientfox/core/criteria"
	"patientfox/internal/practice"
	"patientfox/internal/web/shell"
)

type newPlanPage struct {
	Dog    practice.Named
	Skills []string
	Kinds  any
}

func (s screen) renderNewPlan(c fiber.Ctx, status int, form shell.Form) error {
	typed, err := s.p.DogForm(c.Context(), c.Params("id"))
	if err != nil {
		return err
	}
	dog := practice.Named{ID: c.Params("id"), Name: typed["name"]}
	skills, err := s.p.SkillNames(c.Context())
	if err != nil {
		return err
	}
	if form.Typed["kind"] == "" {
		form.Typed["kind"] = string(criteria.Held)
	}
	return s.sh.Render(c, s.newPlan, status, shell.View{
		Title: "New plan for " + dog.Name, Nav: "dogs", V: newPlanPage{dog, skills, criteria.Kinds}, Form: form,
	})
}

func (s screen) showNewPlan(c fiber.Ctx) error {
	return s.renderNewPlan(c, fiber.StatusOK, shell.Form{Typed: practice.Typed{}})
}

func (s screen) addPlan(c fiber.Ctx) error {
	typed := shell.Typed(c)
	id, err := s.p.AddPlan(c.Context(), c.Params("id"), typed)
	if form, status, ok := shell.Problems(typed, err); ok {
		return s.renderNewPlan(c, status, form)
	}
	if err != nil {
		return err
	}
	return shell.See(c, "/plans/"+id)
}
