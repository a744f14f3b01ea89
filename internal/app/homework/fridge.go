package homework

import (
	"context"
	"slices"
	"strconv"
	"strings"

	"patientfox/core/criteria"
	"patientfox/core/homework"
	"patientfox/core/library"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/store"
)

// Fridge is a sheet that hangs where everybody sees it: the dog's words, and what holds in its house.
type Fridge struct {
	ID, Dog   string
	Household string
	Away      bool
	Words     []homework.Word
	Conflicts []homework.Conflict
	Marker    []string // what marks, where any skill says so
	Rules     []Rules
	Instead   []library.Instead
	Flags     []string
	Call      []string
	Form      form.Typed
}

// Rules are those of one sort.
type Rules struct {
	Sort  string
	Lines []string
}

// Fridge reads the sheet of a dog.
func (p *Cases) Fridge(ctx context.Context, dog string) (v Fridge, err error) {
	err = p.Store.Snapshot(ctx, func(q store.Q) error {
		s, row, err := p.WithDog(ctx, q, dog)
		if err != nil {
			return err
		}
		plans, err := app.DogsPlans(ctx, q, dog, s.Words())
		if err != nil {
			return err
		}
		house, err := q.HouseOf(ctx, dog)
		if err != nil {
			return err
		}
		v = Fridge{
			ID: dog, Dog: row.Name, Household: row.Household, Away: row.Deleted != nil, Flags: linesOf(row.Flags), Call: callOf(house),
			Rules: rulesOf(house), Form: typedHouse(house),
		}
		for _, l := range plans {
			word := homework.WordOf(l.SkillName, l.Def)
			if word.Spoken+word.Signal != "" && !slices.Contains(v.Words, word) { // the tracks of a skill have one
				v.Words = append(v.Words, word)
			}
			if marker := strings.TrimSpace(l.Def.Marker); marker != "" && !slices.Contains(v.Marker, marker) {
				v.Marker = append(v.Marker, marker)
			}
			for _, one := range l.Body.Management {
				if !slices.Contains(v.Instead, one) {
					v.Instead = append(v.Instead, one)
				}
			}
		}
		theirs, err := housemates(ctx, q, row, v.Words)
		v.Conflicts = homework.Conflicts(slices.Concat(v.Words, theirs))
		return err
	})
	return v, err
}

// housemates are the words for skills that other dogs of the household have and this one does not: people say them in one kitchen.
func housemates(ctx context.Context, q store.Q, dog store.Dog, own []homework.Word) (words []homework.Word, err error) {
	ids, err := q.Housemates(ctx, dog.ID, dog.Household)
	if err != nil || len(ids) == 0 {
		return nil, err
	}
	plans, err := q.Plans(ctx, ids, app.PlansLooked)
	for _, l := range plans {
		if slices.ContainsFunc(own, func(w homework.Word) bool { return w.Skill == l.SkillName }) {
			continue
		}
		var def criteria.Definition
		if err := store.FromJSON(l.DefBody, &def); err != nil {
			return nil, err
		}
		words = append(words, homework.WordOf(l.SkillName+", with "+l.DogName, def))
	}
	return words, err
}

// rulesOf are the rules of a house that has any, the strictest first.
func rulesOf(h store.House) (rules []Rules) {
	for _, one := range []struct{ sort, text string }{{"Never", h.Never}, {"When invited", h.Invited}, {"Always", h.Always}} {
		if lines := linesOf(one.text); len(lines) > 0 {
			rules = append(rules, Rules{one.sort, lines})
		}
	}
	return rules
}

// linesOf are the lines of a text in which something stands.
func linesOf(text string) (list []string) {
	for line := range strings.Lines(text) {
		if line = strings.TrimSpace(line); line != "" {
			list = append(list, line)
		}
	}
	return list
}

func typedHouse(h store.House) form.Typed {
	return form.Typed{"never": h.Never, "invited": h.Invited, "always": h.Always, "version": strconv.Itoa(h.Version)}
}

// SaveHouse changes the rules of a dog's house, a line each.
func (p *Cases) SaveHouse(ctx context.Context, dog string, t form.Typed) error {
	if _, _, err := p.WithDog(ctx, p.Store.Read(), dog); err != nil {
		return err
	}
	ps := form.Problems{}
	h := store.House{
		Dog: dog, Never: ps.Text("never", t["never"], criteria.MaxText), Invited: ps.Text("invited", t["invited"], criteria.MaxText),
		Always: ps.Text("always", t["always"], criteria.MaxText),
	}
	if err := ps.Err(); err != nil {
		return err
	}
	h.Version, _ = strconv.Atoi(t.Text("version"))
	return p.Store.Write(ctx, func(q store.Q) error {
		was, err := q.HouseOf(ctx, dog)
		if err != nil {
			return err
		}
		ok, err := q.SetHouse(ctx, h)
		if err == nil && !ok {
			return &form.Conflict{Now: typedHouse(was)}
		}
		return err
	})
}
