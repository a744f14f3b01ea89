package ladders

import (
	"context"
	"encoding/json"
	"fmt"
	"maps"
	"slices"

	"patientfox/core/decision"
	"patientfox/core/library"
	"patientfox/core/progression"
	"patientfox/core/reinforce"
	"patientfox/core/say"
	"patientfox/core/work"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/store"
)

// CopyView is the page on which a plan is copied to other dogs.
type CopyView struct {
	Plan, DogID, Dog, Skill string
	Steps                   int
	Dogs                    []CopyDog
}

// CopyDog is a dog that a plan can be copied to.
type CopyDog struct {
	Field, Start, Name string // its fields: whether it gets one, and the step that is its first
	Says               string // what would differ for this dog, or why it cannot have it
	Has                bool   // it has a plan of this skill
}

// Copies shows what a plan would be for each of the other dogs.
func (p *Cases) Copies(ctx context.Context, plan string) (v CopyView, err error) {
	q, s, l, err := p.Look(ctx, plan)
	if err != nil {
		return v, err
	}
	v = CopyView{Plan: l.ID, DogID: l.Dog, Dog: l.DogName, Skill: l.SkillName, Steps: len(l.Steps)}
	dogs, err := q.Dogs(ctx, "", "", app.PlansLooked)
	if err != nil {
		return v, err
	}
	has, err := p.having(ctx, q, l.Skill)
	if err != nil {
		return v, err
	}
	for _, d := range dogs {
		if d.ID == l.Dog {
			continue
		}
		one := CopyDog{Field: "dog_" + d.ID, Start: "start_" + d.ID, Name: d.Name, Has: has[d.ID], Says: "As it is."}
		made := progression.ForDog(l.Steps, p.caseOf(d, l, s), library.MaxSteps, app.NewID)
		switch other := differ(l.Steps, made); {
		case one.Has:
			one.Says = "Has a plan for this already."
		case other > 0:
			one.Says = say.Count(other, "step") + " otherwise, for its age, its size or its joints."
		}
		v.Dogs = append(v.Dogs, one)
	}
	return v, nil
}

// caseOf is what the ladder of a plan would be for with another dog.
func (p *Cases) caseOf(d store.Dog, l app.Plan, s app.Profile) progression.Case {
	return app.CaseOf(d, s.Day(p.Ms()), work.Kind(l.Kind), l.Def, &l.Body)
}

// differ counts the steps of one ladder that the other does not have, or has otherwise.
func differ(was, now []progression.Step) (n int) {
	for _, s := range was {
		if at := progression.Index(now, s.ID); at < 0 || !now[at].Criteria.Equal(s.Criteria) {
			n++
		}
	}
	return n + max(0, len(now)-len(was))
}

// having are the dogs that have a plan of a skill.
func (p *Cases) having(ctx context.Context, q store.Q, skill string) (map[string]bool, error) {
	plans, err := q.Plans(ctx, nil, app.PlansLooked)
	has := map[string]bool{}
	for _, one := range plans {
		if one.Skill == skill {
			has[one.Dog] = true
		}
	}
	return has, err
}

// Copy gives the ticked dogs a plan of their own, each as it fits the dog, and says how many.
func (p *Cases) Copy(ctx context.Context, plan string, t form.Typed) (copied int, err error) {
	q, s, l, err := p.Look(ctx, plan)
	if err != nil {
		return 0, err
	}
	has, err := p.having(ctx, q, l.Skill)
	if err != nil {
		return 0, err
	}
	var dogs []store.Dog
	starts, ps := map[string]int{}, form.Problems{}
	all, err := q.Dogs(ctx, "", "", app.PlansLooked)
	if err != nil {
		return 0, err
	}
	for _, d := range all {
		if t.Text("dog_"+d.ID) != "" && d.ID != l.Dog && !has[d.ID] {
			dogs = append(dogs, d)
			starts[d.ID] = max(1, ps.Whole(t, "start_"+d.ID, 1, len(l.Steps), fmt.Sprintf("A step from 1 to %d.", len(l.Steps))))
		}
	}
	if len(dogs) == 0 {
		ps.Add("dogs", "Tick one dog or more that has no plan for this yet.")
	}
	if err := ps.Err(); err != nil {
		return 0, err
	}
	tracks, err := q.Tracks(ctx, l.Main)
	if err != nil {
		return 0, err
	}
	_, err = p.Once(ctx, t, func(q store.Q) (string, error) {
		for _, d := range dogs {
			fitting := progression.ForDog(l.Steps[starts[d.ID]-1:], p.caseOf(d, l, s), library.MaxSteps, app.NewID)
			steps, body, err := renamed(fitting, l.Body)
			if err != nil {
				return "", err
			}
			if err := p.give(ctx, q, d, l, tracks, steps, body, s.By); err != nil {
				return "", err
			}
		}
		return plan, nil
	})
	return len(dogs), err
}

// give adds a copied plan to a dog, with its tracks.
func (p *Cases) give(
	ctx context.Context, q store.Q, d store.Dog, l app.Plan, tracks []store.Plan, steps []progression.Step, body library.Body, by string,
) error {
	plan := store.NewPlan{ID: app.NewID(), Dog: d.ID, Skill: l.Skill, Track: tracks[0].Track, Made: p.Ms()}
	if err := q.AddPlan(ctx, plan); err != nil {
		return err
	}
	first := store.PlanVersion{Plan: plan.ID, Version: 1, Body: store.JSON(body), Why: "copied", Made: p.Ms(), MadeBy: by}
	if _, err := q.AddPlanVersion(ctx, first, store.StepRows(steps)); err != nil {
		return err
	}
	for _, one := range tracks[1:] {
		twin := store.NewPlan{ID: app.NewID(), Dog: d.ID, Skill: l.Skill, Track: one.Track, TwinOf: &plan.ID, Made: p.Ms()}
		if err := q.AddPlan(ctx, twin); err != nil {
			return err
		}
	}
	return p.StandAll(ctx, q, plan.ID)
}

// renamed gives the steps names of their own, also where the body speaks of them. What was said of the other dog alone is left out.
func renamed(steps []progression.Step, was library.Body) ([]progression.Step, library.Body, error) {
	var body library.Body
	raw, err := json.Marshal(was)
	if err == nil {
		err = json.Unmarshal(raw, &body)
	}
	if err != nil {
		return nil, body, err
	}
	names := map[string]string{}
	out := slices.Clone(steps)
	for i := range out {
		names[out[i].ID] = app.NewID()
		out[i].ID, out[i].Rev = names[out[i].ID], 1
	}
	rules, pays := body.StepRules, body.StepPay
	body.StepRules, body.StepPay, body.Cueing.Added = nil, nil, ""
	for _, id := range slices.Sorted(maps.Keys(rules)) {
		if now, there := names[id]; there {
			if body.StepRules == nil {
				body.StepRules = map[string]decision.Rule{}
			}
			body.StepRules[now] = rules[id]
		}
	}
	for _, id := range slices.Sorted(maps.Keys(pays)) {
		if now, there := names[id]; there {
			if body.StepPay == nil {
				body.StepPay = map[string]reinforce.Strategy{}
			}
			body.StepPay[now] = pays[id]
		}
	}
	for i := range body.Needs {
		body.Needs[i].Waived, body.Needs[i].Before = "", names[body.Needs[i].Before]
	}
	return out, body, nil
}
