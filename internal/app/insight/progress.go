package insight

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strconv"

	"patientfox/core/criteria"
	"patientfox/core/evidence"
	"patientfox/core/phrase"
	"patientfox/core/say"
	"patientfox/core/trial"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/store"
)

// SessionFigures is one session of a plan, as progress shows it.
type SessionFigures struct {
	ID, Day, Place string
	Tally          evidence.Tally
	Strict         evidence.Interval
	Median, P90    float64 // s, NaN without any
	Cold, ColdSays string  // the shape of its cold trial and its name, "" without one
	Low, High      int     // steps worked, from 0
	Coverage       float64
}

// Cell is one field of the grid of places and conditions.
type Cell struct {
	Text  string
	Never bool
	Part  float64 // 0…1, met of the trials
}

// GridRow is one place.
type GridRow struct {
	Name  string
	Cells []Cell
}

// Grid shows where a skill has been taught, and where never.
type Grid struct {
	Heads []string
	Rows  []GridRow
	Never []string // what has never been taught, in words
}

// Fade is how something was taken away over the weeks.
type Fade struct {
	Label string
	Spans []FadeSpan
}

// FadeSpan is one item of a fade list, and from when it was asked.
type FadeSpan struct{ From, Item string }

// SetbackView is one setback.
type SetbackView struct {
	ID, Day, What string
	Steps         int
	Session       string // after which it came, "" before all
}

// ProgressView is the page of a plan's progress.
type ProgressView struct {
	ID, Dog, DogID, Skill string
	Steps                 []app.StepView
	Points                []app.PathPoint
	Sessions              []SessionFigures
	Met                   string // what a success is called
	Grid                  Grid
	Fades                 []Fade
	Setbacks              []SetbackView
	SetbackForm           form.Typed
	Probe                 string
	Stuck                 string
	Today                 string
	Tables                []app.Section
	Whose
}

// Progress shows how a plan has gone; with is a handler beside the main one, by id, whose way alone is shown, "" for everybody's sessions
// and the main handler's way.
func (p *Cases) Progress(ctx context.Context, id, with string) (ProgressView, error) {
	return app.Remember(ctx, p.Practice, "progress "+id+" "+with, func(v ProgressView) string { return v.DogID },
		func() (ProgressView, error) { return p.makeProgress(ctx, id, with) })
}

// ProgressTable is one table of that page, for its file: all rows of it.
func (p *Cases) ProgressTable(ctx context.Context, id, with, key string) (app.Table, error) {
	v, err := p.Progress(ctx, id, with)
	if err != nil {
		return app.Table{}, err
	}
	return app.FindTable(v.Tables, key)
}

func (p *Cases) makeProgress(ctx context.Context, id, with string) (v ProgressView, err error) {
	q := p.Store.Read()
	a, err := p.account(ctx, q, id)
	if err != nil {
		return v, err
	}
	whose, err := a.handled(ctx, q, with)
	if err != nil {
		return v, err
	}
	setbacks, err := q.Setbacks(ctx, id)
	if err != nil {
		return v, err
	}
	places, err := q.Places(ctx)
	if err != nil {
		return v, err
	}
	v = ProgressView{
		ID: a.ID, Dog: a.DogName, DogID: a.Dog, Skill: a.Name(), Today: a.Today, Met: a.Work().Success(),
		Steps:       app.StepsOf(a.Steps, a.Plan.Words),
		SetbackForm: form.Typed{"day": a.Today, "steps": strconv.Itoa(app.UsualSetback)}, Stuck: app.StuckBecause(a.Plan, a.Today),
		Probe: app.ProbeLine(a.Plan, a.Today), Whose: whose,
	}
	for i := range v.Steps {
		v.Steps[i].Reached = v.Steps[i].ID == a.Standing.Reached
	}
	day, named := map[string]string{}, map[string]string{}
	for _, one := range a.Sessions {
		day[one.ID], named[one.ID] = one.Day, one.Where
	}
	v.Points = app.Path(a.Mains(a.History.Trials), a.Body.Rule.Size, app.UnionOf(a.History, a.Plan), a.Steps, day, named)
	v.Sessions = a.sessionFigures()
	v.Grid = a.grid(places)
	v.Fades = a.fadesOf()
	for _, s := range setbacks {
		after := ""
		for _, one := range a.Sessions {
			if one.Opened < s.At {
				after = one.ID
			}
		}
		v.Setbacks = append(v.Setbacks, SetbackView{s.ID, app.ShortDay(s.Day, a.Today), s.What, s.Steps, after})
	}
	v.Tables = []app.Section{a.sessionsTable(v.Sessions), gridTable(v.Grid)}
	return v, nil
}

// sessionFigures sums up the sessions in which anything was counted.
func (a *account) sessionFigures() []SessionFigures {
	list := make([]SessionFigures, len(a.Sessions))
	by, levels := make([][]trial.Trial, len(a.Sessions)), make([][]int, len(a.Sessions))
	for i, t := range a.Evidence {
		at := a.Order[t.Session]
		by[at], levels[at] = append(by[at], t), append(levels[at], a.At[i])
		if t.Cold {
			list[at].Cold, list[at].ColdSays = t.Shape(), phrase.Shown(&t)
		}
	}
	logged, unlogged := make([]int, len(a.Sessions)), make([]int, len(a.Sessions))
	for _, b := range a.Blocks {
		logged[a.Order[b.Session]] += b.Logged
		unlogged[a.Order[b.Session]] += b.Unlogged
	}
	var out []SessionFigures
	for i, s := range a.Sessions {
		f := list[i]
		f.ID, f.Day, f.Place, f.Tally = s.ID, s.Day, s.Where, app.TallyOf(by[i])
		if f.Tally.N() == 0 {
			continue
		}
		f.Strict = evidence.Wilson(f.Tally.Met, f.Tally.N(), 0.95)
		l := evidence.Latencies(by[i])
		f.Median, f.P90, f.Low = l.Median, l.P90, len(a.Steps)
		for k, t := range by[i] {
			if at := levels[i][k]; t.Counted() && at >= 0 {
				f.Low, f.High = min(f.Low, at), max(f.High, at)
			}
		}
		f.Low = min(f.Low, f.High)
		f.Coverage = evidence.Coverage(logged[i], unlogged[i])
		out = append(out, f)
	}
	return out
}

func (a *account) sessionsTable(sessions []SessionFigures) app.Section {
	t := &app.Table{
		Key: "sessions", Title: "Session by session",
		Head: []string{"Day", "Place", "Steps", "Trials", "Strict", "Lenient", "Cold", "Helped", "Logged", "Median latency"},
	}
	timed := slices.ContainsFunc(sessions, func(f SessionFigures) bool { return !math.IsNaN(f.Median) })
	if !timed {
		t.Head = t.Head[:len(t.Head)-1]
	}
	for _, f := range slices.Backward(sessions) {
		strict, lenient := shares(f.Tally)
		steps := strconv.Itoa(f.Low + 1)
		if f.High > f.Low {
			steps += "–" + strconv.Itoa(f.High+1)
		}
		t.Add(app.ShortDay(f.Day, a.Today), f.Place, steps, strconv.Itoa(f.Tally.N()), strict, lenient, f.ColdSays,
			strconv.Itoa(f.Tally.Helped), say.Percent(f.Coverage))
		if timed {
			latency := "–"
			if !math.IsNaN(f.Median) {
				latency = say.Seconds(f.Median)
			}
			t.Rows[len(t.Rows)-1] = append(t.Rows[len(t.Rows)-1], latency)
		}
	}
	return app.Section{Key: "sessions", Title: t.Title, Table: t}
}

// conditions says under which condition each step is worked: what is there beside the dog; where the plan
// knows no difference, how hard the step is.
func (a *account) conditions() (heads []string, of []int) {
	of = make([]int, len(a.Steps))
	var distinct []string
	for i, s := range a.Steps {
		name := phrase.Condition(s.Criteria)
		if name == "" {
			name = "Nothing there"
		}
		at := slices.Index(distinct, name)
		if at < 0 {
			at = len(distinct)
			distinct = append(distinct, name)
		}
		of[i] = at
	}
	if len(distinct) > 1 && len(distinct) <= maxConditions {
		return distinct, of
	}
	parts := min(3, len(a.Steps))
	for i := range of {
		of[i] = i * parts / len(a.Steps)
	}
	for part := range parts {
		first, last := -1, 0
		for i, at := range of {
			if at == part {
				if first < 0 {
					first = i
				}
				last = i
			}
		}
		head := fmt.Sprintf("Step %d", first+1)
		if last > first {
			head = fmt.Sprintf("Steps %d–%d", first+1, last+1)
		}
		heads = append(heads, head)
	}
	return heads, of
}

// What the grid has room for.
const (
	maxConditions = 8
	maxPlaces     = 12
)

func (a *account) grid(places []store.Place) Grid {
	heads, of := a.conditions()
	g := Grid{Heads: heads}
	tallies := map[string][]evidence.Tally{}
	for i, t := range a.Evidence {
		if !t.Counted() || a.At[i] < 0 {
			continue
		}
		place := a.History.Trials[i].Place
		if tallies[place] == nil {
			tallies[place] = make([]evidence.Tally, len(heads))
		}
		tallies[place][of[a.At[i]]].Add(t.Outcome)
	}
	// Where it was worked first, then where it never was.
	slices.SortStableFunc(places, func(x, y store.Place) int {
		return app.BoolInt(tallies[y.ID] != nil) - app.BoolInt(tallies[x.ID] != nil)
	})
	for _, place := range places[:min(len(places), maxPlaces)] {
		row := GridRow{Name: place.Name}
		worked := tallies[place.ID]
		if worked == nil {
			g.Never = append(g.Never, place.Name)
			worked = make([]evidence.Tally, len(heads))
		}
		for _, tally := range worked {
			cell := Cell{Text: "never", Never: true}
			if tally.N() > 0 {
				cell = Cell{Text: fmt.Sprintf("%d of %d", tally.Met, tally.N()), Part: tally.Strict()}
			}
			row.Cells = append(row.Cells, cell)
		}
		g.Rows = append(g.Rows, row)
	}
	return g
}

func gridTable(g Grid) app.Section {
	t := &app.Table{Key: "places", Title: "Places and conditions", Head: append([]string{"Place"}, g.Heads...)}
	for _, row := range g.Rows {
		cells := []string{row.Name}
		for _, c := range row.Cells {
			cells = append(cells, c.Text)
		}
		t.Rows = append(t.Rows, cells)
	}
	return app.Section{Key: "places", Title: t.Title, Table: t}
}

// fadesOf says since when each item of a fade list was asked: help, food, gear.
func (a *account) fadesOf() []Fade {
	var list []Fade
	for _, key := range fades {
		d, _ := criteria.Find(key)
		f := Fade{Label: d.Label}
		used := false
		for _, s := range a.Steps {
			used = used || s.Criteria.Has(key)
		}
		if !used {
			continue
		}
		last := ""
		for i, t := range a.Evidence {
			if a.At[i] < 0 || !t.Counted() {
				continue
			}
			item := "none"
			if c := a.Steps[a.At[i]].Criteria; c.Has(key) {
				item = c.Item(key)
			}
			if item != last {
				f.Spans = append(f.Spans, FadeSpan{app.ShortDay(a.History.Trials[i].Day, a.Today), item})
				last = item
			}
		}
		if len(f.Spans) > 0 {
			f.Spans = f.Spans[max(0, len(f.Spans)-app.RowsShown):]
			list = append(list, f)
		}
	}
	return list
}
