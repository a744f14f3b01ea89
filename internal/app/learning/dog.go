package learning

import (
	"context"
	"fmt"
	"time"

	"patientfox/core/evidence"
	"patientfox/core/fit"
	"patientfox/core/phrase"
	"patientfox/core/reinforce"
	"patientfox/internal/app"
	"patientfox/internal/jobs"
	"patientfox/internal/store"
)

// DogView is what a dog's sessions show over all its skills.
type DogView struct {
	ID, Name        string
	Running, Failed bool // it is being worked out; it could not be
	None            bool // nothing was logged
	Within, Between app.Section
	Predictions     app.Calibration
}

// quick is how long a page waits for what it shows before it says that it is under way.
const quick = 600 * time.Millisecond

// DogLearning shows what a dog's sessions show over all its skills: where in them it falls off, what days off cost, and how far
// predictions came true.
func (p *Cases) DogLearning(ctx context.Context, id string) (v DogView, err error) {
	d, err := p.dog(ctx, id)
	if err != nil {
		return v, err
	}
	v.ID, v.Name = d.row.ID, d.row.Name
	one, err := p.learned(d)
	if err != nil {
		return v, err
	}
	if v.Running = !one.Wait(quick); v.Running {
		return v, nil
	}
	found, err := one.Result()
	if v.Failed = err != nil; v.Failed {
		return v, nil
	}
	l := found.(learned)
	v.None = len(l.sessions) == 0
	v.Within, v.Between, v.Predictions = l.within(app.SeedOf(id)), l.between(app.SeedOf(id)), app.CalibrationOf(l.predicted)
	return v, nil
}

// dog is a dog with its plans, and what it works for.
type dog struct {
	row     store.Dog
	plans   []app.Plan
	rewards []reinforce.Reward
	today   string
}

func (p *Cases) dog(ctx context.Context, id string) (d dog, err error) {
	err = p.Store.Snapshot(ctx, func(q store.Q) error {
		if d.row, err = q.Dog(ctx, id); err != nil {
			return app.Found(err)
		}
		profile, err := p.Profile(ctx, q)
		if err != nil {
			return err
		}
		d.today = profile.Day(p.Ms())
		if d.plans, err = app.DogsPlans(ctx, q, id, profile.Words()); err != nil {
			return err
		}
		if err := p.Ready(ctx, q, id, ""); err != nil {
			return err
		}
		larder, err := app.LoadLarder(ctx, q, []store.Dog{d.row}, d.today)
		d.rewards = larder[id]
		return err
	})
	return d, err
}

// learned is what a dog's sessions hold.
type learned struct {
	sessions  [][]evidence.Worked
	breaks    []evidence.Break
	gaps      []gap
	at        []evidence.Tally // by fives of trials within a session
	predicted []fit.Predicted
}

func (p *Cases) learned(d dog) (*jobs.Job, error) {
	key, from := "learned "+d.row.ID, p.DogStamp(d.plans, d.rewards, d.today)
	if one := p.Jobs.Find(key, from); one != nil {
		return one, nil
	}
	return p.Jobs.StartLong(key, from, func(ctx context.Context, progress func(float64)) (any, error) {
		return p.learn(ctx, d, progress)
	})
}

// learn reads all that a dog did: four statements for each skill, and one.
func (p *Cases) learn(ctx context.Context, d dog, progress func(float64)) (l learned, err error) {
	q := p.Store.Read()
	ids := make([]string, len(d.plans))
	for i, one := range d.plans {
		ids[i] = one.ID
	}
	trials, err := q.TrialsTogether(ctx, ids)
	if err != nil {
		return l, err
	}
	l.read(trials)
	seen := map[string]bool{}
	for i, one := range d.plans {
		if seen[one.Skill] {
			continue
		}
		seen[one.Skill] = true
		record, err := app.LoadSkill(ctx, q, one, d.plans, d.rewards)
		if err != nil {
			return l, err
		}
		l.predicted = append(l.predicted, record.Predicted()...)
		if progress(float64(i+1) / float64(len(d.plans))); ctx.Err() != nil {
			return l, ctx.Err()
		}
	}
	return l, nil
}

// within says where in its sessions the dog falls off.
func (l learned) within(seed uint64) app.Section {
	long := 0
	for _, one := range l.sessions {
		long += app.BoolInt(evidence.Long(one))
	}
	s := app.Section{Key: "within", Title: "Within a session", Lines: phrase.Tiring(evidence.Tiring(l.sessions, seed), long, "met")}
	for i, t := range l.at {
		if t.N() > 0 {
			s.Rates = append(s.Rates, app.RateRow{Label: fmt.Sprintf("Trials %d to %d", 5*i+1, 5*i+5), Rates: []app.Rate{app.RateOf("", t)}})
		}
	}
	return s
}

// between says what days off cost.
func (l learned) between(seed uint64) app.Section {
	s := app.Section{Key: "between", Title: "Between sessions", Lines: phrase.DaysOff(evidence.DaysOff(l.breaks, seed), len(l.breaks))}
	for _, g := range l.gaps {
		if g.closed.N() > 0 {
			s.Rates = append(s.Rates, app.RateRow{Label: g.label, Rates: []app.Rate{app.RateOf("ended", g.closed), app.RateOf("began", g.opened)}})
		}
	}
	return s
}
