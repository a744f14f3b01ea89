package plans

import (
	"context"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"patientfox/core/criteria"
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

// deckForm is a plan's deck as its form has it: figures with commas between, in the practice's units.
func deckForm(deck library.Deck, units criteria.Units) form.Typed {
	typed := form.Typed{}
	for _, key := range library.DeckKeys {
		d, _ := criteria.Find(key)
		var figures []string
		for _, x := range deck[key] {
			figures = append(figures, units.Show(d, x))
		}
		typed["deck_"+string(key)] = strings.Join(figures, ", ")
	}
	return typed
}

// SaveDeck changes the figures that can be mixed in a session, a line a dimension with commas between.
func (p *Cases) SaveDeck(ctx context.Context, plan string, t form.Typed) error {
	s, err := p.Profile(ctx, p.Store.Read())
	if err != nil {
		return err
	}
	ps, deck := form.Problems{}, library.Deck{}
	for _, key := range library.DeckKeys {
		d, _ := criteria.Find(key)
		field := "deck_" + string(key)
		for _, word := range form.Listed(t[field]) {
			x, said, problem := s.Units().Parse(d, word)
			switch {
			case problem != "":
				ps.Add(field, problem)
			case said && !slices.Contains(deck[key], x):
				deck[key] = append(deck[key], x)
			}
		}
	}
	if err := ps.Err(); err != nil {
		return err
	}
	return p.ChangePlan(ctx, plan, t, "deck", func(b *library.Body, steps []progression.Step) ([]progression.Step, error) {
		b.Deck = deck
		return steps, nil
	})
}

// SaveEngaged changes what an engaged dog looks like, a line each; nothing is as usual.
func (p *Cases) SaveEngaged(ctx context.Context, plan string, t form.Typed) error {
	var lines []string
	for _, line := range strings.Split(t["engaged"], "\n") {
		if line = strings.TrimSpace(line); line != "" && !slices.Contains(lines, line) {
			lines = append(lines, line)
		}
	}
	return p.ChangePlan(ctx, plan, t, "engaged", func(b *library.Body, steps []progression.Step) ([]progression.Step, error) {
		b.Engaged = lines
		return steps, nil
	})
}

// phasesForm is a plan's phases as its form has them.
func phasesForm(phases []work.Phase) form.Typed {
	typed := form.Typed{}
	for i, p := range phases {
		n := strconv.Itoa(i + 1)
		if typed["phase"+n] = p.Name; p.Seconds > 0 {
			typed["phase_s"+n] = criteria.Figure(p.Seconds)
		}
		for field, is := range map[string]bool{"phase_step": p.Step, "phase_meal": p.Meal} {
			if is {
				typed[field] = n
			}
		}
	}
	return typed
}

// SavePhases changes the parts of a trial: none, or two to work.MaxPhases, in the order of their fields.
func (p *Cases) SavePhases(ctx context.Context, plan string, t form.Typed) error {
	ps := form.Problems{}
	var phases []work.Phase
	for i := range work.MaxPhases {
		n := strconv.Itoa(i + 1)
		one := work.Phase{Name: t.Text("phase" + n), Step: t.Text("phase_step") == n, Meal: t.Text("phase_meal") == n}
		if t.Text("phase_s"+n) != "" {
			one.Seconds = ps.Number(t, "phase_s"+n, 0, 7200, "Seconds, 0 to 7200.")
			if one.Name == "" {
				ps.Add("phase"+n, "Give the phase a name.")
			}
			if one.Step {
				ps.Add("phase_s"+n, "This one lasts as long as the step asks.")
			}
		}
		if (one.Step || one.Meal) && one.Name == "" {
			ps.Add(map[bool]string{true: "phase_step", false: "phase_meal"}[one.Step], "This phase has no name.")
		}
		for _, earlier := range phases {
			if strings.EqualFold(one.Name, earlier.Name) {
				one.Name = earlier.Name // a door that opens twice: one phase in the tables
			}
		}
		if one.Name != "" {
			phases = append(phases, one)
		}
	}
	if err := ps.Err(); err != nil {
		return err
	}
	return p.ChangePlan(ctx, plan, t, "phases", func(b *library.Body, steps []progression.Step) ([]progression.Step, error) {
		b.Phases = phases
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
