package practice

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
	"patientfox/internal/store"
)

// edit is one edit of a ladder: the steps, the one it is about, and the form.
type edit struct {
	steps []progression.Step
	at    int
	t     Typed
	dog   progression.Dog
	held  []string // steps that some track stands on
}

func cannot(text string) error { return &Invalid{map[string]string{"step": text}} }

// edits does each edit by the name of its button.
var edits = map[string]func(e edit) ([]progression.Step, error){
	"add": func(e edit) ([]progression.Step, error) {
		added := progression.Step{ID: newStepID(e.t), Rev: 1, Criteria: e.steps[e.at].Criteria, Safety: e.steps[e.at].Safety}
		return slices.Insert(slices.Clone(e.steps), e.at+1, added), nil
	},
	"split": func(e edit) ([]progression.Step, error) {
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
		for _, l := range progression.Lints(e.steps, e.dog) {
			if l.Step == e.at && string(l.Code) == e.t.Text("lint") && l.Fix != progression.FixNeed {
				return progression.Mend(e.steps, l, newStepID(e.t)), nil
			}
		}
		return nil, cannot("That is mended already.")
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
func (p *Practice) EditSteps(ctx context.Context, plan string, t Typed) error {
	if op, step, one := strings.Cut(t.Text("do"), ":"); one { // a button in the list of all steps
		t["op"], t["step"] = op, step
	}
	op := t.Text("op")
	q, s, l, err := p.look(ctx, plan)
	if err != nil {
		return err
	}
	own, err := ownDimensions(ctx, q)
	if err != nil {
		return err
	}
	f := forms{s.units(), dimensionsOf(own)}
	tracks, err := q.Tracks(ctx, l.Main)
	if err != nil {
		return err
	}
	var held []string
	for _, one := range tracks {
		held = append(held, one.Standing.Reached)
	}
	return p.changePlan(ctx, plan, t, op, func(body *library.Body, steps []progression.Step) ([]progression.Step, error) {
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
			return f.saveStep(steps, i, t)
		case "list":
			return f.saveList(steps, t)
		}
		do, known := edits[op]
		if !known {
			return nil, cannot("That cannot be done with a step.")
		}
		return do(edit{steps: steps, at: i, t: t, dog: progression.Dog{Weeks: weeksOld(l.DogBorn, s.day(p.ms())), Reached: l.reached()}, held: held})
	})
}

// saveStep takes what the form asks of one step. A figure that still reads as it was shown stays as
// exact as it was.
func (f forms) saveStep(steps []progression.Step, i int, t Typed) ([]progression.Step, error) {
	ps := problems{}
	was := steps[i].Criteria
	wanted := criteria.Criteria{Trig: t.Text("trig"), Text: t.Text("text"), Values: map[criteria.Key]float64{}}
	for _, d := range f.offered(was) {
		typed := t.Text(string(d.Key))
		value, ok, problem := f.units.Parse(d, typed)
		if was.Has(d.Key) && typed == f.units.Show(d, was.Get(d.Key)) {
			value, ok, problem = was.Get(d.Key), true, ""
		}
		if problem != "" {
			ps.add(string(d.Key), problem)
			continue
		}
		if !ok {
			continue
		}
		wanted = wanted.WithDimension(d, value)
		if t.Text("vary_"+string(d.Key)) != "" {
			wanted.Vary = append(wanted.Vary, d.Key)
		}
	}
	if len(ps) == 0 {
		ps.criteria(wanted.Check())
	}
	if err := ps.err(); err != nil {
		return nil, err
	}
	out := slices.Clone(steps)
	out[i].Safety = t.Text("safety") != ""
	if !was.Equal(wanted) {
		out[i].Criteria = wanted
		out[i].Rev++
	}
	return out, nil
}

// offered are the dimensions that a step's form has: all, with the step's own lists, and those that
// the practice has put away since.
func (f forms) offered(c criteria.Criteria) []criteria.Dimension {
	all := make([]criteria.Dimension, 0, len(f.all))
	for _, d := range f.all {
		if items := c.Lists[d.Key]; len(items) > 0 {
			d.Items = items
		}
		all = append(all, d)
	}
	for _, d := range c.Own {
		if _, known := findDimension(all, string(d.Key)); !known {
			all = append(all, d)
		}
	}
	return all
}

// saveList changes the words of a list in every step of the plan. A step keeps its word, wherever that
// stands now; one whose word is gone takes the word in its place, and asks something else from then on.
func (f forms) saveList(steps []progression.Step, t Typed) ([]progression.Step, error) {
	key := criteria.Key(t.Text("list"))
	items := listed(t["items"])
	if bad := criteria.CheckItems("items", items); len(bad) > 0 {
		return nil, &Invalid{map[string]string{"items": bad[0].Text}}
	}
	out := slices.Clone(steps)
	for i := range out {
		c := out[i].Criteria
		d, ok := c.Dimension(key)
		if !ok || !c.Has(key) || !d.IsList() {
			continue
		}
		word := c.Item(key)
		d.Items = items
		at := slices.Index(items, word)
		if at < 0 {
			at = min(int(c.Get(key)), len(items)-1)
			out[i].Rev++
		}
		out[i].Criteria = c.WithDimension(d, float64(at))
	}
	return out, nil
}

// newStepID takes the form's own id for a new step, so that the page can show it at once.
func newStepID(t Typed) string {
	if id := t.Text("new"); len(id) == 36 {
		return id
	}
	return NewID()
}

// BuildSteps lays a ladder out by the generators in a plan that is there: above its last step, or in
// place of what the dog has not reached yet.
func (p *Practice) BuildSteps(ctx context.Context, plan string, t Typed) error {
	q, s, l, err := p.look(ctx, plan)
	if err != nil {
		return err
	}
	own, err := ownDimensions(ctx, q)
	if err != nil {
		return err
	}
	tracks, err := q.Tracks(ctx, l.Main)
	if err != nil {
		return err
	}
	ps := problems{}
	made, _ := forms{s.units(), dimensionsOf(own)}.laidOut(ps, work.Kind(l.Kind), t, nil)
	if err := ps.err(); err != nil {
		return err
	}
	keep := 0 // steps up to the highest that any track has reached
	for _, one := range tracks {
		keep = max(keep, progression.Index(l.steps, one.Standing.Reached)+1)
	}
	if never(tracks) {
		keep = 0
	}
	return p.changePlan(ctx, plan, t, "laid out", func(_ *library.Body, steps []progression.Step) ([]progression.Step, error) {
		switch t.Text("where") {
		case "above":
			steps = append(slices.Clone(steps), newSteps(made)...)
		default:
			steps = append(slices.Clone(steps[:min(keep, len(steps))]), newSteps(made)...)
		}
		if len(steps) > library.MaxSteps {
			return nil, &Invalid{map[string]string{"where": fmt.Sprintf("That makes %d steps; a plan has at most %d.", len(steps), library.MaxSteps)}}
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

// BuildView is the page on which steps are laid out in a plan that is there.
type BuildView struct {
	NewPlanView
	Plan, Skill string
	Version     int
	Keeps       int // steps that stay: up to the one reached
}

// Build shows it, with what the form would make.
func (p *Practice) Build(ctx context.Context, plan string, t Typed) (v BuildView, err error) {
	q, s, l, err := p.look(ctx, plan)
	if err != nil {
		return v, err
	}
	own, err := ownDimensions(ctx, q)
	if err != nil {
		return v, err
	}
	if t.Text("leg1_make") == "" {
		firstLeg(t, work.Kind(l.Kind))
	}
	v = BuildView{Plan: plan, Skill: l.SkillName, Version: l.Version}
	v.DogID, v.Dog, v.Typed, v.Dims, v.Units = l.Dog, l.DogName, t, dimensionsOf(own), s.units()
	if l.Standing.Sessions > 0 {
		v.Keeps = l.reached() + 1
	}
	v.preview(forms{s.units(), v.Dims}, work.Kind(l.Kind), nil, progression.Dog{Weeks: weeksOld(l.DogBorn, s.day(p.ms())), Reached: v.Keeps}, s.words())
	return v, nil
}

// RestoreSteps brings the ladder of an earlier version back, as the next version.
func (p *Practice) RestoreSteps(ctx context.Context, plan string, t Typed) error {
	back, _ := strconv.Atoi(t.Text("back_to"))
	rows, err := p.store.Read().StepsOfVersions(ctx, []string{plan})
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
		return ErrNotFound
	}
	steps, err := readSteps(then)
	if err != nil {
		return err
	}
	return p.changePlan(ctx, plan, t, "undo", func(_ *library.Body, now []progression.Step) ([]progression.Step, error) {
		for i := range steps {
			if at := progression.Index(now, steps[i].ID); at >= 0 && !now[at].Criteria.Equal(steps[i].Criteria) {
				steps[i].Rev = now[at].Rev + 1
			}
		}
		return steps, nil
	})
}
