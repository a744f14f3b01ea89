package form

import (
	"fmt"
	"slices"
	"strings"

	"patientfox/core/criteria"
	"patientfox/core/library"
	"patientfox/core/progression"
	"patientfox/core/work"
)

// MaxGenerators is how many generators a form joins.
const MaxGenerators = 4

// DimensionsOf are all that a form can offer: everybody's, and the practice's own.
func DimensionsOf(own []criteria.Dimension) []criteria.Dimension {
	return append(append([]criteria.Dimension(nil), criteria.Dimensions...), own...)
}

func findDimension(all []criteria.Dimension, key string) (criteria.Dimension, bool) {
	for _, d := range all {
		if string(d.Key) == key {
			return d, true
		}
	}
	return criteria.Dimension{}, false
}

// Figures reads figures as one practice types them.
type Figures struct {
	Units criteria.Units
	All   []criteria.Dimension
	Case  progression.Case  // what a ladder is laid out for
	Below *progression.Step // the step on which a ladder is laid out further, nil for none: what it asks goes on
}

// Spaces are how long the place is in which a ladder begins, m, by the word of the form; what is not there has no bound.
var Spaces = map[string]float64{"room": 5, "yard": 15}

// readLayout reads how a ladder is to be made: generators as leg1_make, leg1_what, leg1_from, leg1_to,
// leg1_by, leg1_grow, leg1_level, leg1_moves, leg1_trigger_is, leg1_items, leg1_tools, leg1_sore, leg1_parts, leg1_together, how they are
// joined, and in what space.
func (f Figures) readLayout(ps Problems, kind work.Kind, t Typed) progression.Layout {
	l := progression.Layout{Combine: progression.Combine(t.Text("join")), Help: Lines(t["help"]), Case: f.Case}
	l.Case.Space, l.Case.Units = Spaces[t.Text("space")], f.Units
	l.Base.Text = t.Text("base_text")
	for i := 1; i <= MaxGenerators; i++ {
		if t.Text(fmt.Sprintf("leg%d_make", i)) != "" {
			l.Generators = append(l.Generators, f.readGenerator(ps, t, fmt.Sprintf("leg%d_", i)))
		}
	}
	if work.Of(kind).Near {
		l.Base = l.Base.With(criteria.Handler, 0) // beside the dog, until a generator says otherwise
	}
	return l
}

func (f Figures) readGenerator(ps Problems, t Typed, pre string) progression.Generator {
	generator := progression.Generator{
		Make: progression.Make(t.Text(pre + "make")), Times: t.Text(pre+"grow") == "times",
		Trig: t.Text(pre + "trigger_is"), Items: Lines(t[pre+"items"]), Tools: Lines(t[pre+"tools"]),
		Moves: t.Text(pre+"moves") != "",
	}
	if generator.Make == progression.MakeSites {
		generator.Sore = readSore(ps, t, pre, generator.Items)
	}
	if generator.Make == progression.MakeParts {
		return f.readParts(generator, t[pre+"parts"], t[pre+"together"])
	}
	d, known := findDimension(f.All, t.Text(pre+"what"))
	generator.What = d
	if fixed, only := generator.Make.Dimension(); only {
		d, known = fixed, true
	}
	if !known || generator.Make == progression.MakeFade || d.IsList() {
		return generator
	}
	if generator.Make == progression.MakeFigures {
		generator.Items = nil
		for _, part := range strings.FieldsFunc(t[pre+"items"], func(r rune) bool { return strings.ContainsRune("; ,\n\t\r", r) }) {
			value, _, problem := f.Units.Parse(d, part)
			if problem != "" {
				ps.Add(pre+"items", problem)
				break
			}
			generator.List = append(generator.List, value)
		}
		return generator
	}
	figure := func(field string) float64 {
		value, ok, problem := f.Units.Parse(d, t[pre+field])
		if problem != "" {
			ps.Add(pre+field, problem)
		} else if !ok && field == "to" {
			ps.Add(pre+field, "Say where it is to end.")
		}
		return value
	}
	if generator.Make != progression.MakeCountUp {
		generator.From = figure("from")
	}
	generator.To = figure("to")
	generator.By = f.growth(ps, d, generator, t, pre)
	if generator.Make == progression.MakeApproach {
		level, _ := criteria.Find(criteria.Intensity)
		x, ok, problem := f.Units.Parse(level, t[pre+"level"])
		if problem != "" {
			ps.Add(pre+"level", problem)
		}
		if generator.Level = int(x); !ok {
			generator.Level = 1
		}
	}
	return generator
}

// readSore reads which places on the body are sore, one a line or with commas between. Each must be one of the places of the ladder, the
// usual ones where none are named: one that is not would be touched like any other.
func readSore(ps Problems, t Typed, pre string, places []string) (sore []string) {
	if len(places) == 0 {
		site, _ := criteria.Find(criteria.Site)
		places = site.Items
	}
	named := func(typed string) (place string, known bool) {
		for _, place := range places {
			if strings.EqualFold(place, strings.TrimSpace(typed)) {
				return place, true
			}
		}
		return "", false
	}
	for line := range strings.SplitSeq(t[pre+"sore"], "\n") {
		typed := []string{line}
		if _, whole := named(line); !whole {
			typed = Listed(line)
		}
		for _, word := range typed {
			if place, known := named(word); known {
				sore = append(sore, place)
			} else {
				ps.Add(pre+"sore", "“"+word+"” is none of the places above. Write it as it is there.")
			}
		}
	}
	return sore
}

// growth reads by how much a step grows: a factor, or a figure in the dimension's unit.
func (f Figures) growth(ps Problems, d criteria.Dimension, generator progression.Generator, t Typed, pre string) float64 {
	typed := t.Text(pre + "by")
	if typed == "" {
		return 0
	}
	free := d
	free.Min, free.Max = -1e6, 1e6
	if generator.Times {
		free = criteria.Dimension{Key: "factor", Label: "A factor", Min: -1e6, Max: 1e6}
	}
	value, _, problem := f.Units.Parse(free, typed)
	if problem != "" {
		ps.Add(pre+"by", problem)
	} else if value <= 0 {
		ps.Add(pre+"by", "A step grows by more than nothing.")
	}
	return value
}

// TypedLayout is a layout as its form shows it.
func (f Figures) TypedLayout(t Typed, l progression.Layout) {
	t["join"], t["help"], t["base_text"] = string(l.Combine), strings.Join(l.Help, "\n"), l.Base.Text
	for i, generator := range l.Generators {
		f.typedGenerator(t, i, generator)
	}
}

// typedGenerator is one generator as the form shows it.
func (f Figures) typedGenerator(t Typed, i int, generator progression.Generator) {
	pre := fmt.Sprintf("leg%d_", i+1)
	d := generator.What
	if fixed, only := generator.Make.Dimension(); only {
		d = fixed
	}
	t[pre+"make"], t[pre+"what"], t[pre+"trigger_is"] = string(generator.Make), string(generator.What.Key), generator.Trig
	t[pre+"items"], t[pre+"tools"] = strings.Join(generator.Items, "\n"), strings.Join(generator.Tools, "\n")
	t[pre+"sore"] = strings.Join(generator.Sore, "\n")
	if generator.Moves {
		t[pre+"moves"] = "on"
	}
	if generator.Make == progression.MakeParts {
		t[pre+"items"] = ""
		t[pre+"parts"], t[pre+"together"] = f.typedParts(generator)
	}
	if d.IsList() && len(generator.Items) == 0 {
		t[pre+"items"] = strings.Join(d.Items, "\n")
	}
	if d.Key == "" || d.IsList() {
		return
	}
	if generator.Make != progression.MakeCountUp && generator.Make != progression.MakeFigures {
		t[pre+"from"] = f.Units.Show(d, progression.SetUp(d, f.Units, generator.From))
	}
	t[pre+"to"] = f.Units.Show(d, progression.SetUp(d, f.Units, generator.To))
	if generator.By > 0 {
		t[pre+"by"] = f.Units.Show(d, generator.By)
	}
	if generator.Times {
		t[pre+"grow"], t[pre+"by"] = "times", criteria.Figure(generator.By)
	}
	if generator.Level > 0 {
		t[pre+"level"] = fmt.Sprint(generator.Level)
	}
	if generator.Make == progression.MakeFigures {
		var figures []string
		for _, x := range generator.List {
			figures = append(figures, f.Units.Show(d, x))
		}
		t[pre+"items"] = strings.Join(figures, ", ")
	}
}

// LaidOut makes the ladder that a form asks for: by its generators, or as the template it begins from has
// it. Problems go beside their fields.
func (f Figures) LaidOut(ps Problems, kind work.Kind, t Typed, from *library.Template) (made []criteria.Criteria, safety []bool) {
	if t.Text("leg1_make") == "" && from != nil && len(from.Steps) > 0 {
		return from.Steps, from.Safety
	}
	made, bad := f.layout(ps, kind, t, from).Steps(library.MaxSteps)
	if len(bad) > 0 {
		ps.Criteria(bad)
		return nil, nil
	}
	for i, c := range made {
		for _, p := range c.Check() {
			ps.Add("leg1_make", fmt.Sprintf("Step %d: %s", i+1, p.Text))
		}
	}
	return made, nil
}

// Fits says what the ladder that a form asks for does otherwise than it was asked; of a form that makes none, nothing.
func (f Figures) Fits(kind work.Kind, t Typed, from *library.Template) []progression.Fit {
	ps := Problems{}
	if made, _ := f.LaidOut(ps, kind, t, from); len(made) == 0 || len(ps) > 0 || t.Text("leg1_make") == "" {
		return nil
	}
	return f.layout(Problems{}, kind, t, from).Fits(library.MaxSteps)
}

func (f Figures) layout(ps Problems, kind work.Kind, t Typed, from *library.Template) progression.Layout {
	layout := f.readLayout(ps, kind, t)
	switch {
	case from != nil && len(from.Layout.Generators) > 0:
		layout.Base = overBase(from.Layout.Base, layout.Base)
		layout.Share, layout.Ease = from.Layout.Share, from.Layout.Ease
	case f.Below != nil && t.Text("where") != "instead":
		layout.Base = overBase(f.Below.Criteria, layout.Base)
		layout.Base.Vary = nil
	}
	return layout
}

// overBase puts what a form says besides over what its template says.
func overBase(base, form criteria.Criteria) criteria.Criteria {
	for _, d := range form.Asked() {
		if !base.Has(d.Key) {
			base = base.WithDimension(d, form.Get(d.Key))
		}
	}
	if form.Text != "" {
		base.Text = form.Text
	}
	return base
}

// FirstGenerator proposes what a kind of work usually begins with.
func FirstGenerator(t Typed, kind work.Kind) {
	Figures{}.typedGenerator(t, 0, work.Of(kind).First)
}

// TypedStep is a step as its form shows it.
func TypedStep(s progression.Step, units criteria.Units) Typed {
	t := Typed{"trig": s.Criteria.Trig, "text": s.Criteria.Text}
	for _, d := range s.Criteria.Asked() {
		t[string(d.Key)] = units.Show(d, s.Criteria.Get(d.Key))
	}
	for _, key := range s.Criteria.Vary {
		t["vary_"+string(key)] = "on"
	}
	if s.Safety {
		t["safety"] = "on"
	}
	return t
}

// SaveStep takes what the form asks of one step. A figure that still reads as it was shown stays as
// exact as it was.
func (f Figures) SaveStep(steps []progression.Step, i int, t Typed) ([]progression.Step, error) {
	ps := Problems{}
	was := steps[i].Criteria
	wanted := criteria.Criteria{Trig: t.Text("trig"), Text: t.Text("text"), Values: map[criteria.Key]float64{}}
	for _, d := range f.Offered(was) {
		typed := t.Text(string(d.Key))
		value, ok, problem := f.Units.Parse(d, typed)
		if was.Has(d.Key) && typed == f.Units.Show(d, was.Get(d.Key)) {
			value, ok, problem = was.Get(d.Key), true, ""
		}
		if problem != "" {
			ps.Add(string(d.Key), problem)
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
		ps.Criteria(wanted.Check())
	}
	if err := ps.Err(); err != nil {
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

// Offered are the dimensions that a step's form has: all, with the step's own lists, and those that
// the practice has put away since.
func (f Figures) Offered(c criteria.Criteria) []criteria.Dimension {
	all := make([]criteria.Dimension, 0, len(f.All))
	for _, d := range f.All {
		if items := c.Lists[d.Key]; len(items) > 0 {
			d.Items = items
		}
		all = append(all, d)
	}
	for _, d := range c.CustomDimensions {
		if _, known := findDimension(all, string(d.Key)); !known {
			all = append(all, d)
		}
	}
	return all
}

// SaveList changes the words of a list in every step of the plan. A step keeps its word, wherever that
// stands now; one whose word is gone takes the word in its place, and asks something else from then on.
func (f Figures) SaveList(steps []progression.Step, t Typed) ([]progression.Step, error) {
	key := criteria.Key(t.Text("list"))
	items := Lines(t["items"])
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
