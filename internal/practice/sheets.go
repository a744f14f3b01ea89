package practice

import (
	"cmp"
	"context"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"
	"time"

	"patientfox/core/caution"
	"patientfox/core/criteria"
	"patientfox/core/phrase"
	"patientfox/core/progression"
	"patientfox/core/reinforce"
	"patientfox/core/say"
	"patientfox/core/sheet"
	"patientfox/internal/store"
)

// planned is one session as it is planned, decoded.
type planned struct {
	store.Sheet
	body    sheet.Sheet
	bans    []reinforce.Ban
	session string
}

func loadSheets(ctx context.Context, q store.Q, dogs []string, from, to string) ([]planned, error) {
	rows, err := q.Sheets(ctx, dogs, from, to)
	if err != nil {
		return nil, err
	}
	list := make([]planned, len(rows))
	for i, row := range rows {
		if list[i], err = plannedOf(row); err != nil {
			return nil, err
		}
	}
	return list, nil
}

func plannedOf(row store.Sheet) (p planned, err error) {
	p.Sheet, p.session = row, row.Session
	if err = jsonInto(row.Body, &p.body); err != nil {
		return p, err
	}
	err = jsonInto(row.Bans, &p.bans)
	return p, err
}

// PackRow is one food to count out.
type PackRow struct {
	Tier, Name string
	Pieces     int
	Grams      string
	Missing    bool // no food is ranked that well
	kcal       float64
	rank       int
	grams      float64
}

// pack is the food of a sheet counted out: what each block takes at its tier, the warm-up with something good,
// the finish and the reserve with the best of the session.
func (f daysFood) pack(p planned) []PackRow {
	pieces := map[int]int{}
	best := 0
	for _, b := range p.body.Blocks {
		pieces[b.Tier] += b.Pieces
		best = max(best, b.Tier)
	}
	if len(p.body.Blocks) == 0 {
		return nil
	}
	rest := p.body.Pieces()
	for _, b := range p.body.Blocks {
		rest -= b.Pieces
	}
	if p.body.WarmS > 0 {
		pieces[usualTierPaid] += sheet.WarmPieces
		rest -= sheet.WarmPieces
	}
	pieces[best] += rest
	var rows []PackRow
	for tier, n := range pieces {
		row := PackRow{Pieces: n, rank: tier}
		if hand := reinforce.InHand(f.rewards[p.Dog], tier, p.Place, p.bans); len(hand) > 0 {
			r := hand[0]
			portion := reinforce.PortionOf(n, r.Grams, r.Kcal)
			row.Name, row.kcal, row.grams = r.Name, portion.Kcal, portion.Grams
			row.Missing = tier > 0 && r.Tier > 0 && r.Tier < tier
			row.rank = max(tier, r.Tier)
		}
		if row.Name == "" {
			row.Name = "no food that may be used there"
			if !slices.ContainsFunc(f.rewards[p.Dog], func(r reinforce.Reward) bool { return r.Kind == reinforce.Food }) {
				row.Name = "pieces: no food is known yet, name one under Rewards"
			}
		}
		rows = append(rows, row)
	}
	return packed(rows)
}

// packed puts rows of one food together, best first.
func packed(rows []PackRow) []PackRow {
	var out []PackRow
	for _, r := range rows {
		at := slices.IndexFunc(out, func(o PackRow) bool { return o.Name == r.Name })
		if at < 0 {
			out = append(out, r)
			continue
		}
		out[at].Pieces, out[at].kcal, out[at].grams = out[at].Pieces+r.Pieces, out[at].kcal+r.kcal, out[at].grams+r.grams
		out[at].rank, out[at].Missing = max(out[at].rank, r.rank), out[at].Missing || r.Missing
	}
	slices.SortFunc(out, func(a, b PackRow) int { return cmp.Or(cmp.Compare(b.rank, a.rank), cmp.Compare(a.Name, b.Name)) })
	for i := range out {
		out[i].Tier = phrase.Tier(out[i].rank)
		if out[i].grams > 0 {
			out[i].Grams = criteria.Figure(math.Ceil(out[i].grams)) + " g"
		}
	}
	return out
}

// planned is what a sheet's food holds.
func (f daysFood) planned(p planned) (kcal float64, pieces int) {
	for _, row := range f.pack(p) {
		kcal += row.kcal
		pieces += row.Pieces
	}
	return kcal, pieces
}

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
	Hints                            []string
	Steps                            []Named
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
	Pack                []PackRow
	Food                string
	FoodOver            bool
	Gear, Helper        string
	Exits, Falls        string
	Flags, Cautions     []string
	Hints               []string
	Form                Typed
	Places, People      []Named
	Addable             []Named // plans that can be put in
	Finishable          []Named
	Session             string
	Ended, Away         bool
	WarmSays, FallsSays string
	Rewards             []string // other than food that a step is paid with
}

// Sheet shows one planned session.
func (p *Practice) Sheet(ctx context.Context, id string) (SheetView, error) {
	return remember(ctx, p, "sheet "+id, on[SheetView](allDogs), func() (SheetView, error) { return p.makeSheet(ctx, id) })
}

// sheetParts is what a sheet's page and its edits need.
type sheetParts struct {
	planned
	s     settings
	dog   store.Dog
	works works
}

func (p *Practice) loadSheet(ctx context.Context, q store.Q, id string) (l sheetParts, err error) {
	if l.s, err = p.settings(ctx, q); err != nil {
		return l, err
	}
	row, err := q.Sheet(ctx, id)
	if err != nil {
		return l, found(err)
	}
	if l.planned, err = plannedOf(row); err != nil {
		return l, err
	}
	l.dog = dogOf(row)
	if l.works, err = loadWorks(ctx, q, []string{row.Dog}, max(row.Day, l.s.day(p.ms())), l.s.words()); err != nil {
		return l, err
	}
	// What was not chosen by hand follows its plan until it is worked.
	for i := range l.body.Blocks {
		b := &l.body.Blocks[i]
		if c, known := l.works.by[b.Plan]; known && l.session == "" && !b.Chosen {
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

func (p *Practice) makeSheet(ctx context.Context, id string) (v SheetView, err error) {
	q := p.store.Read()
	l, err := p.loadSheet(ctx, q, id)
	if err != nil {
		return v, err
	}
	rewards, err := loadLarder(ctx, q, []store.Dog{l.dog}, l.Day)
	if err != nil {
		return v, err
	}
	food, err := loadFood(ctx, q, rewards, []string{l.Dog}, l.Day, l.Day)
	if err != nil {
		return v, err
	}
	choices, err := q.ChoicesFor(ctx, l.Dog, "", "")
	if err != nil {
		return v, err
	}
	today := l.s.day(p.ms())
	v = SheetView{
		ID: id, DogID: l.Dog, Dog: l.dog.Name, DayISO: l.Day, Day: longDay(l.Day, today), At: clockOf(l.Start), Until: clockOf(l.Start + l.Sheet.Minutes),
		Place: l.PlaceName, Handler: l.HandlerName, Household: l.Household, Version: l.Version, Minutes: l.body.Minutes(), Slot: l.Sheet.Minutes,
		Pieces: l.body.Pieces(), Session: l.session, Ended: l.Ended, Away: l.Deleted != nil, Exits: l.body.Exits, Falls: l.body.Falls, Helper: l.body.Helper,
		Gear:      strings.Join(slices.DeleteFunc([]string{l.body.Gear, strings.Join(l.gear(), ", ")}, func(s string) bool { return s == "" }), ", "),
		FallsSays: phrase.Falls, WarmSays: phrase.WarmUp, Pack: food.pack(l.planned),
	}
	for _, line := range strings.Split(l.dog.Flags, "\n") {
		if line = strings.TrimSpace(line); line != "" {
			v.Flags = append(v.Flags, line)
		}
	}
	v.Cautions = caution.For(caution.Where{Flags: len(v.Flags) > 0, Safety: l.safety()})
	v.Places, v.People = placesAndPeople(choices)
	if l.body.WarmS > 0 {
		v.Warm = l.body.Warm
		v.WarmMin = minutesSay(l.body.WarmS)
	}
	v.blocks(l, food)
	kcal, _ := food.planned(l.planned)
	left := math.Inf(1)
	if need, feeding, known, err := needOf(l.dog, l.Day); err != nil {
		return v, err
	} else if known {
		budget := reinforce.Budget{Need: need.Kcal, Allowed: feeding.Allowed(need.Kcal), FromMeals: feeding.FromMeals}
		budget.Eaten, budget.Extra, _ = food.kcal(l.Dog, l.Day)
		left = budget.Left()
		if l.session == "" {
			budget.Planned = kcal
		}
		v.Food, v.FoodOver = phrase.Budget(budget, true)
	}
	if l.session != "" {
		left = math.Inf(1) // eaten by now
	}
	for _, h := range l.body.Hints(weeksOfAge(l.dog, l.Day), l.Sheet.Minutes, kcal, left) {
		if h.Block < 0 {
			v.Hints = append(v.Hints, phrase.SheetHint(h))
		} else {
			v.Blocks[h.Block].Hints = append(v.Blocks[h.Block].Hints, phrase.SheetHint(h))
		}
	}
	v.Form = l.typed()
	return v, nil
}

func placesAndPeople(choices []store.Chosen) (places, people []Named) {
	for _, one := range choices {
		switch one.What {
		case "place":
			places = append(places, Named{one.ID, one.Name})
		case "person":
			people = append(people, Named{one.ID, one.Name})
		}
	}
	return places, people
}

// safety tells whether the sheet works a step that keeps somebody safe.
func (l sheetParts) safety() bool {
	return slices.ContainsFunc(l.body.Blocks, func(b sheet.Block) bool { return l.works.by[b.Plan].Safety })
}

// gear is what the steps of a sheet are worked on.
func (l sheetParts) gear() []string {
	var list []string
	for _, b := range l.body.Blocks {
		one := l.works.plans[b.Plan]
		if i := progression.Index(one.steps, b.Step); i >= 0 {
			if item := one.steps[i].Criteria.Item(criteria.Gear); item != "" && item != "none" && !slices.Contains(list, item) {
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
	d, err := time.Parse(dayLayout, day)
	if err != nil {
		return day
	}
	says := d.Format("Monday 2 January")
	if day == today {
		says = "Today, " + says
	}
	return says
}

func (v *SheetView) blocks(l sheetParts, food daysFood) {
	for i, b := range l.body.Blocks {
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
			row.Skill = one.name()
			at := max(0, progression.Index(one.steps, b.Step))
			row.StepAt, row.Step = at+1, one.words.Step(one.steps[at].Criteria)
			pay, _ := one.body.PayAt(one.steps[at].ID)
			row.Pay = phrase.Strategy(pay, one.Standing.Rung)
			if says := reinforce.Otherwise(pay.Delivery, l.bans); says != "" {
				row.Hints = append(row.Hints, says)
			}
			if l.works.by[b.Plan].Waits {
				row.Blocked = "Something must stand first at this step."
			}
			for k := len(one.steps) - 1; k >= 0; k-- {
				row.Steps = append(row.Steps, Named{one.steps[k].ID, fmt.Sprintf("%d · %s", k+1, one.words.Short(one.steps[k].Criteria))})
			}
			if hand := reinforce.InHand(food.rewards[l.Dog], pay.Tier, l.Place, l.bans); len(hand) > 0 {
				row.Food = hand[0].Name
			}
			v.Finishable = append(v.Finishable, Named{b.Plan, row.Skill})
		}
		v.Blocks = append(v.Blocks, row)
	}
	if one, ok := l.works.plans[l.body.Finish]; ok {
		start := l.works.by[l.body.Finish].StartAt
		v.Finish, v.FinishStep, v.FinishDown = one.name(), one.words.Step(one.steps[max(0, start-2)].Criteria), phrase.Down(min(2, start))
	}
	for _, c := range l.works.of[l.Dog] {
		name := l.works.plans[c.Plan].name()
		if c.Waits {
			name += " (waits for something)"
		}
		v.Addable = append(v.Addable, Named{c.Plan, name})
	}
}

// typed is a sheet as its form shows it.
func (l planned) typed() Typed {
	t := Typed{
		"day": l.Day, "start": clockOf(l.Start), "minutes": strconv.Itoa(l.Sheet.Minutes), "place": l.Place, "handler": l.Handler,
		"warm": l.body.Warm, "warm_min": criteria.Figure(math.Round(l.body.WarmS/6) / 10), "finish": l.body.Finish, "exits": l.body.Exits, "falls": l.body.Falls,
		"gear": l.body.Gear, "helper": l.body.Helper, "version": strconv.Itoa(l.Version),
	}
	if l.Household {
		t["household"] = "on"
	}
	for i, b := range l.body.Blocks {
		t[fmt.Sprintf("sets%d", i)], t[fmt.Sprintf("set%d", i)] = strconv.Itoa(b.Sets), strconv.Itoa(b.Set)
		t[fmt.Sprintf("break%d", i)] = criteria.Figure(math.Round(b.BreakS/6) / 10)
		t[fmt.Sprintf("step%d", i)], t[fmt.Sprintf("note%d", i)] = b.Step, b.Note
		t[fmt.Sprintf("plan%d", i)] = b.Plan
		if b.Probe {
			t[fmt.Sprintf("probe%d", i)] = "on"
		}
	}
	return t
}
