package schedule

import (
	"context"
	"fmt"
	"slices"
	"strconv"
	"strings"
	"time"

	"patientfox/core/caution"
	"patientfox/core/criteria"
	"patientfox/core/say"
	"patientfox/core/schedule"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/store"
)

// Minutes of a day, and the raster on which sessions begin by themselves.
const (
	dayMinutes = 24 * 60
	raster     = 5
)

// slotTyped reads where a session lies in the day.
func (p *Cases) slotTyped(ps form.Problems, t form.Typed, s app.Profile, now store.Sheet) store.Sheet {
	today := s.Day(p.Ms())
	if now.Day = t.Text("day"); now.Day == "" {
		now.Day = today
	}
	if _, err := time.Parse(app.DayLayout, now.Day); err != nil {
		ps.Add("day", "Write the day as year-month-day.")
	}
	if typed := t.Text("start"); typed != "" {
		minutes, ok := form.ReadClock(typed)
		if !ok {
			ps.Add("start", "A time of the day such as 9:30.")
		}
		now.Start = minutes
	}
	if typed := t.Text("minutes"); typed != "" {
		n, err := strconv.Atoi(strings.TrimSpace(strings.TrimSuffix(typed, "min")))
		if err != nil || n < schedule.MinMin || n > schedule.MaxMin {
			ps.Add("minutes", fmt.Sprintf("%d to %d minutes, in figures.", schedule.MinMin, schedule.MaxMin))
		}
		now.Minutes = n
	}
	if len(ps) == 0 && now.Start+now.Minutes > dayMinutes {
		ps.Add("minutes", "It would go on past midnight.")
	}
	now.Place, now.Handler, now.Household = t.Text("place"), t.Text("handler"), t.Text("household") != ""
	if now.Handler == "" && !now.Household {
		now.Handler = s.By
	}
	return now
}

// overlaps says beside the start which session is in the way: the same dog's, or another one of the trainer's.
func overlaps(ps form.Problems, there []app.Planned, one store.Sheet) {
	for _, o := range there {
		slot := schedule.Slot{Start: o.Start, Minutes: o.Sheet.Minutes}
		if o.ID == one.ID || o.Day != one.Day || !slot.Over(one.Start, one.Minutes) {
			continue
		}
		switch when := form.ClockOf(o.Start) + " to " + form.ClockOf(o.Start+o.Sheet.Minutes); {
		case o.Dog == one.Dog:
			ps.Add("start", fmt.Sprintf("%s has a session from %s then.", o.DogName, when))
		case !o.Household && !one.Household && o.Handler == one.Handler:
			ps.Add("start", fmt.Sprintf("You work %s from %s then. Another time, or another handler.", o.DogName, when))
		}
	}
}

// AddSheet plans a session of a dog by one press, out of its plans and the minutes at hand; it returns the sheet's
// id. Where no time is typed it is the next that is free today.
func (p *Cases) AddSheet(ctx context.Context, dog string, t form.Typed) (string, error) {
	q := p.Store.Read()
	if err := p.Ready(ctx, q, dog, ""); err != nil {
		return "", err
	}
	s, err := p.Profile(ctx, q)
	if err != nil {
		return "", err
	}
	d, err := q.Dog(ctx, dog)
	if err != nil {
		return "", app.Found(err)
	}
	if d.Deleted != nil {
		return "", app.ErrNotFound
	}
	ps := form.Problems{}
	r, _ := app.RoutineOf(d) // the dog's form says where it cannot be read; here minutes can be typed
	row := p.slotTyped(ps, t, s, store.Sheet{ID: app.NewID(), Dog: dog, Minutes: r.Lasts(weeksOfAge(d, s.Day(p.Ms()))), Made: p.Ms()})
	if err := warned(ctx, q, ps, row, s.Day(p.Ms())); err != nil {
		return "", err
	}
	if err := ps.Err(); err != nil {
		return "", err
	}
	there, err := app.LoadSheets(ctx, q, nil, row.Day, row.Day)
	if err != nil {
		return "", err
	}
	if t.Text("start") == "" {
		row.Start = p.nextFree(s, there, row)
	}
	if overlaps(ps, there, row); len(ps) > 0 {
		return "", ps.Err()
	}
	works, err := loadWorks(ctx, q, []string{dog}, row.Handler, row.Day, s.Words())
	if err != nil {
		return "", err
	}
	body := works.build(ps, row, d)
	if len(ps) > 0 {
		return "", ps.Err()
	}
	if row.Body = store.JSON(body); row.Place == "" {
		row.Place = works.usualPlace(body)
	}
	return p.Once(ctx, t, func(q store.Q) (string, error) { return row.ID, q.AddSheets(ctx, []store.Sheet{row}) })
}

// warned keeps a household from a dog that growled or snapped of late.
func warned(ctx context.Context, q store.Q, ps form.Problems, row store.Sheet, today string) error {
	if !row.Household {
		return nil
	}
	d, err := q.Dog(ctx, row.Dog)
	if growl := d.Growled; growl != "" && app.DaysBetween(growl, today) <= caution.GrowlDays {
		ps.Add("minutes", fmt.Sprintf(
			"It growled or snapped on %s: for %d days no household trains it. Ask a vet or a certified behaviour professional.",
			app.ShortDay(growl, today), caution.GrowlDays))
	}
	return err
}

// build works a session out from a dog's plans, those alone that whoever trains may work.
func (w works) build(ps form.Problems, row store.Sheet, d store.Dog) schedule.Sheet {
	all := w.of[d.ID]
	candidates := all
	if row.Household {
		candidates = slices.DeleteFunc(slices.Clone(all), func(c schedule.Candidate) bool { return !schedule.Home(c) })
	}
	body := schedule.Build(candidates, row.Minutes, weeksOfAge(d, row.Day))
	if len(body.Blocks) == 0 {
		ps.Add("minutes", nothingFits(all, candidates, row.Minutes, d.Name))
	}
	return body
}

// nothingFits says why no session could be planned out of all of a dog's plans and those that whoever trains may work.
func nothingFits(all, candidates []schedule.Candidate, minutes int, dog string) string {
	if len(all) == 0 {
		return fmt.Sprintf("%s has no plan yet: make one under its skills first.", dog)
	}
	if len(candidates) == 0 {
		return fmt.Sprintf("Nothing of what %s learns suits a household: it is new, stuck, or could hurt.", dog)
	}
	if len(schedule.Queue(candidates)) == 0 {
		return fmt.Sprintf("There is nothing to plan: every plan of %s waits for something, or is finished and not due.", dog)
	}
	return fmt.Sprintf("In %s not even one set fits beside a warm-up and a finish.", say.Count(minutes, "minute"))
}

// nextFree is the next moment of the day at which neither the dog nor its handler has anything.
func (p *Cases) nextFree(s app.Profile, there []app.Planned, row store.Sheet) int {
	start := 9 * 60
	if now := p.Now().In(s.Zone); now.Format(app.DayLayout) == row.Day {
		start = (now.Hour()*60 + now.Minute() + raster - 1) / raster * raster
	}
	for range len(there) + 1 {
		for _, o := range there {
			slot := schedule.Slot{Start: o.Start, Minutes: o.Sheet.Minutes}
			if (o.Dog == row.Dog || !o.Household && o.Handler == row.Handler) && slot.Over(start, row.Minutes) {
				start = o.Start + o.Sheet.Minutes + schedule.Changeover
			}
		}
	}
	return max(0, min(start, dayMinutes-row.Minutes))
}

// SaveSheet changes a planned session by hand. Whatever typed["op"] does, what was typed is saved with it: "up:2",
// "down:2", "remove:2" for a block, "add" for typed["add"], "rebuild" to have it planned anew.
func (p *Cases) SaveSheet(ctx context.Context, id string, t form.Typed) error {
	q := p.Store.Read()
	l, err := p.loadSheet(ctx, q, id)
	if err != nil {
		return err
	}
	ps := form.Problems{}
	row := p.slotTyped(ps, t, l.s, l.Sheet)
	if err := warned(ctx, q, ps, row, l.s.Day(p.Ms())); err != nil {
		return err
	}
	row.Version, _ = strconv.Atoi(t.Text("version"))
	op, at, _ := strings.Cut(t.Text("op"), ":")
	index, _ := strconv.Atoi(at)
	body := l.read(ps, t)
	switch op {
	case "up", "down":
		other := index + map[string]int{"up": -1, "down": 1}[op]
		if index >= 0 && index < len(body.Blocks) && other >= 0 && other < len(body.Blocks) {
			body.Blocks[index], body.Blocks[other] = body.Blocks[other], body.Blocks[index]
		}
	case "remove":
		if index >= 0 && index < len(body.Blocks) {
			body.Blocks = slices.Delete(body.Blocks, index, index+1)
		}
	case "add":
		l.add(ps, &body, t.Text("add"))
	case "rebuild":
		built := l.works.build(ps, row, l.dog)
		body.Blocks, body.Finish, body.WarmS, body.FinishS = built.Blocks, built.Finish, built.WarmS, built.FinishS
	}
	ps.Criteria(body.Check())
	there, err := app.LoadSheets(ctx, q, nil, row.Day, row.Day)
	if err != nil {
		return err
	}
	overlaps(ps, there, row)
	if err := ps.Err(); err != nil {
		return err
	}
	row.Body = store.JSON(body)
	_, err = p.Once(ctx, t, func(q store.Q) (string, error) {
		was, err := q.Sheet(ctx, id)
		if err != nil {
			return "", app.Found(err)
		}
		ok, err := q.SetSheet(ctx, row)
		if err != nil || ok {
			return id, err
		}
		now, err := app.PlannedOf(was)
		if err != nil {
			return "", err
		}
		return "", &form.Conflict{Now: now.Typed()}
	})
	return err
}

// read reads a sheet from its form: the blocks it had, with what was typed of them.
func (l sheetParts) read(ps form.Problems, t form.Typed) schedule.Sheet {
	body := l.Body
	body.WarmS = 60 * ps.Number(t, "warm_min", 0, 30, "From 0 to 30 minutes.")
	body.Warm, body.Exits, body.Falls = ps.Text("warm", t["warm"], criteria.MaxText),
		ps.Text("exits", t["exits"], criteria.MaxText), ps.Text("falls", t["falls"], criteria.MaxText)
	body.Gear, body.Helper = ps.Text("gear", t["gear"], criteria.MaxText), ps.Text("helper", t["helper"], criteria.MaxText)
	body.Blocks = slices.Clone(body.Blocks)
	for i := range body.Blocks {
		b := &body.Blocks[i]
		name := func(field string) string { return fmt.Sprintf("%s%d", field, i) }
		if _, given := t[name("sets")]; !given {
			continue
		}
		b.Sets = ps.Whole(t, name("sets"), 1, 12, "1 to 12 sets.")
		b.Set = ps.Whole(t, name("set"), 1, 30, "1 to 30 trials in a set.")
		b.BreakS = 60 * ps.Number(t, name("break"), 0, 60, "A break of 0 to 60 minutes.")
		b.Note, b.Probe = ps.Text(name("note"), t[name("note")], criteria.MaxText), t.Text(name("probe")) != ""
		if step := t.Text(name("step")); step != "" && step != b.Step {
			b.Step, b.Chosen = step, true
		}
		if c, ok := l.works.by[b.Plan]; ok {
			b.Count(c)
		}
	}
	if _, given := t["finish"]; given {
		if body.Finish = t.Text("finish"); body.Finish != "" && body.FinishS == 0 {
			body.FinishS = 45
		}
	}
	if body.Finish == "" {
		body.FinishS = 0
	}
	return body
}

// add puts a plan in at the end, one set of it.
func (l sheetParts) add(ps form.Problems, body *schedule.Sheet, plan string) {
	c, ok := l.works.by[plan]
	if !ok {
		ps.Add("add", "Choose one of the dog's plans.")
		return
	}
	b := schedule.Block{Plan: plan, Step: c.Start, Why: schedule.ByHand, Sets: 1, Set: max(1, c.Set), Probe: c.Due}
	b.Count(c)
	if n := len(body.Blocks); n > 0 && body.Blocks[n-1].BreakS == 0 {
		body.Blocks[n-1].BreakS = 60
	}
	body.Blocks = append(body.Blocks, b)
	if body.Finish == "" {
		body.Finish, body.FinishS = plan, 45
	}
}

// DeleteSheet takes a planned session out, or brings it back.
func (p *Cases) DeleteSheet(ctx context.Context, id string, away bool) error {
	return p.Away(ctx, away, func(q store.Q, at *int64) (bool, error) { return q.DeleteSheet(ctx, id, at) })
}

// NewSheetView is what the form of a new session needs.
type NewSheetView struct {
	ID, Name       string
	Places, People []app.Named
}

// NewSheet is the form of a new session of a dog.
func (p *Cases) NewSheet(ctx context.Context, dog string) (v NewSheetView, err error) {
	q := p.Store.Read()
	d, err := q.Dog(ctx, dog)
	if err != nil {
		return v, app.Found(err)
	}
	choices, err := q.ChoicesFor(ctx, dog, "", "")
	if err != nil {
		return v, err
	}
	v.ID, v.Name = d.ID, d.Name
	v.Places, v.People = placesAndPeople(choices)
	return v, nil
}
