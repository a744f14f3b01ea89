package app

import (
	"context"
	"slices"

	"patientfox/core/evidence"
	"patientfox/core/record"
	"patientfox/core/trial"
	"patientfox/internal/store"
)

// Account is all that the record holds of one plan: what its pages of evidence, progress and outlook read.
type Account struct {
	Profile
	Plan
	History
	OfDog     []Plan        // all plans of the dog, this one too
	Evidence  []trial.Trial // the history's, in the same order; of a step that is gone, without it
	At        []int         // the index of each one's step, below 0 where it is gone
	Here      []trial.Trial // of the stretch at the reached step
	Today     string
	Order     map[string]int // of sessions
	Logged    int            // of the blocks
	Unlogged  int
	Offers    int // behaviour offered without a cue
	Baselines map[string]bool
}

// Account loads what the record holds of one plan.
func (p *Practice) Account(ctx context.Context, q store.Q, plan string) (a Account, err error) {
	if a.Profile, err = p.Profile(ctx, q); err != nil {
		return a, err
	}
	if a.Plan, a.OfDog, err = Besides(ctx, q, plan, a.Profile.Words()); err != nil {
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
	a.Today = a.Profile.Day(p.Ms())
	MarkCold(a.History.Trials, a.Blocks)
	a.read()
	return a, nil
}

func (a *Account) read() {
	a.Order = make(map[string]int, len(a.Sessions))
	for i, s := range a.Sessions {
		a.Order[s.ID] = i
	}
	skills := map[string]string{"": a.SkillName}
	for _, one := range a.OfDog {
		skills[one.Skill] = one.SkillName
	}
	a.Baselines = map[string]bool{}
	for _, b := range a.Blocks {
		a.Logged, a.Unlogged, a.Offers = a.Logged+b.Logged, a.Unlogged+b.Unlogged, a.Offers+b.Offers
		a.Baselines[b.ID] = b.Mode == string(record.Baseline)
	}
	index := make(map[string]int, len(a.Steps))
	for i, s := range a.Steps {
		index[s.ID] = i
	}
	a.Evidence, a.At = make([]trial.Trial, len(a.History.Trials)), make([]int, len(a.History.Trials))
	for i := range a.Evidence {
		t := a.History.Trials[i].Trial
		at, known := index[t.Step]
		if !known {
			at, t.Step = -1, ""
		}
		t.Skill = skills[t.Skill]
		a.Evidence[i], a.At[i] = t, at
	}
	in, n := a.InStretch(a.History.Trials), 0
	for i := range a.Evidence {
		n += BoolInt(in(i))
	}
	a.Here = make([]trial.Trial, 0, n)
	for i := range a.Evidence {
		if in(i) {
			a.Here = append(a.Here, a.Evidence[i])
		}
	}
}

// GoesTo makes the plan that of a handler beside the main one, by id; known is false where they have not handled it.
func (a *Account) GoesTo(ctx context.Context, q store.Q, who string) (known bool, err error) {
	levels, err := q.Levels(ctx, a.ID)
	at := slices.IndexFunc(levels, func(one store.Level) bool { return one.Level == a.LevelOf(who) })
	if at >= 0 {
		a.Plan = a.WithLevel(levels[at])
	}
	return at >= 0, err
}

// Only leaves out what was worked at another level.
func (a *Account) Only(level string) {
	rows := a.History.Trials
	if !slices.ContainsFunc(rows, func(t store.Trial) bool { return t.Level != level }) {
		return
	}
	in := map[string]bool{}
	for _, t := range rows {
		in[t.Session] = in[t.Session] || t.Level == level
	}
	a.History.Trials = slices.DeleteFunc(slices.Clone(rows), func(t store.Trial) bool { return t.Level != level })
	a.Sessions = slices.DeleteFunc(slices.Clone(a.Sessions), func(s store.Session) bool { return !in[s.ID] })
	a.Blocks = slices.DeleteFunc(slices.Clone(a.Blocks), func(b store.Block) bool { return b.Level != level })
	a.Logged, a.Unlogged, a.Offers = 0, 0, 0
	a.read()
}

// TallyOf counts trials.
func TallyOf(trials []trial.Trial) (t evidence.Tally) {
	for i := range trials {
		one := &trials[i]
		if one.Counted() {
			t.Add(one.Outcome)
		}
	}
	return t
}
