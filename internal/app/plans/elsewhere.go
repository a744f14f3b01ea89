package plans

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"patientfox/core/criteria"
	"patientfox/core/fit"
	"patientfox/core/load"
	"patientfox/core/phrase"
	"patientfox/core/progression"
	"patientfox/core/reinforce"
	"patientfox/internal/app"
	"patientfox/internal/jobs"
	"patientfox/internal/store"
)

// Elsewhere is what a dog's other skills say of how far from a trigger a new plan should begin.
type Elsewhere struct {
	Strength string   // of the trigger, as the plan begins
	Lines    []string // by skill, from where on it is right often enough; none where there is nothing to say
	Nearer   string   // that the plan begins nearer than that, "" where it does not
}

const (
	elsewhereSkills = 6
	elsewhereWait   = 300 * time.Millisecond
)

// nearTrigger is a skill that a dog has worked near a trigger.
type nearTrigger struct {
	plan    app.Plan
	rewards []reinforce.Reward
	app.Modelled
}

// elsewhere says from where on a dog is right often enough in its other skills, with a trigger as strong as the first of a ladder; nothing
// where that has none, or while it is being worked out.
func (p *Cases) elsewhere(
	ctx context.Context, dog store.Dog, skill string, ladder []criteria.Criteria, today string, words phrase.Words,
) (Elsewhere, error) {
	var e Elsewhere
	at := slices.IndexFunc(ladder, func(c criteria.Criteria) bool { return c.Get(criteria.Intensity) > 0 })
	if at < 0 {
		return e, nil
	}
	first := ladder[at]
	e.Strength = phrase.Strength(int(first.Get(criteria.Intensity)))
	one, err := p.nearTriggers(ctx, dog, today, words)
	if errors.Is(err, jobs.ErrQueue) {
		return e, nil
	}
	if err != nil || !one.Wait(elsewhereWait) {
		return e, err
	}
	found, err := one.Result()
	if err != nil {
		return e, err
	}
	furthest := 0.0
	for _, s := range found.([]nearTrigger) {
		if strings.EqualFold(s.plan.SkillName, skill) {
			continue
		}
		// At the step that the dog works on there: an easier one, and the practice it has there, would let it come too near.
		at := s.plan.Ahead(s.plan.Steps[s.plan.Reached()], s.rewards, s.Experience, s.plan.Standing.LastPlace)
		at.Intensity, at.Moving = first.Get(criteria.Intensity), first.Get(criteria.Moving) > 0
		metres, lo, hi, ok := s.ThresholdRange(at, load.Target)
		e.Lines = append(e.Lines, s.plan.SkillName+": "+words.Threshold(s.Tried.Far, metres, lo, hi, ok))
		if !ok || metres > load.Beyond*s.Tried.Far {
			metres = s.Tried.Far // as far off as it ever was it is not right often enough
		}
		furthest = max(furthest, load.SetUp(metres))
	}
	if begins := first.Get(criteria.Trigger); first.Has(criteria.Trigger) && begins < furthest {
		d, _ := criteria.Find(criteria.Trigger)
		e.Nearer = fmt.Sprintf("This plan begins nearer, at %s.", words.Units.Say(d, begins))
	}
	return e, nil
}

func (p *Cases) nearTriggers(ctx context.Context, dog store.Dog, today string, words phrase.Words) (*jobs.Job, error) {
	version, err := p.Store.Version(ctx)
	if err != nil {
		return nil, err
	}
	key, from := "near triggers "+dog.ID, fmt.Sprint(version, " ", today)
	if one := p.Jobs.Find(key, from); one != nil {
		return one, nil
	}
	return p.Jobs.Start(key, from, func(ctx context.Context, _ func(float64)) (any, error) {
		q := p.Store.Read()
		plans, err := app.DogsPlans(ctx, q, dog.ID, words)
		if err != nil {
			return nil, err
		}
		larder, err := app.LoadLarder(ctx, q, []store.Dog{dog}, today)
		if err != nil {
			return nil, err
		}
		var list []nearTrigger
		seen := map[string]bool{}
		for _, l := range plans {
			if seen[l.Skill] || len(list) == elsewhereSkills || !near(l.Steps) {
				continue
			}
			seen[l.Skill] = true
			record, err := app.LoadSkill(ctx, q, l, plans, larder[dog.ID])
			if err != nil {
				return nil, err
			}
			if m := fit.Load(record.Trials(today)); m.Tried.Far > 0 {
				list = append(list, nearTrigger{l, larder[dog.ID], app.Modelled{Model: m, Experience: record.Experience}})
			}
		}
		return list, nil
	})
}

// near tells whether any step is near a trigger.
func near(steps []progression.Step) bool {
	for _, s := range steps {
		if s.Criteria.Get(criteria.Intensity) > 0 && s.Criteria.Has(criteria.Trigger) {
			return true
		}
	}
	return false
}
