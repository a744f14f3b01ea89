package insight

import (
	"context"

	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/evidence"
	"patientfox/core/load"
	"patientfox/core/phrase"
	"patientfox/core/trial"
	"patientfox/internal/app"
	"patientfox/internal/store"
)

// Suggested is one thing to try at a stuck step, and the figure behind it.
type Suggested struct {
	Code, Try, Because string
}

// stuck says what to try at a step that does not go on, from what the record shows.
func (a *account) stuck() (because string, list []Suggested) {
	if because = app.StuckBecause(a.Plan, a.Today); because == "" {
		return "", nil
	}
	for _, s := range decision.Suggest(a.facts()) {
		try, why := phrase.Suggestion(s)
		list = append(list, Suggested{string(s.Code), try, why})
	}
	return because, list
}

// levers says how the reached step alone would become likely enough: how likely it is now, and each lever by itself. "" while that is being
// worked out, and where the step is likely enough already.
func (p *Cases) levers(ctx context.Context, q store.Q, a *account) (ahead string, rows []app.LeverRow, err error) {
	larder, err := app.LoadLarder(ctx, q, []store.Dog{{ID: a.Dog, Feeding: a.DogFeeding}}, a.Today)
	if err != nil {
		return "", nil, err
	}
	rewards := larder[a.Dog]
	m, ok, err := p.ModelOf(a.Plan, a.OfDog, rewards, a.Today)
	if err != nil || !ok || m.N == 0 {
		return "", nil, err
	}
	step := a.Steps[a.Reached()]
	at := a.Plan.Ahead(step, rewards, m.Experience, a.Standing.LastPlace)
	levers := m.Levers(at, load.Target)
	if len(levers) == 0 {
		return "", nil, nil
	}
	return phrase.Ahead(m.At(at), m.N, a.Work().Success()), app.LeverRows(levers, at, step.Criteria, a.Plan.Words), nil
}

// facts is what the record says of the reached step.
func (a *account) facts() decision.Facts {
	at := a.Reached()
	step := a.Steps[at].Criteria
	f := decision.Facts{
		Entries: a.Head(a.Today).Facts().Entries, Repeats: a.Standing.Repeats, Stalled: a.Standing.Stalled,
		Planned: a.Body.Pay.Band.Lo, Missing: len(app.Missing(a.Plan)),
		Trigger: step.Get(criteria.Intensity) > 0, Method: a.Body.Method,
	}
	if at > 0 {
		below := a.Steps[at-1].Criteria
		harder, _ := criteria.Changed(below, step)
		f.Raised = len(harder)
		for _, key := range fades {
			f.Fades = f.Fades || below.Has(key) && below.Get(key) != step.Get(key)
		}
	}
	sessions := map[string]bool{}
	var mine []trial.Trial
	blocks := map[string]bool{}
	began := -1 // the session in which the step was first worked
	for i := range a.Evidence {
		t := &a.Evidence[i]
		row := a.History.Trials[i]
		if a.At[i] != at || row.Rev != a.Steps[at].Rev || row.Level != a.MainLevel() || !t.Counted() {
			continue
		}
		if began < 0 {
			began = a.Order[t.Session]
		}
		mine = append(mine, *t)
		sessions[t.Session] = true
		blocks[row.Block] = true
		if !t.Outcome.Right() && t.Source != "" {
			f.Errors++
			f.Handler += app.BoolInt(t.Source == criteria.Sources[1])
			f.SetUp += app.BoolInt(t.Source == criteria.Sources[2])
		}
	}
	for i := range a.Evidence {
		t := &a.Evidence[i]
		if !t.Counted() || a.At[i] < 0 || a.At[i] >= at || began < 0 || a.History.Trials[i].Level != a.MainLevel() {
			continue
		}
		if a.Order[a.History.Trials[i].Session] < began {
			f.Before.Add(t.Outcome)
		} else {
			f.Lately.Add(t.Outcome)
		}
	}
	f.Sessions, f.Tally, f.OnlyCold = len(sessions), app.TallyOf(mine), evidence.OnlyCold(mine)
	f.Cold = evidence.FirstTrials(mine).Cold
	f.Slower, _ = evidence.Latencies(mine).Changed()
	f.Rate = a.rate(blocks)
	return f
}

// rate is the rate of reinforcement over some blocks, pays per minute; 0 where there was too little.
func (a *account) rate(blocks map[string]bool) float64 {
	pays, seconds := 0, 0.0
	for _, b := range a.Blocks {
		if blocks[b.ID] {
			pays, seconds = pays+b.Pays, seconds+b.Active
		}
	}
	if a.Work().Pairs { // of exposures it is over the time with the stimulus on
		seconds = 0
		for i := range a.History.Trials {
			t := &a.History.Trials[i]
			if blocks[t.Block] && t.HeldS != nil {
				seconds += *t.HeldS
			}
		}
	}
	if seconds <= 60 {
		return 0
	}
	return float64(pays) / seconds * 60
}
