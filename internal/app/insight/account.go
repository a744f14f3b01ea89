package insight

import (
	"context"
	"encoding/json"
	"slices"

	"patientfox/core/trial"
	"patientfox/internal/app"
	"patientfox/internal/store"
)

// account is what the record holds of one plan, as the sections of its pages are made of it.
type account struct{ app.Account }

func (p *Cases) account(ctx context.Context, q store.Q, plan string) (account, error) {
	a, err := p.Account(ctx, q, plan)
	return account{a}, err
}

// coverageOf adds up what was logged and what was not in the blocks of some trials.
func (a *account) coverageOf(trials []trial.Trial) (logged, unlogged int) {
	in, last := map[string]bool{}, ""
	for i := range trials {
		if block := trials[i].Block; block != last {
			in[block], last = true, block
		}
	}
	for _, b := range a.Blocks {
		if in[b.ID] {
			logged, unlogged = logged+b.Logged, unlogged+b.Unlogged
		}
	}
	return logged, unlogged
}

// tagsOf are a session's tags.
func tagsOf(s store.Session) []string {
	var tags []string
	if json.Unmarshal([]byte(s.Tags), &tags) != nil {
		return nil
	}
	return tags
}

// taggedSessions are the sessions with each tag; the place is one of them.
func (a *account) taggedSessions() (names []string, with map[string]map[string]bool) {
	with = map[string]map[string]bool{}
	for _, s := range a.Sessions {
		tags := tagsOf(s)
		if s.Where != "" {
			tags = append(tags, s.Where)
		}
		for _, tag := range tags {
			if with[tag] == nil {
				with[tag] = map[string]bool{}
				names = append(names, tag)
			}
			with[tag][s.ID] = true
		}
	}
	return names, with
}

// tracks are the plans that climb the same ladder, this one first.
func (a *account) tracks() []app.Plan {
	var list []app.Plan
	for _, one := range a.OfDog {
		if one.Main == a.Main {
			list = append(list, one)
		}
	}
	slices.SortStableFunc(list, func(x, y app.Plan) int {
		return app.BoolInt(y.ID == a.ID) - app.BoolInt(x.ID == a.ID)
	})
	return list
}
