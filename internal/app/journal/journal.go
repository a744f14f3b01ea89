package journal

import (
	"context"
	"fmt"
	"slices"
	"time"

	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/store"
)

// Cases are the use cases of the journal of a practice.
type Cases struct {
	*app.Practice
}

// New makes them of a practice.
func New(p *app.Practice) *Cases { return &Cases{p} }

// Bounds of a page and of a file.
const (
	deedsShown   = 40
	linesShown   = 6 // of a deed; the others are behind a press
	mostExported = 20_000
)

// View is who changed what, newest first.
type View struct {
	Days         []Day
	Dogs, People []app.Named
	Areas        []app.Named
	Earlier      string // before what the next page begins, "" for none
}

// Day is a day's deeds.
type Day struct {
	Day   string
	Deeds []Deed
}

// Deed is what was done at once: by one form, or one press.
type Deed struct {
	Time, By    string
	Dogs        []app.Named
	Lines, More []string
}

// Journal shows the changes that the form asks for: of a "dog", by a "person", in an "area", "from" and "to" a day, "before" a deed.
func (p *Cases) Journal(ctx context.Context, t form.Typed) (v View, err error) {
	q := p.Store.Read()
	s, err := p.Profile(ctx, q)
	if err != nil {
		return v, err
	}
	n := &names{s: s}
	if v.Dogs, v.People, err = n.known(ctx, q); err != nil {
		return v, err
	}
	for _, area := range areas {
		v.Areas = append(v.Areas, app.Named{ID: area.code, Name: area.label})
	}
	f, err := filter(t, s)
	if err != nil {
		return v, err
	}
	f.Most = deedsShown + 1
	deeds, err := n.deeds(ctx, q, f)
	if err != nil {
		return v, err
	}
	if len(deeds) > deedsShown {
		deeds = deeds[:deedsShown]
		last := deeds[deedsShown-1]
		v.Earlier = fmt.Sprintf("%d-%d", last.at, last.id)
	}
	for _, d := range deeds {
		if len(d.Lines) > linesShown+1 {
			d.Lines, d.More = d.Lines[:linesShown], d.Lines[linesShown:]
		}
		if len(v.Days) == 0 || v.Days[len(v.Days)-1].Day != d.day {
			v.Days = append(v.Days, Day{Day: d.day})
		}
		last := &v.Days[len(v.Days)-1]
		last.Deeds = append(last.Deeds, d.Deed)
	}
	return v, nil
}

// filter reads what is asked for; what is wrong about a day is a form.Problems.
func filter(t form.Typed, s app.Profile) (f store.JournalFilter, err error) {
	f = store.JournalFilter{Dog: t.Text("dog"), Person: t.Text("person")}
	if _, err := fmt.Sscanf(t.Text("before"), "%d-%d", &f.Before[0], &f.Before[1]); err != nil {
		f.Before = [2]int64{} // from the newest on
	}
	if area := t.Text("area"); area != "" {
		f.What = []string{}
		for what, table := range tables {
			if table.area == area {
				f.What = append(f.What, what)
			}
		}
		slices.Sort(f.What)
	}
	ps := form.Problems{}
	at := func(name string) time.Time {
		text := t.Text(name)
		if text == "" {
			return time.Time{}
		}
		day, err := time.ParseInLocation(app.DayLayout, text, s.Zone)
		if err != nil {
			ps.Add(name, "Enter a day, such as 2026-11-09.")
		}
		return day
	}
	if from := at("from"); !from.IsZero() {
		f.From = from.UnixMilli()
	}
	if to := at("to"); !to.IsZero() {
		f.Until = to.AddDate(0, 0, 1).UnixMilli()
	}
	return f, ps.Err()
}

// head is the first line of the journal as a file.
var head = []string{"when", "who", "dog", "what", "id", "change", "before", "after"}

// JournalTable is the changes that the form asks for, a line for each row that was changed, with all of it before and after as JSON.
func (p *Cases) JournalTable(ctx context.Context, t form.Typed) (v app.Table, err error) {
	q := p.Store.Read()
	s, err := p.Profile(ctx, q)
	if err != nil {
		return v, err
	}
	n := &names{s: s}
	if _, _, err := n.known(ctx, q); err != nil {
		return v, err
	}
	f, err := filter(t, s)
	if err != nil {
		return v, err
	}
	f.Most = mostExported
	entries, err := q.Journal(ctx, f)
	if err != nil {
		return v, err
	}
	if err := n.load(ctx, q, entries); err != nil {
		return v, err
	}
	text := func(json *string) string {
		if json == nil {
			return ""
		}
		return *json
	}
	v = app.Table{Key: "journal", Title: "Journal", Head: head}
	for _, e := range entries {
		v.Rows = append(v.Rows, []string{
			time.UnixMilli(e.At).UTC().Format("2006-01-02T15:04:05.000Z"), n.by(e.Person), n.dogs[e.Dog], e.What, e.ID, n.line(e),
			text(e.Was), text(e.Became),
		})
	}
	return v, nil
}
