package forecasts

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"slices"
	"sync"

	"patientfox/core/outlook"
	"patientfox/core/work"
	"patientfox/internal/app"
	"patientfox/internal/store"
)

// learners keeps what the records of plans said of their dogs. It is safe for concurrent use.
type learners struct {
	lock sync.Mutex
	of   map[string]learner // by plan
}

// learner is what a plan's record said, as it was then.
type learner struct {
	from   string
	enough bool // it was enough to say anything
	outlook.Learnt
}

const (
	keptLearners = 300
	ownPlans     = 12 // those worked last, from which a forecast begins
)

func (k *learners) find(plan, from string) (learner, bool) {
	k.lock.Lock()
	defer k.lock.Unlock()
	one, has := k.of[plan]
	return one, has && one.from == from
}

func (k *learners) keep(plan string, one learner) {
	k.lock.Lock()
	defer k.lock.Unlock()
	if k.of == nil || len(k.of) >= keptLearners {
		k.of = map[string]learner{}
	}
	k.of[plan] = one
}

// prior is what a forecast begins from: what is usual, moved by the other plans of this practice with the same sort of work.
func (p *Cases) prior(ctx context.Context, w looking, progress func(float64)) (outlook.Prior, error) {
	rows, err := p.Store.Read().Plans(ctx, nil, app.PlansLooked)
	if err != nil {
		return outlook.Prior{}, err
	}
	rows = slices.DeleteFunc(rows, func(r store.Plan) bool {
		return r.ID == w.ID || r.Standing.Sessions < outlook.MinSessions || work.Of(work.Kind(r.Kind)).ByState != w.Work().ByState
	})
	slices.SortStableFunc(rows, func(a, b store.Plan) int { return cmp.Compare(b.Standing.LastSession, a.Standing.LastSession) })
	var records []outlook.Learnt
	for i, r := range rows[:min(len(rows), ownPlans)] {
		progress(float64(i) / ownPlans)
		one, err := p.learner(ctx, r)
		if errors.Is(err, app.ErrNotFound) {
			continue
		}
		if err != nil {
			return outlook.Prior{}, err
		}
		if one.enough {
			records = append(records, one.Learnt)
		}
	}
	return outlook.Learned(records), ctx.Err()
}

func (p *Cases) learner(ctx context.Context, r store.Plan) (learner, error) {
	from := fmt.Sprint(r.Version, " ", r.Definition, " ", r.Standing.Sessions, " ", r.Standing.LastSession)
	if one, has := p.learners.find(r.ID, from); has {
		return one, ctx.Err()
	}
	w, err := p.looking(ctx, Ask{Plan: r.ID})
	if err != nil {
		return learner{}, err
	}
	one := learner{from: from, enough: outlook.Enough(w.record)}
	if one.enough {
		one.Learnt = outlook.FitTo(w.record, w.course.Heights, outlook.Usual(), w.seed).Learnt
	}
	p.learners.keep(r.ID, one)
	return one, ctx.Err()
}
