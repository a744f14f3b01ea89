package criteria

import (
	"fmt"
	"maps"
	"slices"
	"strings"
	"unicode/utf8"
)

// Criteria is what one step asks. A dimension that is not in Values is no part of the step. A step
// says all of itself: the lists that its figures are places in, and the practice's own dimensions,
// so that what is changed elsewhere later does not change what was asked.
type Criteria struct {
	Values           map[Key]float64  `json:"values,omitempty"` // SI units: s, m; a place in the list for lists
	Lists            map[Key][]string `json:"lists,omitempty"`  // where they are not the built-in ones, easiest first
	CustomDimensions []Dimension      `json:"own,omitempty"`    // of the practice, as far as this step uses them
	Vary             []Key            `json:"vary,omitempty"`   // asked for in varied measure, trial by trial
	Trig             string           `json:"trig,omitempty"`   // what the trigger is: "gulls"
	Text             string           `json:"text,omitempty"`   // anything the figures do not say
}

// Get returns a dimension's figure, 0 where it is no part of the step.
func (c Criteria) Get(key Key) float64 { return c.Values[key] }

// Has tells whether the dimension is part of the step.
func (c Criteria) Has(key Key) bool {
	_, ok := c.Values[key]
	return ok
}

// Dimension returns a dimension as this step has it: with its own list of words.
func (c Criteria) Dimension(key Key) (Dimension, bool) {
	d, ok := Find(key)
	if !ok {
		at := slices.IndexFunc(c.CustomDimensions, func(d Dimension) bool { return d.Key == key })
		if at < 0 {
			return d, false
		}
		d = c.CustomDimensions[at]
	}
	if items := c.Lists[key]; len(items) > 0 && d.IsList() {
		d.Items = items
	}
	return d, true
}

// Asked lists the dimensions that the step has, in the order in which pages show them.
func (c Criteria) Asked() []Dimension {
	var room few
	keys := sorted(room[:0], c, Criteria{})
	list := make([]Dimension, 0, len(keys))
	for _, key := range keys {
		if d, ok := c.Dimension(key); ok {
			list = append(list, d)
		}
	}
	return list
}

// Item is the word behind a list's figure, "" where it is no part of the step.
func (c Criteria) Item(key Key) string {
	d, ok := c.Dimension(key)
	if !ok || !c.Has(key) {
		return ""
	}
	return Units{}.Show(d, c.Get(key))
}

// With returns a copy with one figure changed.
func (c Criteria) With(key Key, value float64) Criteria {
	values := make(map[Key]float64, len(c.Values)+1)
	for k, v := range c.Values {
		values[k] = v
	}
	values[key] = value
	c.Values = values
	return c
}

// WithDimension returns a copy with one figure changed, and the list or the own dimension that it
// belongs to.
func (c Criteria) WithDimension(d Dimension, value float64) Criteria {
	c = c.With(d.Key, value)
	known, standard := Find(d.Key)
	switch {
	case !standard:
		own := slices.DeleteFunc(slices.Clone(c.CustomDimensions), func(o Dimension) bool { return o.Key == d.Key })
		c.CustomDimensions = append(own, d)
	case d.IsList():
		lists := make(map[Key][]string, len(c.Lists)+1)
		for k, items := range c.Lists {
			lists[k] = items
		}
		delete(lists, d.Key)
		if !slices.Equal(d.Items, known.Items) {
			lists[d.Key] = d.Items
		}
		if c.Lists = lists; len(lists) == 0 {
			c.Lists = nil
		}
	}
	return c
}

// Over returns a copy in which whatever another step says replaces what this one says.
func (c Criteria) Over(other Criteria) Criteria {
	values := make(map[Key]float64, len(c.Values)+len(other.Values))
	for k, v := range c.Values {
		values[k] = v
	}
	for k, v := range other.Values {
		values[k] = v
	}
	c.Values = values
	for _, k := range slices.Sorted(maps.Keys(other.Values)) { // in one order, whatever the map's: it is the order of own dimensions
		if d, ok := other.Dimension(k); ok && (d.IsList() || c.Lists[k] != nil || len(other.CustomDimensions) > 0) {
			c = c.WithDimension(d, other.Get(k))
		}
	}
	if other.Trig != "" {
		c.Trig = other.Trig
	}
	return c
}

// Without returns a copy without one dimension.
func (c Criteria) Without(key Key) Criteria {
	c = c.With(key, 0)
	delete(c.Values, key)
	c.CustomDimensions = slices.DeleteFunc(slices.Clone(c.CustomDimensions), func(o Dimension) bool { return o.Key == key })
	if len(c.CustomDimensions) == 0 {
		c.CustomDimensions = nil
	}
	return c
}

// Equal tells whether two steps ask the same.
func (c Criteria) Equal(other Criteria) bool {
	if c.Trig != other.Trig || c.Text != other.Text || len(c.Values) != len(other.Values) || !slices.Equal(c.Vary, other.Vary) {
		return false
	}
	for k, v := range c.Values {
		if w, ok := other.Values[k]; !ok || w != v {
			return false
		}
		a, _ := c.Dimension(k)
		b, _ := other.Dimension(k)
		if !slices.Equal(a.Items, b.Items) {
			return false
		}
	}
	return true
}

// Longest texts, in characters.
const (
	MaxName = 80
	MaxText = 500
	MaxNote = 10000
)

// Problem is what is wrong with a field.
type Problem struct{ Field, Text string }

// Check lists what is wrong with the step.
func (c Criteria) Check() []Problem {
	var problems []Problem
	add := func(field, text string) { problems = append(problems, Problem{field, text}) }
	for key, value := range c.Values {
		d, known := c.Dimension(key)
		if !known {
			add(string(key), fmt.Sprintf("There is no dimension called “%s”.", key))
		} else if text := d.Check(value); text != "" {
			add(string(key), text)
		}
	}
	for key, items := range c.Lists {
		problems = append(problems, CheckItems(string(key), items)...)
	}
	if len(c.CustomDimensions) > MaxCustomDimensions {
		add("text", fmt.Sprintf("At most %d dimensions of your own.", MaxCustomDimensions))
	}
	for _, d := range c.CustomDimensions {
		for _, p := range d.CheckOwn() {
			add(string(d.Key), p.Text)
		}
	}
	for _, key := range c.Vary {
		if d, ok := c.Dimension(key); !ok || !c.Has(key) || !Varies(d) {
			add("vary", "Only what the step asks for can vary, and only figures, directions and sides.")
		}
	}
	if len(c.Values) == 0 && strings.TrimSpace(c.Text) == "" {
		add("text", "A step asks for something: a figure, or a few words.")
	}
	if utf8.RuneCountInString(c.Text) > MaxText {
		add("text", fmt.Sprintf("At most %d characters.", MaxText))
	}
	if utf8.RuneCountInString(c.Trig) > MaxName {
		add("trig", fmt.Sprintf("At most %d characters.", MaxName))
	}
	if c.Get(Intensity) == 0 && !c.Has(Trigger) && c.Get(Moving) > 0 {
		add("moving", "Nothing can move where there is no trigger: give its distance or its strength.")
	}
	return problems
}

// Varies tells whether a dimension can be varied trial by trial: what is measured or counted upwards,
// and lists without an order, whose words are then shuffled evenly.
func Varies(d Dimension) bool {
	switch d.Scale {
	case Unranked:
		return true
	case Measure, Rank:
		return d.Harder > 0 && d.Key != Intensity && d.Key != Novelty
	}
	return false
}
