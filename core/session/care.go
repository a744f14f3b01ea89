package session

import (
	"cmp"
	"slices"

	"patientfox/core/care"
	"patientfox/core/criteria"
	"patientfox/core/progression"
	"patientfox/core/record"
	"patientfox/core/standing"
	"patientfox/core/trial"
	"patientfox/core/work"
)

// pullsAtSite is how many times a dog pulls away at a site in a visit before that is done for today.
const pullsAtSite = 2

// Armed is what is chosen for the next trial; no event says it before that.
type Armed struct {
	Site  string `json:"site"`  // "" is the step's, or the one that is proposed
	Tool  string `json:"tool"`  // "" is the step's
	Done  bool   `json:"done"`  // really done
	Part  string `json:"part"`  // of the site, where it is: which claw
	Round bool   `json:"round"` // a visit over many sites: the next one is proposed after each touch
}

// Arm chooses it. A site that is not to be touched is not chosen: Refused says why. One that is sore is asked about, and chosen when it
// is picked once more.
func (r *Run) Arm(a Armed) {
	again := r.refused != nil && r.refused.Code == SoreSite && r.refused.Field == a.Site
	was := r.armed
	if a.Site != was.Site && a.Part == was.Part {
		a.Part = "" // it was another site's
	}
	r.armed, r.refused = a, nil
	if a.Done && !r.mayDo() {
		r.armed, r.refused = was, &Problem{Code: DoneNotShown}
		return
	}
	if a.Part != "" && !(a.Done && slices.Contains(care.Parts(r.Site()), a.Part)) {
		r.armed, r.refused = was, &Problem{Field: a.Part, Code: NoSuchPart}
		return
	}
	if a.Site == was.Site && a.Tool == was.Tool && !again || a.Site == "" && a.Tool == "" {
		return
	}
	if code := r.refuses(again); code != "" {
		r.armed, r.refused = was, &Problem{Field: a.Site, Code: code}
	}
}

// chooses are the keys that choose for the next touch.
var chooses = map[work.Key]func(r *Run){
	work.DoneKey:  (*Run).reallyDoes,
	work.RoundKey: (*Run).goRound,
	work.ToolKey:  (*Run).nextTool,
	work.SiteKey:  (*Run).nextSite,
}

// reallyDoes makes the next touch one at which it is really done, or a rehearsal again. Whoever was not shown that goes on rehearsing.
func (r *Run) reallyDoes() {
	a := r.armed
	a.Done, a.Part = !a.Done, ""
	r.Arm(a)
}

// mayDo tells whether whoever handles may really do it: nobody in a rehearsal.
func (r *Run) mayDo() bool {
	p := r.standsNow(*r.base())
	return r.Doing() != record.Rehearsal && p.MayDo(r.handler())
}

// disarm forgets what was chosen for another plan's work, as far as this one has no such site or tool.
func (r *Run) disarm() {
	_, steps := r.Position()
	d, _ := r.today().Criteria.Dimension(criteria.Site)
	if r.refused = nil; progression.Listed(d.Items, r.armed.Site) == "" {
		r.armed.Site = ""
	}
	if !slices.Contains(progression.Tools(steps), r.armed.Tool) {
		r.armed.Tool = ""
	}
}

// Armed is what is chosen so far.
func (r *Run) Armed() Armed { return r.armed }

// Refused is why the site or the tool that was picked last was not taken, nil where it was.
func (r *Run) Refused() *Problem { return r.refused }

// refuses is why the site and the tool that are chosen are not touched, "" where they are.
func (r *Run) refuses(asked bool) ProblemCode {
	_, steps := r.Position()
	site := r.Site()
	at := progression.Index(steps, r.step().ID)
	top := r.top(steps)
	switch {
	case r.Mark(site) == care.Never:
		return NeverSite
	case r.Round().Over[site]:
		return SiteOver
	case at > top && steps[at].Safety:
		return NotShown
	case at > top && !slices.Contains(progression.Tools(steps[:top+1]), r.Tool()):
		return AboveMain
	case r.Mark(site) == care.Sore && !asked:
		return SoreSite
	}
	return ""
}

// Mark is what is known of a site, with its side, "" for nothing.
func (r *Run) Mark(site string) care.Mark {
	if r.pack.Care == nil {
		return ""
	}
	return r.pack.Care.Marks[site]
}

// chosen are the site, as its list has it, and the tool of the next touch, as far as they are chosen; "" is the step's.
func (r *Run) chosen() (site, tool string) {
	site, tool = r.armed.Site, r.armed.Tool
	if site == "" && r.armed.Round {
		if next, _, ok := r.NextSite(); ok {
			site = next
		}
	}
	return site, tool
}

// cell is the index of the step that is asked: that of the site and tool under the hand, or that are chosen; at where none are, or where
// no step asks for them. A site that is sore is asked at the easiest of its steps with the tool.
func (r *Run) cell(steps []progression.Step, at int) int {
	if !r.Kind().HandsOn {
		return at
	}
	site, tool := r.chosen()
	c := &steps[at].Criteria
	from := at
	if o := r.s.Trying; o != nil {
		if !o.Touch.Cell {
			return at
		}
		if site, tool = o.Touch.Site, o.Touch.Tool; o.Touch.Eased {
			from = 0
		}
	} else if r.Mark(trial.OnTrack(cmp.Or(site, c.Item(criteria.Site)), r.pack.Track)) == care.Sore {
		from = 0
	} else if site == "" && tool == "" {
		return at
	}
	asked := cellAt{from, cmp.Or(site, c.Item(criteria.Site)), cmp.Or(tool, c.Item(criteria.Tool))}
	cells := r.visited().cells
	to, known := cells[asked]
	if !known {
		if to = progression.CellAt(steps, from, asked.site, asked.tool); to < 0 {
			to = at
		}
		cells[asked] = to
	}
	return to
}

// Site is the one that is handled next, with its side.
func (r *Run) Site() string {
	site, _ := r.chosen()
	if c := r.step().Criteria; site == "" {
		site = c.Item(criteria.Site)
		if slices.Contains(c.Vary, criteria.Site) { // a target costs a look at every trial
			if at, inTurn := r.Target()[criteria.Site]; inTurn {
				d, _ := c.Dimension(criteria.Site)
				site = d.Items[int(at)]
			}
		}
	}
	return trial.OnTrack(site, r.pack.Track)
}

// Tool is the one in the hand, "" where the step names none.
func (r *Run) Tool() string {
	if o := r.s.Trying; o != nil && o.Touch.Cell {
		return o.Touch.Tool
	}
	_, tool := r.chosen()
	return cmp.Or(tool, r.today().Criteria.Item(criteria.Tool))
}

// touches is how the site is touched that is chosen.
func (r *Run) touches(touch trial.Touch) trial.Touch {
	touch.Site, touch.Tool, touch.Done, touch.Part, touch.Cell = r.Site(), r.Tool(), r.armed.Done, r.armed.Part, true
	touch.Eased = r.Mark(touch.Site) == care.Sore
	if touch.Done && !r.mayDo() {
		touch.Done, touch.Part = false, "" // somebody else handles since it was chosen
	}
	return touch
}

// visit is one under way, with what was asked of it: the screen asks again and again between two presses.
type visit struct {
	care.Round
	next  map[string]nextSite // by the tool in the hand
	cells map[cellAt]int
}

type nextSite struct {
	site, tool string
	ok         bool
}

type cellAt struct {
	at         int
	site, tool string
}

// mapped is the map of a skill for a handler, as it stood before the session.
type mapped struct {
	of      *care.Skill
	handler string
	care.Map
}

// Round is the visit under way, as the running skill's map stood before the session for whoever handles.
func (r *Run) Round() *care.Round { return &r.visited().Round }

func (r *Run) visited() *visit {
	if r.visit != nil {
		return r.visit
	}
	r.visit = &visit{
		Round: care.Round{Touched: map[string]bool{}, Over: map[string]bool{}}, next: map[string]nextSite{}, cells: map[cellAt]int{},
	}
	if of, handler := r.pack.Care, r.handler(); of != nil {
		if r.mapped.of != of || r.mapped.handler != handler {
			day, _ := standing.Day(r.pack.Today)
			r.mapped = mapped{of, handler, of.Read(handler, day)}
		}
		r.visit.Before = r.mapped.Map
	}
	pulls := map[string]int{}
	for _, t := range r.Visited() {
		r.visit.Touched[t.Site] = r.visit.Touched[t.Site] || t.Handler == r.handler() // each handler goes round
		if t.Pulled {
			pulls[t.Site]++
			r.visit.Over[t.Site] = pulls[t.Site] >= pullsAtSite
		}
	}
	return r.visit
}

// handler is who handles the dog now, by id.
func (r *Run) handler() string {
	if b := r.Block(); b != nil {
		return cmp.Or(b.Handler, r.pack.Person)
	}
	return r.pack.Person
}

// NextSite is the site that is proposed for the next touch, as the list of this side has it, and the tool that it waits for; ok is false
// where the visit is complete on this side.
func (r *Run) NextSite() (site, tool string, ok bool) {
	inHand := cmp.Or(r.armed.Tool, r.today().Criteria.Item(criteria.Tool))
	v := r.visited()
	next, known := v.next[inHand]
	if !known {
		d, _ := r.today().Criteria.Dimension(criteria.Site)
		of := map[string]string{}
		for _, one := range d.Items {
			of[trial.OnTrack(one, r.pack.Track)] = one
		}
		next.site, next.tool, next.ok = v.Next(inHand, func(site string) bool { return of[site] != "" })
		next.site = of[next.site]
		v.next[inHand] = next
	}
	return next.site, next.tool, next.ok
}

// Visits tells whether many sites can be gone round.
func (r *Run) Visits() bool {
	return r.Kind().HandsOn && r.pack.Care != nil && len(r.pack.Care.Sites) > 1
}

// goRound begins to go round the sites, or goes back to the step's.
func (r *Run) goRound() {
	r.armed = Armed{Done: r.armed.Done, Tool: r.armed.Tool, Round: !r.armed.Round}
	r.refused = nil
}

// nextTool takes the next tool of the ladder into the hand, after the last one the first.
func (r *Run) nextTool() {
	_, steps := r.Position()
	tools := progression.Tools(steps)
	a := r.armed
	a.Tool = tools[(slices.Index(tools, r.Tool())+1)%len(tools)]
	r.Arm(a)
}

// nextSite goes on to the next site of the list that may be touched.
func (r *Run) nextSite() {
	d, _ := r.today().Criteria.Dimension(criteria.Site)
	at := slices.IndexFunc(d.Items, func(one string) bool { return trial.OnTrack(one, r.pack.Track) == r.Site() })
	for i := range d.Items {
		a := r.armed
		a.Site = d.Items[(at+1+i)%len(d.Items)]
		if r.Arm(a); r.refused == nil {
			return
		}
	}
}

// Level is how the dog takes a tool at a site, with its side, this session's touches included: the worst state of the last three; known
// is false where it has none.
func (r *Run) Level(site, tool string) (level int, known bool) {
	var cell []care.Exposure
	if before := r.Round().Before; len(before.Sites) > 0 {
		if s, t := slices.Index(before.Sites, site), slices.Index(before.Tools, tool); s >= 0 && t >= 0 {
			cell = slices.Clone(before.Cells[s][t].Exposures)
		}
	}
	for i := range r.s.Trials {
		t := &r.s.Trials[i]
		if t.State != nil && !t.Waits && !t.Outcome.Unread() && t.Site == site && t.Tool == tool && t.Handler == r.handler() {
			cell = append(cell, care.Exposure{State: *t.State})
		}
	}
	return care.Level(cell)
}

// PulledAt tells whether the last touch at a site in this session ended with the dog pulling away.
func (r *Run) PulledAt(site string) bool {
	for _, t := range slices.Backward(r.Visited()) {
		if t.Site == site {
			return t.Pulled
		}
	}
	return false
}

// TakenOut tells whether the tool in the hand comes after the one of the last touch, and is not in use yet.
func (r *Run) TakenOut() bool {
	touched := r.Visited()
	_, steps := r.Position()
	tools := progression.Tools(steps)
	return len(touched) > 0 && r.s.Trying == nil && slices.Index(tools, r.Tool()) > slices.Index(tools, touched[len(touched)-1].Tool)
}

// Visited are the touches of the running skill in this session, on all its sides; void ones are left out.
func (r *Run) Visited() (list []*trial.Trial) {
	of := map[string]bool{}
	for _, b := range r.s.Blocks {
		of[b.ID] = b.Skill == r.pack.Skill && b.Dog == r.pack.Dog
	}
	for i := range r.s.Trials {
		if t := &r.s.Trials[i]; t.State != nil && !t.Waits && t.Outcome != trial.Void && of[t.Block] {
			list = append(list, t)
		}
	}
	return list
}

// TurnsTo goes back to another side of the dog, between two touches; nil where that has no block of whoever handles yet.
func (r *Run) TurnsTo(plan string) []record.Draft {
	here := r.Block()
	if here == nil || r.Phase() != Idle || len(r.Lanes()) > 0 {
		return nil
	}
	for _, b := range slices.Backward(r.s.Blocks) {
		if b.Plan == plan && b.Handler == here.Handler && b.Doing == here.Doing {
			return r.swap(b)
		}
	}
	return nil
}
