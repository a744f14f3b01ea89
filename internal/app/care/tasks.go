package care

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strconv"
	"strings"
	"time"

	"patientfox/core/care"
	"patientfox/core/criteria"
	"patientfox/core/say"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/derive"
	"patientfox/internal/store"
)

// Bounds of tasks.
const (
	maxSites  = 40
	maxEvery  = 365 // days
	maxCourse = 60  // days
	maxPerDay = 6
	doneShown = 8
)

// Whose are those who say how a task is done: the trainer, or somebody who has learned it.
var Whose = []app.Named{{ID: "vet", Name: "a veterinarian"}, {ID: "groomer", Name: "a groomer"}}

// Marks are what can be said of a site.
var Marks = []app.Named{{ID: string(care.Sore), Name: "sore"}, {ID: string(care.Never), Name: "never touched"}}

// TaskRow is something that is really done to the dog.
type TaskRow struct {
	ID, Name  string
	Sites     []string
	How       string // how often
	Within    string // the skill whose touches count, where they do
	Due       string // when it is due next, and where
	Now       bool   // today, or before
	Who, Said string // who says how, and what they said
	Done      []DoneRow
	Typed     form.Typed // as a form, to change it
}

// DoneRow is one time that it was done.
type DoneRow struct {
	ID, Day, Site, By, Amount, Left string
	Session                         string // where the touch was; "" of what was logged by hand
}

func taskRows(rows []store.CareTask, people, skills []app.Named, today string) (list []TaskRow, err error) {
	for _, row := range rows {
		t, done, times, err := row.Read()
		if err != nil {
			return nil, err
		}
		v := TaskRow{ID: row.ID, Name: row.Name, Sites: t.Sites, How: howOften(t, derive.DayNumber(today)), Said: row.Said, Typed: typed(row, t)}
		v.Due, v.Now = app.CareDue(t, times, today)
		if at := slices.IndexFunc(skills, func(one app.Named) bool { return one.ID == row.Skill }); at >= 0 {
			v.Within = skills[at].Name
		}
		if row.Whose != "" {
			v.Who = cmp.Or(row.Named, nameOf(Whose, row.Whose))
		}
		for _, one := range done[:min(len(done), doneShown)] {
			d := DoneRow{ID: one.ID, Day: app.ShortDay(one.Day, today), Site: one.Site, Amount: cmp.Or(one.Amount, one.Part), Session: one.Session}
			if one.Person != "" {
				d.By = nameOf(people, one.Person)
			}
			if one.Left {
				d.Left = "something left over"
			}
			v.Done = append(v.Done, d)
		}
		list = append(list, v)
	}
	return list, nil
}

// typed is a task as a form.
func typed(row store.CareTask, t care.Task) form.Typed {
	f := form.Typed{
		"id": row.ID, "version": strconv.Itoa(row.Version), "task": row.Name, "sites": strings.Join(t.Sites, ", "), "from": row.From,
		"whose": row.Whose, "named": row.Named, "said": row.Said, "skill": row.Skill,
	}
	for field, n := range map[string]int{"every": row.Every, "days": row.Days} {
		if n > 0 {
			f[field] = strconv.Itoa(n)
		}
	}
	if row.Days > 0 {
		f["per_day"] = strconv.Itoa(row.PerDay)
	}
	return f
}

// howOften says how often a task is done, and how far a course is today.
func howOften(t care.Task, today int) string {
	if t.Days == 0 {
		if t.Every == 1 {
			return "every day"
		}
		return "every " + say.Count(t.Every, "day")
	}
	said := "for " + say.Count(t.Days, "day")
	if day := today - t.From + 1; day >= 1 && day <= t.Days {
		said = fmt.Sprintf("day %d of %d", day, t.Days)
	}
	if t.PerDay > 1 {
		said += fmt.Sprintf(", %d times a day", t.PerDay)
	}
	return said
}

// SaveTask adds something that is really done to the dog, or changes the one with the id given.
func (p *Cases) SaveTask(ctx context.Context, dog string, t form.Typed) error {
	s, row, err := p.WithDog(ctx, p.Store.Read(), dog)
	if err != nil {
		return err
	}
	v, err := p.Care(ctx, dog, "")
	if err != nil {
		return err
	}
	one, err := readTask(t, v, s.Day(p.Ms()))
	if err != nil {
		return err
	}
	one.Dog, one.Made = row.ID, p.Ms()
	_, err = p.Once(ctx, t, func(q store.Q) (string, error) {
		if one.ID == "" {
			one.ID = app.NewID()
			return one.ID, q.AddCareTask(ctx, one)
		}
		ok, err := q.SetCareTask(ctx, one)
		if err != nil || ok {
			return one.ID, err
		}
		was, err := q.CareTask(ctx, one.ID)
		if err == nil && was.Dog != dog {
			err = store.ErrNone
		}
		if err != nil {
			return "", app.Found(err)
		}
		now, _, _, err := was.Read()
		if err != nil {
			return "", err
		}
		return "", &form.Conflict{Now: typed(was, now)}
	})
	return err
}

// readTask reads one from its form.
func readTask(t form.Typed, v View, today string) (one store.CareTask, err error) {
	ps := form.Problems{}
	one = store.CareTask{ID: t.Text("id"), Name: ps.Name("task", t["task"], "it"), From: today}
	one.Version, _ = strconv.Atoi(t.Text("version")) // one that is none is no version of it
	if one.Skill = t.Text("skill"); one.Skill != "" && !slices.ContainsFunc(v.Skills, func(s app.Named) bool { return s.ID == one.Skill }) {
		ps.Add("skill", "Choose one of the list.")
	}
	one.Sites = store.JSON(sitesOf(ps, t, v.sitesOf(one.Skill)))
	one.Every = whole(ps, t, "every", maxEvery)
	one.Days = whole(ps, t, "days", maxCourse)
	one.PerDay = max(1, whole(ps, t, "per_day", maxPerDay))
	switch typed := t.Text("every") != ""; {
	case typed && t.Text("days") != "":
		ps.Add("days", "Either every so many days, or a course.")
	case !typed && t.Text("days") == "":
		ps.Add("every", "Say how often, or for how many days.")
	}
	if typed := t.Text("from"); typed != "" {
		one.From = typed
		if _, err := time.Parse(app.DayLayout, typed); err != nil {
			ps.Add("from", "A day, as year-month-day.")
		}
	}
	if one.Whose = t.Text("whose"); one.Whose != "" && !slices.ContainsFunc(Whose, func(w app.Named) bool { return w.ID == one.Whose }) {
		ps.Add("whose", "Choose one of the list.")
	}
	one.Named = ps.Text("named", t["named"], criteria.MaxName)
	one.Said = ps.Text("said", t["said"], criteria.MaxText)
	return one, ps.Err()
}

// sitesOf reads the sites of a task: words with commas between, where a site of the skill that it is done within may have one of its own,
// and all of those where nothing is typed.
func sitesOf(ps form.Problems, t form.Typed, known []string) (sites []string) {
	typed := t.Text("sites")
	if typed == "" {
		sites = known
	}
	for _, site := range known { // “ear, left” is one of them
		if at := strings.Index(typed, site); at >= 0 && strings.Contains(site, ",") {
			typed, sites = typed[:at]+typed[at+len(site):], append(sites, site)
		}
	}
	for _, site := range form.Listed(typed) {
		if site = ps.Name("sites", site, "each site"); !slices.Contains(sites, site) {
			sites = append(sites, site)
		}
	}
	if len(sites) == 0 || len(sites) > maxSites {
		ps.Add("sites", fmt.Sprintf("1 to %d sites, with commas between.", maxSites))
	}
	return sites
}

// whole reads a number from 1 up that may be left empty, 0 then.
func whole(ps form.Problems, t form.Typed, field string, most int) int {
	if t.Text(field) == "" {
		return 0
	}
	return ps.Whole(t, field, 1, most, fmt.Sprintf("A whole number from 1 to %d.", most))
}

// LogDone logs that a task was really done, at one of its sites or at all of them.
func (p *Cases) LogDone(ctx context.Context, dog, task string, t form.Typed) error {
	q := p.Store.Read()
	s, err := p.Profile(ctx, q)
	if err != nil {
		return err
	}
	row, err := q.CareTask(ctx, task)
	if err == nil && row.Dog != dog {
		err = store.ErrNone
	}
	if err != nil {
		return app.Found(err)
	}
	of, _, _, err := row.Read()
	if err != nil {
		return err
	}
	ps, today := form.Problems{}, s.Day(p.Ms())
	one := store.CareDone{
		Task: task, Day: today, Person: t.Text("by"), Amount: ps.Text("amount", t["amount"], criteria.MaxName),
		Left: t.Text("left") != "", Made: p.Ms(),
	}
	sites := of.Sites
	if typed := t.Text("site"); typed != "" {
		if sites = []string{typed}; !slices.Contains(of.Sites, typed) {
			ps.Add("site", "Choose one of the list.")
		}
	}
	if typed := t.Text("day"); typed != "" {
		if one.Day = typed; !before(typed, today) {
			ps.Add("day", "A day up to today, as year-month-day.")
		}
	}
	if one.Person != "" {
		people, err := q.People(ctx)
		if err != nil {
			return err
		}
		if !slices.ContainsFunc(people, func(who store.Person) bool { return who.ID == one.Person }) {
			ps.Add("by", "Choose one of the list.")
		}
	}
	if err := ps.Err(); err != nil {
		return err
	}
	_, err = p.Once(ctx, t, func(q store.Q) (string, error) {
		for _, site := range sites {
			one.ID, one.Site = app.NewID(), site
			if err := q.AddCareDone(ctx, one); err != nil {
				return "", err
			}
		}
		return task, nil
	})
	return err
}

// before tells whether what was typed is a day up to today.
func before(typed, today string) bool {
	_, err := time.Parse(app.DayLayout, typed)
	return err == nil && typed <= today
}

// TakeDone takes back that a task was done once.
func (p *Cases) TakeDone(ctx context.Context, dog, id string) error {
	return p.Store.Write(ctx, func(q store.Q) error {
		there, err := q.DeleteCareDone(ctx, dog, id, p.Ms())
		if err == nil && !there {
			err = app.ErrNotFound
		}
		return err
	})
}

// PutTaskAway puts a task away, or brings it back.
func (p *Cases) PutTaskAway(ctx context.Context, id string, away bool) error {
	return p.Away(ctx, away, func(q store.Q, at *int64) (bool, error) { return q.DeleteCareTask(ctx, id, at) })
}

// MarkSite marks a site of the dog, or takes its mark away.
func (p *Cases) MarkSite(ctx context.Context, dog string, t form.Typed) error {
	if _, _, err := p.WithDog(ctx, p.Store.Read(), dog); err != nil {
		return err
	}
	ps := form.Problems{}
	m := store.CareMark{
		Dog: dog, Site: ps.Name("marked", t["marked"], "the site"), Mark: t.Text("mark"), Said: ps.Text("said", t["said"], criteria.MaxText),
	}
	if m.Mark != "" && !slices.ContainsFunc(Marks, func(one app.Named) bool { return one.ID == m.Mark }) {
		ps.Add("mark", "Choose one of the list.")
	}
	if err := ps.Err(); err != nil {
		return err
	}
	_, err := p.Once(ctx, t, func(q store.Q) (string, error) { return m.Site, q.SetCareMark(ctx, m) })
	return err
}
