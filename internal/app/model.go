package app

import (
	"cmp"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"time"

	"patientfox/core/criteria"
	"patientfox/core/fit"
	"patientfox/core/library"
	"patientfox/core/load"
	"patientfox/core/phrase"
	"patientfox/core/progression"
	"patientfox/core/reinforce"
	"patientfox/core/trial"
	"patientfox/core/work"
	"patientfox/internal/derive"
	"patientfox/internal/jobs"
	"patientfox/internal/store"
)

// SkillRecord is what a dog did of one skill, on whatever side, as a model of load reads it.
type SkillRecord struct {
	load.Experience
	Sessions []fit.Session // in order
}

// Modelled is what makes a skill harder and easier for a dog, with how much it has worked it.
type Modelled struct {
	load.Model
	load.Experience
}

// Trials are all of its trials; Days are those up to the day given.
func (r SkillRecord) Trials(today string) (trials []fit.Trial) {
	now := float64(derive.DayNumber(today))
	for _, s := range r.Sessions {
		for _, t := range s.Trials {
			t.Days = now - s.Day
			trials = append(trials, t)
		}
	}
	return trials
}

// ModelOf is what makes a plan's skill harder and easier for its dog. ok is false while that is being worked out; a page that asks waits
// for it a little. dog are all plans of the dog, and rewards what it works for.
func (p *Practice) ModelOf(l Plan, dog []Plan, rewards []reinforce.Reward, today string) (m Modelled, ok bool, err error) {
	one, err := p.modelling(l, dog, rewards, today)
	if errors.Is(err, jobs.ErrQueue) {
		return m, false, nil
	}
	if err != nil || !one.Wait(quickModel) {
		return m, false, err
	}
	found, err := one.Result()
	if err != nil {
		return m, false, err
	}
	return found.(Modelled), true, nil
}

// quickModel is how long somebody waits for a model: it takes some milliseconds.
const quickModel = 300 * time.Millisecond

func (p *Practice) modelling(l Plan, dog []Plan, rewards []reinforce.Reward, today string) (*jobs.Job, error) {
	key, from := "load "+l.Dog+" "+l.Skill, p.SkillStamp(l, dog, rewards, today)
	if one := p.Jobs.Find(key, from); one != nil {
		return one, nil
	}
	return p.Jobs.Start(key, from, func(ctx context.Context, _ func(float64)) (any, error) {
		record, err := LoadSkill(ctx, p.Store.Read(), l, dog, rewards)
		if err != nil {
			return nil, err
		}
		return Modelled{fit.Load(record.Trials(today)), record.Experience}, nil
	})
}

// SkillStamp changes with whatever a model of a plan's skill is worked out from.
func (p *Practice) SkillStamp(l Plan, dog []Plan, rewards []reinforce.Reward, today string) string {
	from := fmt.Sprint(p.known.reads(l.Dog), p.known.reads(AllDogs), " ", today)
	for _, one := range dog {
		if one.Skill == l.Skill {
			from += fmt.Sprint(" ", one.ID, one.Version, one.Definition, one.Standing.Sessions, one.Standing.LastSession)
		}
	}
	for _, r := range rewards {
		from += fmt.Sprint(" ", r.ID, r.Tier)
	}
	return from
}

// DogStamp changes with whatever is worked out from all that a dog did.
func (p *Practice) DogStamp(dog []Plan, rewards []reinforce.Reward, today string) (from string) {
	seen := map[string]bool{}
	for _, one := range dog {
		if !seen[one.Skill] {
			seen[one.Skill] = true
			from += p.SkillStamp(one, dog, rewards, today) + ";"
		}
	}
	return from
}

// PracticeStamp changes every quarter of an hour: what takes long and is of all dogs would never be ready if it began anew with each press
// of a session that is under way.
func (p *Practice) PracticeStamp() string { return fmt.Sprint(p.Ms() / quarterHour) }

// LoadSkill loads what the dog of a plan did of its skill: four statements.
func LoadSkill(ctx context.Context, q store.Q, l Plan, dog []Plan, rewards []reinforce.Reward) (r SkillRecord, err error) {
	r.There = map[string]int{}
	var plans, mains []string
	for _, one := range dog {
		if one.Skill == l.Skill {
			plans = append(plans, one.ID)
			if !slices.Contains(mains, one.Main) {
				mains = append(mains, one.Main)
			}
		}
	}
	trials, err := q.TrialsTogether(ctx, plans)
	if err != nil {
		return r, err
	}
	blocks, err := q.BlocksOfPlans(ctx, plans)
	if err != nil {
		return r, err
	}
	MarkCold(trials, blocks)
	asked, err := loadAsked(ctx, q, plans, mains, blocks, dog)
	if err != nil {
		return r, err
	}
	worth := map[string]int{}
	for _, reward := range rewards {
		worth[reward.ID] = reward.Tier
	}
	byState := work.Of(work.Kind(l.Kind)).ByState
	last := ""
	for i := range trials {
		t := &trials[i]
		if t.Session != last {
			last = t.Session
			r.Sessions = append(r.Sessions, fit.Session{Day: float64(derive.DayNumber(t.Day))})
		}
		if c, known := asked.step(t); known && t.Counted() {
			one := fit.Trial{Met: t.Outcome == trial.Met, Step: stepKey(t.Step, t.Rev)}
			if byState && t.State != nil {
				one.Met = t.Shown() <= 1
			}
			pay := asked.pay(t)
			one.Conditions = r.Ahead(load.AsWorked(c, &t.Trial), t.Place, float64(cmp.Or(worth[t.Hand], pay.Tier)), pay.Band.Mid())
			one.Cold = t.Cold
			s := &r.Sessions[len(r.Sessions)-1]
			s.Trials = append(s.Trials, one)
			r.Counted++
		}
		if i+1 == len(trials) || trials[i+1].Session != last {
			r.There[t.Place]++
			r.Opened++
		}
	}
	return r, nil
}

// asked is what the versions of some plans asked and how they paid.
type askedOf struct {
	steps  map[string]criteria.Criteria // by id and revision
	bodies map[string]library.Body      // by block
}

func loadAsked(ctx context.Context, q store.Q, plans, mains []string, blocks []store.Block, dog []Plan) (a askedOf, err error) {
	a.steps, a.bodies = map[string]criteria.Criteria{}, map[string]library.Body{}
	rows, err := q.StepsOfVersions(ctx, plans)
	if err != nil {
		return a, err
	}
	steps, err := store.ReadSteps(rows)
	if err != nil {
		return a, err
	}
	for _, s := range steps {
		a.steps[stepKey(s.ID, s.Rev)] = s.Criteria
	}
	versions, err := q.BodiesOf(ctx, mains)
	if err != nil {
		return a, err
	}
	bodies := map[string]library.Body{}
	for _, v := range versions {
		var body library.Body
		if err := json.Unmarshal([]byte(v.Body), &body); err != nil {
			return a, err
		}
		bodies[fmt.Sprint(v.Plan, v.Version)] = body
	}
	for _, b := range blocks {
		at := slices.IndexFunc(dog, func(one Plan) bool { return one.ID == b.Plan })
		if at >= 0 {
			a.bodies[b.ID] = bodies[fmt.Sprint(dog[at].Main, b.PlanVersion)]
		}
	}
	return a, nil
}

func stepKey(id string, rev int) string { return fmt.Sprint(id, " ", rev) }

func (a askedOf) step(t *store.Trial) (criteria.Criteria, bool) {
	c, known := a.steps[stepKey(t.Step, t.Rev)]
	return c, known
}

func (a askedOf) pay(t *store.Trial) reinforce.Strategy {
	body := a.bodies[t.Block]
	if own, has := body.StepPay[t.Step]; has {
		return own
	}
	return body.Pay
}

// Ahead are the conditions of a plan's step in the next session, at a place, with what would be in the hand.
func (l Plan) Ahead(step progression.Step, rewards []reinforce.Reward, e load.Experience, place string) load.Conditions {
	pay := l.Body.Pay
	if own, has := l.Body.StepPay[step.ID]; has {
		pay = own
	}
	return e.Ahead(step.Criteria, place, float64(reinforce.ValueInHand(rewards, pay.Tier, place, nil)), pay.Band.Mid())
}

// LeverRow is one thing that alone would make a step likely enough.
type LeverRow struct {
	Text string
	Note string // why to trust it less, "" where there is nothing
}

// LeverRows are the levers that can do it by themselves and were tried that far, at the conditions of a step; words are those of its plan.
func LeverRows(levers []load.Lever, at load.Conditions, step criteria.Criteria, words phrase.Words) (rows []LeverRow) {
	for _, l := range levers {
		if text := words.Lever(l, at, step); text != "" && !l.Beyond {
			row := LeverRow{Text: text}
			if l.Grey {
				row.Note = "by a starting assumption"
			}
			rows = append(rows, row)
		}
	}
	return rows
}
