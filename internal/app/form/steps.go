package form

import (
	"patientfox/core/criteria"
	"patientfox/core/progression"
	"slices"
)

// saveStep takes what the form asks of one step. A figure that still reads as it was shown stays as
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

// offered are the dimensions that a step's form has: all, with the step's own lists, and those that
// the practice has put away since.
func (f Figures) Offered(c criteria.Criteria) []criteria.Dimension {
	all := make([]criteria.Dimension, 0, len(f.All))
	for _, d := range f.All {
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
func (f Figures) SaveList(steps []progression.Step, t Typed) ([]progression.Step, error) {
	key := criteria.Key(t.Text("list"))
	items := Listed(t["items"])
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
