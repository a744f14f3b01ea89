package criteria

import (
	"fmt"
	"strings"
	"unicode/utf8"
)

// Criteria is what one step asks. A dimension that is not in Values is no part of the step.
type Criteria struct {
	Values map[Key]float64 `json:"values,omitempty"` // SI units: s, m
	Trig   string          `json:"trig,omitempty"`   // what the trigger is: "gulls"
	Text   string          `json:"text,omitempty"`   // anything the figures do not say
}

// Get returns a dimension's figure, 0 where it is no part of the step.
func (c Criteria) Get(key Key) float64 { return c.Values[key] }

// Has tells whether the dimension is part of the step.
func (c Criteria) Has(key Key) bool {
	_, ok := c.Values[key]
	return ok
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

// Equal tells whether two steps ask the same.
func (c Criteria) Equal(other Criteria) bool {
	if c.Trig != other.Trig || c.Text != other.Text || len(c.Values) != len(other.Values) {
		return false
	}
	for k, v := range c.Values {
		if w, ok := other.Values[k]; !ok || w != v {
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

// Problem is something that cannot stand, with the field it belongs to.
type Problem struct{ Field, Text string }

// Check says what in the step cannot stand.
func (c Criteria) Check() []Problem {
	var problems []Problem
	for key, value := range c.Values {
		d, known := Find(key)
		if !known {
			problems = append(problems, Problem{string(key), fmt.Sprintf("There is no dimension called “%s”.", key)})
		} else if text := d.Check(value); text != "" {
			problems = append(problems, Problem{string(key), text})
		}
	}
	if len(c.Values) == 0 && strings.TrimSpace(c.Text) == "" {
		problems = append(problems, Problem{"text", "A step asks for something: a figure, or a few words."})
	}
	if utf8.RuneCountInString(c.Text) > MaxText {
		problems = append(problems, Problem{"text", fmt.Sprintf("At most %d characters.", MaxText)})
	}
	if utf8.RuneCountInString(c.Trig) > MaxName {
		problems = append(problems, Problem{"trig", fmt.Sprintf("At most %d characters.", MaxName)})
	}
	if c.Get(Intensity) == 0 && !c.Has(Trigger) && c.Get(Moving) > 0 {
		problems = append(problems, Problem{"moving", "Nothing can move where there is no trigger: give its distance or its strength."})
	}
	return problems
}

// Changed lists the dimensions in which to differs from from: those that got harder and those that
// got easier. A dimension that one of them lacks is easiest there: a new one is harder, whatever its
// figure, except a figure of 0.
func Changed(from, to Criteria) (harder, easier []Dimension) {
	for _, d := range Dimensions {
		a, hadA := from.Values[d.Key]
		b, hadB := to.Values[d.Key]
		switch {
		case hadA == hadB && a == b, !hadA && b == 0 && d.Harder > 0, !hadB && a == 0 && d.Harder > 0:
		case !hadA, hadB && (b-a)*float64(d.Harder) > 0:
			harder = append(harder, d)
		default:
			easier = append(easier, d)
		}
	}
	return harder, easier
}
