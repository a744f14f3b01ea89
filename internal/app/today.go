package app

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"patientfox/core/decision"
	"patientfox/core/phrase"
	"patientfox/core/say"
	"patientfox/internal/store"
)

// PlanRow is one plan in a list: Today, a dog's page.
type PlanRow struct {
	ID, Dog, DogID, Skill string
	Step                  string // the step reached, in words
	At, Of                int    // "step 4 of 11"
	Start                 string // where the next session opens
	Ago                   string // since the last session
	Days                  int
	Never                 bool
	Finished              bool
	Given                 bool
	Mini                  []MiniPoint
	Rate                  string // strict rate with its interval, at the reached step
	Probe                 string // when a finished skill is next probed
	ProbeDue              bool   // today, or before
	Neglected             bool   // not worked for long
	Stuck                 string // why its step counts as stuck
}

// neglected is after how many days without a session an unfinished skill counts as neglected.
const neglected = 14

// RowsShown is how many rows a list shows at once.
const RowsShown = 25

// PlansLooked is how many plans Today looks at to choose from.
const PlansLooked = 400

// PlansOf are the plans that sheets hold.
func PlansOf(sheets []Planned) (ids []string) {
	for _, pl := range sheets {
		for _, b := range pl.Body.Blocks {
			if !slices.Contains(ids, b.Plan) {
				ids = append(ids, b.Plan)
			}
		}
	}
	return ids
}

// todays are the plans that the page of the day shows, list by list.
type todays struct {
	Next, Done, Probes, Finished, Decide []string
	More                                 bool
}

// IDs are all of them, each once.
func (t todays) IDs() []string {
	return slices.Concat(t.Next, t.Done, t.Probes, t.Finished, t.Decide)
}

// ChooseToday sorts all plans into the lists of the day, each as long as it is shown: what was worked longest ago
// comes first.
func ChooseToday(heads []store.Head, today string) (t todays) {
	var next []store.Head
	put := func(list *[]string, id string) {
		if len(*list) < RowsShown {
			*list = append(*list, id)
		}
	}
	for _, h := range heads {
		worked := h.Sessions > 0
		finished := h.Finished && h.StepAt == h.StepOf-1
		days := DaysBetween(h.LastDay, today)
		if needsDecision(h.Standing, finished) {
			put(&t.Decide, h.Plan)
		}
		switch {
		case finished && h.ProbeDue != "" && h.ProbeDue <= today && days > 0:
			put(&t.Probes, h.Plan)
		case finished:
			put(&t.Finished, h.Plan)
		case worked && days == 0:
			put(&t.Done, h.Plan)
		default:
			next = append(next, h)
		}
	}
	slices.SortStableFunc(next, func(a, b store.Head) int {
		return cmp.Or(BoolInt(a.Sessions == 0)-BoolInt(b.Sessions == 0), cmp.Compare(a.LastDay, b.LastDay))
	})
	t.More = len(next) > RowsShown
	for _, h := range next {
		put(&t.Next, h.Plan)
	}
	return t
}

// needsDecision tells whether undecided would say something of a plan.
func needsDecision(h store.Standing, finished bool) bool {
	l := Plan{Plan: store.Plan{Standing: h}}
	l.Body.Rule.Kind = decision.Kind(h.Rule)
	return undecidedOf(l, finished) != ""
}

// RowOf is a plan as lists show it.
func RowOf(l Plan, today string) PlanRow {
	at := l.Reached()
	row := PlanRow{
		ID: l.ID, Dog: l.DogName, DogID: l.Dog, Skill: l.Name(), At: at + 1, Of: len(l.Steps),
		Never: l.Standing.Sessions == 0, Given: l.Standing.Given, Finished: l.Finished(),
	}
	if len(l.Steps) > 0 {
		row.Step = l.Words.Step(l.Steps[at].Criteria)
	}
	if row.Never {
		row.Ago, row.Start = "not worked yet", phrase.StartFirst
		return row
	}
	row.Days = DaysBetween(l.Standing.LastDay, today)
	row.Ago = say.Days(row.Days)
	row.Probe, row.Stuck = ProbeLine(l, today), StuckBecause(l)
	row.ProbeDue = row.Probe != "" && l.Standing.ProbeDue <= today
	row.Neglected = !row.Finished && row.Days > neglected
	start, drops := decision.StartStep(decision.Visit{Reached: at, Steps: len(l.Steps), Days: row.Days, Stopped: l.Standing.Stopped})
	row.Start = phrase.Start(at-start, drops, "", "")
	return row
}

// Undecided says what of a plan waits for the trainer.
func Undecided(l Plan) string { return undecidedOf(l, l.Finished()) }

func undecidedOf(l Plan, finished bool) string {
	advice, deed := l.Standing.LastAdvice, l.Standing.LastDeed
	word := strings.ToLower(phrase.Verdict(decision.Verdict(advice)))
	switch {
	case l.Standing.Stopped:
		return "The last session ended in a stop."
	case !finished && stuckAt(l) != "":
		return stuckAt(l)
	case advice == string(decision.Split) && deed == string(decision.Repeat):
		return "A split was advised and the step kept. A half step is ready on the plan."
	case deed == "open":
		return fmt.Sprintf("“%s” was advised and nobody answered before the session ended.", word)
	}
	return ""
}
