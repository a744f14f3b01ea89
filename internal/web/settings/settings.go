// Package settings is the practice's own page: its name, zone and units, people, places, and its own dimensions.
package settings

import (
	"context"
	"embed"
	"fmt"
	"strconv"

	"github.com/gofiber/fiber/v3"

	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/app/people"
	"patientfox/internal/practice"
	"patientfox/internal/web/shell"
)

//go:embed *.html
var templates embed.FS

type page struct {
	people.SettingsView
	Person, Place, Dimension shell.Form
	Looks                    shell.Form
	Lengths, Directions      []shell.Option
	Saved                    bool
}

// Roles are what somebody can be.
func (pg page) Roles() []app.Named { return people.Roles }

// PersonForm is one person as a form.
func (pg page) PersonForm(p people.PersonRow) shell.Form {
	typed := form.Typed{"name": p.Name, "role": p.Role}
	if p.Owner {
		typed["owner"] = "1"
	}
	return shell.Form{Name: "person-" + p.ID, Typed: typed}
}

type hourField struct{ Name, Label string }

// HourFields are the fields of the trainer's hours, day by day.
func (pg page) HourFields() []hourField {
	list := make([]hourField, len(pg.Hours))
	for i, label := range []string{"Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"} {
		list[i] = hourField{fmt.Sprintf("hours%d", i), label}
	}
	return list
}

// StateFields are the fields of how the practice describes the states.
func (pg page) StateFields() []stateField {
	list := make([]stateField, len(pg.States))
	for i, one := range pg.States {
		list[i] = stateField{fmt.Sprintf("state%d", i), one.Name, "hint=Usually: " + one.Usual + "."}
	}
	return list
}

type stateField struct{ Name, Label, Hint string }

var (
	lengths    = []shell.Option{{Value: "m", Label: "metres"}, {Value: "ft", Label: "feet and inches"}, {Value: "paces", Label: "paces"}}
	directions = []shell.Option{
		{Value: "more", Label: "A figure: more is harder"}, {Value: "less", Label: "A figure: less is harder"},
		{Value: "list", Label: "A list: easiest word first"}, {Value: "any", Label: "A list without an order"},
	}
)

// ownForm is the practice's own form as it is stored.
func ownForm(v people.SettingsView) shell.Form {
	typed := form.Typed{"name": v.Name, "zone": v.Zone, "length": v.Length, "pace": v.Pace, "version": strconv.Itoa(v.Version)}
	for i, line := range v.Hours {
		typed[fmt.Sprintf("hours%d", i)] = line
	}
	return shell.Form{Typed: typed}
}

// looksForm is how the practice describes the states, as it is stored.
func looksForm(v people.SettingsView) shell.Form {
	typed := form.Typed{}
	for i, one := range v.States {
		typed[fmt.Sprintf("state%d", i)] = one.Own
	}
	return shell.Form{Typed: typed}
}

// Mount puts the page at /settings.
func Mount(routes fiber.Router, sh *shell.Shell, p *practice.Practice) {
	tpl := sh.Page(templates, "settings.html")
	show := func(c fiber.Ctx, status int, which string, shown shell.Form) error {
		v, err := p.Settings(c.Context())
		if err != nil {
			return err
		}
		empty := shell.Form{Typed: form.Typed{}}
		pg := page{
			SettingsView: v, Person: shell.Form{Name: "person", Typed: form.Typed{"role": "helper"}}, Place: empty, Dimension: empty,
			Lengths: lengths, Directions: directions, Saved: c.Query("saved") != "",
		}
		own := ownForm(v)
		pg.Looks = looksForm(v)
		switch which {
		case "practice":
			own = shown
		case "states":
			pg.Looks = shown
		case "people":
			pg.Person = shown
			pg.Person.Name = "person"
		case "places":
			pg.Place = shown
		case "dimensions":
			pg.Dimension = shown
		}
		return sh.Render(c, tpl, status, shell.View{Title: "Settings", Nav: "settings", V: pg, Form: own})
	}
	routes.Get("/settings", func(c fiber.Ctx) error { return show(c, fiber.StatusOK, "", shell.Form{}) })
	for which, save := range map[string]func(context.Context, form.Typed) error{
		"practice": p.SaveSettings, "people": p.SavePerson, "places": p.SavePlace, "dimensions": p.AddDimension,
		"states": p.SaveStates,
	} {
		routes.Post("/settings/"+which, func(c fiber.Ctx) error {
			typed := shell.Typed(c)
			err := save(c.Context(), typed)
			if shown, status, ok := shell.Problems(typed, err); ok {
				return show(c, status, which, shown)
			}
			if err != nil {
				return err
			}
			return shell.See(c, "/settings?saved=1#"+which)
		})
	}
	mountEach(routes, p, show)
}

// shows writes the page, with one of its forms as it was sent.
type shows = func(c fiber.Ctx, status int, which string, shown shell.Form) error

// mountEach puts what is done to one person, place or dimension under it.
func mountEach(routes fiber.Router, p *practice.Practice, show shows) {
	routes.Post("/settings/people/:id/leave", func(c fiber.Ctx) error {
		leave := p.Leave
		if c.FormValue("back") != "" {
			leave = p.ComeBack
		}
		err := leave(c.Context(), c.Params("id"))
		if shown, status, ok := shell.Problems(form.Typed{"id": ""}, err); ok {
			return show(c, status, "people", shown)
		}
		if err != nil {
			return err
		}
		return shell.See(c, "/settings?saved=1#people")
	})
	routes.Post("/settings/places/:id", func(c fiber.Ctx) error {
		if err := p.SavePlaceRules(c.Context(), c.Params("id"), shell.Typed(c)); err != nil {
			return err
		}
		return shell.See(c, "/settings?saved=1#places")
	})
	routes.Post("/settings/dimensions/:key/away", func(c fiber.Ctx) error {
		if err := p.DeleteDimension(c.Context(), c.Params("key"), true); err != nil {
			return err
		}
		return shell.See(c, "/settings#dimensions")
	})
}
