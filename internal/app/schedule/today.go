package schedule

import (
	"context"
	"slices"
	"time"

	"patientfox/core/pack"
	"patientfox/core/phrase"
	"patientfox/core/progression"
	"patientfox/internal/app"
	"patientfox/internal/store"
)

// DecideRow is something that waits for the trainer's judgement.
type DecideRow struct {
	Plan, Dog, Skill, Text, Session string
	Stuck                           bool // what to try is on its page of evidence
}

// OpenRow is a session that was not ended.
type OpenRow struct {
	Session, Plan, Dog, Skill, Since string
}

// CareRow is something that is to be done for a dog's care.
type CareRow struct{ Dog, DogName, Name, Says string }

// ClassRow is a class that meets.
type ClassRow struct {
	ID, Name, At, Place string
	Week, Dogs          int
}

// HomeRow is what came from a dog's household and nobody may have looked at yet.
type HomeRow struct {
	Dog, DogName string
	Rounds       int // by a link, in the last two days
	Letters      int // that wait to be entered
}

// TodayView is the page of the day.
type TodayView struct {
	Day      string // "Monday 23 November"
	Name     string
	Unnamed  bool
	Dogs     int
	Open     []OpenRow
	Next     []app.PlanRow
	Decide   []DecideRow
	Done     []app.PlanRow
	Probes   []app.PlanRow // finished skills that are to be probed
	Finished []app.PlanRow
	More     bool      // there are more plans than the page shows
	ToCome   bool      // plans are in sessions of the day that were not begun
	InClass  bool      // plans begin in a class
	Slots    []SlotRow // sessions planned for today
	Packs    []DogPack // food to count out for those that are still to come
	Gear     []string
	Helpers  []string
	Food     []DogFood
	Choices  []app.Named          // dogs to plan a session for
	Care     []CareRow            // what is to be done for a dog's care
	Classes  []ClassRow           // that meet today
	Home     []HomeRow            // what came from households
	Team     bool                 // more than one works dogs here
	Me       string               // whom the server's own machine works as, by id
	Works    map[string]app.Named // who works a dog today, by the dog's id, where that was said
	Notes    []store.DayNote      // to colleagues, newest first
	Aside    []app.SetAside
}

// With is who works a dog today, where that was said and is not the one who asks; "" otherwise.
func (v TodayView) With(dog, me string) string {
	if one := v.Works[dog]; one.ID != me {
		return one.Name
	}
	return ""
}

// With is who works a planned session where that is not the one who asks, and not the household; "" otherwise.
func (r SlotRow) With(me string) string {
	if r.Household || r.HandlerID == me {
		return ""
	}
	return r.Handler
}

// Soon is the first planned session that is still to come and is not somebody else's, "" for none.
func (v TodayView) Soon(me string) string {
	for _, r := range v.Slots {
		if r.Session == "" && !r.Missed && r.With(me) == "" {
			return r.ID
		}
	}
	return ""
}

// OfOthers tells whether anything of the day is for somebody else than the one who asks.
func (v TodayView) OfOthers(me string) bool {
	for dog := range v.Works {
		if v.With(dog, me) != "" {
			return true
		}
	}
	return slices.ContainsFunc(v.Slots, func(r SlotRow) bool { return r.With(me) != "" })
}

// NotesFor are the notes that somebody is told: those to them, and those to all that are not theirs.
func (v TodayView) NotesFor(me string) (list []store.DayNote) {
	for _, n := range v.Notes {
		if n.Whom == me || n.Whom == "" && n.By != me {
			list = append(list, n)
		}
	}
	return list
}

// dogsShown is how many dogs are in the line that plans a session.
const dogsShown = 8

// Shown are the dogs in that line.
func (v TodayView) Shown() []app.Named { return v.Choices[:min(len(v.Choices), dogsShown)] }

// DogPack is the food to count out for one dog.
type DogPack struct {
	Dog  string
	Rows []app.PackRow
}

// DogFood is a dog's training food today.
type DogFood struct {
	ID, Dog, Says string
	Over          bool
}

// Today shows what to work on, in order: what was worked longest ago comes first.
func (p *Cases) Today(ctx context.Context) (TodayView, error) {
	return app.Remember(ctx, p.Practice, "today", app.On[TodayView](app.AllDogs), func() (TodayView, error) { return p.makeToday(ctx) })
}

func (p *Cases) makeToday(ctx context.Context) (v TodayView, err error) {
	q := p.Store.Read()
	s, err := p.Profile(ctx, q)
	if err != nil {
		return v, err
	}
	heads, err := q.PlanHeads(ctx, app.PlansLooked, s.Day(p.Ms()))
	if err != nil {
		return v, err
	}
	if v.Choices, err = dogsToChoose(ctx, q, heads); err != nil {
		return v, err
	}
	today := s.Day(p.Ms())
	sheets, err := app.LoadSheets(ctx, q, nil, today, today)
	if err != nil {
		return v, err
	}
	chosen := app.ChooseToday(heads, sheets, today)
	planRows, err := q.PlansByID(ctx, slices.Concat(chosen.All(), app.PlansOf(sheets)))
	if err != nil {
		return v, err
	}
	plans, err := app.LoadPlans(ctx, q, planRows, s.Words())
	if err != nil {
		return v, err
	}
	if err := v.opens(ctx, q, s, p.Now()); err != nil {
		return v, err
	}
	if v.Aside, err = app.ListAside(ctx, q, s); err != nil {
		return v, err
	}
	v.Day, v.Name, v.Unnamed, v.Dogs = p.Now().In(s.Zone).Format("Monday 2 January"), s.Name, s.Name == "", len(v.Choices)
	byID := make(map[string]app.Plan, len(plans))
	for _, l := range plans {
		byID[l.ID] = l
	}
	rows := func(ids []string) (list []app.PlanRow) {
		for _, id := range ids {
			if l, ok := byID[id]; ok {
				list = append(list, app.RowOf(l, today))
			}
		}
		return list
	}
	v.Next, v.Done, v.Probes, v.Finished, v.More = rows(chosen.Next), rows(chosen.Done), rows(chosen.Probes),
		rows(chosen.Finished), chosen.More
	v.ToCome, v.InClass = len(chosen.Planned) > 0, len(chosen.Class) > 0
	for _, id := range chosen.Open {
		if l, ok := byID[id]; ok {
			text := app.Undecided(l, today)
			v.Decide = append(v.Decide, DecideRow{l.ID, l.DogName, l.Name(), text, l.Standing.LastSession, text == app.StuckBecause(l, today)})
		}
	}
	err = v.planned(ctx, q, sheets, byID, p.Now().In(s.Zone))
	return v, err
}

// opens fills in what the day begins with: sessions that are open, and tasks of care that are due, or were before.
func (v *TodayView) opens(ctx context.Context, q store.Q, s app.Profile, now time.Time) error {
	today := s.Day(now.UnixMilli())
	begins, err := q.OfToday(ctx, app.PlansLooked, now.AddDate(0, 0, -2).UnixMilli(), today)
	if err != nil {
		return err
	}
	for _, one := range begins.Classes {
		v.Classes = append(v.Classes, ClassRow{one.ID, one.Name, one.At, one.Place, one.Week, one.Dogs})
	}
	v.Team = len(slices.DeleteFunc(begins.Roles, func(role string) bool { return !pack.WorksDogs(role) })) > 1
	v.Me, v.Notes, v.Works = s.Person, begins.Notes, map[string]app.Named{}
	for _, one := range begins.Assigned {
		v.Works[one.Dog] = app.Named{ID: one.Person, Name: one.Name}
	}
	for _, one := range begins.Home {
		v.Home = append(v.Home, HomeRow{one.Dog, one.DogName, one.Lines, one.Letters})
	}
	for _, o := range begins.Open {
		v.Open = append(v.Open, OpenRow{o.Session, o.Plan, o.Dog, o.Skill, time.UnixMilli(o.Opened).In(s.Zone).Format("2 Jan 15:04")})
	}
	for _, row := range begins.Care {
		t, _, times, err := row.Read()
		if err != nil {
			return err
		}
		if says, now := app.CareDue(t, times, today); now {
			v.Care = append(v.Care, CareRow{row.Dog, row.DogName, row.Name, says})
		}
	}
	return nil
}

// dogsToChoose are the dogs that have plans, all of them where none has.
func dogsToChoose(ctx context.Context, q store.Q, heads []store.Head) ([]app.Named, error) {
	if len(heads) > 0 {
		return dogsOf(heads), nil
	}
	dogs, err := q.Dogs(ctx, "", "", app.RowsShown)
	if err != nil {
		return nil, err
	}
	named := make([]app.Named, len(dogs))
	for i, d := range dogs {
		named[i] = app.Named{ID: d.ID, Name: d.Name}
	}
	return named, nil
}

// dogsOf are the dogs of plans, each once.
func dogsOf(heads []store.Head) (dogs []app.Named) {
	for _, h := range heads {
		if n := len(dogs); n == 0 || dogs[n-1].ID != h.Dog {
			dogs = append(dogs, app.Named{ID: h.Dog, Name: h.DogName})
		}
	}
	return dogs
}

// planned fills in the sessions of the day, what to pack for those still to come, and each dog's food.
func (v *TodayView) planned(ctx context.Context, q store.Q, sheets []app.Planned, plans map[string]app.Plan, now time.Time) error {
	today, minute := now.Format(app.DayLayout), now.Hour()*60+now.Minute()
	names := map[string]string{}
	var worked []store.Dog
	for _, l := range plans {
		names[l.ID] = l.Name()
	}
	for _, pl := range sheets {
		if !slices.ContainsFunc(worked, func(d store.Dog) bool { return pl.Dog == d.ID }) {
			worked = append(worked, dogOf(pl.Sheet))
		}
	}
	v.slots(sheets, plans, names, today, minute)
	rewards, err := app.LoadLarder(ctx, q, worked, today)
	if err != nil {
		return err
	}
	ids := make([]string, len(worked))
	for i, d := range worked {
		ids[i] = d.ID
	}
	food, err := app.LoadFood(ctx, q, rewards, ids, today, today)
	if err != nil {
		return err
	}
	for _, d := range worked {
		var rows []app.PackRow
		for _, pl := range sheets {
			if pl.Dog != d.ID || pl.Session != "" {
				continue
			}
			rows = append(rows, food.Pack(pl)...)
			for _, one := range []struct {
				to   *[]string
				text string
			}{{&v.Gear, pl.Body.Gear}, {&v.Helpers, pl.Body.Helper}} {
				if one.text != "" && !slices.Contains(*one.to, one.text) {
					*one.to = append(*one.to, one.text)
				}
			}
			v.gear(pl, plans)
		}
		if len(rows) > 0 {
			v.Packs = append(v.Packs, DogPack{d.Name, app.Packed(rows)})
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

// slots lists the sessions of the day; minute is how late it is.
func (v *TodayView) slots(sheets []app.Planned, plans map[string]app.Plan, names map[string]string, today string, minute int) {
	for _, pl := range sheets {
		row := slotRow(pl, names)
		if len(pl.Body.Blocks) > 0 {
			b := pl.Body.Blocks[0]
			if l, ok := plans[b.Plan]; ok {
				at := progression.Index(l.Steps, b.Step)
				if main := pl.Handler == "" || pl.Handler == l.MainHandler; main && !b.Chosen { // another one's is as it was planned
					at = candidate(l, store.Pace{}, today, false).StartAt
				}
				row.First = l.Words.Step(l.Steps[max(0, at)].Criteria)
			}
		}
		row.Missed = row.Session == "" && pl.Start+pl.Sheet.Minutes < minute
		v.Slots = append(v.Slots, row)
	}
}

// gear adds what the steps of a session are worked on.
func (v *TodayView) gear(pl app.Planned, plans map[string]app.Plan) {
	for _, item := range (sheetParts{Planned: pl, works: works{plans: plans}}).gear() {
		if !slices.Contains(v.Gear, item) {
			v.Gear = append(v.Gear, item)
		}
	}
}
