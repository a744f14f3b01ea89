package learning

import (
	"cmp"
	"context"
	"fmt"
	"slices"

	"patientfox/core/criteria"
	"patientfox/core/fit"
	"patientfox/core/progression"
	"patientfox/core/say"
	"patientfox/internal/app"
	"patientfox/internal/store"
)

// PracticeView is what a practice's sessions show over all its dogs.
type PracticeView struct {
	Running, Failed bool
	Part            int // %, while it is being worked out
	Skills          []SkillRow
	Predictions     app.Calibration
	AsOf            string // the time of day at which it was worked out
	Dogs            int    // that predictions are of
	Last            bool   // only those worked last
}

// learnedDogs is how many dogs predictions are worked out of, over the practice.
const learnedDogs = 40

// SkillRow is a skill that more than one dog has worked, and where they spent their sessions.
type SkillRow struct {
	Name  string
	Dogs  int
	Most  int // sessions that any dog spent at a step
	Steps []StepRow
}

// StepRow is one step of it, as more than one dog worked it.
type StepRow struct {
	What  string
	Dogs  []StepDog
	Falls int // times that a dog went back from it
}

// StepDog is how many sessions one dog spent there.
type StepDog struct {
	Name     string
	Sessions int
	Stuck    bool
}

// Median is the sessions of the middle dog, of the longer one of two in the middle.
func (r StepRow) Median() int { return r.Dogs[len(r.Dogs)/2].Sessions }

// Says is what the drawing shows, in words.
func (r StepRow) Says() string {
	first, last := r.Dogs[0].Sessions, r.Dogs[len(r.Dogs)-1].Sessions
	text := fmt.Sprintf("%d to %d, half within %d", first, last, r.Median())
	if len(r.Dogs) == 2 || first == last {
		text = fmt.Sprintf("%d and %d", first, last)
	}
	if r.Falls > 0 {
		text += fmt.Sprintf("; back from here %s", say.Times(r.Falls))
	}
	return text
}

// shownSteps is how many steps of a skill are shown, those with the most sessions.
const shownSteps = 6

// PracticeLearning shows where dogs spent their sessions, skill by skill, and how far predictions came true, over the practice.
func (p *Cases) PracticeLearning() (v PracticeView, err error) {
	key, from := "learned", p.PracticeStamp()
	one := p.Jobs.Find(key, from)
	if one == nil {
		if one, err = p.Jobs.StartWhole(key, from, func(ctx context.Context, progress func(float64)) (any, error) {
			return p.practice(ctx, progress)
		}); err != nil {
			return v, err
		}
	}
	if v.Part = int(100 * one.Part()); !one.Wait(quick) {
		v.Running = true
		return v, nil
	}
	found, err := one.Result()
	if v.Failed = err != nil; v.Failed {
		return v, nil
	}
	return found.(PracticeView), nil
}

func (p *Cases) practice(ctx context.Context, progress func(float64)) (v PracticeView, err error) {
	q := p.Store.Read()
	profile, err := p.Profile(ctx, q)
	if err != nil {
		return v, err
	}
	all, err := q.Plans(ctx, nil, app.PlansLooked)
	if err != nil {
		return v, err
	}
	plans, err := app.LoadPlans(ctx, q, all, profile.Words())
	if err != nil {
		return v, err
	}
	today := profile.Day(p.Ms())
	if v.Skills, err = skillRows(ctx, q, plans, today); err != nil {
		return v, err
	}
	dogs := dogsOf(plans)
	if v.Last = len(dogs) > learnedDogs; v.Last {
		dogs = dogs[:learnedDogs]
	}
	var rows []store.Dog
	for _, d := range dogs {
		rows = append(rows, d.row)
	}
	larder, err := app.LoadLarder(ctx, q, rows, today)
	if err != nil {
		return v, err
	}
	var predicted []fit.Predicted
	for i, d := range dogs {
		d.rewards, d.today = larder[d.row.ID], today
		l, err := p.learn(ctx, d, func(part float64) { progress((float64(i) + part) / float64(len(dogs))) })
		if err != nil {
			return v, err
		}
		predicted = append(predicted, l.predicted...)
	}
	v.AsOf = p.Now().In(profile.Zone).Format("15:04")
	v.Dogs, v.Predictions = len(dogs), app.CalibrationOf(predicted)
	return v, nil
}

// dogsOf are the dogs of some plans, those worked last first.
func dogsOf(plans []app.Plan) (dogs []dog) {
	last := map[string]string{}
	for _, l := range plans {
		at := slices.IndexFunc(dogs, func(d dog) bool { return d.row.ID == l.Dog })
		if at < 0 {
			at = len(dogs)
			dogs = append(dogs, dog{row: store.Dog{ID: l.Dog, Name: l.DogName, Feeding: l.DogFeeding}})
		}
		dogs[at].plans = append(dogs[at].plans, l)
		last[l.Dog] = max(last[l.Dog], l.Standing.LastSession)
	}
	slices.SortStableFunc(dogs, func(a, b dog) int { return cmp.Compare(last[b.row.ID], last[a.row.ID]) })
	return dogs
}

// skillRows are the skills that more than one dog has worked, those with the most dogs first.
func skillRows(ctx context.Context, q store.Q, plans []app.Plan, today string) (list []SkillRow, err error) {
	ids := make([]string, len(plans))
	for i, l := range plans {
		ids[i] = l.ID
	}
	works, err := q.StepWorks(ctx, ids)
	if err != nil {
		return nil, err
	}
	moves, err := q.StepMoves(ctx, ids)
	if err != nil {
		return nil, err
	}
	bySkill := map[string][]app.Plan{}
	for _, l := range plans {
		if l.Standing.Sessions > 0 {
			bySkill[l.Skill] = append(bySkill[l.Skill], l)
		}
	}
	for _, of := range bySkill {
		if row := skillRow(of, today, works, moves); row.Dogs > 1 && len(row.Steps) > 0 {
			list = append(list, row)
		}
	}
	slices.SortFunc(list, func(a, b SkillRow) int { return cmp.Or(cmp.Compare(b.Dogs, a.Dogs), cmp.Compare(a.Name, b.Name)) })
	return list, nil
}

// skillRow gathers the plans of one skill step by step: steps of two plans are the same where they ask the same.
func skillRow(plans []app.Plan, today string, works []store.StepWork, moves []store.StepMoves) SkillRow {
	row := SkillRow{Name: plans[0].SkillName}
	dogs := map[string]bool{}
	var steps []criteria.Criteria
	var rows []StepRow
	for _, l := range plans {
		dogs[l.Dog] = true
		stuck := app.StuckBecause(l, today) != ""
		for _, w := range works {
			at := progression.Index(l.Steps, w.Step)
			if w.Plan != l.ID || at < 0 {
				continue
			}
			k := slices.IndexFunc(steps, l.Steps[at].Criteria.Equal)
			if k < 0 {
				k = len(steps)
				steps, rows = append(steps, l.Steps[at].Criteria), append(rows, StepRow{What: say.Upper(l.Words.Short(l.Steps[at].Criteria))})
			}
			one := StepDog{Name: l.DogName, Sessions: w.Sessions, Stuck: stuck && at == l.Reached()}
			rows[k].Dogs = append(rows[k].Dogs, one)
			for _, m := range moves {
				if m.Plan == l.ID && m.From == w.Step && progression.Index(l.Steps, m.To) < at {
					rows[k].Falls += m.N
				}
			}
		}
	}
	row.Dogs = len(dogs)
	rows = slices.DeleteFunc(rows, func(r StepRow) bool { return len(r.Dogs) < 2 })
	for _, r := range rows {
		slices.SortFunc(r.Dogs, func(a, b StepDog) int { return cmp.Compare(a.Sessions, b.Sessions) })
		row.Most = max(row.Most, r.Dogs[len(r.Dogs)-1].Sessions)
	}
	slices.SortStableFunc(rows, func(a, b StepRow) int {
		return cmp.Or(cmp.Compare(b.Median(), a.Median()), cmp.Compare(b.Falls, a.Falls))
	})
	row.Steps = rows[:min(len(rows), shownSteps)]
	return row
}
