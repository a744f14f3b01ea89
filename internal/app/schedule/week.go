package schedule

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"
	"time"

	"patientfox/core/reinforce"
	"patientfox/core/say"
	"patientfox/core/schedule"
	"patientfox/core/standing"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/derive"
	"patientfox/internal/store"
)

// SlotRow is one planned session in a list.
type SlotRow struct {
	ID, Dog, DogID, At, Until string
	Minutes                   int
	Household                 bool
	Skills                    []string
	Place, Handler, HandlerID string
	Session                   string
	Ended                     bool
	Pieces                    int
	First                     string // its first step in words
	Missed                    bool   // its time is gone and nobody worked it
}

// skillsShown is how many skills of a session are in a narrow column.
const skillsShown = 2

// First2 are the first skills of a session.
func (r SlotRow) First2() []string { return r.Skills[:min(skillsShown, len(r.Skills))] }

// More is how many there are beside them.
func (r SlotRow) More() int { return len(r.Skills) - len(r.First2()) }

// WeekDay is one day of the week's page.
type WeekDay struct {
	ISO, Name string
	Short     string // "Mon 23 Nov"
	Today     bool
	Past      bool
	Slots     []SlotRow
	Probes    []SlotProbe
	Care      []CareRow
	Classes   []ClassRow // that meet
}

// SlotProbe is a finished skill whose probe is due on a day.
type SlotProbe struct{ Plan, Dog, Skill string }

// WeekDog is one dog over the week.
type WeekDog struct {
	ID, Name string
	Cells    []WeekCell
	Sum      string
	Hints    []string
}

// WeekCell is one dog on one day.
type WeekCell struct {
	Sessions string
	Food     string
	Over     bool
}

// WeekView is the page of a week.
type WeekView struct {
	Monday, Before, After string // ISO days
	Name                  string
	This                  bool
	Days                  []WeekDay
	Dogs                  []WeekDog
	CanPlan               bool
	Ahead                 bool // something is planned for the days to come
	None                  bool
}

// mondayOf is the Monday of the week of a day.
func mondayOf(day string) string {
	at, err := time.Parse(app.DayLayout, day)
	if err != nil {
		return ""
	}
	return at.AddDate(0, 0, -(int(at.Weekday())+6)%7).Format(app.DayLayout)
}

func addDays(day string, n int) string { return standing.Named(derive.DayNumber(day) + n) }

// Week shows the week of a day, of today for "".
func (p *Cases) Week(ctx context.Context, day string) (WeekView, error) {
	return app.Remember(ctx, p.Practice, "week "+day, app.On[WeekView](app.AllDogs), func() (WeekView, error) { return p.makeWeek(ctx, day) })
}

// maxWeekDogs bounds the dogs of a week.
const maxWeekDogs = 200

func (p *Cases) makeWeek(ctx context.Context, day string) (v WeekView, err error) {
	q := p.Store.Read()
	s, err := p.Profile(ctx, q)
	if err != nil {
		return v, err
	}
	today := s.Day(p.Ms())
	if day == "" {
		day = today
	}
	monday := mondayOf(day)
	if monday == "" {
		return v, app.ErrNotFound
	}
	sunday := addDays(monday, 6)
	dogs, err := q.Dogs(ctx, "", "", maxWeekDogs)
	if err != nil {
		return v, err
	}
	list, err := app.LoadSheets(ctx, q, nil, monday, sunday)
	if err != nil {
		return v, err
	}
	names, err := planNames(ctx, q, list)
	if err != nil {
		return v, err
	}
	ids := make([]string, len(dogs))
	for i, d := range dogs {
		ids[i] = d.ID
	}
	rewards, err := app.LoadLarder(ctx, q, dogs, today)
	if err != nil {
		return v, err
	}
	food, err := app.LoadFood(ctx, q, rewards, ids, monday, sunday)
	if err != nil {
		return v, err
	}
	v = WeekView{
		Monday: monday, Before: addDays(monday, -7), After: addDays(monday, 7), This: monday == mondayOf(today),
		CanPlan: sunday >= today && len(dogs) > 0, None: len(dogs) == 0,
	}
	first, _ := time.Parse(app.DayLayout, monday)
	last, _ := time.Parse(app.DayLayout, sunday)
	v.Name = first.Format("2 January") + " to " + last.Format("2 January")
	if err := v.days(ctx, q, list, names, monday, today); err != nil {
		return v, err
	}
	for _, d := range dogs {
		row, err := weekDog(d, list, food, monday, today)
		if err != nil {
			return v, err
		}
		v.Dogs = append(v.Dogs, row)
	}
	return v, nil
}

// careDays is a task of care with the days on which it is due.
type careDays struct {
	store.CareTask
	days []string
}

// careAhead are the tasks of all dogs that are due from today to a day.
func careAhead(ctx context.Context, q store.Q, today, to string) (list []careDays, err error) {
	rows, err := q.CareOfAll(ctx, app.PlansLooked)
	if err != nil {
		return nil, err
	}
	for _, row := range rows {
		t, _, times, err := row.Read()
		if err != nil {
			return nil, err
		}
		one := careDays{CareTask: row}
		for _, day := range t.Due(times, derive.DayNumber(today), derive.DayNumber(to)) {
			one.days = append(one.days, standing.Named(day))
		}
		list = append(list, one)
	}
	return list, nil
}

// days lays the sessions, the probes and what is due for care out day by day.
func (v *WeekView) days(ctx context.Context, q store.Q, list []app.Planned, names map[string]string, monday, today string) error {
	sunday := addDays(monday, 6)
	due, err := q.ProbesDue(ctx, monday, sunday, today)
	if err != nil {
		return err
	}
	tasks, err := careAhead(ctx, q, today, sunday)
	if err != nil {
		return err
	}
	classes, err := q.ClassDays(ctx, monday, sunday)
	if err != nil {
		return err
	}
	for n := range schedule.Days {
		iso := addDays(monday, n)
		one := WeekDay{
			ISO: iso, Name: app.Weekdays[n] + " " + app.ShortDay(iso, today),
			Short: app.Weekdays[n][:3] + " " + app.ShortDay(iso, today), Today: iso == today, Past: iso < today,
		}
		for _, pl := range list {
			if pl.Day == iso {
				one.Slots = append(one.Slots, slotRow(pl, names))
				v.Ahead = v.Ahead || pl.Session == "" && iso >= today
			}
		}
		for _, d := range due {
			if on := max(d.Due, today); on == iso {
				one.Probes = append(one.Probes, SlotProbe{d.Plan, d.Dog, d.Skill})
			}
		}
		for _, c := range classes {
			if c.Day == iso {
				one.Classes = append(one.Classes, ClassRow{c.ID, c.Name, c.At, c.Place, c.Week, c.Dogs})
			}
		}
		for _, task := range tasks {
			if slices.Contains(task.days, iso) {
				one.Care = append(one.Care, CareRow{Dog: task.Dog, DogName: task.DogName, Name: task.Name})
			}
		}
		v.Days = append(v.Days, one)
	}
	return nil
}

// planNames names the plans that sheets hold: one statement.
func planNames(ctx context.Context, q store.Q, list []app.Planned) (map[string]string, error) {
	rows, err := q.PlanNames(ctx, app.PlansOf(list))
	if err != nil {
		return nil, err
	}
	names := make(map[string]string, len(rows))
	for _, r := range rows {
		if names[r.ID] = r.Skill; r.Track != "" {
			names[r.ID] += ", " + r.Track
		}
	}
	return names, nil
}

func slotRow(pl app.Planned, names map[string]string) SlotRow {
	row := SlotRow{
		ID: pl.ID, Dog: pl.DogName, DogID: pl.Dog, At: form.ClockOf(pl.Start), Until: form.ClockOf(pl.Start + pl.Sheet.Minutes),
		Minutes: pl.Sheet.Minutes, Household: pl.Household,
		Place: pl.PlaceName, Handler: pl.HandlerName, HandlerID: pl.Handler, Session: pl.Session, Ended: pl.Ended, Pieces: pl.Body.Pieces(),
	}
	for _, b := range pl.Body.Blocks {
		if name := names[b.Plan]; name != "" && !slices.Contains(row.Skills, name) {
			row.Skills = append(row.Skills, name)
		}
	}
	return row
}

// weekDog is a dog's row: how often, what it eats in training, and where it gets too little rest.
func weekDog(d store.Dog, list []app.Planned, food app.DaysFood, monday, today string) (row WeekDog, err error) {
	row.ID, row.Name = d.ID, d.Name
	sessions, rest := 0, true
	for n := range schedule.Days {
		day := addDays(monday, n)
		trainer, home, kcal := 0, 0, 0.0
		var last *app.Planned
		for i := range list {
			pl := list[i]
			if pl.Dog != d.ID || pl.Day != day {
				continue
			}
			if pl.Household {
				home++
			} else {
				trainer++
			}
			if pl.Session == "" && day >= today {
				planned, _ := food.Planned(pl)
				kcal += planned
			}
			if last != nil && pl.Start < last.Start+last.Sheet.Minutes+schedule.RestMin {
				row.Hints = append(row.Hints, fmt.Sprintf("%s: under an hour of rest before %s.", app.Weekdays[n], form.ClockOf(pl.Start)))
			}
			last = &list[i]
		}
		cell := WeekCell{}
		var parts []string
		if trainer > 0 {
			parts = append(parts, strconv.Itoa(trainer))
		}
		if home > 0 {
			parts = append(parts, fmt.Sprintf("%d at home", home))
		}
		cell.Sessions = strings.Join(parts, " + ")
		sessions, rest = sessions+trainer+home, rest && trainer+home > 0
		if cell.Food, cell.Over, err = eats(d, food, day, kcal); err != nil {
			return row, err
		}
		row.Cells = append(row.Cells, cell)
	}
	if rest && sessions > 0 {
		row.Hints = append(row.Hints, "No day without training: leave one free.")
	}
	if _, known := app.RoutineOf(d); !known {
		row.Hints = append(row.Hints, app.BadRoutine)
	}
	row.Sum = say.Count(sessions, "session")
	return row, nil
}

// eats says what a dog has of its day's food, with the kcal planned beside what it ate.
func eats(d store.Dog, food app.DaysFood, day string, planned float64) (says string, over bool, err error) {
	need, feeding, known, err := app.NeedOf(d, day)
	if err != nil {
		return "", false, err
	}
	eaten, _, _ := food.Kcal(d.ID, day)
	kcal := planned + eaten
	if kcal <= 0 {
		return "", false, nil
	}
	says = fmt.Sprintf("%.0f", math.Ceil(kcal))
	if !known {
		return says + " kcal", false, nil
	}
	allowed := feeding.Allowed(need.Kcal)
	return says + fmt.Sprintf(" of %.0f kcal", allowed), kcal > allowed, nil
}

// PlanWeek plans what is left of the week of a day by one press: for every dog, in the trainer's hours and at the
// household's times. It returns the moment under which all of it can be taken back, and how many there are.
func (p *Cases) PlanWeek(ctx context.Context, day string) (made int64, count int, err error) {
	q := p.Store.Read()
	if sessions, plans, err := q.Behind(ctx); err != nil {
		return 0, 0, err
	} else if sessions+plans > 0 {
		return 0, 0, derive.ErrBehind
	}
	s, err := p.Profile(ctx, q)
	if err != nil {
		return 0, 0, err
	}
	today := s.Day(p.Ms())
	monday := mondayOf(day)
	if monday == "" || addDays(monday, 6) < today {
		return 0, 0, app.ErrNotFound
	}
	dogs, err := q.Dogs(ctx, "", "", maxWeekDogs)
	if err != nil {
		return 0, 0, err
	}
	ids := make([]string, len(dogs))
	for i, d := range dogs {
		ids[i] = d.ID
	}
	from, now := 0, 0
	if today >= monday {
		at := p.Now().In(s.Zone)
		from, now = derive.DayNumber(today)-derive.DayNumber(monday), (at.Hour()*60+at.Minute()+raster-1)/raster*raster
	}
	works, err := loadWorks(ctx, q, ids, s.Person, addDays(monday, from), s.Words())
	if err != nil {
		return 0, 0, err
	}
	list, err := app.LoadSheets(ctx, q, nil, monday, addDays(monday, 6))
	if err != nil {
		return 0, 0, err
	}
	slots := schedule.Plan(wishes(dogs, works, list, addDays(monday, from)), windowsOf(s.Hours), slotsOf(list, monday, s.Person), from, now)
	if len(slots) == 0 {
		return 0, 0, nil
	}
	made = p.Ms()
	rows := make([]store.Sheet, len(slots))
	for i, slot := range slots {
		rows[i] = store.Sheet{
			ID: app.NewID(), Dog: slot.Dog, Day: addDays(monday, slot.Day), Start: slot.Start, Minutes: slot.Minutes,
			Household: slot.Household, Place: works.usualPlace(slot.Sheet), Body: store.JSON(slot.Sheet), Made: made,
		}
		if !slot.Household {
			rows[i].Handler = s.Person
		}
	}
	return made, len(rows), p.Store.Write(ctx, func(q store.Q) error { return q.AddSheets(ctx, rows) })
}

// wishes is how each dog is to be worked in what is left of the week.
func wishes(dogs []store.Dog, works works, list []app.Planned, day string) []schedule.Wish {
	out := make([]schedule.Wish, 0, len(dogs))
	for _, d := range dogs {
		r, _ := app.RoutineOf(d) // the week says where it cannot be read
		weeks := weeksOfAge(d, day)
		w := schedule.Wish{
			Dog: d.ID, Weeks: weeks, PerWeek: r.Weekly(), Minutes: r.Lasts(weeks), Times: r.Times, HomeMin: r.AtHome(),
			Candidates: works.of[d.ID],
		}
		for _, pl := range list {
			if pl.Dog == d.ID && !pl.Household {
				w.PerWeek = max(0, w.PerWeek-1) // planned by hand already
			}
		}
		out = append(out, w)
	}
	return out
}

// slotsOf are the sessions that are planned already. Those that somebody else handles take the dog's time and not
// the trainer's, like the household's.
func slotsOf(list []app.Planned, monday, me string) []schedule.Slot {
	out := make([]schedule.Slot, len(list))
	for i, pl := range list {
		out[i] = schedule.Slot{
			Dog: pl.Dog, Day: derive.DayNumber(pl.Day) - derive.DayNumber(monday), Start: pl.Start, Minutes: pl.Sheet.Minutes,
			Household: pl.Household || pl.Handler != me, Sheet: pl.Body,
		}
	}
	return out
}

// UnplanWeek takes back what one press planned of the week of a day, but for what was changed or run since.
func (p *Cases) UnplanWeek(ctx context.Context, day string, made int64) (count int, err error) {
	monday := mondayOf(day)
	if monday == "" {
		return 0, app.ErrNotFound
	}
	err = p.Store.Write(ctx, func(q store.Q) error {
		n, err := q.DeleteSheets(ctx, made, monday, addDays(monday, 6), p.Ms())
		count = int(n)
		return err
	})
	return count, err
}

// CalendarEvent is one planned session for a calendar, or a day on which something is due for a dog's care.
type CalendarEvent struct {
	ID, Summary, Text, Place string
	AllDay                   bool
	From, To                 time.Time
	Made                     time.Time
	Version                  int
}

// weeksAhead is how far a calendar file looks.
const weeksAhead = 4

// Calendar lists planned sessions from a day on, as moments: a time of day is the practice's own, also across a
// change of its clocks.
func (p *Cases) Calendar(ctx context.Context, day string) (name string, events []CalendarEvent, now time.Time, err error) {
	q := p.Store.Read()
	now = p.Now()
	s, err := p.Profile(ctx, q)
	if err != nil {
		return "", nil, now, err
	}
	if day == "" {
		day = mondayOf(s.Day(p.Ms()))
	}
	if _, err := time.Parse(app.DayLayout, day); err != nil {
		return "", nil, now, app.ErrNotFound
	}
	list, err := app.LoadSheets(ctx, q, nil, day, addDays(day, 7*weeksAhead))
	if err != nil {
		return "", nil, now, err
	}
	names, err := planNames(ctx, q, list)
	if err != nil {
		return "", nil, now, err
	}
	for _, pl := range list {
		from := moment(pl.Day, pl.Start, s.Zone)
		row := slotRow(pl, names)
		text := []string{say.Count(row.Pieces, "treat") + " to count out."}
		for i, b := range pl.Body.Blocks {
			text = append(text, fmt.Sprintf("%d. %s: %s", i+1, names[b.Plan], sets(b)))
		}
		who := row.Dog
		if row.Household {
			who += " (household)"
		}
		events = append(events, CalendarEvent{
			ID: pl.ID, Summary: who + " · " + strings.Join(row.Skills, ", "), Text: strings.Join(text, "\n"), Place: row.Place,
			From: from, To: from.Add(time.Duration(pl.Sheet.Minutes) * time.Minute), Made: time.UnixMilli(pl.Made), Version: pl.Version,
		})
	}
	tasks, err := careAhead(ctx, q, s.Day(p.Ms()), addDays(day, 7*weeksAhead))
	if err != nil {
		return "", nil, now, err
	}
	for _, one := range tasks {
		for _, due := range one.days {
			if due < day {
				continue
			}
			from, _ := time.Parse(app.DayLayout, due)
			events = append(events, CalendarEvent{
				ID: one.ID + "-" + due, Summary: one.DogName + " · " + one.Name, Text: one.Said, AllDay: true, From: from, To: from.AddDate(0, 0, 1),
				Made: time.UnixMilli(one.Made),
			})
		}
	}
	return s.Name, events, now, nil
}

// moment is a time of a day in a zone. A time that the clocks leave out is an hour later, as everybody reads it.
func moment(day string, minutes int, zone *time.Location) time.Time {
	at, _ := time.Parse(app.DayLayout, day)
	return time.Date(at.Year(), at.Month(), at.Day(), minutes/60, minutes%60, 0, 0, zone)
}

func sets(b schedule.Block) string {
	if b.Probe {
		return "a cold probe"
	}
	return fmt.Sprintf("%s of %d", say.Count(b.Sets, "set"), b.Set)
}

// share of a day that training food may be, for lists of several dogs.
func budgetOf(d store.Dog, food app.DaysFood, list []app.Planned, day string) (b reinforce.Budget, known bool, err error) {
	need, feeding, known, err := app.NeedOf(d, day)
	if err != nil {
		return b, false, err
	}
	b = reinforce.Budget{Need: need.Kcal, Allowed: feeding.Allowed(need.Kcal), FromMeals: feeding.FromMeals}
	b.Eaten, b.Extra, _ = food.Kcal(d.ID, day)
	for _, pl := range list {
		if pl.Dog == d.ID && pl.Day == day && pl.Session == "" {
			kcal, _ := food.Planned(pl)
			b.Planned += kcal
		}
	}
	return b, known, nil
}
