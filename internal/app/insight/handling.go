package insight

import (
	"context"
	"fmt"
	"slices"

	"patientfox/core/evidence"
	"patientfox/core/handling"
	"patientfox/core/phrase"
	"patientfox/core/reinforce"
	"patientfox/core/say"
	"patientfox/core/trial"
	"patientfox/core/work"
	"patientfox/internal/app"
	"patientfox/internal/store"
)

// Bounds of what a handler's page looks at.
const (
	handlingDays   = 90
	handlingTrials = 4000
	handlingBlocks = 1000
	handlingRows   = 20 // skills
	handlingFew    = 30 // trials under which it says so
)

// HandlingView is what one person's trials show of how they handle.
type HandlingView struct {
	ID, Name          string
	Days              int
	Trials, Sessions  int
	Latest            bool // there are more trials than the page looks at: it is of the latest
	Dogs              int
	Lines             []string
	Small             string // that there are few, "" where there are not
	Skills            []app.RateRow
	Practise, Because string // what to do next, and why; "" where nothing stands out
}

// Handling shows it of a person by id; app.ErrNotFound where there is none.
func (p *Cases) Handling(ctx context.Context, id string) (v HandlingView, err error) {
	q := p.Store.Read()
	s, err := p.Profile(ctx, q)
	if err != nil {
		return v, err
	}
	everybody, err := q.Everybody(ctx)
	if err != nil {
		return v, err
	}
	at := slices.IndexFunc(everybody, func(one store.Person) bool { return one.ID == id })
	if at < 0 {
		return v, app.ErrNotFound
	}
	v = HandlingView{ID: id, Name: everybody[at].Name, Days: handlingDays}
	since := p.Now().AddDate(0, 0, -handlingDays).UnixMilli()
	trials, err := q.TrialsBy(ctx, id, since, handlingTrials)
	if err != nil || len(trials) == 0 {
		return v, err
	}
	blocks, err := q.BlocksBy(ctx, id, since, handlingBlocks)
	if err != nil {
		return v, err
	}
	var ids []string
	for _, t := range trials {
		if !slices.Contains(ids, t.Plan) {
			ids = append(ids, t.Plan)
		}
	}
	rows, err := q.PlansByID(ctx, ids)
	if err != nil {
		return v, err
	}
	plans, err := app.LoadPlans(ctx, q, rows, s.Words())
	if err != nil {
		return v, err
	}
	byID := map[string]app.Plan{}
	for _, l := range plans {
		byID[l.ID] = l
	}
	v.of(trials, blocks, byID)
	v.Latest = len(trials) == handlingTrials
	return v, nil
}

// of fills in what trials and blocks say, whose plans are by id.
func (v *HandlingView) of(trials []store.Trial, blocks []store.Block, plans map[string]app.Plan) {
	h := handling.Of(app.Bare(trials), func(i int) int {
		l := plans[trials[i].Plan]
		return l.Def.CuesAllowed()
	})
	var pace handling.Pace
	for _, b := range blocks {
		band := reinforce.Band{}
		if l, known := plans[b.Plan]; known {
			band = l.Body.Pay.Band
		}
		pace.Add(b.Active, b.Pays, band.Lo, band.Hi)
	}
	sessions, dogs := map[string]bool{}, map[string]bool{}
	for _, t := range trials {
		sessions[t.Session], dogs[plans[t.Plan].Dog] = true, true
	}
	v.Trials, v.Sessions, v.Dogs = len(trials), len(sessions), len(dogs)
	if h.N < handlingFew {
		v.Small = phrase.Small(h.N)
	}
	v.Lines = handlingLines(h, pace)
	if what, n, of, ok := h.Practise(pace); ok {
		v.Practise, v.Because = phrase.Exercise(what), phrase.Practise(what, n, of)
	}
	v.Skills = skillRates(trials, plans)
}

// handlingLines say what was counted.
func handlingLines(h handling.Account, pace handling.Pace) (lines []string) {
	if h.N > 0 {
		line := fmt.Sprintf("Own mistakes in %d of %s", h.Slipped, say.Count(h.N, "trial"))
		var named []evidence.Named
		for _, one := range h.Mistakes {
			if one.Name == work.MistakeNotSaid {
				one.Name = "not said which"
			}
			named = append(named, one)
		}
		if len(named) > 0 {
			line += ": " + listNamed(named)
		}
		lines = append(lines, line+".")
	}
	if h.Help.N() > 0 {
		lines = append(lines, fmt.Sprintf("More help than the step plans in %d of %d answers.", h.Help.Unplanned, h.Help.N()))
	}
	if pace.N() > 0 {
		lines = append(lines, fmt.Sprintf("Reinforcers a minute against the plan, in %s of work: %d within it, %d fewer, %d more.",
			say.Count(pace.N(), "block"), pace.Within, pace.Below, pace.Above))
	}
	return lines
}

// skillRates are the skills that somebody handled with their strict rates, those with the most trials first.
func skillRates(trials []store.Trial, plans map[string]app.Plan) (rows []app.RateRow) {
	planOf := map[string]string{}
	for _, t := range trials {
		planOf[t.ID] = t.Plan
	}
	keys, tallies := evidence.TallyBy(app.Bare(trials), func(t *trial.Trial) string { return planOf[t.ID] })
	slices.SortStableFunc(keys, func(a, b string) int { return tallies[b].N() - tallies[a].N() })
	for _, key := range keys[:min(len(keys), handlingRows)] {
		if l, known := plans[key]; known && tallies[key].N() > 0 {
			rows = append(rows, app.RateRow{Label: l.DogName + " · " + l.Name(), Rates: []app.Rate{app.RateOf("", tallies[key])}})
		}
	}
	return rows
}
