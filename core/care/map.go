package care

import "slices"

// Mark is what is known of a site beside its exposures.
type Mark string

// Marks of sites. A marked one has smaller steps of its own and holds up no others.
const (
	Sore  Mark = "sore"  // it hurts, or did: what is done there is asked of its veterinarian first
	Never Mark = "never" // it is not touched
)

// Touch is one exposure of a dog with one handler, and where it was.
type Touch struct {
	Site string `json:"site"`
	Tool string `json:"tool"`
	Exposure
}

// Cell is how the dog takes one tool at one site.
type Cell struct {
	Exposures []Exposure // oldest first
	Level     int        // the worst state of the last three, 0 to 4
	Known     bool       // it was touched at all
	AtEase    bool
	Ready     bool // for the next tool
	Fell      bool // the dog was at ease before the latest visit, and is not now
}

// Last is the day of the latest exposure; ok is false without any.
func (c Cell) Last() (day int, ok bool) {
	if len(c.Exposures) == 0 {
		return 0, false
	}
	return c.Exposures[len(c.Exposures)-1].Day, true
}

// Map is how a dog takes every tool at every site, with one handler.
type Map struct {
	Sites []string
	Tools []string // in the order in which they come out
	Marks map[string]Mark
	Cells [][]Cell // by site, by tool
}

// Read makes the map of touches, oldest first; those at a site or with a tool that is not listed are left out. today is the number of
// the day, in the count that exposures have.
func Read(sites, tools []string, marks map[string]Mark, touches []Touch, today int) Map {
	m := Map{Sites: sites, Tools: tools, Marks: marks, Cells: make([][]Cell, len(sites))}
	for s := range m.Cells {
		m.Cells[s] = make([]Cell, len(tools))
	}
	for _, one := range touches {
		if s, t := slices.Index(sites, one.Site), slices.Index(tools, one.Tool); s >= 0 && t >= 0 {
			c := &m.Cells[s][t]
			c.Exposures = append(c.Exposures, one.Exposure)
		}
	}
	for _, row := range m.Cells {
		for t := range row {
			c := &row[t]
			c.Level, c.Known = Level(c.Exposures)
			c.AtEase, c.Ready, c.Fell = AtEase(c.Exposures), Ready(c.Exposures, today), fell(c.Exposures)
		}
	}
	return m
}

// fell tells whether the latest visit took back that the dog was at ease.
func fell(cell []Exposure) bool {
	level, _ := Level(cell)
	if level <= atEase {
		return false
	}
	before := len(cell)
	for before > 0 && cell[before-1].Day == cell[len(cell)-1].Day {
		before--
	}
	return AtEase(cell[:before])
}

// past tells whether a site is done with a tool for the breadth of the work: ready after it, or after one that comes out later.
func (m Map) past(site, tool int) bool {
	return slices.ContainsFunc(m.Cells[site][tool:], func(c Cell) bool { return c.Ready })
}

// Open is the last tool that is out. A tool comes out when the dog is ready for it at every site that has no mark; waits are the sites
// that hold up the next one, none where there is no next. Without tools, tool is −1.
func (m Map) Open() (tool int, waits []int) {
	for t := range m.Tools {
		waits = nil
		for s, site := range m.Sites {
			if m.Marks[site] == "" && !m.past(s, t) {
				waits = append(waits, s)
			}
		}
		if t == len(m.Tools)-1 {
			return t, nil
		}
		if len(waits) > 0 {
			return t, waits
		}
	}
	return -1, nil
}

// at is the tool to work a site with now: the first that it is not past, and none that is not out yet.
func (m Map) at(site, open int) int {
	for t := range open {
		if !m.past(site, t) {
			return t
		}
	}
	return open
}

// Spot is a cell of a map, by its indices.
type Spot struct{ Site, Tool int }

// Visit proposes the touches of one visit, n at most, each site once: the one that was not touched for longest first, sore sites in the
// middle, and last one at which the dog is at ease, where there is any. Sites that are never touched are left out.
func (m Map) Visit(n int) []Spot {
	open, _ := m.Open()
	if open < 0 || n < 1 {
		return nil
	}
	var plain, sore []Spot
	for s, site := range m.Sites {
		switch spot := (Spot{s, m.at(s, open)}); m.Marks[site] {
		case Sore:
			sore = append(sore, spot)
		case "":
			plain = append(plain, spot)
		}
	}
	m.longestFirst(plain)
	m.longestFirst(sore)
	sore = sore[:min(len(sore), max(0, n-2), len(plain)/2)] // something easy before each, and after it
	plain = plain[:min(len(plain), n-len(sore))]
	if i := slices.IndexFunc(plain, func(p Spot) bool { return m.Cells[p.Site][p.Tool].AtEase }); i >= 0 {
		plain = append(slices.Delete(slices.Clone(plain), i, i+1), plain[i])
	}
	return slices.Insert(plain, len(plain)/2, sore...)
}

// longestFirst sorts by the last day, those never touched first.
func (m Map) longestFirst(spots []Spot) {
	last := func(p Spot) int {
		if day, ok := m.Cells[p.Site][p.Tool].Last(); ok {
			return day + 1
		}
		return 0
	}
	slices.SortStableFunc(spots, func(a, b Spot) int { return last(a) - last(b) })
}
