package plans

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"maps"
	"slices"
	"strings"

	"patientfox/core/criteria"
	"patientfox/core/library"
	"patientfox/core/phrase"
	"patientfox/core/progression"
	"patientfox/core/work"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/store"
)

// NewPlanView is what the page of a new plan needs.
type NewPlanView struct {
	DogID, Dog string
	Typed      form.Typed
	From       string // the template it begins from, by name
	About      string
	Wrong      []string
	Cautions   []string
	Skills     []string
	Kinds      []*work.Work
	Dims       []criteria.Dimension
	Units      criteria.Units
	AfterError []string
	CueWays    []string
	Library    []TemplateGroup // where nothing was chosen yet
	There      string          // the plan that the dog has for this skill
	Preview    *LadderView
	NotYet     []string // why there is no preview
}

// NewPlan is the form of a new plan: from a template, from a kind of work, or the choice between them.
func (p *Cases) NewPlan(ctx context.Context, dog string, t form.Typed) (v NewPlanView, err error) {
	q := p.Store.Read()
	s, d, err := p.WithDog(ctx, q, dog)
	if err != nil {
		return v, err
	}
	own, err := app.OwnDimensions(ctx, q)
	if err != nil {
		return v, err
	}
	skills, err := q.Skills(ctx)
	if err != nil {
		return v, err
	}
	v = NewPlanView{
		DogID: d.ID, Dog: d.Name, Typed: t, Kinds: work.All, Dims: form.DimensionsOf(own), Units: s.Units(),
		AfterError: criteria.ErrorResponses, CueWays: criteria.CueWays,
	}
	for _, one := range skills {
		v.Skills = append(v.Skills, one.Name)
	}
	from, err := findTemplate(ctx, q, t.Text("from"))
	if err != nil {
		return v, err
	}
	f := form.Figures{Units: s.Units(), All: v.Dims}
	kind := work.Kind(t.Text("kind"))
	switch {
	case from != nil:
		kind = from.Kind
		v.From, v.About, v.Wrong, v.Cautions = from.Name, from.About, from.Body.Wrong, from.Body.Cautions
		if t.Text("skill") == "" {
			v.Typed = typedTemplate(f, *from)
			v.Typed["from"] = t.Text("from")
			if err := keepDefinition(ctx, q, skills, v.Typed); err != nil {
				return v, err
			}
		}
	case t.Text("kind") == "":
		v.Library, err = p.library(ctx, q)
		return v, err
	}
	if v.Typed.Text("leg1_make") == "" && from == nil {
		form.FirstGenerator(v.Typed, kind)
	}
	if v.There, err = planFor(ctx, q, d.ID, v.Typed.Text("skill")); err != nil {
		return v, err
	}
	f.Case = newCase(f, d, s.Day(p.Ms()), kind, v.Typed, from)
	made := v.preview(f, kind, from, s.Words())
	if v.Preview != nil {
		v.Preview.Elsewhere, err = p.elsewhere(ctx, d, v.Typed.Text("skill"), made, s.Day(p.Ms()), s.Words())
	}
	return v, err
}

// newCase is what the ladder of a form is for.
func newCase(f form.Figures, d store.Dog, today string, kind work.Kind, t form.Typed, from *library.Template) progression.Case {
	var body *library.Body
	if from != nil {
		body = &from.Body
	}
	return app.CaseOf(d, today, kind, f.ReadDefinition(form.Problems{}, t), body)
}

// preview shows what the form would make, and answers it, or why it makes nothing yet.
func (v *NewPlanView) preview(f form.Figures, kind work.Kind, from *library.Template, words phrase.Words) []criteria.Criteria {
	ps := form.Problems{}
	made, _ := f.LaidOut(ps, kind, v.Typed, from)
	if len(made) > 0 && len(ps) == 0 {
		ladder := ladderView(f.Below, made, f.Case, words)
		for _, fit := range f.Fits(kind, v.Typed, from) {
			ladder.Fits = append(ladder.Fits, words.Fit(fit))
		}
		v.Preview = &ladder
		return made
	}
	for _, field := range slices.Sorted(maps.Keys(ps)) {
		v.NotYet = append(v.NotYet, ps[field])
	}
	return nil
}

// keepDefinition shows the definition of a skill that is taught already, not the template's own.
func keepDefinition(ctx context.Context, q store.Q, skills []store.Skill, t form.Typed) error {
	for _, one := range skills {
		if !strings.EqualFold(one.Name, t.Text("skill")) {
			continue
		}
		defs, err := q.Definitions(ctx, []string{one.ID})
		if err != nil {
			return err
		}
		def, err := app.DefinitionOf(defs, one.ID, one.Version)
		if err != nil {
			return err
		}
		for field, value := range form.TypedDefinition(def, 0) {
			if field != "version" {
				t[field] = value
			}
		}
	}
	return nil
}

func typedTemplate(f form.Figures, tmpl library.Template) form.Typed {
	t := form.TypedDefinition(tmpl.Definition, 0)
	delete(t, "version")
	t["skill"], t["kind"], t["tracks"] = tmpl.Name, string(tmpl.Kind), strings.Join(tmpl.Tracks, "\n")
	f.TypedLayout(t, tmpl.Layout)
	return t
}

// AddPlan lays out a plan for a dog and returns its id: a definition, a ladder, and tracks where there
// are any. A skill of the same name is used again, with its definition.
func (p *Cases) AddPlan(ctx context.Context, dog string, t form.Typed) (string, error) {
	q := p.Store.Read()
	s, d, err := p.WithDog(ctx, q, dog)
	if err != nil {
		return "", err
	}
	if d.Deleted != nil {
		return "", app.ErrNotFound
	}
	own, err := app.OwnDimensions(ctx, q)
	if err != nil {
		return "", err
	}
	from, err := findTemplate(ctx, q, t.Text("from"))
	if err != nil {
		return "", err
	}
	ps := form.Problems{}
	name := ps.Name("skill", t["skill"], "the skill")
	kind := work.Kind(t.Text("kind"))
	if !kind.Known() {
		ps.Add("kind", "Choose the kind of work.")
	}
	f := form.Figures{Units: s.Units(), All: form.DimensionsOf(own)}
	def := f.ReadDefinition(ps, t)
	f.Case = newCase(f, d, s.Day(p.Ms()), kind, t, from)
	made, safety := f.LaidOut(ps, kind, t, from)
	tracks := form.Lines(t["tracks"])
	ps.Criteria(library.CheckTracks(tracks))
	skill, err := p.skillFor(ctx, q, ps, name, kind, def)
	if err != nil {
		return "", err
	}
	if err := ps.Err(); err != nil {
		return "", err
	}
	steps := app.NewSteps(made)
	for i := range steps {
		steps[i].Safety = i < len(safety) && safety[i]
	}
	body := library.NewBody(from, kind, steps)
	return p.Once(ctx, t, func(q store.Q) (string, error) {
		there, err := planFor(ctx, q, dog, name)
		if err != nil {
			return "", err
		}
		if there != "" && t.Text("twice") == "" {
			text := fmt.Sprintf("%s has a plan for this already. Is another side meant, or a second plan?", d.Name)
			return "", &form.Invalid{Problems: map[string]string{"twice": text}}
		}
		if skill == nil {
			if skill, err = p.addSkill(ctx, q, name, kind, def, s.By); err != nil {
				return "", err
			}
		}
		return p.firstVersion(ctx, q, store.NewPlan{ID: app.NewID(), Dog: dog, Skill: skill.ID, Made: p.Ms()}, tracks, body, steps, s.By)
	})
}

// firstVersion adds a plan with its first version and its tracks, and returns its id.
func (p *Cases) firstVersion(
	ctx context.Context, q store.Q, plan store.NewPlan, tracks []string, body library.Body, steps []progression.Step, by string,
) (string, error) {
	first := store.PlanVersion{Plan: plan.ID, Version: 1, Body: store.JSON(body), Why: "made", Made: p.Ms(), MadeBy: by}
	if err := p.addTracks(ctx, q, plan, tracks, first, steps); err != nil {
		return "", err
	}
	return plan.ID, p.StandAll(ctx, q, plan.ID)
}

// planFor is the plan that a dog has for a skill of a name, "" for none.
func planFor(ctx context.Context, q store.Q, dog, skill string) (string, error) {
	plans, err := q.Plans(ctx, []string{dog}, app.PlansLooked)
	for _, one := range plans {
		if strings.EqualFold(one.SkillName, skill) {
			return one.Main, err
		}
	}
	return "", err
}

// MaxSeveral is how many plans are laid out at once.
const MaxSeveral = 12

// AddPlans lays out the ticked templates for a dog, each as its own form proposes it, and returns how many. What the dog has already is
// not laid out again; where one cannot be laid out the others are, and the error says which.
func (p *Cases) AddPlans(ctx context.Context, dog string, t form.Typed) (n int, err error) {
	q := p.Store.Read()
	var chosen []string
	for _, field := range slices.Sorted(maps.Keys(t)) {
		if from, ticked := strings.CutPrefix(field, "from_"); ticked && t.Text(field) != "" {
			chosen = append(chosen, from)
		}
	}
	if len(chosen) == 0 || len(chosen) > MaxSeveral {
		text := fmt.Sprintf("Tick one skill or more, at most %d.", MaxSeveral)
		return 0, &form.Invalid{Problems: map[string]string{"several": text}}
	}
	var not []string // what could not be laid out, and why
	for i, from := range chosen {
		v, err := p.NewPlan(ctx, dog, form.Typed{"from": from})
		if err != nil {
			return n, err
		}
		if there, err := planFor(ctx, q, dog, v.Typed.Text("skill")); err != nil {
			return n, err
		} else if there != "" {
			continue
		}
		v.Typed["key"] = fmt.Sprintf("%s/%d", t.Text("key"), i)
		var invalid *form.Invalid
		switch _, err := p.AddPlan(ctx, dog, v.Typed); {
		case errors.As(err, &invalid):
			for _, field := range slices.Sorted(maps.Keys(invalid.Problems)) {
				text := invalid.Problems[field]
				if !strings.Contains(text, v.From) {
					text = v.From + ": " + text
				}
				not = append(not, text)
			}
		case err != nil:
			return n, err
		default:
			n++
		}
	}
	if len(not) > 0 {
		text := fmt.Sprintf("Laid out: %d. Not laid out: %s", n, strings.Join(not, " "))
		return n, &form.Invalid{Problems: map[string]string{"several": text}}
	}
	return n, nil
}

// addSkill adds a skill with its first definition.
func (p *Cases) addSkill(
	ctx context.Context, q store.Q, name string, kind work.Kind, def criteria.Definition, person string,
) (*store.Skill, error) {
	skill := &store.Skill{ID: app.NewID(), Name: name, Kind: string(kind), Version: 1, Made: p.Ms()}
	if err := q.AddSkill(ctx, *skill); err != nil {
		return nil, err
	}
	row := store.Definition{Skill: skill.ID, Version: 1, Body: store.JSON(def), Made: p.Ms(), MadeBy: person}
	if first, err := q.AddDefinition(ctx, row); err != nil {
		return nil, err
	} else if !first {
		return nil, fmt.Errorf("skill %s has a definition already", skill.ID)
	}
	return skill, nil
}

// addTracks adds a plan with its first version, and its twins for the tracks beyond the first.
func (p *Cases) addTracks(
	ctx context.Context, q store.Q, plan store.NewPlan, tracks []string, version store.PlanVersion, steps []progression.Step,
) error {
	if len(tracks) > 0 {
		plan.Track = tracks[0]
	}
	if err := q.AddPlan(ctx, plan); err != nil {
		return err
	}
	if first, err := q.AddPlanVersion(ctx, version, store.StepRows(steps)); err != nil {
		return err
	} else if !first {
		return fmt.Errorf("plan %s has a version already", plan.ID)
	}
	for i := 1; i < len(tracks); i++ {
		twin := store.NewPlan{ID: app.NewID(), Dog: plan.Dog, Skill: plan.Skill, Track: tracks[i], TwinOf: &plan.ID, Made: p.Ms()}
		if err := q.AddPlan(ctx, twin); err != nil {
			return err
		}
	}
	return nil
}

// skillFor finds the skill of a name; nil where it is new, with its definition checked.
func (p *Cases) skillFor(
	ctx context.Context, q store.Q, ps form.Problems, name string, kind work.Kind, def criteria.Definition,
) (*store.Skill, error) {
	skills, err := q.Skills(ctx)
	if err != nil {
		return nil, err
	}
	for i, one := range skills {
		if !strings.EqualFold(one.Name, name) {
			continue
		}
		if one.Kind != string(kind) {
			ps.Add("kind", fmt.Sprintf("“%s” is already there as another kind of work. Choose that one, or give this skill another name.", one.Name))
			return nil, nil
		}
		defs, err := q.Definitions(ctx, []string{one.ID})
		if err != nil {
			return nil, err
		}
		now, err := app.DefinitionOf(defs, one.ID, one.Version)
		if err != nil {
			return nil, err
		}
		if def.Position != "" && def != now {
			ps.Add("position",
				fmt.Sprintf("“%s” is already defined, otherwise than here. Leave this empty to use that definition, or give this skill another name.",
					one.Name))
		}
		return &skills[i], nil
	}
	ps.Criteria(def.Check())
	return nil, nil
}

// templateKeys: a built-in template is named by its key, one of the practice's own by its id.
const ownTemplate = "own:"

func findTemplate(ctx context.Context, q store.Q, from string) (*library.Template, error) {
	if from == "" {
		return nil, nil
	}
	id, own := strings.CutPrefix(from, ownTemplate)
	if !own {
		if t, ok := builtIn(from); ok {
			return &t, nil
		}
		return nil, app.ErrNotFound
	}
	rows, err := q.Templates(ctx)
	if err != nil {
		return nil, err
	}
	for _, row := range rows {
		if row.ID == id {
			var t library.Template
			return &t, json.Unmarshal([]byte(row.Body), &t)
		}
	}
	return nil, app.ErrNotFound
}
