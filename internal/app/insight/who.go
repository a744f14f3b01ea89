package insight

import (
	"context"
	"fmt"
	"slices"
	"strconv"

	"patientfox/core/evidence"
	"patientfox/core/say"
	"patientfox/core/trial"
	"patientfox/internal/app"
	"patientfox/internal/store"
)

// roles are what somebody beside the handler did in a trial.
var roles = []struct {
	by string
	of func(*trial.Trial) string
}{
	{"held by ", func(t *trial.Trial) string { return t.Holds }},
	{"fed by ", func(t *trial.Trial) string { return t.Feeds }},
}

func nameOf(people []store.Person, id string) string {
	for _, person := range people {
		if person.ID == id {
			return person.Name
		}
	}
	return "somebody who is not in the list"
}

// compared are the tags, places and people that some sessions had and others had not, and which had them.
func (a *account) compared(people []store.Person) (names []string, with map[string]map[string]bool) {
	all, with := a.taggedSessions()
	has := func(name, session string) {
		if with[name] == nil {
			with[name] = map[string]bool{}
			all = append(all, name)
		}
		with[name][session] = true
	}
	for _, person := range people {
		for _, b := range a.Blocks {
			if b.Handler == person.ID {
				has("handled by "+person.Name, b.Session)
			}
		}
		for _, role := range roles {
			for i := range a.Evidence {
				if t := &a.Evidence[i]; role.of(t) == person.ID {
					has(role.by+person.Name, t.Session)
				}
			}
		}
	}
	for _, name := range all {
		if len(with[name]) < len(a.Sessions) {
			names = append(names, name)
		}
	}
	return names, with
}

// handlerSection is how it went with each handler, and with who held the dog and who fed it. It counts, and claims no difference.
func (a *account) handlerSection(people []store.Person) app.Section {
	s := app.Section{Key: "handlers", Title: "Who handled"}
	keys, tallies := evidence.TallyBy(a.Evidence, func(t *trial.Trial) string { return t.Handler })
	if len(keys) == 0 {
		return s
	}
	t := &app.Table{Key: "handlers", Title: "By handler", Head: []string{"Handler", "Trials", "Strict", "Lenient", "Highest step"}}
	for _, key := range keys {
		name := nameOf(people, key)
		strict, lenient := shares(tallies[key])
		if len(keys) > 1 {
			s.Rates = append(s.Rates, app.RateRow{Label: name, Rates: []app.Rate{app.RateOf("", tallies[key])}})
		}
		highest := -1
		for i := range a.Evidence {
			one := &a.Evidence[i]
			if one.Handler == key && one.Outcome == trial.Met && one.Counted() {
				highest = max(highest, a.At[i])
			}
		}
		t.Add(name, strconv.Itoa(tallies[key].N()), strict, lenient, stepNumber(highest))
	}
	s.Table = t
	for _, role := range roles {
		helpers, tallies := evidence.TallyBy(a.Evidence, role.of)
		for _, key := range helpers {
			s.Lines = append(s.Lines, fmt.Sprintf("%s: %d of %d.", say.Upper(role.by+nameOf(people, key)), tallies[key].Met, tallies[key].N()))
		}
	}
	if len(keys) == 1 {
		s.Lines = []string{"One handler so far. A skill shown for one person has been taught for one person."}
	}
	return s
}

// Whose are the handlers of whom a page can be.
type Whose struct {
	Handlers []app.Named // who has a way of their own on the plan, the main one first; nil where nobody else has
	With     app.Named   // of whose sessions alone it is, none for all
}

// handled lists who has a way of their own on the plan, and makes the account that of the one with an id alone.
func (a *account) handled(ctx context.Context, q store.Q, with string) (w Whose, err error) {
	if main := a.MainLevel(); !slices.ContainsFunc(a.Blocks, func(b store.Block) bool { return b.Level != main }) {
		return w, nil
	}
	people, err := q.Handlers(ctx, a.ID)
	if err != nil {
		return w, err
	}
	for _, who := range people {
		switch named := (app.Named{ID: who.ID, Name: who.Name}); {
		case who.ID == a.MainHandler:
			w.Handlers = append([]app.Named{named}, w.Handlers...)
		case who.StepAt >= 0:
			w.Handlers = append(w.Handlers, named)
			if who.ID == with {
				w.With = named
			}
		}
	}
	if w.With.ID == "" {
		return w, nil
	}
	if _, err := a.GoesTo(ctx, q, w.With.ID); err != nil {
		return w, err
	}
	a.Only(a.MainLevel())
	return w, nil
}
