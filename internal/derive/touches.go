package derive

import (
	"context"
	"slices"

	"patientfox/core/care"
	"patientfox/core/criteria"
	"patientfox/core/load"
	"patientfox/core/progression"
	"patientfox/core/trial"
	"patientfox/internal/store"
)

// visitsRead are the sessions that a dog's map of care is read from: a page takes no longer after five years of care than after one.
const visitsRead = 90

// SkillTouches are the touches of a skill of handling, all its sides together, from the last 90 sessions of the plans with which they
// were loaded.
type SkillTouches struct {
	Plan         store.Plan // the first of its plans
	Sites, Tools []string   // of its ladders, in their order
	Touches      []HandTouch
}

// HandTouch is a touch with the trial that it was.
type HandTouch struct {
	care.Touch
	Of store.Trial
}

// Touches loads the touches of plans, skill by skill, oldest first.
func Touches(ctx context.Context, q store.Q, plans []store.Plan) ([]*SkillTouches, error) {
	var skills []*SkillTouches
	of, tracks := map[string]*SkillTouches{}, map[string]store.Plan{} // by plan
	ids := make([]string, len(plans))
	for i, plan := range plans {
		at := slices.IndexFunc(skills, func(s *SkillTouches) bool { return s.Plan.Skill == plan.Skill })
		if at < 0 {
			at, skills = len(skills), append(skills, &SkillTouches{Plan: plan})
		}
		ids[i], of[plan.ID], tracks[plan.ID] = plan.ID, skills[at], plan
	}
	rows, err := q.StepsOfVersions(ctx, ids)
	if err != nil {
		return nil, err
	}
	trials, err := q.LastTogether(ctx, ids, visitsRead)
	if err != nil {
		return nil, err
	}
	type rev struct {
		step string
		rev  int
	}
	asked := map[rev]criteria.Criteria{}
	for _, plan := range plans {
		for _, row := range rows {
			if row.Plan != plan.ID {
				continue
			}
			steps, err := store.ReadSteps([]store.Step{row})
			if err != nil {
				return nil, err
			}
			asked[rev{steps[0].ID, steps[0].Rev}] = steps[0].Criteria
			if row.Version == plan.Version {
				of[plan.ID].lists(steps[0], plan.Track)
			}
		}
	}
	firsts := care.Firsts{}
	for i := range trials {
		t := &trials[i]
		c, known := asked[rev{t.Step, t.Rev}]
		if !known {
			continue
		}
		// Touches were logged without their track, where the site was picked.
		one, ok := care.TouchOf(&t.Trial, load.AsWorked(c, &t.Trial), tracks[t.Plan].Track)
		if !ok {
			continue
		}
		one.Day = DayNumber(t.Day)
		firsts.Mark(t.Session+" "+t.Handler, &one)
		of[t.Plan].Touches = append(of[t.Plan].Touches, HandTouch{one, *t})
	}
	return skills, nil
}

// lists adds the sites and tools of a step.
func (s *SkillTouches) lists(step progression.Step, track string) {
	add := func(list *[]string, word string) {
		if word != "" && !slices.Contains(*list, word) {
			*list = append(*list, word)
		}
	}
	for _, site := range step.Sites() {
		add(&s.Sites, trial.OnTrack(site, track))
	}
	add(&s.Tools, step.Criteria.Item(criteria.Tool))
}

// Care is what a pack carries of the skill, with what is known of its sites.
func (s *SkillTouches) Care(marks []store.CareMark) *care.Skill {
	c := care.Skill{Sites: s.Sites, Tools: s.Tools}
	for _, m := range marks {
		if slices.Contains(s.Sites, m.Site) {
			if c.Marks == nil {
				c.Marks = map[string]care.Mark{}
			}
			c.Marks[m.Site] = care.Mark(m.Mark)
		}
	}
	by := map[string][]care.Touch{}
	for i := range s.Touches {
		one := &s.Touches[i]
		by[one.Of.Handler] = append(by[one.Of.Handler], one.Touch)
	}
	c = c.With(by)
	return &c
}
