package app

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"patientfox/core/phrase"
	"patientfox/core/progression"
	"patientfox/internal/store"
	"patientfox/internal/templates"
)

// NeedView is a prerequisite.
type NeedView struct {
	Number int // in the plan's list, from 1
	Text   string
	Before string // from which step it is needed, in words
	Met    bool
	Waived string
	Plan   string // the dog's plan for it, "" where there is none
	From   string // the template of that name, "" where there is none
	Stands string // how far the dog is in it
}

// skillsOf is how far a dog is in each of its skills: with tracks, the one that is furthest behind.
func skillsOf(plans []Plan) map[string]progression.Progress {
	out := map[string]progression.Progress{}
	for _, l := range plans {
		key := strings.ToLower(l.SkillName)
		s := progression.Progress{Skill: l.SkillName, Reached: l.Reached(), Steps: len(l.Steps), Finished: l.Finished()}
		if was, ok := out[key]; !ok || s.Reached < was.Reached {
			out[key] = s
		}
	}
	return out
}

// NeedsOf reads a plan's needs against what the dog can do.
func NeedsOf(l Plan, dog []Plan) (views []NeedView, missing []progression.Need) {
	stands := skillsOf(dog)
	for i, n := range l.Body.Needs {
		s, ok := stands[strings.ToLower(n.Skill)]
		v := NeedView{
			Number: i + 1, Text: "“" + n.Skill + "”: " + phrase.NeedOf(n), Met: n.Met(s, ok), Waived: n.Waived,
			Before: "from the first step",
		}
		if at := progression.Index(l.Steps, n.Before); at > 0 {
			v.Before = fmt.Sprintf("before step %d", at+1)
		}
		switch {
		case !ok:
			v.Stands = l.DogName + " has no plan for it"
		case s.Finished:
			v.Stands = "Finished"
		default:
			v.Stands = fmt.Sprintf("Now at step %d of %d", s.Reached+1, s.Steps)
		}
		for _, one := range dog {
			if strings.EqualFold(one.SkillName, n.Skill) {
				v.Plan = one.ID
			}
		}
		for _, tmpl := range templates.All() {
			if strings.EqualFold(tmpl.Name, n.Skill) {
				v.From = tmpl.Key
			}
		}
		views = append(views, v)
		if !v.Met && n.Waived == "" {
			missing = append(missing, n)
		}
	}
	return views, missing
}

// BlockedSteps says of each step that must wait what it waits for.
func BlockedSteps(steps []progression.Step, missing []progression.Need) map[string]string {
	var blocked map[string]string
	for _, n := range missing {
		if blocked == nil {
			blocked = map[string]string{}
		}
		for i := max(0, progression.Index(steps, n.Before)); i < len(steps); i++ {
			if _, known := blocked[steps[i].ID]; !known {
				blocked[steps[i].ID] = "“" + n.Skill + "” must stand first: " + phrase.NeedOf(n) + "."
			}
		}
	}
	return blocked
}

// Besides loads a plan with all plans of its dog, its own tracks among them.
func Besides(ctx context.Context, q store.Q, id string, words phrase.Words) (l Plan, dog []Plan, err error) {
	rows, err := q.PlansBeside(ctx, id, PlansLooked)
	if err != nil {
		return l, nil, err
	}
	at := slices.IndexFunc(rows, func(r store.Plan) bool { return r.ID == id })
	if at < 0 {
		return l, nil, ErrNotFound
	}
	if dog, err = LoadPlans(ctx, q, rows, words); err != nil {
		return l, nil, err
	}
	return dog[at], dog, nil
}
