package schedule

import (
	"context"
	"strings"

	"patientfox/core/decision"
	"patientfox/core/library"
	"patientfox/core/phrase"
	"patientfox/core/reinforce"
	"patientfox/core/sheet"
	"patientfox/core/work"
	"patientfox/internal/app"
	"patientfox/internal/derive"
	"patientfox/internal/store"
)

// works is what several dogs could be worked on, plan by plan.
type works struct {
	plans map[string]app.Plan // by id
	of    map[string][]sheet.Candidate
	by    map[string]sheet.Candidate // by plan
}

// Figures of candidates.
const (
	pacesBack  = 60  // days that the pace of a plan is measured over
	leastTimed = 10  // trials from which on it is taken as measured
	usualSet   = 5   // trials, where the rule counts no sets
	exposureS  = 5.0 // s that an exposure lasts where its step does not say
)

// loadWorks loads the plans of dogs as sessions can hold them: three statements.
func loadWorks(ctx context.Context, q store.Q, dogs []string, today string, words phrase.Words) (w works, err error) {
	w = works{map[string]app.Plan{}, map[string][]sheet.Candidate{}, map[string]sheet.Candidate{}}
	rows, err := q.Plans(ctx, dogs, app.PlansLooked)
	if err != nil {
		return w, err
	}
	plans, err := app.LoadPlans(ctx, q, rows, words)
	if err != nil {
		return w, err
	}
	paces, err := q.Paces(ctx, dogs, derive.DayNamed(derive.DayNumber(today)-pacesBack))
	if err != nil {
		return w, err
	}
	pace := make(map[string]store.Pace, len(paces))
	for _, one := range paces {
		pace[one.Plan] = one
	}
	byDog := map[string][]app.Plan{}
	for _, l := range plans {
		w.plans[l.ID] = l
		byDog[l.Dog] = append(byDog[l.Dog], l)
	}
	for dog, list := range byDog {
		waits, needed := waiting(list)
		for _, l := range list {
			c := candidate(l, pace[l.ID], today)
			c.Waits = waits[l.ID][c.Start]
			c.Needed = needed[strings.ToLower(l.SkillName)]
			w.of[dog] = append(w.of[dog], c)
			w.by[l.ID] = c
		}
	}
	return w, nil
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

func candidate(l app.Plan, pace store.Pace, today string) sheet.Candidate {
	row := app.RowOf(l, today)
	at := l.Reached()
	if !row.Never {
		at, _ = decision.StartStep(decision.Visit{Reached: at, Steps: len(l.Steps), Days: row.Days, Stopped: l.Standing.Stopped})
	}
	step := l.Steps[at]
	pay, _ := l.Body.PayAt(step.ID)
	c := sheet.Candidate{
		Plan: l.ID, Main: l.Main, Kind: work.Kind(l.Kind), Start: step.ID, StartAt: at, Days: row.Days, Never: row.Never,
		New: at == l.Reached() && !pace.Tried, Due: row.ProbeDue, Finished: row.Finished, Stuck: row.Stuck != "", Neglected: row.Neglected,
		Safety: step.NeedsProof(), Set: setOf(l), Lively: lively(l), Tier: pay.Tier, Share: pay.Schedule.At(l.Standing.Rung).PaidShare(), Pieces: pay.Piece(),
	}
	usual, _ := l.Cycle(at, nil)
	if l.Work().ByState && usual.DurationS == 0 {
		usual.DurationS = exposureS
	}
	if c.CycleS = usual.Seconds(); pace.Logged >= leastTimed {
		c.CycleS = pace.Active / float64(pace.Logged)
	}
	if l.Work().Holds && pay.NeedsInside(usual) {
		c.Inside = reinforce.PaysInside(usual.DurationS, pay.Band.Lo)
	}
	return c
}

// setOf is how many trials of a plan belong together.
func setOf(l app.Plan) int {
	switch {
	case l.Body.Rule.Size > 0:
		return l.Body.Rule.Size
	case l.Work().Set > 0:
		return l.Work().Set
	}
	return usualSet
}

func lively(l app.Plan) bool {
	if l.Body.Arousal != "" {
		return l.Body.Arousal == library.Lively
	}
	return l.Work().Lively
}

// usualPlace is where the first skill of a session was worked last.
func (w works) usualPlace(body sheet.Sheet) string {
	if len(body.Blocks) == 0 {
		return ""
	}
	return w.plans[body.Blocks[0].Plan].Standing.LastPlace
}

// weeksOfAge is a dog's age in weeks for the limits of a session, 0 where it is not known.
func weeksOfAge(d store.Dog, day string) float64 { return app.WeeksOld(d.Born, day) }
