package schedule

import (
	"context"
	"strings"

	"patientfox/core/pack"
	"patientfox/core/phrase"
	"patientfox/core/schedule"
	"patientfox/core/standing"
	"patientfox/core/work"
	"patientfox/internal/app"
	"patientfox/internal/derive"
	"patientfox/internal/store"
)

// works is what several dogs could be worked on, plan by plan.
type works struct {
	plans map[string]app.Plan // by id
	of    map[string][]schedule.Candidate
	by    map[string]schedule.Candidate // by plan
}

// pacesBack is how many days the pace of a plan is measured over.
const pacesBack = 60

// loadWorks loads the plans of dogs as sessions of a handler can hold them, of the main ones for "": three statements, and one more where
// another handles.
func loadWorks(ctx context.Context, q store.Q, dogs []string, handler, today string, words phrase.Words) (w works, err error) {
	w = works{map[string]app.Plan{}, map[string][]schedule.Candidate{}, map[string]schedule.Candidate{}}
	rows, err := q.Plans(ctx, dogs, app.PlansLooked)
	if err != nil {
		return w, err
	}
	plans, err := app.LoadPlans(ctx, q, rows, words)
	if err != nil {
		return w, err
	}
	paces, err := q.Paces(ctx, dogs, standing.Named(derive.DayNumber(today)-pacesBack))
	if err != nil {
		return w, err
	}
	pace := make(map[string]store.Pace, len(paces))
	for _, one := range paces {
		pace[one.Plan] = one
	}
	held, err := heldBy(ctx, q, dogs, plans, handler)
	if err != nil {
		return w, err
	}
	byDog := map[string][]app.Plan{}
	for _, l := range plans {
		w.plans[l.ID] = l
		byDog[l.Dog] = append(byDog[l.Dog], l)
	}
	for dog, list := range byDog {
		waits, needed := waiting(list)
		for _, l := range list {
			opens, first := held.opens(l)
			c := candidate(opens, pace[l.ID], today, first)
			c.Waits = waits[l.ID][c.Start]
			c.Needed = needed[strings.ToLower(l.SkillName)]
			w.of[dog] = append(w.of[dog], c)
			w.by[l.ID] = c
		}
	}
	return w, nil
}

// heldOf is where plans are with a handler beside the main one, by plan.
type heldOf map[string]store.Handled

// heldBy loads it; none where the handler is the main one of all.
func heldBy(ctx context.Context, q store.Q, dogs []string, plans []app.Plan, handler string) (heldOf, error) {
	held := heldOf{}
	for _, l := range plans {
		if handler != "" && l.MainHandler != "" && l.MainHandler != handler {
			held[l.ID] = store.Handled{}
		}
	}
	if len(held) == 0 {
		return held, nil
	}
	rows, err := q.HandledBy(ctx, dogs, handler)
	for _, one := range rows {
		if _, other := held[one.Plan]; other {
			held[one.Plan] = one
		}
	}
	return held, err
}

// opens is a plan as it stands for the handler; first where they never worked it.
func (h heldOf) opens(l app.Plan) (_ app.Plan, first bool) {
	one, other := h[l.ID]
	if !other || len(l.Steps) == 0 {
		return l, false
	}
	var shown []string
	_ = store.FromJSON(one.Shown, &shown) // written by the statement that loads it
	to, _, _ := pack.Opens(l.Steps, l.Reached(), one.StepAt, pack.Handling(work.Kind(l.Kind), one.Role), shown)
	l.Standing.Reached = l.Steps[to].ID
	l.Standing.Half, l.Standing.Splits = "", 0
	if one.LastDay != "" {
		l.Standing.LastDay = one.LastDay
	}
	return l, one.LastDay == ""
}

// waiting says which steps of a dog's plans wait for something, and for which skills.
func waiting(plans []app.Plan) (steps map[string]map[string]bool, needed map[string]bool) {
	steps, needed = map[string]map[string]bool{}, map[string]bool{}
	for _, l := range plans {
		_, missing := app.NeedsOf(l, plans)
		steps[l.ID] = map[string]bool{}
		for step := range app.BlockedSteps(l.Steps, missing) {
			steps[l.ID][step] = true
		}
		for _, n := range missing {
			needed[strings.ToLower(n.Skill)] = true
		}
	}
	return steps, needed
}

func candidate(l app.Plan, pace store.Pace, today string, first bool) schedule.Candidate {
	row := app.RowOf(l, today)
	return schedule.CandidateOf(schedule.Facts{
		Plan: l.ID, Main: l.Main, Kind: work.Kind(l.Kind), Steps: l.Steps, Reached: l.Reached(),
		Halved: l.Position().Halved(l.Steps), Body: l.Body, Rung: l.Standing.Rung,
		Days: row.Days, Never: row.Never, Stopped: l.Standing.Stopped, Finished: row.Finished, Due: row.ProbeDue, Stuck: row.Stuck != "",
		First: first, Tried: pace.Tried, Logged: pace.Logged, ActiveS: pace.Active,
	})
}

// usualPlace is where the first skill of a session was worked last.
func (w works) usualPlace(body schedule.Sheet) string {
	if len(body.Blocks) == 0 {
		return ""
	}
	return w.plans[body.Blocks[0].Plan].Standing.LastPlace
}

// weeksOfAge is a dog's age in weeks for the limits of a session, 0 where it is not known.
func weeksOfAge(d store.Dog, day string) float64 { return app.WeeksOld(d.Born, day) }
