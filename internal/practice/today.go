package practice

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"patientfox/core/decision"
	"patientfox/core/phrase"
	"patientfox/core/progression"
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

// DecideRow is something that waits for the trainer's judgement.
type DecideRow struct {
	Plan, Dog, Skill, Text, Session string
	Stuck                           bool // what to try stands on its page of evidence
}

// OpenRow is a session that was not ended.
type OpenRow struct {
	Session, Plan, Dog, Skill, Since string
}

// TodayView is the page of the day.
type TodayView struct {
	Day      string // "Monday 23 November"
	Name     string
	Unnamed  bool
	Dogs     int
	Open     []OpenRow
	Next     []PlanRow
	Decide   []DecideRow
	Done     []PlanRow
	Probes   []PlanRow // finished skills that are to be probed
	Finished []PlanRow
	More     bool      // there are more plans than the page shows
	Slots    []SlotRow // sessions planned for today
	Packs    []DogPack // food to count out for those that are still to come
	Gear     []string
	Helpers  []string
	Food     []DogFood
	Choices  []Named // dogs to plan a session for
	Soon     string  // the first session that is still to come
	Aside    []SetAside
}

// dogsShown is how many dogs stand in the line that plans a session.
const dogsShown = 8

// Shown are the dogs in that line.
func (v TodayView) Shown() []Named { return v.Choices[:min(len(v.Choices), dogsShown)] }

// DogPack is the food to count out for one dog.
type DogPack struct {
	Dog  string
	Rows []PackRow
}

// DogFood is how a dog's training food stands today.
type DogFood struct {
	ID, Dog, Says string
	Over          bool
}

// neglected is after how many days without a session an unfinished skill counts as neglected.
const neglected = 14

// rowsShown is how many rows a list shows at once.
const rowsShown = 25

// plansLooked is how many plans Today looks at to choose from.
const plansLooked = 400

// Today shows what to work on, in order: what was worked longest ago comes first.
func (p *Practice) Today(ctx context.Context) (TodayView, error) {
	return remember(ctx, p, "today", on[TodayView](allDogs), func() (TodayView, error) { return p.makeToday(ctx) })
}

func (p *Practice) makeToday(ctx context.Context) (v TodayView, err error) {
	q := p.store.Read()
	s, err := p.settings(ctx, q)
	if err != nil {
		return v, err
	}
	heads, err := q.PlanHeads(ctx, plansLooked)
	if err != nil {
		return v, err
	}
	if v.Choices = dogsOf(heads); len(heads) == 0 {
		dogs, err := q.Dogs(ctx, "", "", rowsShown)
		if err != nil {
			return v, err
		}
		for _, d := range dogs {
			v.Choices = append(v.Choices, Named{d.ID, d.Name})
		}
	}
	today := s.day(p.ms())
	chosen := chooseToday(heads, today)
	sheets, err := loadSheets(ctx, q, nil, today, today)
	if err != nil {
		return v, err
	}
	planRows, err := q.PlansByID(ctx, slices.Concat(chosen.ids(), plansOf(sheets)))
	if err != nil {
		return v, err
	}
	plans, err := loadPlans(ctx, q, planRows, s.words())
	if err != nil {
		return v, err
	}
	open, err := q.OpenSessions(ctx)
	if err != nil {
		return v, err
	}
	if v.Aside, err = setAside(ctx, q, s); err != nil {
		return v, err
	}
	v.Day, v.Name, v.Unnamed, v.Dogs = p.now().In(s.zone).Format("Monday 2 January"), s.Name, s.Name == "", len(v.Choices)
	for _, o := range open {
		v.Open = append(v.Open, OpenRow{o.Session, o.Plan, o.Dog, o.Skill, time.UnixMilli(o.Opened).In(s.zone).Format("2 Jan 15:04")})
	}
	byID := make(map[string]loaded, len(plans))
	for _, l := range plans {
		byID[l.ID] = l
	}
	rows := func(ids []string) (list []PlanRow) {
		for _, id := range ids {
			if l, ok := byID[id]; ok {
				list = append(list, planRow(l, today))
			}
		}
		return list
	}
	v.Next, v.Done, v.Probes, v.Finished, v.More = rows(chosen.next), rows(chosen.done), rows(chosen.probes), rows(chosen.finished), chosen.more
	for _, id := range chosen.decide {
		if l, ok := byID[id]; ok {
			text := undecided(l)
			v.Decide = append(v.Decide, DecideRow{l.ID, l.DogName, l.name(), text, l.Standing.LastSession, text == stuckBecause(l)})
		}
	}
	err = v.planned(ctx, q, sheets, byID, p.now().In(s.zone))
	return v, err
}

// dogsOf are the dogs of plans, each once.
func dogsOf(heads []store.Head) (dogs []Named) {
	for _, h := range heads {
		if n := len(dogs); n == 0 || dogs[n-1].ID != h.Dog {
			dogs = append(dogs, Named{h.Dog, h.DogName})
		}
	}
	return dogs
}

// plansOf are the plans that sheets hold.
func plansOf(sheets []planned) (ids []string) {
	for _, pl := range sheets {
		for _, b := range pl.body.Blocks {
			if !slices.Contains(ids, b.Plan) {
				ids = append(ids, b.Plan)
			}
		}
	}
	return ids
}

// planned fills in the sessions of the day, what to pack for those still to come, and each dog's food.
func (v *TodayView) planned(ctx context.Context, q store.Q, sheets []planned, plans map[string]loaded, now time.Time) error {
	today, minute := now.Format(dayLayout), now.Hour()*60+now.Minute()
	names := map[string]string{}
	var worked []store.Dog
	for _, l := range plans {
		names[l.ID] = l.name()
	}
	for _, pl := range sheets {
		if !slices.ContainsFunc(worked, func(d store.Dog) bool { return pl.Dog == d.ID }) {
			worked = append(worked, dogOf(pl.Sheet))
		}
	}
	for _, pl := range sheets {
		row := slotRow(pl, names)
		if len(pl.body.Blocks) > 0 {
			b := pl.body.Blocks[0]
			if l, ok := plans[b.Plan]; ok {
				at := progression.Index(l.steps, b.Step)
				if !b.Chosen {
					at = candidate(l, store.Pace{}, today).StartAt
				}
				row.First = l.words.Step(l.steps[max(0, at)].Criteria)
			}
		}
		row.Missed = row.Session == "" && pl.Start+pl.Sheet.Minutes < minute
		if v.Soon == "" && row.Session == "" && !row.Missed {
			v.Soon = row.ID
		}
		v.Slots = append(v.Slots, row)
	}
	rewards, err := loadLarder(ctx, q, worked, today)
	if err != nil {
		return err
	}
	ids := make([]string, len(worked))
	for i, d := range worked {
		ids[i] = d.ID
	}
	food, err := loadFood(ctx, q, rewards, ids, today, today)
	if err != nil {
		return err
	}
	for _, d := range worked {
		var rows []PackRow
		for _, pl := range sheets {
			if pl.Dog != d.ID || pl.session != "" {
				continue
			}
			rows = append(rows, food.pack(pl)...)
			for _, one := range []struct {
				to   *[]string
				text string
			}{{&v.Gear, pl.body.Gear}, {&v.Helpers, pl.body.Helper}} {
				if one.text != "" && !slices.Contains(*one.to, one.text) {
					*one.to = append(*one.to, one.text)
				}
			}
			v.gear(pl, plans)
		}
		if len(rows) > 0 {
			v.Packs = append(v.Packs, DogPack{d.Name, packed(rows)})
		}
		b, known, err := budgetOf(d, food, sheets, today)
		if err != nil {
			return err
		}
		says, over := phrase.Budget(b, known)
		v.Food = append(v.Food, DogFood{d.ID, d.Name, says, over})
	}
	return nil
}

// gear adds what the steps of a session are worked on.
func (v *TodayView) gear(pl planned, plans map[string]loaded) {
	for _, item := range (sheetParts{planned: pl, works: works{plans: plans}}).gear() {
		if !slices.Contains(v.Gear, item) {
			v.Gear = append(v.Gear, item)
		}
	}
}

// todays are the plans that the page of the day shows, list by list.
type todays struct {
	next, done, probes, finished, decide []string
	more                                 bool
}

func (t todays) ids() []string {
	return slices.Concat(t.next, t.done, t.probes, t.finished, t.decide)
}

// chooseToday sorts all plans into the lists of the day, each as long as it is shown: what was worked longest ago
// comes first.
func chooseToday(heads []store.Head, today string) (t todays) {
	var next []store.Head
	put := func(list *[]string, id string) {
		if len(*list) < rowsShown {
			*list = append(*list, id)
		}
	}
	for _, h := range heads {
		worked := h.Sessions > 0
		finished := h.Finished && h.StepAt == h.StepOf-1
		days := daysBetween(h.LastDay, today)
		if needsDecision(h.Standing, finished) {
			put(&t.decide, h.Plan)
		}
		switch {
		case finished && h.ProbeDue != "" && h.ProbeDue <= today && days > 0:
			put(&t.probes, h.Plan)
		case finished:
			put(&t.finished, h.Plan)
		case worked && days == 0:
			put(&t.done, h.Plan)
		default:
			next = append(next, h)
		}
	}
	slices.SortStableFunc(next, func(a, b store.Head) int {
		return cmp.Or(boolInt(a.Sessions == 0)-boolInt(b.Sessions == 0), cmp.Compare(a.LastDay, b.LastDay))
	})
	t.more = len(next) > rowsShown
	for _, h := range next {
		put(&t.next, h.Plan)
	}
	return t
}

// needsDecision tells whether undecided would say something of a plan.
func needsDecision(h store.Standing, finished bool) bool {
	l := loaded{Plan: store.Plan{Standing: h}}
	l.body.Rule.Kind = decision.Kind(h.Rule)
	return undecidedOf(l, finished) != ""
}

func planRow(l loaded, today string) PlanRow {
	at := l.reached()
	row := PlanRow{
		ID: l.ID, Dog: l.DogName, DogID: l.Dog, Skill: l.name(), At: at + 1, Of: len(l.steps),
		Never: l.Standing.Sessions == 0, Given: l.Standing.Given, Finished: l.finished(),
	}
	if len(l.steps) > 0 {
		row.Step = l.words.Step(l.steps[at].Criteria)
	}
	if row.Never {
		row.Ago, row.Start = "not worked yet", phrase.StartFirst
		return row
	}
	row.Days = daysBetween(l.Standing.LastDay, today)
	row.Ago = say.Days(row.Days)
	row.Probe, row.Stuck = probeLine(l, today), stuckBecause(l)
	row.ProbeDue = row.Probe != "" && l.Standing.ProbeDue <= today
	row.Neglected = !row.Finished && row.Days > neglected
	start, drops := decision.StartStep(decision.Visit{Reached: at, Steps: len(l.steps), Days: row.Days, Stopped: l.Standing.Stopped})
	row.Start = phrase.Start(at-start, drops, "", "")
	return row
}

// undecided says what of a plan waits for the trainer.
func undecided(l loaded) string { return undecidedOf(l, l.finished()) }

func undecidedOf(l loaded, finished bool) string {
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
