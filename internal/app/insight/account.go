package insight

import (
	"context"
	"encoding/json"
	"slices"

	"patientfox/core/evidence"
	"patientfox/core/record"
	"patientfox/core/trial"
	"patientfox/internal/app"
	"patientfox/internal/store"
)

// account is all that the record holds of one plan: what its pages of evidence and progress read.
type account struct {
	app.Profile
	app.Plan
	app.History
	dog       []app.Plan    // all plans of the dog, this one too
	trials    []trial.Trial // of history, in the same order; of a step that is gone, without it
	at        []int         // the index of each one's step, below 0 where it is gone
	here      []trial.Trial // of the stretch at the reached step
	today     string
	order     map[string]int // of sessions
	logged    int            // of the blocks
	unlogged  int
	offers    int // behaviour offered without a cue
	baselines map[string]bool
}

// account brings the record up to date and loads it for one plan.
func (p *Cases) account(ctx context.Context, q store.Q, plan string) (a account, err error) {
	if a.Profile, err = p.Profile(ctx, q); err != nil {
		return a, err
	}
	if a.Plan, a.dog, err = app.Besides(ctx, q, plan, a.Profile.Words()); err != nil {
		return a, err
	}
	if a.Sessions, err = q.SessionsOfPlan(ctx, plan); err != nil {
		return a, err
	}
	if a.Blocks, err = q.BlocksOfPlans(ctx, []string{plan}); err != nil {
		return a, err
	}
	if a.History.Trials, err = q.TrialsInFull(ctx, plan); err != nil {
		return a, err
	}
	a.today = a.Profile.Day(p.Ms())
	a.read()
	return a, nil
}

func (a *account) read() {
	a.order = make(map[string]int, len(a.Sessions))
	for i, s := range a.Sessions {
		a.order[s.ID] = i
	}
	skills := map[string]string{"": a.SkillName}
	for _, one := range a.dog {
		skills[one.Skill] = one.SkillName
	}
	a.baselines = map[string]bool{}
	for _, b := range a.Blocks {
		a.logged, a.unlogged, a.offers = a.logged+b.Logged, a.unlogged+b.Unlogged, a.offers+b.Offers
		a.baselines[b.ID] = b.Mode == string(record.Baseline)
	}
	app.MarkCold(a.History.Trials, a.Blocks)
	index := make(map[string]int, len(a.Steps))
	for i, s := range a.Steps {
		index[s.ID] = i
	}
	a.trials, a.at = make([]trial.Trial, len(a.History.Trials)), make([]int, len(a.History.Trials))
	for i := range a.trials {
		t := a.History.Trials[i].Trial
		at, known := index[t.Step]
		if !known {
			at, t.Step = -1, ""
		}
		t.Skill = skills[t.Skill]
		a.trials[i], a.at[i] = t, at
	}
	in, n := a.InStretch(a.History.Trials), 0
	for i := range a.trials {
		n += app.BoolInt(in(i))
	}
	a.here = make([]trial.Trial, 0, n)
	for i := range a.trials {
		if in(i) {
			a.here = append(a.here, a.trials[i])
		}
	}
}

func tallyOf(trials []trial.Trial) (t evidence.Tally) {
	for i := range trials {
		one := &trials[i]
		if one.Counted() {
			t.Add(one.Outcome)
		}
	}
	return t
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
	for _, one := range a.dog {
		if one.Main == a.Main {
			list = append(list, one)
		}
	}
	slices.SortStableFunc(list, func(x, y app.Plan) int {
		return app.BoolInt(y.ID == a.ID) - app.BoolInt(x.ID == a.ID)
	})
	return list
}
