package shell

import (
	"context"
	"errors"
	"strings"

	"github.com/gofiber/fiber/v3"

	"patientfox/core/reinforce"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
)

// Form is a form as it was typed, with what is wrong beside each field.
type Form struct {
	Name     string // where a page has several: keeps the ids of their fields apart
	Typed    form.Typed
	Problems map[string]string
	Changed  bool       // somebody changed the same thing meanwhile
	Now      form.Typed // what it says now, where Changed
	Unsaved  string     // why nothing can be saved just now, "" where something can
}

// Again tells whether the form is shown again, because it could not be saved.
func (f Form) Again() bool { return len(f.Problems) > 0 || f.Changed || f.Unsaved != "" }

// Field is one field of a form.
type Field struct {
	ID, Name, Label, Value, Problem, Hint, Type, Mode, Unit, List, Now string
	Rows                                                               int
	Required                                                           bool
}

// newField makes a field for a template: field . "name" "Label" "hint=…" "unit=s" "rows=3".
func newField(f Form, name, label string, options ...string) Field {
	id := name
	if f.Name != "" {
		id = f.Name + "-" + name
	}
	field := Field{ID: id, Name: name, Label: label, Value: f.Typed[name], Problem: f.Problems[name], Type: "text"}
	if f.Changed && f.Now[name] != f.Typed[name] {
		field.Now = f.Now[name]
	}
	for _, option := range options {
		key, value, _ := strings.Cut(option, "=")
		switch key {
		case "hint":
			field.Hint = value
		case "type":
			field.Type = value
		case "mode":
			field.Mode = value
		case "unit":
			field.Unit = value
		case "list":
			field.List = value
		case "rows":
			field.Rows = int(value[0] - '0')
		case "required":
			field.Required = true
		}
	}
	return field
}

// Choice is one field with a list to choose from.
type Choice struct {
	Field
	Options []Option
}

// Option is one entry of a list: what is sent, and what is read.
type Option struct{ Value, Label string }

// newChoice makes a choice for a template: choice . "name" "Label" list "hint=…". Lists are of options or
// of plain words.
func newChoice(f Form, name, label string, list any, options ...string) Choice {
	c := Choice{Field: newField(f, name, label, options...)}
	switch list := list.(type) {
	case []Option:
		c.Options = list
	case []string:
		for _, word := range list {
			c.Options = append(c.Options, Option{word, word})
		}
	case []reinforce.Named:
		for _, one := range list {
			c.Options = append(c.Options, Option{one.Code, one.Label})
		}
	case []app.Named:
		for _, one := range list {
			c.Options = append(c.Options, Option{one.ID, one.Name})
		}
	}
	return c
}

// Dim is one dimension in a form: a figure or a word of its list, and whether it varies.
type Dim struct {
	app.StepDim
	Field  Field
	Choice Choice
	Vary   bool
}

func newDim(f Form, d app.StepDim) Dim {
	return Dim{
		StepDim: d, Field: newField(f, d.Key, d.Label, "unit="+d.Unit, "mode=text", "hint="+d.Hint),
		Choice: newChoice(f, d.Key, d.Label, d.Items, "hint="+d.Hint), Vary: f.Typed["vary_"+d.Key] != "",
	}
}

// Typed reads the fields of a posted form, as they were typed.
func Typed(c fiber.Ctx) form.Typed {
	typed := form.Typed{}
	for key, value := range c.Request().PostArgs().All() {
		typed[string(key)] = string(value)
	}
	return typed
}

// Problems turns what a use case says of a form into the form to show again, and its status. ok is
// false where the error is of another sort.
func Problems(typed form.Typed, err error) (again Form, status int, ok bool) {
	var invalid *form.Invalid
	var conflict *form.Conflict
	switch {
	case errors.As(err, &invalid):
		return Form{Typed: typed, Problems: invalid.Problems}, fiber.StatusUnprocessableEntity, true
	case errors.As(err, &conflict):
		// What was typed stays; saving again is done knowing what the other wrote.
		typed["version"] = conflict.Now["version"]
		return Form{Typed: typed, Changed: true, Now: conflict.Now}, fiber.StatusConflict, true
	}
	if text, status := whyUnsaved(err); status != 0 {
		return Form{Typed: typed, Unsaved: text}, status, true
	}
	return Form{}, 0, false
}

// See answers a post that was done: the browser goes on to a page, so that reloading posts nothing.
func See(c fiber.Ctx, path string) error {
	return c.Redirect().Status(fiber.StatusSeeOther).To(path)
}

// Save is a use case that saves a form of something with an id.
type Save func(ctx context.Context, id string, t form.Typed) error
