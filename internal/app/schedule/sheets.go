package schedule

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"patientfox/core/caution"
	"patientfox/core/criteria"
	"patientfox/core/phrase"
	"patientfox/core/progression"
	"patientfox/core/reinforce"
	"patientfox/core/say"
	"patientfox/core/schedule"
	"patientfox/core/work"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/store"
)

// SheetBlock is one block of a sheet as pages show it.
type SheetBlock struct {
	Number                           int
	Plan, Skill, Step, Why           string
	StepAt                           int
	Probe, New                       bool
	Sets, Set                        int
	Minutes                          string
	Break                            string
	Pay                              []string
	Food                             string
	Pieces                           int
	Note                             string
	Right                            []string // what counts, where somebody trains who was not there when it was agreed
	Hints                            []string
	Steps                            []app.Named
	StepID                           string
	Index                            int
	Missing                          bool // its plan was put away
	Blocked                          string
	SetsField, SetField, BreakField  string
	StepField, NoteField, ProbeField string
}

// SheetView is one planned session.
type SheetView struct {
	ID, DogID, Dog      string
	Day, DayISO, At     string
	Until               string
	Place, Handler      string
	Household           bool
	Version             int
	Minutes             int // of the sheet itself
	Slot                int // of its place in the day
	Warm                string
	WarmMin             string
	Blocks              []SheetBlock
	Finish, FinishStep  string
	FinishDown          string // how far that is below where the session begins
	Pieces              int
	Pack                []app.PackRow
	Food                string
	FoodOver            bool
	Gear, Helper        string
	Exits, Falls        string
	Flags, Cautions     []string
	Hints               []string
	Form                form.Typed
	Places, People      []app.Named
	Addable             []app.Named // plans that can be put in
	Finishable          []app.Named
	Session             string
	Ended, Away         bool
	WarmSays, FallsSays string
	Rewards             []string // other than food that a step is paid with
}

// Sheet shows one planned session.
func (p *Cases) Sheet(ctx context.Context, id string) (SheetView, error) {
	return app.Remember(ctx, p.Practice, "sheet "+id, app.On[SheetView](app.AllDogs),
		func() (SheetView, error) { return p.makeSheet(ctx, id) })
}

// sheetParts is what a sheet's page and its edits need.
type sheetParts struct {
	app.Planned
	s     app.Profile
	dog   store.Dog
	works works
}

func (p *Cases) loadSheet(ctx context.Context, q store.Q, id string) (l sheetParts, err error) {
	if l.s, err = p.Profile(ctx, q); err != nil {
		return l, err
	}
	row, err := q.Sheet(ctx, id)
	if err != nil {
		return l, app.Found(err)
	}
	if l.Planned, err = app.PlannedOf(row); err != nil {
		return l, err
	}
	l.dog = dogOf(row)
	if l.works, err = loadWorks(ctx, q, []string{row.Dog}, row.Handler, max(row.Day, l.s.Day(p.Ms())), l.s.Words()); err != nil {
		return l, err
	}
	// What was not chosen by hand follows its plan until it is worked.
	for i := range l.Body.Blocks {
		b := &l.Body.Blocks[i]
		if c, known := l.works.by[b.Plan]; known && l.Session == "" && !b.Chosen {
			b.Step = c.Start
			b.Count(c)
		}
	}
	return l, nil
}

// dogOf is what a planned session knows of its dog.
func dogOf(row store.Sheet) store.Dog {
	return store.Dog{ID: row.Dog, Name: row.DogName, Born: row.DogBorn, WeightKg: row.DogKg, Feeding: row.DogFeeding, Flags: row.DogFlags}
}

func (p *Cases) makeSheet(ctx context.Context, id string) (v SheetView, err error) {
	q := p.Store.Read()
	l, err := p.loadSheet(ctx, q, id)
	if err != nil {
		return v, err
	}
	rewards, err := app.LoadLarder(ctx, q, []store.Dog{l.dog}, l.Day)
	if err != nil {
		return v, err
	}
	food, err := app.LoadFood(ctx, q, rewards, []string{l.Dog}, l.Day, l.Day)
	if err != nil {
		return v, err
	}
	choices, err := q.ChoicesFor(ctx, l.Dog, "", "")
	if err != nil {
		return v, err
	}
	today := l.s.Day(p.Ms())
	v = SheetView{
		ID: id, DogID: l.Dog, Dog: l.dog.Name, DayISO: l.Day, Day: longDay(l.Day, today), At: form.ClockOf(l.Start),
		Until: form.ClockOf(l.Start + l.Sheet.Minutes),
		Place: l.PlaceName, Handler: l.HandlerName, Household: l.Household, Version: l.Version, Minutes: l.Body.Minutes(), Slot: l.Sheet.Minutes,
		Pieces: l.Body.Pieces(), Session: l.Session, Ended: l.Ended, Away: l.Deleted != nil, Exits: l.Body.Exits,
		Falls: l.Body.Falls, Helper: l.Body.Helper,
		Gear: strings.Join(slices.DeleteFunc([]string{l.Body.Gear, strings.Join(l.gear(), ", ")}, func(s string) bool { return s == "" }),
			", "),
		FallsSays: phrase.Falls, WarmSays: phrase.WarmUp, Pack: food.Pack(l.Planned),
	}
	for _, line := range strings.Split(l.dog.Flags, "\n") {
		if line = strings.TrimSpace(line); line != "" {
			v.Flags = append(v.Flags, line)
		}
	}
	v.Cautions = caution.For(caution.Where{Flags: len(v.Flags) > 0, Safety: l.safety()})
	v.Places, v.People = placesAndPeople(choices)
	if l.Body.WarmS > 0 {
		v.Warm = l.Body.Warm
		v.WarmMin = minutesSay(l.Body.WarmS)
	}
	v.blocks(l, food)
	if err := v.budget(l, food); err != nil {
		return v, err
	}
	v.Form = l.Typed()
	return v, nil
}

// budget says what the session takes of the day's food, and what its plan should be looked at for.
func (v *SheetView) budget(l sheetParts, food app.DaysFood) error {
	kcal, _ := food.Planned(l.Planned)
	left := math.Inf(1)
	if need, feeding, known, err := app.NeedOf(l.dog, l.Day); err != nil {
		return err
	} else if known {
		budget := reinforce.Budget{Need: need.Kcal, Allowed: feeding.Allowed(need.Kcal), FromMeals: feeding.FromMeals}
		budget.Eaten, budget.Extra, _ = food.Kcal(l.Dog, l.Day)
		left = budget.Left()
		if l.Session == "" {
			budget.Planned = kcal
		}
		v.Food, v.FoodOver = phrase.Budget(budget, true)
	}
	if l.Session != "" {
		left = math.Inf(1) // eaten by now
	}
	for _, h := range l.Body.Hints(weeksOfAge(l.dog, l.Day), l.Sheet.Minutes, kcal, left) {
		if h.Block < 0 {
			v.Hints = append(v.Hints, phrase.SheetHint(h))
		} else {
			v.Blocks[h.Block].Hints = append(v.Blocks[h.Block].Hints, phrase.SheetHint(h))
		}
	}
	return nil
}

func placesAndPeople(choices []store.Chosen) (places, people []app.Named) {
	for _, one := range choices {
		switch one.What {
		case "place":
			places = append(places, app.Named{ID: one.ID, Name: one.Name})
		case "person":
			people = append(people, app.Named{ID: one.ID, Name: one.Name})
		}
	}
	return places, people
}

// safety tells whether the sheet works a step that keeps somebody safe.
func (l sheetParts) safety() bool {
	return slices.ContainsFunc(l.Body.Blocks, func(b schedule.Block) bool { return l.works.by[b.Plan].Safety })
}

// gear is what the steps of a sheet are worked on.
func (l sheetParts) gear() []string {
	var list []string
	for _, b := range l.Body.Blocks {
		one := l.works.plans[b.Plan]
		if i := progression.Index(one.Steps, b.Step); i >= 0 {
			if item := one.Steps[i].Criteria.Item(criteria.Gear); item != "" && !criteria.NoSupport(item) && !slices.Contains(list, item) {
				list = append(list, item)
			}
		}
	}
	return list
}

func minutesSay(s float64) string {
	if s < 60 {
		return say.Seconds(math.Round(s))
	}
	return criteria.Figure(math.Round(s/30)/2) + " min"
}

// longDay writes a day as "Monday 23 November", with "today" where it is.
func longDay(day, today string) string {
	d, err := time.Parse(app.DayLayout, day)
	if err != nil {
		return day
	}
	says := d.Format("Monday 2 January")
	if day == today {
		says = "Today, " + says
	}
	return says
}

func (v *SheetView) blocks(l sheetParts, food app.DaysFood) {
	for i, b := range l.Body.Blocks {
		one, known := l.works.plans[b.Plan]
		row := SheetBlock{
			Number: i + 1, Index: i, Plan: b.Plan, Probe: b.Probe, New: b.New, Sets: b.Sets, Set: b.Set, Minutes: minutesSay(b.WorkS),
			Why: phrase.SheetWhy(b.Why, l.works.by[b.Plan].Days), Pieces: b.Pieces, Note: b.Note, StepID: b.Step, Missing: !known,
			SetsField: fmt.Sprintf("sets%d", i), SetField: fmt.Sprintf("set%d", i), BreakField: fmt.Sprintf("break%d", i),
			StepField: fmt.Sprintf("step%d", i), NoteField: fmt.Sprintf("note%d", i), ProbeField: fmt.Sprintf("probe%d", i),
		}
		if b.BreakS > 0 {
			row.Break = minutesSay(b.BreakS)
		}
		if known {
			row.Skill = one.Name()
			at := max(0, progression.Index(one.Steps, b.Step))
			row.StepAt, row.Step = at+1, one.Words.Step(one.Steps[at].Criteria)
			if l.Household {
				for _, point := range phrase.Ticks(work.Kind(one.Kind), one.Def) {
					row.Right = append(row.Right, strings.TrimRight(point, ".")+".") // as a sentence, however it was typed
				}
			}
			pay, _ := one.Body.PayAt(one.Steps[at].ID)
			row.Pay = phrase.Strategy(pay, one.Standing.Rung)
			if says := reinforce.Otherwise(pay.Delivery, l.Bans); says != "" {
				row.Hints = append(row.Hints, says)
			}
			if l.works.by[b.Plan].Waits {
				row.Blocked = "Something must stand first at this step."
			}
			for k := len(one.Steps) - 1; k >= 0; k-- {
				row.Steps = append(row.Steps, app.Named{ID: one.Steps[k].ID, Name: fmt.Sprintf("%d · %s", k+1, one.Words.Short(one.Steps[k].Criteria))})
			}
			if hand := reinforce.InHand(food.Rewards[l.Dog], pay.Tier, l.Place, l.Bans); len(hand) > 0 {
				row.Food = hand[0].Name
			}
			v.Finishable = append(v.Finishable, app.Named{ID: b.Plan, Name: row.Skill})
		}
		v.Blocks = append(v.Blocks, row)
	}
	if one, ok := l.works.plans[l.Body.Finish]; ok {
		start := l.works.by[l.Body.Finish].StartAt
		v.Finish, v.FinishStep, v.FinishDown = one.Name(), one.Words.Step(one.Steps[max(0, start-2)].Criteria), phrase.Down(min(2, start))
	}
	for _, c := range l.works.of[l.Dog] {
		name := l.works.plans[c.Plan].Name()
		if c.Waits {
			name += " (waits for something)"
		}
		v.Addable = append(v.Addable, app.Named{ID: c.Plan, Name: name})
	}
}
