package plans

import (
	"context"
	"fmt"
	"strconv"

	"patientfox/core/library"
	"patientfox/core/progression"
	"patientfox/core/work"
	"patientfox/internal/app/form"
)

// errorsForm is a plan's errors as its form has them, a numbered field each.
func errorsForm(errors []work.Error) form.Typed {
	typed := form.Typed{}
	for i, e := range errors {
		n := strconv.Itoa(i + 1)
		typed["error"+n] = e.Name
		if e.Spoils {
			typed["spoils"+n] = "on"
		}
	}
	return typed
}

// SaveDecoys changes how many of the movements towards the dog are decoys.
func (p *Cases) SaveDecoys(ctx context.Context, plan string, t form.Typed) error {
	ps := form.Problems{}
	says := fmt.Sprintf("One in 2 to %d, or 0 for none.", library.MaxDecoyIn)
	in := ps.Whole(t, "decoy_in", 0, library.MaxDecoyIn, says)
	if t.Text("decoy_in") == "" {
		ps.Add("decoy_in", says)
	}
	if err := ps.Err(); err != nil {
		return err
	}
	return p.ChangePlan(ctx, plan, t, "decoys", func(b *library.Body, steps []progression.Step) ([]progression.Step, error) {
		b.DecoyIn = &in
		return steps, nil
	})
}

// SaveRest changes how long the dog works before it rests.
func (p *Cases) SaveRest(ctx context.Context, plan string, t form.Typed) error {
	ps := form.Problems{}
	says := fmt.Sprintf("From half a minute to %d minutes, or 0 for no bound.", library.MaxRestMin)
	minutes := ps.Number(t, "rest_min", 0, library.MaxRestMin, says)
	if t.Text("rest_min") == "" {
		ps.Add("rest_min", says)
	}
	if err := ps.Err(); err != nil {
		return err
	}
	return p.ChangePlan(ctx, plan, t, "rest", func(b *library.Body, steps []progression.Step) ([]progression.Step, error) {
		b.RestMin = &minutes
		return steps, nil
	})
}

// SaveErrors changes the errors that have a key after a trial: up to work.MaxErrors, in the order of their fields.
func (p *Cases) SaveErrors(ctx context.Context, plan string, t form.Typed) error {
	errors := []work.Error{} // none is something that can be said
	for i := range work.MaxErrors {
		n := strconv.Itoa(i + 1)
		if name := t.Text("error" + n); name != "" {
			errors = append(errors, work.Error{Name: name, Spoils: t["spoils"+n] != ""})
		}
	}
	return p.ChangePlan(ctx, plan, t, "errors", func(b *library.Body, steps []progression.Step) ([]progression.Step, error) {
		b.Errors = errors
		return steps, nil
	})
}
