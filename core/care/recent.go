package care

import "slices"

// Recent are the exposures of a cell, oldest first, by which its level is read, whether the dog is at ease or ready for the next tool,
// and whether it fell back: the last ten, the first of the latest visit, and three before its day. They say the same as all of them.
func Recent(cell []Exposure) []Exposure {
	first, day := len(cell), len(cell)
	for i := len(cell) - 1; i >= 0 && first == len(cell); i-- {
		if cell[i].First {
			first = i
		}
	}
	for day > 0 && cell[day-1].Day == cell[len(cell)-1].Day {
		day--
	}
	var kept []Exposure
	for i, one := range cell {
		if i >= len(cell)-badWithin || i == first || i < day && i >= day-levelOf {
			kept = append(kept, one)
		}
	}
	return kept
}

// Kept are the touches of one handler, oldest first, without those that say nothing more of their cell.
func Kept(touches []Touch) []Touch {
	type cell struct{ site, tool string }
	var cells []cell
	of := map[cell][]Exposure{}
	for _, one := range touches {
		at := cell{one.Site, one.Tool}
		if of[at] == nil {
			cells = append(cells, at)
		}
		of[at] = append(of[at], one.Exposure)
	}
	var kept []Touch
	for _, at := range cells {
		for _, one := range Recent(of[at]) {
			kept = append(kept, Touch{at.site, at.tool, one})
		}
	}
	return kept
}

// Round is a visit under way: the cells as they were before it, and what was touched in it.
type Round struct {
	Before  Map
	Touched map[string]bool // sites, by name
	Over    map[string]bool // sites that are done for today
}

// Next is the site that is proposed for the next touch with a tool, among some of the map's sites (all of them where nil): of the visit
// as it was proposed before it began, the first that was not touched yet and that waits for this tool. Where none is left it is the
// first that waits for another one. Ok is false where the visit is complete.
func (r *Round) Next(tool string, of func(site string) bool) (site, with string, ok bool) {
	for _, spot := range r.Before.Visit(len(r.Before.Sites)) {
		name, needs := r.Before.Sites[spot.Site], r.Before.Tools[spot.Tool]
		if r.Touched[name] || r.Over[name] || of != nil && !of(name) {
			continue
		}
		if needs == tool {
			return name, needs, true
		}
		if !ok {
			site, with, ok = name, needs, true
		}
	}
	return site, with, ok
}

// Early is the tool that comes first at a site, where another one is out before the dog is ready for it there; ok is false where it is
// not too early, or nothing is known of the site.
func (r *Round) Early(site, tool string) (first string, ok bool) {
	m := &r.Before
	s, t := slices.Index(m.Sites, site), slices.Index(m.Tools, tool)
	open, _ := m.Open()
	if s < 0 || t < 0 || open < 0 {
		return "", false
	}
	needs := m.at(s, open)
	return m.Tools[needs], needs < t
}

// Read is the map with the touches of one handler.
func (r *Skill) Read(handler string, today int) Map {
	return Read(r.Sites, r.Tools, r.Marks, r.Touches[handler], today)
}

// Skill is what is known of the care of one skill of a dog, both sides together.
type Skill struct {
	Sites   []string           `json:"sites"`
	Tools   []string           `json:"tools"` // in the order in which they come out
	Marks   map[string]Mark    `json:"marks,omitempty"`
	Touches map[string][]Touch `json:"touches,omitempty"` // by handler, oldest first; what Kept leaves of them
}

// With is the skill with the touches of one more session, by handler.
func (r *Skill) With(touches map[string][]Touch) Skill {
	next := Skill{r.Sites, r.Tools, r.Marks, map[string][]Touch{}}
	for handler, of := range r.Touches {
		next.Touches[handler] = of
	}
	for handler, of := range touches {
		all := append(next.Touches[handler][:len(next.Touches[handler]):len(next.Touches[handler])], of...)
		next.Touches[handler] = Kept(all)
	}
	return next
}
