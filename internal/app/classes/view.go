package classes

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strconv"

	"patientfox/core/caution"
	"patientfox/core/criteria"
	"patientfox/core/programme"
	"patientfox/core/reinforce"
	"patientfox/core/work"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/store"
	"patientfox/internal/templates"
)

// View is the page of a class in one of its weeks.
type View struct {
	ID, Name, Programme string
	Day                 string // of the week's meeting, in words
	At, Place           string
	Minutes             int
	Week, Weeks, Now    int // the week that is shown, how many there are, and that of today, 0 before the first
	Skills              []string
	Dogs                []DogRow
	Others              []app.Named // dogs that are not in it
	Stations            []Station
	Rounds              []Round
	Flagged             bool       // a dog that is there is flagged for biting
	Crowded             bool       // and shares its station, because there are too few
	Held                bool       // the meeting was, as far as was said
	Form                form.Typed // of the meeting
	Edit                form.Typed // of the class
}

// Numbers are the numbers of its weeks.
func (v View) Numbers() []int { return numbers(v.Weeks) }

// DogRow is one dog against the programme.
type DogRow struct {
	ID, Name string
	Week     int  // of the programme, in which this dog is
	Missed   int  // meetings so far
	Missing  bool // at the week's one
	Apart    bool // it works apart from the others
	Cells    []Cell
	Begun    int // skills that are begun by its week
	There    int // of these, those that are where they are meant to be, or further
	Logged   []Logged
}

// Logged is a session of a dog at the week's meeting.
type Logged struct {
	Session     string
	Trials, Met int
	Signs       []string // that were seen of the dog, in words
}

// Cell is one skill of a dog.
type Cell struct {
	Plan   string // "" where the dog has none any more
	At, Of int    // step reached, from 1
	Aim    int    // step aimed at, from 1; 0 where it is not begun by then, or goes another way
	By     int    // steps past the aim; below 0 short of it
	Apart  bool   // its ladder goes another way
	New    bool   // nobody has worked it yet
}

// Says is the difference in words.
func (c Cell) Says() string {
	switch {
	case c.Plan == "":
		return "no plan"
	case c.Apart:
		return "another way"
	case c.Aim == 0:
		return "not begun"
	case c.By >= 0 && c.New:
		return "not worked yet"
	case c.By == 0:
		return "there"
	case c.By > 0:
		return fmt.Sprintf("%d ahead", c.By)
	}
	return fmt.Sprintf("%d to go", -c.By)
}

// Station is a place in the hall.
type Station struct {
	Skill, Aim, Bring string
	Minutes, Pieces   int
}

// Round is who is where for some minutes: for each station the dogs, by name.
type Round struct {
	Number int
	Groups [][]string
}

// Class shows a class in a week, 0 for that of today.
func (p *Cases) Class(ctx context.Context, id string, week int) (v View, err error) {
	q := p.Store.Read()
	s, c, err := p.class(ctx, q, id)
	if err != nil {
		return v, err
	}
	members, err := q.ClassDogs(ctx, id)
	if err != nil {
		return v, err
	}
	meetings, err := q.Meetings(ctx, id)
	if err != nil {
		return v, err
	}
	if week < 1 || week > c.of.Weeks {
		week = min(max(1, c.week), c.of.Weeks)
	}
	today := s.Day(p.Ms())
	v = View{
		ID: id, Name: c.Name, Programme: c.of.Name, Day: app.ShortDay(c.day(week), today), At: c.At, Place: c.Place, Minutes: c.Minutes,
		Week: week, Weeks: c.of.Weeks, Now: c.week,
	}
	v.Edit = form.Typed{
		"name": c.Name, "start": c.Start, "at": c.At, "minutes": strconv.Itoa(c.Minutes), "place": c.Place, "version": strconv.Itoa(c.Version),
	}
	for _, r := range c.of.Rows {
		v.Skills = append(v.Skills, r.Skill)
	}
	missed, err := v.meeting(meetings)
	if err != nil {
		return v, err
	}
	if err := v.dogs(ctx, q, s, c, members, missed); err != nil {
		return v, err
	}
	v.sheet(s, c)
	return v, nil
}

// meeting fills in the week's meeting, and answers who missed which.
func (v *View) meeting(meetings []store.Meeting) (missed map[string][]int, err error) {
	missed, v.Form = map[string][]int{}, form.Typed{"version": "0", "week": strconv.Itoa(v.Week)}
	for _, m := range meetings {
		var dogs []string
		if err := store.FromJSON(m.Missed, &dogs); err != nil {
			return nil, err
		}
		for _, dog := range dogs {
			missed[dog] = append(missed[dog], m.Week)
		}
		if m.Week == v.Week {
			v.Held, v.Form["note"], v.Form["version"] = true, m.Note, strconv.Itoa(m.Version)
		}
	}
	return missed, nil
}

// dogs fills in where each dog is, and which others could come in.
func (v *View) dogs(ctx context.Context, q store.Q, s app.Profile, c class, members []store.ClassDog, missed map[string][]int) error {
	plansOf, ids := make([][]string, len(members)), []string{}
	for i, m := range members {
		if err := store.FromJSON(m.Plans, &plansOf[i]); err != nil {
			return err
		}
		ids = append(ids, plansOf[i]...)
	}
	rows, err := q.PlansByID(ctx, ids)
	if err != nil {
		return err
	}
	plans, err := app.LoadPlans(ctx, q, rows, s.Words())
	if err != nil {
		return err
	}
	logged, err := loggedAt(ctx, q, c, v.Week)
	if err != nil {
		return err
	}
	all, err := q.Dogs(ctx, "", "", app.PlansLooked)
	if err != nil {
		return err
	}
	for _, d := range all {
		at := slices.IndexFunc(members, func(m store.ClassDog) bool { return m.Dog == d.ID })
		if at < 0 {
			v.Others = append(v.Others, app.Named{ID: d.ID, Name: d.Name})
			continue
		}
		dog := programme.Dog{Joined: members[at].Joined, Missed: missed[d.ID]}
		row := DogRow{ID: d.ID, Name: d.Name, Week: min(dog.At(v.Week), c.of.Weeks), Apart: caution.Bites(d.Flags), Logged: logged[d.ID]}
		for _, one := range dog.Missed {
			if one <= v.Week {
				row.Missed++
			}
			row.Missing = row.Missing || one == v.Week
		}
		for i, r := range c.of.Rows {
			cell := cellOf(plans, plansOf[at][i], r, row.Week)
			if row.Cells = append(row.Cells, cell); cell.Aim > 0 && cell.Plan != "" {
				row.Begun++
				if cell.By >= 0 && !cell.New {
					row.There++
				}
			}
		}
		v.Dogs = append(v.Dogs, row)
	}
	return nil
}

// loggedAt is what was logged at the meeting of a week, by dog.
func loggedAt(ctx context.Context, q store.Q, c class, week int) (map[string][]Logged, error) {
	rows, err := q.ClassWork(ctx, c.ID, c.day(week))
	if err != nil {
		return nil, err
	}
	byDog := map[string][]Logged{}
	for _, w := range rows {
		one := Logged{Session: w.Session, Trials: w.Trials, Met: w.Met}
		var signs []work.Sign
		if err := store.FromJSON(w.Signs, &signs); err != nil {
			return nil, err
		}
		for _, s := range signs {
			one.Signs = append(one.Signs, work.SignName(s))
		}
		byDog[w.Dog] = append(byDog[w.Dog], one)
	}
	return byDog, nil
}

func cellOf(plans []app.Plan, id string, r programme.Row, week int) (cell Cell) {
	at := slices.IndexFunc(plans, func(l app.Plan) bool { return l.ID == id })
	if at < 0 || len(plans[at].Steps) == 0 {
		return cell
	}
	l := plans[at]
	reached := l.Reached()
	cell = Cell{Plan: id, At: reached + 1, Of: len(l.Steps), New: l.Standing.Sessions == 0}
	aim, ok := r.Aim(week)
	if !ok {
		return cell
	}
	ladder := make([]criteria.Criteria, len(l.Steps))
	for i := range l.Steps {
		ladder[i] = l.Steps[i].Criteria
	}
	aimed, stand := programme.Against(ladder, reached, aim)
	if stand == programme.Apart {
		cell.Apart = true
		return cell
	}
	cell.Aim, cell.By = aimed+1, reached-aimed
	return cell
}

// stations are those of a week's meeting.
func (c class) stations(week int) []programme.Station {
	return c.of.Stations(week, c.Minutes, func(row int) reinforce.Strategy {
		t, _ := templates.Find(c.of.Rows[row].From)
		return t.Body.Pay
	})
}

// sheet fills in what the week's meeting is like: its stations, and who is where when. Who is not there is left out.
func (v *View) sheet(s app.Profile, c class) {
	stations := c.stations(v.Week)
	for _, one := range stations {
		r := c.of.Rows[one.Row]
		aim, _ := r.Aim(v.Week)
		t, _ := templates.Find(r.From)
		v.Stations = append(v.Stations, Station{r.Skill, s.Words().Short(aim), t.Bring, one.Minutes, one.Pieces})
	}
	var names []string
	var apart []bool
	for _, d := range v.Dogs {
		if !d.Missing {
			names, apart = append(names, d.Name), append(apart, d.Apart)
		}
	}
	groups := programme.Groups(apart, len(stations))
	v.Flagged, v.Crowded = slices.Contains(apart, true), programme.Crowded(apart, groups)
	for round := range stations {
		one := Round{Number: round + 1, Groups: make([][]string, len(stations))}
		for g, group := range groups {
			at := programme.Turn(g, round, len(stations))
			for _, dog := range group {
				one.Groups[at] = append(one.Groups[at], names[dog])
			}
		}
		v.Rounds = append(v.Rounds, one)
	}
}

// SaveMeeting keeps who was at the meeting of a week: "week", "note", "version", and "dog_" with an id for each dog that was there.
func (p *Cases) SaveMeeting(ctx context.Context, id string, t form.Typed) error {
	ps := form.Problems{}
	note := ps.Text("note", t["note"], criteria.MaxText)
	week, err := strconv.Atoi(t.Text("week"))
	if err != nil {
		ps.Add("week", "Choose a week.")
	}
	if err := ps.Err(); err != nil {
		return err
	}
	version, err := strconv.Atoi(cmp.Or(t.Text("version"), "0"))
	if err != nil {
		return app.ErrNotFound
	}
	return p.Store.Write(ctx, func(q store.Q) error {
		_, c, err := p.class(ctx, q, id)
		if err != nil {
			return err
		}
		if week < 1 || week > c.of.Weeks {
			return form.Problems{"week": "Choose a week."}.Err()
		}
		members, err := q.ClassDogs(ctx, id)
		if err != nil {
			return err
		}
		there, missed := ticked(t), []string{}
		for _, m := range members {
			if !slices.Contains(there, m.Dog) {
				missed = append(missed, m.Dog)
			}
		}
		ok, err := q.SetMeeting(ctx, store.Meeting{Class: id, Week: week, Note: note, Missed: store.JSON(missed), Version: version})
		if err != nil || ok {
			return err
		}
		meetings, err := q.Meetings(ctx, id)
		at := slices.IndexFunc(meetings, func(m store.Meeting) bool { return m.Week == week })
		if err != nil || at < 0 {
			return err
		}
		return &form.Conflict{Now: form.Typed{"note": meetings[at].Note, "version": strconv.Itoa(meetings[at].Version)}}
	})
}

// SaveClass changes what a class is called, and when and where it meets.
func (p *Cases) SaveClass(ctx context.Context, id string, t form.Typed) error {
	ps := form.Problems{}
	c := meets(ps, t)
	version, err := strconv.Atoi(t.Text("version"))
	if err := ps.Err(); err != nil {
		return err
	}
	if err != nil {
		return app.ErrNotFound
	}
	c.ID, c.Version = id, version
	return p.Store.Write(ctx, func(q store.Q) error {
		_, now, err := p.class(ctx, q, id)
		if err != nil {
			return err
		}
		ok, err := q.SetClass(ctx, c)
		if err != nil || ok {
			return err
		}
		return &form.Conflict{Now: form.Typed{
			"name": now.Name, "start": now.Start, "at": now.At, "minutes": strconv.Itoa(now.Minutes), "place": now.Place,
			"version": strconv.Itoa(now.Version),
		}}
	})
}
