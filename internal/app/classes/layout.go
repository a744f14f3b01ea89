package classes

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"

	"patientfox/core/criteria"
	"patientfox/core/library"
	"patientfox/core/programme"
	"patientfox/core/progression"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/derive"
	"patientfox/internal/store"
	"patientfox/internal/templates"
)

// AddClass makes a class of a programme, and for each of its dogs the plans that it has none of yet, each as it fits the dog's age. The
// form has "name", "programme" by key, "start", "at", "minutes", "place", and "dog_" with an id for each dog. It answers with the class's
// id.
func (p *Cases) AddClass(ctx context.Context, t form.Typed) (string, error) {
	ps := form.Problems{}
	c := meets(ps, t)
	of, _, err := find(ctx, p.Store.Read(), t.Text("programme"))
	switch {
	case errors.Is(err, app.ErrNotFound):
		ps.Add("programme", "Choose a programme.")
	case err != nil:
		return "", err
	}
	dogs := ticked(t)
	if len(dogs) == 0 || len(dogs) > MostDogs {
		ps.Add("dogs", fmt.Sprintf("Tick one dog or more, at most %d.", MostDogs))
	}
	if err := ps.Err(); err != nil {
		return "", err
	}
	c.ID, c.Programme, c.Made = app.NewID(), store.JSON(of), p.Ms()
	return p.Once(ctx, t, func(q store.Q) (string, error) {
		s, err := p.Profile(ctx, q)
		if err != nil {
			return "", err
		}
		c.MadeBy = s.By
		if err := q.AddClass(ctx, c); err != nil {
			return "", err
		}
		return c.ID, p.join(ctx, q, s, c.ID, of, dogs, 1)
	})
}

// JoinClass takes further dogs into a class, from the week of today on; "dog_" with an id for each.
func (p *Cases) JoinClass(ctx context.Context, id string, t form.Typed) error {
	_, err := p.Once(ctx, t, func(q store.Q) (string, error) {
		s, c, err := p.class(ctx, q, id)
		if err != nil {
			return "", err
		}
		in, err := q.ClassDogs(ctx, id)
		if err != nil {
			return "", err
		}
		dogs := slices.DeleteFunc(ticked(t), func(dog string) bool {
			return slices.ContainsFunc(in, func(one store.ClassDog) bool { return one.Dog == dog })
		})
		if len(dogs) == 0 || len(dogs)+len(in) > MostDogs {
			return "", form.Problems{"dogs": fmt.Sprintf("Tick one dog or more; a class has at most %d.", MostDogs)}.Err()
		}
		return id, p.join(ctx, q, s, id, c.of, dogs, max(1, c.week))
	})
	return err
}

// LeaveClass takes a dog out of a class. Its plans stay.
func (p *Cases) LeaveClass(ctx context.Context, id, dog string) error {
	return p.Store.Write(ctx, func(q store.Q) error {
		there, err := q.LeaveClass(ctx, id, dog)
		if err == nil && !there {
			return app.ErrNotFound
		}
		return err
	})
}

// DeleteClass puts a class away, or brings it back. The plans of its dogs stay.
func (p *Cases) DeleteClass(ctx context.Context, id string, away bool) error {
	return p.Away(ctx, away, func(q store.Q, at *int64) (bool, error) { return q.DeleteClass(ctx, id, at) })
}

// layout lays plans out for several dogs at once.
type layout struct {
	p      *Cases
	s      app.Profile
	skills []store.Skill
	defs   []store.Definition
	new    store.NewPlans
}

// join adds dogs to a class, with the plans that they do not have yet, in as many statements however many dogs there are.
func (p *Cases) join(ctx context.Context, q store.Q, s app.Profile, id string, of programme.Programme, dogs []string, week int) error {
	all, err := q.Dogs(ctx, "", "", app.PlansLooked)
	if err != nil {
		return err
	}
	plans, err := q.Plans(ctx, dogs, app.PlansLooked)
	if err != nil {
		return err
	}
	lay := layout{p: p, s: s}
	if lay.skills, err = q.Skills(ctx); err != nil {
		return err
	}
	var known []string
	for _, one := range lay.skills {
		known = append(known, one.ID)
	}
	if lay.defs, err = q.Definitions(ctx, known); err != nil {
		return err
	}
	var members []store.ClassDog
	for _, dog := range dogs {
		at := slices.IndexFunc(all, func(d store.Dog) bool { return d.ID == dog })
		if at < 0 {
			return app.ErrNotFound
		}
		ids := make([]string, len(of.Rows))
		for i, r := range of.Rows {
			if ids[i], err = lay.plan(all[at], r, plans); err != nil {
				return err
			}
		}
		members = append(members, store.ClassDog{Class: id, Dog: dog, Joined: week, Plans: store.JSON(ids)})
	}
	if err := q.AddPlans(ctx, lay.new); err != nil {
		return err
	}
	return q.AddClassDogs(ctx, members)
}

// plan is the plan of a dog for a row: the one that it has for the skill, else a new one.
func (lay *layout) plan(d store.Dog, r programme.Row, plans []store.Plan) (string, error) {
	from, ok := templates.Find(r.From)
	if !ok {
		return "", app.ErrNotFound
	}
	for _, one := range plans {
		if one.Dog == d.ID && strings.EqualFold(one.SkillName, from.Name) && one.Main == one.ID {
			return one.ID, nil
		}
	}
	skill, def, err := lay.skill(from)
	if err != nil {
		return "", err
	}
	of := app.CaseOf(d, lay.s.Day(lay.p.Ms()), from.Kind, def, &from.Body)
	made, bad := from.LadderFor(of)
	if len(bad) > 0 {
		return "", form.Problems{"programme": fmt.Sprintf("%s, for %s: %s", from.Name, d.Name, bad[0].Text)}.Err()
	}
	steps := app.NewSteps(made)
	for i := range steps {
		steps[i].Safety = i < len(from.Safety) && from.Safety[i]
	}
	body := library.NewBody(&from, from.Kind, steps) // its needs name steps of the template
	steps = progression.ForDog(steps, of, library.MaxSteps, app.NewID)
	body.RaisePay(steps)
	for i, need := range body.Needs {
		if progression.Index(steps, need.Before) < 0 {
			body.Needs[i].Before = ""
		}
	}
	main := store.NewPlan{ID: app.NewID(), Dog: d.ID, Skill: skill, Made: lay.p.Ms(), Version: 1}
	if len(from.Tracks) > 0 {
		main.Track = from.Tracks[0]
	}
	n := &lay.new
	n.Plans = append(n.Plans, main)
	n.Versions = append(n.Versions, store.PlanVersion{
		Plan: main.ID, Version: 1, Body: store.JSON(body), Why: "made", Made: lay.p.Ms(), MadeBy: lay.s.By,
	})
	for i, row := range store.StepRows(steps) {
		row.Plan, row.Version, row.Ord = main.ID, 1, i
		n.Steps = append(n.Steps, row)
	}
	n.Standings = append(n.Standings, derive.Unworked(main.ID, from.Kind, body, steps))
	for i := 1; i < len(from.Tracks); i++ {
		twin := store.NewPlan{ID: app.NewID(), Dog: d.ID, Skill: skill, Track: from.Tracks[i], TwinOf: &main.ID, Made: lay.p.Ms()}
		n.Plans = append(n.Plans, twin)
		n.Standings = append(n.Standings, derive.Unworked(twin.ID, from.Kind, body, steps))
	}
	return main.ID, nil
}

// skill is the skill of a template's name with its definition, a new one where there is none.
func (lay *layout) skill(from library.Template) (id string, def criteria.Definition, err error) {
	for _, one := range lay.skills {
		if !strings.EqualFold(one.Name, from.Name) {
			continue
		}
		if one.Kind != string(from.Kind) {
			text := fmt.Sprintf("“%s” is already there as another kind of work. Give that skill another name first.", one.Name)
			return "", def, form.Problems{"programme": text}.Err()
		}
		def, err = app.DefinitionOf(lay.defs, one.ID, one.Version)
		return one.ID, def, err
	}
	one := store.Skill{ID: app.NewID(), Name: from.Name, Kind: string(from.Kind), Version: 1, Made: lay.p.Ms()}
	row := store.Definition{Skill: one.ID, Version: 1, Body: store.JSON(from.Definition), Made: lay.p.Ms(), MadeBy: lay.s.By}
	lay.skills, lay.defs = append(lay.skills, one), append(lay.defs, row)
	lay.new.Skills, lay.new.Definitions = append(lay.new.Skills, one), append(lay.new.Definitions, row)
	return one.ID, from.Definition, nil
}

// class loads a class; one that was put away is app.ErrNotFound.
func (p *Cases) class(ctx context.Context, q store.Q, id string) (s app.Profile, c class, err error) {
	if s, err = p.Profile(ctx, q); err != nil {
		return s, c, err
	}
	row, err := q.Class(ctx, id)
	if err != nil {
		return s, c, app.Found(err)
	}
	if row.Deleted != nil {
		return s, c, app.ErrNotFound
	}
	c, err = read(row, s.Day(p.Ms()))
	return s, c, err
}
