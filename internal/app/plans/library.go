package plans

import (
	"context"
	"fmt"
	"strconv"
	"strings"

	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/library"
	"patientfox/core/outlook"
	"patientfox/core/phrase"
	"patientfox/core/progression"
	"patientfox/core/work"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/exchange"
	"patientfox/internal/store"
	"patientfox/internal/templates"
)

func builtIn(key string) (library.Template, bool) { return templates.Find(key) }

// TemplateRow is one template in a list.
type TemplateRow struct {
	From, Name, About string
	Own               bool
	ID                string // of one's own
	Steps             int
}

// TemplateGroup is the templates of one kind of work.
type TemplateGroup struct {
	Kind, Label, Hint string
	Templates         []TemplateRow
}

// LibraryView is the list of what to begin from.
type LibraryView struct {
	Groups []TemplateGroup
	Dogs   []app.Named
	Count  int
}

// Library lists all templates by kind of work.
func (p *Cases) Library(ctx context.Context) (LibraryView, error) {
	return app.Remember(ctx, p.Practice, "library", app.On[LibraryView](app.NoDog), func() (v LibraryView, err error) {
		q := p.Store.Read()
		if v.Groups, err = p.library(ctx, q); err != nil {
			return v, err
		}
		for _, g := range v.Groups {
			v.Count += len(g.Templates)
		}
		v.Dogs, err = p.dogNames(ctx, q)
		return v, err
	})
}

func (p *Cases) dogNames(ctx context.Context, q store.Q) ([]app.Named, error) {
	dogs, err := q.Dogs(ctx, "", "", 200)
	var named []app.Named
	for _, d := range dogs {
		named = append(named, app.Named{ID: d.ID, Name: d.Name})
	}
	return named, err
}

func (p *Cases) library(ctx context.Context, q store.Q) ([]TemplateGroup, error) {
	rows, err := q.Templates(ctx)
	if err != nil {
		return nil, err
	}
	of := map[work.Kind][]TemplateRow{} // the practice's own first
	for _, row := range rows {
		t, err := findTemplate(ctx, q, ownTemplate+row.ID)
		if err != nil {
			return nil, err
		}
		of[t.Kind] = append(of[t.Kind], TemplateRow{ownTemplate + row.ID, t.Name, t.About, true, row.ID, len(t.Steps)})
	}
	for _, t := range templates.All() {
		made, _ := t.Ladder()
		of[t.Kind] = append(of[t.Kind], TemplateRow{t.Key, t.Name, t.About, false, "", len(made)})
	}
	groups := make([]TemplateGroup, len(work.All))
	for i, kind := range work.All {
		groups[i] = TemplateGroup{Kind: string(kind.Kind), Label: kind.Label, Hint: kind.Hint, Templates: of[kind.Kind]}
	}
	return groups, nil
}

// TemplateView is one template as its page shows it.
type TemplateView struct {
	TemplateRow
	Kind, KindLabel string
	Ticks           []string
	Method          string
	For, Bring      string
	Takes           string // how long it usually takes
	Ladder          LadderView
	Tracks          []string
	Rule            string
	Pay             []string
	Needs           []string
	Management      []library.Instead
	Props           string
	Cautions        []string
	Wrong           []string
	Dogs            []app.Named
}

// Template shows one template.
func (p *Cases) Template(ctx context.Context, from string) (v TemplateView, err error) {
	q := p.Store.Read()
	s, err := p.Profile(ctx, q)
	if err != nil {
		return v, err
	}
	t, err := findTemplate(ctx, q, from)
	if err != nil {
		return v, err
	}
	if t == nil {
		return v, app.ErrNotFound
	}
	made, _ := t.Ladder()
	kind := work.Of(t.Kind)
	id, own := strings.CutPrefix(from, ownTemplate)
	v = TemplateView{
		TemplateRow: TemplateRow{From: from, Name: t.Name, About: t.About, Own: own, ID: id, Steps: len(made)},
		Kind:        string(t.Kind), KindLabel: kind.Label, Ticks: phrase.Ticks(t.Kind, t.Definition), Method: t.Body.Method,
		Ladder: ladderView(nil, made, t.Case(progression.Case{}), s.Words()), Tracks: t.Tracks, Rule: phrase.Rule(t.Body.Rule),
		Pay:        phrase.Strategy(t.Body.Pay, 1),
		Management: t.Body.Management, Props: t.Body.Props, Cautions: t.Body.Cautions, Wrong: t.Body.Wrong,
	}
	v.For, v.Bring = t.For, t.Bring
	if v.Takes, err = takes(ctx, *t, made); err != nil {
		return v, err
	}
	for _, n := range t.Body.Needs {
		v.Needs = append(v.Needs, "“"+n.Skill+"”: "+phrase.NeedOf(n))
	}
	v.Dogs, err = p.dogNames(ctx, q)
	return v, err
}

// usualDogs is how many simulated dogs say how long a template takes.
const usualDogs = 60

// takes says how many sessions simulated dogs without a record need for a ladder, of which half and four in five of them.
func takes(ctx context.Context, t library.Template, made []criteria.Criteria) (string, error) {
	var rules []decision.Rule
	for i, c := range made {
		rule, _ := t.Body.RuleAt(progression.Step{Criteria: c, Safety: i < len(t.Safety) && t.Safety[i]})
		rules = append(rules, rule)
	}
	course := outlook.UsualCourse(rules)
	course.Calm = work.Of(t.Kind).ByState
	f, err := outlook.FitTo(nil, outlook.Heights(len(rules)), outlook.Usual(), 1).Look(ctx, course, usualDogs, 1, nil)
	if err != nil {
		return "", err
	}
	return phrase.Takes(f.Sessions.Lo, f.Sessions.Mid, f.Sessions.Hi, outlook.MaxSessions), nil
}

// TemplateFile writes a template as a file.
func (p *Cases) TemplateFile(ctx context.Context, from string) (name string, body []byte, err error) {
	t, err := findTemplate(ctx, p.Store.Read(), from)
	if err != nil {
		return "", nil, err
	}
	if t == nil {
		return "", nil, app.ErrNotFound
	}
	body, err = exchange.WriteTemplate(*t)
	return exchange.FileName(t.Name) + ".json", body, err
}

// ReadTemplate takes a template file into the practice's own and returns its address. What is
// wrong with the file names its lines.
func (p *Cases) ReadTemplate(ctx context.Context, t form.Typed, file []byte) (string, error) {
	if len(file) == 0 {
		return "", &form.Invalid{Problems: map[string]string{"file": "Choose a template file, one that ends in .json."}}
	}
	tmpl, bad := exchange.ReadTemplate(file)
	if len(bad) > 0 {
		lines := make([]string, 0, 5)
		for i, one := range bad {
			if i == 5 {
				lines = append(lines, fmt.Sprintf("And %d more.", len(bad)-i))
				break
			}
			lines = append(lines, one.String())
		}
		return "", &form.Invalid{Problems: map[string]string{"file": strings.Join(lines, "\n")}}
	}
	return p.addTemplate(ctx, t, tmpl)
}

func (p *Cases) addTemplate(ctx context.Context, t form.Typed, tmpl library.Template) (string, error) {
	made, problems := tmpl.Ladder()
	if len(problems) > 0 {
		return "", &form.Invalid{Problems: map[string]string{"file": problems[0].Text}}
	}
	tmpl.Steps, tmpl.Layout, tmpl.Key = made, progression.Layout{}, ""
	id, err := p.Once(ctx, t, func(q store.Q) (string, error) {
		id := app.NewID()
		return id, q.AddTemplate(ctx, store.Template{ID: id, Name: tmpl.Name, Kind: string(tmpl.Kind), Body: store.JSON(tmpl), Made: p.Ms()})
	})
	return ownTemplate + id, err
}

// SaveTemplate keeps a plan as a template of the practice's own, without its dog.
func (p *Cases) SaveTemplate(ctx context.Context, plan string, t form.Typed) (string, error) {
	q := p.Store.Read()
	s, err := p.Profile(ctx, q)
	if err != nil {
		return "", err
	}
	l, err := p.LoadPlan(ctx, q, plan, s.Words())
	if err != nil {
		return "", err
	}
	tracks, err := q.Tracks(ctx, l.Main)
	if err != nil {
		return "", err
	}
	ps := form.Problems{}
	tmpl := library.Template{
		Name: ps.Name("name", t["name"], "the template"), About: ps.Text("about", t["about"], criteria.MaxText),
		Kind: work.Kind(l.Kind), Definition: l.Def, Body: l.Body,
	}
	if err := ps.Err(); err != nil {
		return "", err
	}
	for _, step := range l.Steps {
		tmpl.Steps, tmpl.Safety = append(tmpl.Steps, step.Criteria), append(tmpl.Safety, step.Safety)
	}
	for _, one := range tracks {
		if one.Track != "" {
			tmpl.Tracks = append(tmpl.Tracks, one.Track)
		}
	}
	if len(tmpl.Tracks) < 2 {
		tmpl.Tracks = nil
	}
	// those name steps and days of this dog
	tmpl.Body.Needs, tmpl.Body.StepRules, tmpl.Body.StepPay, tmpl.Body.Cueing.Added = nil, nil, nil, ""
	for _, n := range l.Body.Needs {
		n.Waived = ""
		if at := progression.Index(l.Steps, n.Before); at >= 0 {
			n.Before = strconv.Itoa(at + 1)
		}
		tmpl.Body.Needs = append(tmpl.Body.Needs, n)
	}
	return p.addTemplate(ctx, t, tmpl)
}

// DeleteTemplate puts a template of one's own away, or brings it back.
func (p *Cases) DeleteTemplate(ctx context.Context, id string, away bool) error {
	return p.Away(ctx, away, func(q store.Q, at *int64) (bool, error) { return q.DeleteTemplate(ctx, id, at) })
}
