package forecasts

import (
	"cmp"
	"context"
	"errors"
	"slices"

	"patientfox/core/outlook"
	"patientfox/internal/app"
	"patientfox/internal/store"
)

// CameView is how forecasts came true over the practice: for each plan the sessions that it took to the highest step so far, beside what
// was likely before its first.
type CameView struct {
	Running, Failed bool
	Plans           []CameRow
	Held            int // took as many as their range of 80 % says
	Sooner, Later   int
	Last            bool // only the plans worked last
}

// CameRow is one plan.
type CameRow struct {
	Plan, Dog, Skill string
	Steps            int // that were climbed
	Took             int // sessions
	Lo, Mid, Hi      int
}

const (
	camePlans = 40 // those worked last
	cameRuns  = 200
)

// ForecastsCame holds forecasts of the practice's plans against what came. A dog that somebody put at its step by hand is left out.
func (p *Cases) ForecastsCame() (v CameView, err error) {
	key, from := "came", p.PracticeStamp()
	one := p.Jobs.Find(key, from)
	if one == nil {
		if one, err = p.Jobs.StartWhole(key, from, func(ctx context.Context, progress func(float64)) (any, error) {
			return p.came(ctx, progress)
		}); err != nil {
			return v, err
		}
	}
	if v.Running = !one.Wait(quick); v.Running {
		return v, nil
	}
	found, err := one.Result()
	if v.Failed = err != nil; v.Failed {
		return v, nil
	}
	return found.(CameView), nil
}

func (p *Cases) came(ctx context.Context, progress func(float64)) (v CameView, err error) {
	rows, err := p.Store.Read().Plans(ctx, nil, app.PlansLooked)
	if err != nil {
		return v, err
	}
	rows = slices.DeleteFunc(rows, func(r store.Plan) bool { return r.Standing.Sessions < outlook.MinSessions || r.Standing.Given })
	slices.SortStableFunc(rows, func(a, b store.Plan) int { return cmp.Compare(b.Standing.LastSession, a.Standing.LastSession) })
	v.Last = len(rows) > camePlans
	rows = rows[:min(len(rows), camePlans)]
	for i, r := range rows {
		progress(float64(i) / float64(len(rows)))
		w, err := p.looking(ctx, Ask{Plan: r.ID})
		if errors.Is(err, app.ErrNotFound) {
			continue
		}
		if err != nil {
			return v, err
		}
		start, top, took := outlook.Climbed(w.record)
		if top == start {
			continue
		}
		prior, err := p.prior(ctx, w, func(float64) {})
		if err != nil {
			return v, err
		}
		f, err := outlook.FitTo(nil, w.course.Heights[:top], prior, w.seed).Look(ctx, w.course.Before(start, top), cameRuns, w.seed, nil)
		if err != nil {
			return v, err
		}
		v.add(CameRow{
			Plan: w.ID, Dog: w.DogName, Skill: w.Name(), Steps: top - start, Took: took,
			Lo: f.Sessions.Lo, Mid: f.Sessions.Mid, Hi: f.Sessions.Hi,
		})
	}
	return v, nil
}

func (v *CameView) add(row CameRow) {
	switch {
	case row.Took < row.Lo:
		v.Sooner++
	case row.Took > row.Hi:
		v.Later++
	default:
		v.Held++
	}
	v.Plans = append(v.Plans, row)
}
