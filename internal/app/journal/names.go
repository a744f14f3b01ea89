package journal

import (
	"context"
	"encoding/json"
	"fmt"
	"strings"

	"patientfox/core/library"
	"patientfox/core/phrase"
	"patientfox/core/progression"
	"patientfox/core/say"
	"patientfox/internal/app"
	"patientfox/internal/derive"
	"patientfox/internal/store"
)

// names are what the ids in entries are called, and what versions hold that entries only name. They belong to one page.
type names struct {
	s            app.Profile
	people, dogs map[string]string
	called       map[string]string       // whatever else has a name, by its id
	book         derive.Book             // of plans and definitions of which versions were made
	bodies       map[string]library.Body // of the plans, by plan and version, "id/2"
}

// known names dogs and people, those who left and were archived too, and lists them.
func (n *names) known(ctx context.Context, q store.Q) (dogs, people []app.Named, err error) {
	everybody, err := q.Everybody(ctx)
	if err != nil {
		return nil, nil, err
	}
	n.people, n.dogs = map[string]string{}, map[string]string{}
	for _, one := range everybody {
		n.people[one.ID] = one.Name
		people = append(people, app.Named{ID: one.ID, Name: one.Name})
	}
	all, err := q.DogNames(ctx)
	for _, one := range all {
		n.dogs[one.ID] = one.Name
		dogs = append(dogs, app.Named{ID: one.ID, Name: one.Name})
	}
	return dogs, people, err
}

func (n *names) person(id string) string {
	if id == "" {
		return "nobody"
	}
	if name := n.people[id]; name != "" {
		return name
	}
	return "somebody unknown"
}

// plan is a plan's skill and track.
func (n *names) plan(id string) string { return quoted(n.called[id]) }

// load reads what entries name.
func (n *names) load(ctx context.Context, q store.Q, entries []store.Entry) error {
	var ids, changed []string // and plans of which versions were made
	redefined := map[string]bool{}
	for _, e := range entries {
		for _, row := range []values{read(e.Was), read(e.Became)} {
			for _, column := range []string{"plan", "reward", "task", "class", "place"} {
				if id := row.text(column); id != "" {
					ids = append(ids, id)
				}
			}
		}
		first, _, _ := strings.Cut(e.ID, "/")
		ids = append(ids, first)
		switch e.What {
		case "plan_versions":
			changed = append(changed, first)
		case "definitions":
			redefined[first] = true
		}
	}
	n.called = map[string]string{}
	if len(ids) == 0 {
		return nil
	}
	called, err := q.Called(ctx, ids)
	if err != nil {
		return err
	}
	for _, one := range called {
		switch {
		case one.What != "plan of":
			n.called[one.ID] = one.Name
		case redefined[one.ID]:
			changed = append(changed, one.Name)
		}
	}
	return n.loadVersions(ctx, q, changed)
}

func (n *names) loadVersions(ctx context.Context, q store.Q, plans []string) (err error) {
	n.bodies = map[string]library.Body{}
	if len(plans) == 0 {
		return nil
	}
	if n.book, err = derive.ReadBook(ctx, q, plans); err != nil {
		return err
	}
	bodies, err := q.BodiesOf(ctx, plans)
	if err != nil {
		return err
	}
	for _, row := range bodies {
		var body library.Body
		if err := json.Unmarshal([]byte(row.Body), &body); err != nil {
			return err
		}
		n.bodies[versionID(row.Plan, row.Version)] = body
	}
	return nil
}

func versionID(id string, version int) string { return fmt.Sprintf("%s/%d", id, version) }

// redefined says what a version of a definition changed.
func (n *names) redefined(row values) string {
	skill, v := row.text("skill"), int(row.number("version"))
	_, was := n.book.Work(skill, v-1)
	kind, now := n.book.Work(skill, v)
	return phrase.DefinitionChange(kind, was, now)
}

// replanned lists what a version of a plan changed.
func (n *names) replanned(row values) (said []string) {
	plan, v := row.text("plan"), int(row.number("version"))
	was, now := n.book.Steps(plan, v-1), n.book.Steps(plan, v)
	words := n.s.Words()
	for i, step := range now {
		before := progression.Index(was, step.ID)
		if before < 0 {
			said = append(said, fmt.Sprintf("step %d added: %s", i+1, words.Step(step.Criteria)))
		} else if from, to := words.Step(was[before].Criteria), words.Step(step.Criteria); from != to {
			said = append(said, fmt.Sprintf("step %d changed from %s to %s", i+1, quoted(from), quoted(to)))
		}
	}
	for i, step := range was {
		if progression.Index(now, step.ID) < 0 {
			said = append(said, fmt.Sprintf("step %d taken out: %s", i+1, words.Step(step.Criteria)))
		}
	}
	before, after := n.bodies[versionID(plan, v-1)], n.bodies[versionID(plan, v)]
	if from, to := phrase.Rule(before.Rule), phrase.Rule(after.Rule); from != to {
		said = append(said, fmt.Sprintf("rule changed from %s to %s", quoted(from), quoted(to)))
	}
	from, to := strings.Join(phrase.Strategy(before.Pay, 1), " "), strings.Join(phrase.Strategy(after.Pay, 1), " ")
	if from != to {
		said = append(said, fmt.Sprintf("reinforcement changed from %s to %s", quoted(from), quoted(to)))
	}
	return append(said, rest(before, after)...)
}

// rest names what else of a plan differs.
func rest(was, now library.Body) (said []string) {
	for _, part := range []struct {
		is       string
		was, now any
	}{
		{"rules of single steps", was.StepRules, now.StepRules}, {"reinforcement of single steps", was.StepPay, now.StepPay},
		{"errors on keys", was.Errors, now.Errors}, {"phases", was.Phases, now.Phases}, {"signs of engagement", was.Engaged, now.Engaged},
		{"deck", was.Deck, now.Deck}, {"rest", was.RestMin, now.RestMin}, {"decoys", was.DecoyIn, now.DecoyIn},
		{"prerequisites", was.Needs, now.Needs}, {"management", was.Management, now.Management}, {"cue", was.Cueing, now.Cueing},
		{"what is put away", was.Props, now.Props}, {"method", was.Method, now.Method}, {"cautions", was.Cautions, now.Cautions},
	} {
		if store.JSON(part.was) != store.JSON(part.now) {
			said = append(said, part.is)
		}
	}
	if len(said) == 0 {
		return nil
	}
	return []string{say.List(said) + " changed"}
}
