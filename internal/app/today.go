package app

import (
	"slices"

	"patientfox/core/care"
	"patientfox/core/decision"
	"patientfox/core/phrase"
	"patientfox/core/say"
	"patientfox/core/schedule"
	"patientfox/core/standing"
	"patientfox/internal/derive"
	"patientfox/internal/store"
)

// PlanRow is one plan in a list: Today, a dog's page.
type PlanRow struct {
	ID, Dog, DogID, Skill string
	Step                  string // the step reached, in words
	At, Of                int    // "step 4 of 11"
	Start                 string // where the next session opens
	Down                  int    // steps below the reached one, for Drops
	Drops                 []decision.Drop
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

// ChooseToday sorts all plans into the lists of the day, each as long as it is shown; sheets are the sessions planned for it.
func ChooseToday(heads []store.Head, sheets []Planned, today string) schedule.Lists {
	list := make([]schedule.Head, len(heads))
	toCome := PlansOf(slices.DeleteFunc(slices.Clone(sheets), func(pl Planned) bool { return pl.Session != "" || pl.Day != today }))
	for i, h := range heads {
		list[i] = headOf(h.Standing, h.Finished && h.StepAt == h.StepOf-1, decision.Kind(h.Rule), today)
		list[i].Planned, list[i].InClass = slices.Contains(toCome, h.Plan), h.InClass
	}
	return schedule.Today(list, RowsShown)
}

// headOf is a standing as the lists of a day read it.
func headOf(s store.Standing, finished bool, rule decision.Kind, today string) schedule.Head {
	return schedule.Head{
		Plan: s.Plan, Never: s.Sessions == 0, Finished: finished, Days: DaysBetween(s.LastDay, today),
		Probed: s.ProbeDue != "", ProbeIn: DaysBetween(today, s.ProbeDue), Stopped: s.Stopped,
		Recommended: decision.Verdict(s.LastRecommended), Action: s.LastAction, Repeats: s.Repeats, Entries: s.Entries, Stalled: s.Stalled,
		CountsUp: rule == decision.CountUp,
	}
}

// Head is the plan as the lists of a day read it.
func (l Plan) Head(today string) schedule.Head {
	return headOf(l.Standing, l.Finished(), l.Body.Rule.Kind, today)
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
	row.Probe, row.Stuck = ProbeLine(l, today), StuckBecause(l, today)
	row.ProbeDue = row.Probe != "" && l.Standing.ProbeDue <= today
	row.Neglected = !row.Finished && schedule.IsNeglected(row.Days)
	start, drops := decision.StartStep(decision.Visit{
		Reached: at, Steps: len(l.Steps), Days: row.Days, Stopped: l.Standing.Stopped, Halved: l.Position().Halved(l.Steps),
	})
	row.Down, row.Drops = at-start, drops
	row.Start = phrase.Start(row.Down, l.Words.Short(l.Steps[start].Criteria), drops, "", "")
	return row
}

// Undecided says what of a plan waits for the trainer.
func Undecided(l Plan, today string) string {
	h := l.Head(today)
	return phrase.Open(h.Open(), l.Standing.StepAt+1, h.Facts(), h.Recommended)
}

// StuckBecause says why a step counts as stuck; "" where it does not.
func StuckBecause(l Plan, today string) string {
	if h := l.Head(today); h.Stuck() {
		return phrase.Stuck(l.Standing.StepAt+1, h.Facts())
	}
	return ""
}

// CareDue says when a task of care is due, and now whether that is today or was before.
func CareDue(t care.Task, done []care.Done, today string) (says string, now bool) {
	day, sites, ok := t.Next(done, derive.DayNumber(today))
	switch in := day - derive.DayNumber(today); {
	case t.Theirs && !t.Named:
		return "Due once it is named who says how.", false
	case !ok:
		return "The course is over.", false
	case len(sites) == len(t.Sites):
		return phrase.Care(ShortDay(standing.Named(day), today), in, nil), in <= 0
	default:
		return phrase.Care(ShortDay(standing.Named(day), today), in, sites), in <= 0
	}
}
