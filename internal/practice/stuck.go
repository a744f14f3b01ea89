package practice

import (
	"fmt"

	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/evidence"
	"patientfox/core/phrase"
	"patientfox/core/say"
	"patientfox/core/trial"
)

// Suggested is one thing to try at a stuck step, and the figure behind it.
type Suggested struct {
	Code, Try, Because string
}

// stuckBecause says why a step counts as stuck; "" where it does not.
func stuckBecause(l loaded) string {
	if l.finished() {
		return ""
	}
	return stuckAt(l)
}

func stuckAt(l loaded) string {
	f := decision.Facts{Entries: entries(l), Repeats: l.Standing.Repeats}
	if !decision.Stuck(f) {
		return ""
	}
	line := fmt.Sprintf("Stuck at step %d:", l.Standing.StepAt+1)
	if f.Repeats > 0 {
		line += fmt.Sprintf(" %s without a step up", say.Count(f.Repeats, "verdict"))
	}
	if f.Entries > 1 {
		if f.Repeats > 0 {
			line += ","
		}
		line += " come to " + say.Times(f.Entries)
	}
	return line + "."
}

// entries is how often the reached step was come to. Counting up comes to every step again and again: that is
// how it works.
func entries(l loaded) int {
	if l.body.Rule.Kind == decision.CountUp {
		return 1
	}
	return l.Standing.Entries
}

// stuck says what to try at a step that does not go on, from what the record shows.
func (a *account) stuck() (because string, list []Suggested) {
	if because = stuckBecause(a.loaded); because == "" {
		return "", nil
	}
	for _, s := range decision.Suggest(a.facts()) {
		try, why := phrase.Suggestion(s)
		list = append(list, Suggested{string(s.Code), try, why})
	}
	return because, list
}

// facts is what the record says of the reached step.
func (a *account) facts() decision.Facts {
	at := a.reached()
	step := a.steps[at].Criteria
	f := decision.Facts{
		Entries: entries(a.loaded), Repeats: a.Standing.Repeats, Planned: a.body.Pay.Band.Lo, Missing: len(missing(a.loaded)),
		Trigger: step.Get(criteria.Intensity) > 0, Method: a.body.Method,
	}
	if at > 0 {
		below := a.steps[at-1].Criteria
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
	for i, t := range a.trials {
		row := a.history.trials[i]
		if a.at[i] != at || row.Rev != a.steps[at].Rev || !t.Counted() {
			continue
		}
		if began < 0 {
			began = a.order[t.Session]
		}
		mine = append(mine, t)
		sessions[t.Session] = true
		blocks[row.Block] = true
		if !t.Outcome.Right() && t.Source != "" {
			f.Errors++
			f.Handler += boolInt(t.Source == criteria.Sources[1])
			f.SetUp += boolInt(t.Source == criteria.Sources[2])
		}
	}
	for i, t := range a.trials {
		if !t.Counted() || a.at[i] < 0 || a.at[i] >= at || began < 0 {
			continue
		}
		if a.order[a.history.trials[i].Session] < began {
			f.Before.Add(t.Outcome)
		} else {
			f.Lately.Add(t.Outcome)
		}
	}
	f.Sessions, f.Tally, f.OnlyCold = len(sessions), tallyOf(mine), evidence.OnlyCold(mine)
	f.Cold = evidence.FirstTrials(mine).Cold
	f.Slower, _ = evidence.Latencies(mine).Changed()
	pays, seconds := 0, 0.0
	for _, b := range a.blocks {
		if blocks[b.ID] {
			pays, seconds = pays+b.Pays, seconds+b.Active
		}
	}
	if a.work().Pairs { // of exposures it is over the time with the stimulus on
		seconds = 0
		for _, t := range a.history.trials {
			if blocks[t.Block] && t.HeldS != nil {
				seconds += *t.HeldS
			}
		}
	}
	if seconds > 60 {
		f.Rate = float64(pays) / seconds * 60
	}
	return f
}
