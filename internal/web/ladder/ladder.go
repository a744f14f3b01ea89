// Package ladder lays steps out: the page of a new plan, and the page that lays more steps out in a
// plan that is there. What the form would make is shown before anything is saved.
package ladder

import (
	"embed"
	"fmt"
	"maps"
	"net/url"
	"slices"
	"strings"

	"github.com/gofiber/fiber/v3"

	"patientfox/core/criteria"
	"patientfox/core/progression"
	"patientfox/core/work"
	"patientfox/internal/app/form"
	"patientfox/internal/app/plans"
	"patientfox/internal/practice"
	"patientfox/internal/web/shell"
)

//go:embed *.html
var templates embed.FS

type screen struct {
	sh             *shell.Shell
	p              *practice.Practice
	choose, create *shell.Page
	build          *shell.Page
}

// Mount puts the pages under /dogs/:id/plans/new and /plans/:id/build.
func Mount(routes fiber.Router, sh *shell.Shell, p *practice.Practice) {
	s := screen{
		sh, p, sh.Page(templates, "choose.html"), sh.Page(templates, "newplan.html", "builder.html"),
		sh.Page(templates, "build.html", "builder.html"),
	}
	routes.Get("/dogs/:id/plans/new", func(c fiber.Ctx) error {
		return s.showNew(c, fiber.StatusOK, shell.Form{Typed: form.Typed{"from": c.Query("from"), "kind": c.Query("kind")}})
	})
	routes.Post("/dogs/:id/plans/preview", func(c fiber.Ctx) error {
		return s.showNew(c, fiber.StatusOK, shell.Form{Typed: shell.Typed(c)})
	})
	routes.Post("/dogs/:id/plans", s.add)
	routes.Post("/dogs/:id/plans/several", s.addSeveral)
	routes.Get("/plans/:id/build", func(c fiber.Ctx) error {
		return s.showBuild(c, fiber.StatusOK, shell.Form{Typed: form.Typed{}})
	})
	routes.Post("/plans/:id/build/preview", func(c fiber.Ctx) error {
		return s.showBuild(c, fiber.StatusOK, shell.Form{Typed: shell.Typed(c)})
	})
	routes.Post("/plans/:id/build", s.layOut)
}

// generator is one generator of the form.
type generator struct {
	Number      int
	Make, What  string
	MakeID      string
	Form        shell.Form
	Names       map[string]string // of its fields, by what they are
	Groups      []group           // the dimensions: those that the kind of work usually has, and all others
	Makes       []choice
	MakeProblem string
	WhatProblem string
	Grow        string
	Moves       bool
}

// group is some entries of the list of dimensions.
type group struct {
	Label string
	Dims  []dimension
}

// dimension is one entry of the list of dimensions, with what the form needs to know of it.
type dimension struct {
	Key, Label string
	List       bool
	Fades      bool
	Chosen     bool
}

var makeNames = map[progression.Make]string{
	progression.MakeRamp:     "One thing grows, from a start to a goal",
	progression.MakeCountUp:  "Count up: 1, 2, 3 … paces",
	progression.MakeApproach: "The trigger comes nearer, stronger ones from far again",
	progression.MakeFade:     "Help, food, gear or a prop fades",
	progression.MakePause:    "Help comes later and later",
	progression.MakeLead:     "The distraction after, with, then before the cue",
	progression.MakeParts:    "A stimulus in parts, then together",
	progression.MakeSites:    "Places on the body: all of them, tool by tool",
	progression.MakeFigures:  "Figures of your own",
}

// choice is a way of building part of a ladder, with the fields that it asks for: of a dimension with figures, and of a list.
type choice struct{ Value, Label, Asks, Listed string }

func asked(list []progression.Ask) string {
	words := make([]string, len(list))
	for i, one := range list {
		words[i] = string(one)
	}
	return strings.Join(words, " ")
}

// makes names the generators, with the unit of their figures where the form does not choose one.
func makes(units criteria.Units) []choice {
	var list []choice
	for _, m := range progression.Makes {
		label := makeNames[m]
		if d, only := m.Dimension(); only && m != progression.MakeCountUp {
			unit, _ := units.Of(d)
			label += " (" + unit + ")"
		}
		list = append(list, choice{string(m), label, asked(m.Asks(false)), asked(m.Asks(true))})
	}
	return list
}

func generators(shown shell.Form, kind work.Kind, dims []criteria.Dimension, units criteria.Units) []generator {
	var list []generator
	usual := work.Of(kind).Keys
	for i := 1; i <= form.MaxGenerators; i++ {
		pre := fmt.Sprintf("leg%d_", i)
		names := map[string]string{}
		for _, field := range []string{"make", "what", "from", "to", "by", "grow", "level", "trigger_is", "items", "tools",
			"sore", "moves", "parts", "together"} {
			names[field] = pre + field
		}
		l := generator{
			Number: i, Make: shown.Typed[pre+"make"], What: shown.Typed[pre+"what"], MakeID: pre + "make", Form: shown, Names: names,
			Makes:       makes(units),
			MakeProblem: shown.Problems[pre+"make"], WhatProblem: shown.Problems[pre+"what"], Grow: shown.Typed[pre+"grow"],
			Moves: shown.Typed[pre+"moves"] != "",
		}
		l.Groups = []group{{Label: "Usual here"}, {Label: "All others"}}
		for _, d := range dims {
			label := d.Label
			if unit, _ := units.Of(d); unit != "" {
				label += " (" + unit + ")"
			}
			at := &l.Groups[1]
			if slices.Contains(usual, d.Key) {
				at = &l.Groups[0]
			}
			at.Dims = append(at.Dims, dimension{string(d.Key), label, d.IsList(), d.Fades, string(d.Key) == l.What})
		}
		list = append(list, l)
	}
	return list
}

// option is one entry of a list.
type option struct{ Value, Label string }

// joins are the ways of putting generators together.
var joins = []option{
	{string(progression.Interleave), "Each alone to a third, then joined"},
	{string(progression.InSequence), "One after another, the others eased"},
	{string(progression.AtFull), "One after another, the others kept: help fades last"},
	{string(progression.Alternate), "In turn: with help more, without help less"},
}

// spaces are where a ladder can begin, by the words of the form.
func spaces(units criteria.Units) []option {
	list := []option{{"", "A field, a street: no bound"}}
	d, _ := criteria.Find(criteria.Trigger)
	for _, one := range []option{{"yard", "A yard"}, {"room", "A room"}} {
		list = append(list, option{one.Value, one.Label + ", " + units.Say(d, progression.SetUp(d, units, form.Spaces[one.Value]))})
	}
	return list
}

// shared is what both pages have besides their views.
type shared struct {
	Generators    []generator
	Joins, Spaces []option
}

func sharedOf(shown shell.Form, kind work.Kind, dims []criteria.Dimension, units criteria.Units) shared {
	return shared{generators(shown, kind, dims, units), joins, spaces(units)}
}

type newPage struct {
	plans.NewPlanView
	shared
	KindName string
}

func (s screen) showNew(c fiber.Ctx, status int, shown shell.Form) error {
	v, err := s.p.NewPlan(c.Context(), c.Params("id"), maps.Clone(shown.Typed))
	if err != nil {
		return err
	}
	view := shell.View{Title: "A new plan", Nav: "dogs"}
	if v.Library != nil {
		view.V, view.Form = v, shown
		return s.sh.Render(c, s.choose, status, view)
	}
	shown.Typed = v.Typed
	pg := newPage{NewPlanView: v, shared: sharedOf(shown, work.Kind(v.Typed["kind"]), v.Dims, v.Units)}
	pg.KindName = work.Of(work.Kind(v.Typed["kind"])).Label
	view.V, view.Form = pg, shown
	return s.sh.Render(c, s.create, status, view)
}

func (s screen) add(c fiber.Ctx) error {
	typed := shell.Typed(c)
	fits, err := s.p.Fits(c.Context(), c.Params("id"), "", typed)
	if err != nil {
		return err
	}
	id, err := s.p.AddPlan(c.Context(), c.Params("id"), typed)
	if form, status, ok := shell.Problems(typed, err); ok {
		return s.showNew(c, status, form)
	}
	if err != nil {
		return err
	}
	return seeLaidOut(c, id, url.Values{"fit": fits})
}

// seeLaidOut leads to a plan whose ladder was laid out, which says what that does otherwise than it was asked.
func seeLaidOut(c fiber.Ctx, plan string, query url.Values) error {
	path := "/plans/" + plan
	if said := query.Encode(); said != "" {
		path += "?" + said
	}
	return shell.See(c, path)
}

// addSeveral lays out the ticked templates.
func (s screen) addSeveral(c fiber.Ctx) error {
	typed := shell.Typed(c)
	_, err := s.p.AddPlans(c.Context(), c.Params("id"), typed)
	if again, status, ok := shell.Problems(typed, err); ok {
		again.Typed = form.Typed{} // the page shows the choice, as nothing was chosen
		return s.showNew(c, status, again)
	}
	if err != nil {
		return err
	}
	return shell.See(c, "/dogs/"+c.Params("id"))
}

type buildPage struct {
	plans.BuildView
	shared
}

func (s screen) showBuild(c fiber.Ctx, status int, shown shell.Form) error {
	v, err := s.p.Build(c.Context(), c.Params("id"), maps.Clone(shown.Typed))
	if err != nil {
		return err
	}
	shown.Typed = v.Typed
	if shown.Typed["version"] == "" {
		shown.Typed["version"] = fmt.Sprint(v.Version)
	}
	return s.sh.Render(c, s.build, status, shell.View{
		Title: "Lay out steps · " + v.Skill, Nav: "dogs", V: buildPage{v, sharedOf(shown, v.Kind, v.Dims, v.Units)}, Form: shown,
	})
}

func (s screen) layOut(c fiber.Ctx) error {
	typed := shell.Typed(c)
	fits, err := s.p.Fits(c.Context(), "", c.Params("id"), typed)
	if err != nil {
		return err
	}
	err = s.p.BuildSteps(c.Context(), c.Params("id"), typed)
	if form, status, ok := shell.Problems(typed, err); ok {
		return s.showBuild(c, status, form)
	}
	if err != nil {
		return err
	}
	return seeLaidOut(c, c.Params("id"), url.Values{"undo": {"1"}, "fit": fits})
}
