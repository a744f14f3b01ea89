package hands

import (
	"cmp"
	"context"
	"fmt"
	"slices"

	"patientfox/core/evidence"
	"patientfox/core/pack"
	"patientfox/core/phrase"
	"patientfox/core/progression"
	"patientfox/core/say"
	"patientfox/core/work"
	"patientfox/internal/app"
	"patientfox/internal/store"
)

// TakeOverView is the page of how somebody takes a dog over.
type TakeOverView struct {
	ID, Dog string
	Away    bool
	People  []app.Named // who could
	With    app.Named   // who does, none where nobody is named yet
	Skills  []SkillRow
	ToCome  []SkillRow // in which they had no part yet
}

// SkillRow is one skill of the dog with somebody.
type SkillRow struct {
	Plan, Name string
	Main       string // the main handler
	MainAt, Of int    // where it is with them, and of how many steps
	MainDone   bool   // they have passed the top step
	At         int    // where it is with the one who takes over, numbered from 1, or where they begin
	Step, Next string // what they can ask for today, and what comes after it, "" where nothing does
	New        bool   // they have not handled it yet
	Last       string // when they last did
	Held       int    // the safety step that was not shown to them and keeps them below it, 0 for none
	Rehearsed  string // how that is rehearsed until then, "" where it cannot be
	Done       string // why they may not really do it yet, "" where they may or nothing is
	There      bool   // it is with them where it is with the main handler
	Stages     []StageRow
	Stage      string // what they do in the next visit
}

// StageRow is one stage on the way to handling alone.
type StageRow struct {
	Name string
	Sure bool
	Said string // how it went so far, "" for not yet
	Next bool
}

// SureWhen says when a stage is sure.
func (v TakeOverView) SureWhen() string {
	return fmt.Sprintf("A stage is sure after %s of it, with %s of at least %s met or at ease on the last one.",
		say.CountInWords(evidence.SureDays, "day"), say.Percent(evidence.SureMet), say.CountInWords(evidence.SureTrials, "trial"))
}

// stages are the stages in a visit that is shared, and what is done in the next visit where one of them is to come.
var stages = [evidence.Stages]struct{ name, next string }{
	evidence.Holding:  {"Holds", "holds the dog, and you handle and feed"},
	evidence.Feeding:  {"Feeds", "feeds, and you handle"},
	evidence.Handling: {"Handles", "handles, and you stand by: hold, feed or log"},
	evidence.Alone:    {"Alone", "handles alone, and logs it"},
}

// TakeOver shows where somebody is on each of a dog's skills on the way to handling it alone. with is their id, "" for the first of the
// family, or whoever there is.
func (p *Cases) TakeOver(ctx context.Context, dog, with string) (TakeOverView, error) {
	return app.Remember(ctx, p.Practice, "takeover "+dog+" "+with, app.On[TakeOverView](dog), func() (v TakeOverView, err error) {
		err = p.Store.Snapshot(ctx, func(q store.Q) error {
			v, err = p.takeOver(ctx, q, dog, with)
			return err
		})
		return v, err
	})
}

func (p *Cases) takeOver(ctx context.Context, q store.Q, dog, with string) (v TakeOverView, err error) {
	s, row, err := p.WithDog(ctx, q, dog)
	if err != nil {
		return v, err
	}
	v = TakeOverView{ID: dog, Dog: row.Name, Away: row.Deleted != nil}
	people, err := q.People(ctx)
	if err != nil {
		return v, err
	}
	plans, err := app.DogsPlans(ctx, q, dog, s.Words())
	if err != nil {
		return v, err
	}
	plans = slices.DeleteFunc(plans, func(l app.Plan) bool { return l.MainHandler == "" || len(l.Steps) == 0 })
	v.With = v.whose(people, plans, with)
	if v.With.ID == "" {
		return v, nil
	}
	held, err := q.HandledBy(ctx, []string{dog}, v.With.ID)
	if err != nil {
		return v, err
	}
	ids := make([]string, len(plans))
	for i, l := range plans {
		ids[i] = l.ID
	}
	trials, err := q.TrialsWith(ctx, ids, v.With.ID)
	if err != nil {
		return v, err
	}
	today, names := s.Day(p.Ms()), map[string]string{}
	for _, person := range people {
		names[person.ID] = person.Name
	}
	for _, l := range plans {
		if l.MainHandler == v.With.ID {
			continue
		}
		one := held[max(0, slices.IndexFunc(held, func(h store.Handled) bool { return h.Plan == l.ID }))]
		mine := slices.DeleteFunc(slices.Clone(trials), func(t store.Trial) bool { return t.Plan != l.ID })
		skill, err := skillRow(l, one, today)
		if err != nil {
			return v, err
		}
		skill.Main = cmp.Or(names[l.MainHandler], "somebody who is gone")
		skill.shares(evidence.Shared(app.Bare(mine), v.With.ID), l.Work(), today)
		if skill.New && len(mine) == 0 {
			v.ToCome = append(v.ToCome, skill)
		} else {
			v.Skills = append(v.Skills, skill)
		}
	}
	return v, nil
}

// whose lists who could take the dog over, and picks the one of an id, or the first: family before others.
func (v *TakeOverView) whose(people []store.Person, plans []app.Plan, with string) (one app.Named) {
	if len(people) < 2 {
		return one
	}
	mains := map[string]bool{}
	for _, l := range plans {
		mains[l.MainHandler] = true
	}
	first := func(role string) int { return app.BoolInt(role != app.RoleFamily) }
	people = slices.Clone(people)
	slices.SortStableFunc(people, func(a, b store.Person) int { return cmp.Compare(first(a.Role), first(b.Role)) })
	for _, person := range people {
		named := app.Named{ID: person.ID, Name: person.Name}
		if person.ID == with {
			one = named
		}
		if len(mains) == 1 && mains[person.ID] {
			continue // they handle everything already
		}
		v.People = append(v.People, named)
	}
	if one.ID == "" && with == "" && len(v.People) > 0 {
		one = v.People[0]
	}
	return one
}

// skillRow is where somebody is on a plan of another.
func skillRow(l app.Plan, h store.Handled, today string) (row SkillRow, err error) {
	var shown []string
	if err := store.FromJSON(h.Shown, &shown); err != nil {
		return row, err
	}
	main := l.Reached()
	to, top, held := pack.Opens(l.Steps, main, h.StepAt, pack.Handling(work.Kind(l.Kind), h.Role), shown)
	row = SkillRow{
		Plan: l.ID, Name: l.Name(), MainAt: main + 1, MainDone: l.Finished(), Of: len(l.Steps), At: to + 1,
		Step: l.Words.Step(l.Steps[to].Criteria),
		New:  h.StepAt < 0, Held: progression.Index(l.Steps, held) + 1, There: to == main,
	}
	if h.LastDay != "" {
		row.Last = app.ShortDay(h.LastDay, today)
	}
	if pack.Rehearsal(work.Kind(l.Kind), l.Steps, to, held) >= 0 {
		row.Rehearsed = phrase.Rehearsed(l.Work().HandsOn)
	}
	if to < top {
		row.Next = l.Words.Step(l.Steps[to+1].Criteria)
	}
	if l.Work().HandsOn && !pack.MayReallyDo(h.Role, shown) {
		row.Done = "A trainer shows what is really done first; until then it is rehearsed."
	}
	return row, nil
}

// shares adds how far the shared visits are.
func (r *SkillRow) shares(shares [evidence.Stages]evidence.Share, w *work.Work, today string) {
	next, done := evidence.NextStage(shares)
	sure := func(from int) bool { // what asks more of them asks this too
		return slices.ContainsFunc(shares[from:], evidence.Share.Sure)
	}
	for i, one := range shares {
		stage := evidence.Stage(i)
		row := StageRow{Name: stages[i].name, Sure: sure(i), Next: stage == next && !done}
		if one.Days > 0 {
			row.Said = fmt.Sprintf("%s, last %s: %d of %d %s",
				say.Count(one.Days, "day"), app.ShortDay(one.Last, today), one.Met, one.N(), w.Success())
		}
		r.Stages = append(r.Stages, row)
	}
	if !done {
		r.Stage = stages[next].next
	}
}
