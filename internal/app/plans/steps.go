package plans

import (
	"context"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/library"
	"patientfox/core/progression"
	"patientfox/core/work"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/store"
)

// edit is one edit of a ladder: the steps, the one it is about, and the form.
type edit struct {
	steps []progression.Step
	at    int
	t     form.Typed
	c     progression.Case
	held  []string // steps that the dog of some track is on
}

func cannot(text string) error { return &form.Invalid{Problems: map[string]string{"step": text}} }

// edits does each edit by the name of its button.
var edits = map[string]func(e edit) ([]progression.Step, error){
	"add": func(e edit) ([]progression.Step, error) {
		added := progression.Step{ID: newStepID(e.t), Rev: 1, Criteria: e.steps[e.at].Criteria, Safety: e.steps[e.at].Safety}
		return slices.Insert(slices.Clone(e.steps), e.at+1, added), nil
	},
	"split": func(e edit) ([]progression.Step, error) {
		if !progression.Halves(e.steps, e.at) {
			return nil, cannot("There is no figure to halve here. Give the step seconds, metres or a smaller approximation first.")
		}
		half := progression.Step{ID: newStepID(e.t), Rev: 1, Criteria: progression.Half(e.steps, e.at), Safety: e.steps[e.at].Safety}
		return progression.Insert(e.steps, half, e.steps[e.at].ID), nil
	},
	"merge": func(e edit) ([]progression.Step, error) {
		if e.at == 0 {
			return nil, cannot("There is no step below to merge with.")
		}
		keep := e.steps[e.at].ID
		if below := e.steps[e.at-1].ID; slices.Contains(e.held, below) {
			keep = below // the dot stays on what it stood on
		}
		return progression.Merge(e.steps, e.at, keep), nil
	},
	"mend": func(e edit) ([]progression.Step, error) {
		for _, l := range progression.Lints(e.steps, e.c) {
			if l.Step == e.at && string(l.Code) == e.t.Text("lint") && l.Fix != progression.FixNeed {
				return progression.Mend(e.steps, l, newStepID(e.t)), nil
			}
		}
		return nil, cannot("That is mended already.")
	},
	"count": func(e edit) ([]progression.Step, error) { // of its trials from here on
		steps := slices.Clone(e.steps)
		steps[e.at].Rev++
		return steps, nil
	},
	"remove": func(e edit) ([]progression.Step, error) {
		if len(e.steps) == 1 {
			return nil, cannot("A plan keeps at least one step.")
		}
		return slices.Delete(slices.Clone(e.steps), e.at, e.at+1), nil
	},
	"up": func(e edit) ([]progression.Step, error) {
		return progression.Reorder(e.steps, e.at, min(e.at+1, len(e.steps)-1)), nil
	},
	"down": func(e edit) ([]progression.Step, error) {
		return progression.Reorder(e.steps, e.at, max(e.at-1, 0)), nil
	},
	"move": func(e edit) ([]progression.Step, error) {
		to, err := strconv.Atoi(e.t.Text("to"))
		if err != nil || to < 1 || to > len(e.steps) {
			return nil, cannot(fmt.Sprintf("Move it to a step from 1 to %d.", len(e.steps)))
		}
		return progression.Reorder(e.steps, e.at, to-1), nil
	},
}

// grows are the edits that add a step.
var grows = []string{"add", "split", "mend"}

// EditSteps does one edit of the ladder, named by typed["op"]: save, list (the words of a list), or
// one of edits.
func (p *Cases) EditSteps(ctx context.Context, plan string, t form.Typed) error {
	if op, step, one := strings.Cut(t.Text("do"), ":"); one { // a button in the list of all steps
		t["op"], t["step"] = op, step
	}
	op := t.Text("op")
	q, s, l, err := p.Look(ctx, plan)
	if err != nil {
		return err
	}
	own, err := app.OwnDimensions(ctx, q)
	if err != nil {
		return err
	}
	f := form.Figures{Units: s.Units(), All: form.DimensionsOf(own)}
	tracks, err := q.Tracks(ctx, l.Main)
	if err != nil {
		return err
	}
	var held []string
	for _, one := range tracks {
		held = append(held, one.Standing.Reached)
	}
	return p.ChangePlan(ctx, plan, t, op, func(body *library.Body, steps []progression.Step) ([]progression.Step, error) {
		i := progression.Index(steps, t.Text("step"))
		if i < 0 {
			return nil, cannot("That step is not in the plan any more.")
		}
		if slices.Contains(grows, op) && len(steps) >= library.MaxSteps {
			return nil, cannot(fmt.Sprintf("A plan has at most %d steps.", library.MaxSteps))
		}
		switch op {
		case "save":
			if kind := t.Text("step_rule"); kind == "" || kind == "plan" || slices.Contains(decision.Kinds, decision.Kind(kind)) {
				stepRule(body, steps[i].ID, kind)
			}
			return f.SaveStep(steps, i, t)
		case "list":
			return f.SaveList(steps, t)
		}
		do, known := edits[op]
		if !known {
			return nil, cannot("That cannot be done with a step.")
		}
		return do(edit{
			steps: steps, at: i, t: t, c: l.Case(s.Day(p.Ms())), held: held,
		})
	})
}

// newStepID takes the form's own id for a new step, so that the page can show it at once.
func newStepID(t form.Typed) string {
	if id := t.Text("new"); len(id) == 36 {
		return id
	}
	return app.NewID()
}

// BuildSteps lays a ladder out by the generators in a plan that is there: above its last step, or in
// place of what the dog has not reached yet.
func (p *Cases) BuildSteps(ctx context.Context, plan string, t form.Typed) error {
	q, s, l, err := p.Look(ctx, plan)
	if err != nil {
		return err
	}
	own, err := app.OwnDimensions(ctx, q)
	if err != nil {
		return err
	}
	tracks, err := q.Tracks(ctx, l.Main)
	if err != nil {
		return err
	}
	ps := form.Problems{}
	made, _ := buildsOn(l, s, p.Ms(), own, t).LaidOut(ps, work.Kind(l.Kind), t, nil)
	if err := ps.Err(); err != nil {
		return err
	}
	keep := 0 // steps up to the highest that any track has reached
	for _, one := range tracks {
		keep = max(keep, progression.Index(l.Steps, one.Standing.Reached)+1)
	}
	if never(tracks) {
		keep = 0
	}
	return p.ChangePlan(ctx, plan, t, "laid out", func(_ *library.Body, steps []progression.Step) ([]progression.Step, error) {
		switch t.Text("where") {
		case "above":
			steps = append(slices.Clone(steps), app.NewSteps(made)...)
		default:
			steps = append(slices.Clone(steps[:min(keep, len(steps))]), app.NewSteps(made)...)
		}
		if len(steps) > library.MaxSteps {
			return nil,
				&form.Invalid{
					Problems: map[string]string{"where": fmt.Sprintf("That makes %d steps; a plan has at most %d.", len(steps), library.MaxSteps)},
				}
		}
		return steps, nil
	})
}

// never tells whether none of a plan's tracks was ever worked.
func never(tracks []store.Plan) bool {
	for _, one := range tracks {
		if one.Standing.Sessions > 0 {
			return false
		}
	}
	return true
}

// buildsOn reads a form that lays steps out in a plan that is there. Where the dog has worked on it, or they come above others, the first
// of them need not be easy.
func buildsOn(l app.Plan, s app.Profile, now int64, own []criteria.Dimension, t form.Typed) form.Figures {
	c := l.Case(s.Day(now))
	if l.Standing.Sessions > 0 || t.Text("where") != "instead" {
		c.Reached++
	}
	f := form.Figures{Units: s.Units(), All: form.DimensionsOf(own), Case: c}
	if n := len(l.Steps); n > 0 {
		f.Below = &l.Steps[n-1]
	}
	return f
}

// BuildView is the page on which steps are laid out in a plan that is there.
type BuildView struct {
	NewPlanView
	Plan, Skill string
	Kind        work.Kind
	Version     int
	Keeps       int // steps that stay: up to the one reached
}

// Build shows it, with what the form would make.
func (p *Cases) Build(ctx context.Context, plan string, t form.Typed) (v BuildView, err error) {
	q, s, l, err := p.Look(ctx, plan)
	if err != nil {
		return v, err
	}
	own, err := app.OwnDimensions(ctx, q)
	if err != nil {
		return v, err
	}
	if t.Text("leg1_make") == "" {
		form.FirstGenerator(t, work.Kind(l.Kind))
	}
	v = BuildView{Plan: plan, Skill: l.SkillName, Kind: work.Kind(l.Kind), Version: l.Version}
	v.DogID, v.Dog, v.Typed, v.Dims, v.Units = l.Dog, l.DogName, t, form.DimensionsOf(own), s.Units()
	if l.Standing.Sessions > 0 {
		v.Keeps = l.Reached() + 1
	}
	v.preview(buildsOn(l, s, p.Ms(), own, t), work.Kind(l.Kind), nil, s.Words())
	return v, nil
}

// RestoreSteps brings the ladder of an earlier version back, as the next version.
func (p *Cases) RestoreSteps(ctx context.Context, plan string, t form.Typed) error {
	back, _ := strconv.Atoi(t.Text("back_to"))
	rows, err := p.Store.Read().StepsOfVersions(ctx, []string{plan})
	if err != nil {
		return err
	}
	var then []store.Step
	for _, r := range rows {
		if r.Version == back {
			then = append(then, r)
		}
	}
	if len(then) == 0 {
		return app.ErrNotFound
	}
	steps, err := store.ReadSteps(then)
	if err != nil {
		return err
	}
	return p.ChangePlan(ctx, plan, t, "undo", func(_ *library.Body, now []progression.Step) ([]progression.Step, error) {
		for i := range steps {
			if at := progression.Index(now, steps[i].ID); at >= 0 && !now[at].Criteria.Equal(steps[i].Criteria) {
				steps[i].Rev = now[at].Rev + 1
			}
		}
		return steps, nil
	})
}
