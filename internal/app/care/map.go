package care

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"patientfox/core/care"
	"patientfox/core/standing"
	"patientfox/core/work"
	"patientfox/internal/app"
	"patientfox/internal/derive"
	"patientfox/internal/store"
)

// View is the page of a dog's care.
type View struct {
	ID, Dog  string
	Away     bool
	Today    string      // YYYY-MM-DD
	Handlers []app.Named // who handled it for its care
	With     string      // whose touches the maps are of, by id
	Maps     []Map
	Sites    []string // of all maps, to be marked
	Marked   []Marked
	Tasks    []TaskRow
	People   []app.Named
	Skills   []app.Named // within which a task can be done
	family   []string    // who of the people is of the family, by id
}

// WithName names whose touches the maps are of.
func (v View) WithName() string { return nameOf(v.Handlers, v.With) }

// Map is how the dog takes every tool of one skill at every site.
type Map struct {
	Plan, Skill string
	skill       string // its id
	Tools       []string
	Rows        []Row
	Says        string   // what is out, and what the next tool waits for
	Firsts      []string // tools of which the first touch is another thing than the rest
	Visit       []string // the touches of a visit, as proposed
}

// Row is one site.
type Row struct {
	Site, Mark string
	Cells      []Cell
}

// Cell is one site with one tool.
type Cell struct {
	Last        []int  // the last three states, oldest first
	Level, Said string // how it stands, in a word, and since when
	Ready, Fell bool
	Touches     []Touch // the latest, newest first
}

// Touch is one exposure of a cell.
type Touch struct{ Day, State, Session string }

// Marked is a site with a mark.
type Marked struct {
	Site, Mark, Said string
	Told             bool // on the page of its health, where it ends
}

const (
	touchesShown = 10 // of a cell
	visitOf      = 8  // touches that are proposed for a visit
)

// Care shows how a dog takes what is done for its care, from its last 90 sessions of that: a page takes no longer after five years of
// it than after one. with names the handler, "" for the one whose level the plans have.
func (p *Cases) Care(ctx context.Context, dog, with string) (View, error) {
	return app.Remember(ctx, p.Practice, "care "+dog+" "+with, app.On[View](dog), func() (v View, err error) {
		err = p.Store.Snapshot(ctx, func(q store.Q) error {
			v, err = p.read(ctx, q, dog, with)
			return err
		})
		return v, err
	})
}

func (p *Cases) read(ctx context.Context, q store.Q, dog, with string) (v View, err error) {
	s, row, err := p.WithDog(ctx, q, dog)
	if err != nil {
		return v, err
	}
	v = View{ID: dog, Dog: row.Name, Away: row.Deleted != nil, Today: s.Day(p.Ms())}
	people, err := q.People(ctx)
	if err != nil {
		return v, err
	}
	for _, one := range people {
		v.People = append(v.People, app.Named{ID: one.ID, Name: one.Name})
		if one.Role == app.RoleFamily {
			v.family = append(v.family, one.ID)
		}
	}
	marks, err := q.CareMarks(ctx, dog)
	if err != nil {
		return v, err
	}
	tasks, err := q.CareTasks(ctx, dog)
	if err != nil {
		return v, err
	}
	plans, err := q.Plans(ctx, []string{dog}, app.PlansLooked)
	if err != nil {
		return v, err
	}
	plans = slices.DeleteFunc(plans, func(one store.Plan) bool { return !work.Of(work.Kind(one.Kind)).HandsOn })
	if err := v.draw(ctx, q, plans, marks, with); err != nil {
		return v, err
	}
	for _, m := range v.Maps {
		v.Skills = append(v.Skills, app.Named{ID: m.skill, Name: m.Skill})
	}
	if v.Tasks, err = taskRows(tasks, v.People, v.Skills, v.Today); err != nil {
		return v, err
	}
	for _, m := range marks {
		v.Marked = append(v.Marked, Marked{m.Site, m.Mark, m.Said, m.Told})
		if !slices.Contains(v.Sites, m.Site) {
			v.Sites = append(v.Sites, m.Site)
		}
	}
	return v, nil
}

// sitesOf are the sites of a skill's map.
func (v View) sitesOf(skill string) (sites []string) {
	for _, m := range v.Maps {
		if m.skill == skill {
			for _, row := range m.Rows {
				sites = append(sites, row.Site)
			}
		}
	}
	return sites
}

// skill is what the map of one skill is made of, for one handler.
type skill struct {
	*derive.SkillTouches
	touches []derive.HandTouch
}

// draw makes a map of each skill.
func (v *View) draw(ctx context.Context, q store.Q, plans []store.Plan, marks []store.CareMark, with string) error {
	skills, err := derive.Touches(ctx, q, plans)
	if err != nil {
		return err
	}
	v.handlers(plans, skills, with)
	marked := map[string]care.Mark{}
	for _, m := range marks {
		marked[m.Site] = care.Mark(m.Mark)
	}
	for _, of := range skills {
		if len(of.Sites) == 0 || len(of.Tools) == 0 {
			continue
		}
		one := skill{SkillTouches: of}
		var touches []care.Touch
		for _, t := range of.Touches {
			if t.Of.Handler == v.With {
				one.touches, touches = append(one.touches, t), append(touches, t.Touch)
			}
		}
		m := care.Read(of.Sites, of.Tools, marked, touches, derive.DayNumber(v.Today))
		drawn := one.drawn(m, v.Today)
		drawn.Firsts = firsts(of.Tools, touches)
		v.Maps = append(v.Maps, drawn)
		for _, site := range of.Sites {
			if !slices.Contains(v.Sites, site) {
				v.Sites = append(v.Sites, site)
			}
		}
	}
	return nil
}

// firsts says of which tools only the first touch after they came out is wary.
func firsts(tools []string, touches []care.Touch) (lines []string) {
	for _, tool := range tools[1:] {
		f := care.After(touches, tool)
		if !f.Alone() {
			continue
		}
		advice := "Take it out, pay, and put it away untouched, until the dog is at ease when it appears."
		if f.Worried {
			advice = "Take it out further off, or stop there for today."
		}
		lines = append(lines, fmt.Sprintf("With %s only the first touch of a day is wary: %d of %d, and %d of %d after it. %s",
			tool, f.WaryFirsts, f.Firsts, f.WaryOthers, f.Others, advice))
	}
	return lines
}

// handlers says who handled the dog, and whose touches are shown.
func (v *View) handlers(plans []store.Plan, skills []*derive.SkillTouches, with string) {
	seen := map[string]bool{}
	for _, one := range skills {
		for i := range one.Touches {
			if id := one.Touches[i].Of.Handler; id != "" && !seen[id] {
				seen[id] = true
				v.Handlers = append(v.Handlers, app.Named{ID: id, Name: nameOf(v.People, id)})
			}
		}
	}
	for _, one := range plans {
		if with == "" && seen[one.MainHandler] {
			with = one.MainHandler
		}
	}
	if with == "" && len(v.Handlers) > 0 {
		with = v.Handlers[0].ID
	}
	v.With = with
}

// drawn puts a map into words.
func (s skill) drawn(m care.Map, today string) Map {
	v := Map{Plan: s.Plan.ID, Skill: s.Plan.SkillName, skill: s.Plan.Skill, Tools: m.Tools, Says: s.says(m)}
	for i, site := range m.Sites {
		row := Row{Site: site, Mark: string(m.Marks[site])}
		for t, c := range m.Cells[i] {
			row.Cells = append(row.Cells, s.cell(c, site, m.Tools[t], today))
		}
		v.Rows = append(v.Rows, row)
	}
	for _, spot := range m.Visit(visitOf) {
		v.Visit = append(v.Visit, m.Sites[spot.Site]+", "+m.Tools[spot.Tool])
	}
	return v
}

func (s skill) cell(c care.Cell, site, tool, today string) Cell {
	v := Cell{Ready: c.Ready, Fell: c.Fell}
	day, known := c.Last()
	if !known {
		return v
	}
	v.Level, v.Said = work.StateNames[c.Level], app.ShortDay(standing.Named(day), today)
	for _, one := range c.Exposures[max(0, len(c.Exposures)-3):] {
		v.Last = append(v.Last, one.State)
	}
	for i := len(s.touches) - 1; i >= 0 && len(v.Touches) < touchesShown; i-- {
		if one := s.touches[i]; one.Site == site && one.Tool == tool {
			v.Touches = append(v.Touches, Touch{app.ShortDay(one.Of.Day, today), work.StateNames[one.State], one.Of.Session})
		}
	}
	return v
}

// says what is out, and what holds up the next tool.
func (s skill) says(m care.Map) string {
	open, waits := m.Open()
	if open < 0 {
		return ""
	}
	if len(waits) == 0 {
		return fmt.Sprintf("Every tool is out: %s.", m.Tools[open])
	}
	sites := make([]string, len(waits))
	for i, at := range waits {
		sites[i] = m.Sites[at]
	}
	const most = 4
	if n := len(sites) - most; n > 1 {
		sites = append(sites[:most:most], fmt.Sprintf("%d more", n))
	}
	return fmt.Sprintf("Now: %s. Next comes %s, when the dog is ready at: %s.", m.Tools[open], m.Tools[open+1], strings.Join(sites, "; "))
}

func nameOf(list []app.Named, id string) string {
	for _, one := range list {
		if one.ID == id {
			return one.Name
		}
	}
	return "somebody who is gone"
}
