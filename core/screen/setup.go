package screen

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"patientfox/core/caution"
	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/pack"
	"patientfox/core/phrase"
	"patientfox/core/progression"
	"patientfox/core/record"
	"patientfox/core/reinforce"
	"patientfox/core/say"
	"patientfox/core/session"
	"patientfox/core/work"
)

// SetupView is what the page shows before a session begins.
type SetupView struct {
	Dog      string         `json:"dog"`
	Skill    string         `json:"skill"`
	Kind     string         `json:"kind"`
	Start    string         `json:"start"`            // where it opens and why
	Step     string         `json:"step"`             // the step in words
	Chance   string         `json:"chance,omitempty"` // how likely a trial of it is met there
	Trying   string         `json:"trying,omitempty"` // what the session is given of an experiment
	StepID   string         `json:"step_id"`
	Steps    []SetupStep    `json:"steps"` // hardest first
	Places   []pack.Option  `json:"places"`
	People   []pack.Option  `json:"people"`
	Place    string         `json:"place"`
	Handler  string         `json:"handler"`
	Foods    []pack.Option  `json:"foods"`            // that can be paid with there, the fitting one first
	Beside   []pack.Option  `json:"beside"`           // and else, which takes its time
	Pieces   int            `json:"pieces,omitempty"` // to count out, by the sheet
	Cards    int            `json:"cards,omitempty"`  // of the plan's deck
	Then     string         `json:"then,omitempty"`   // what the sheet brings after it
	Modes    []pack.Option  `json:"modes"`            // what the session can be for
	Mode     string         `json:"mode"`
	Right    []string       `json:"right"` // the definition as ticks
	Pay      []string       `json:"pay"`   // how the step is paid
	Cautions []string       `json:"cautions"`
	How      []string       `json:"how"`   // words for how it is there
	Looks    []string       `json:"looks"` // what the states look like, 0 to 4
	Ruled    *caution.Ruled `json:"ruled,omitempty"`
}

// SetupStep is a step to start at.
type SetupStep struct {
	ID    string `json:"id"`
	Name  string `json:"name"`
	Group string `json:"group,omitempty"` // those of one group stand together
}

// A ladder of more steps than fewSteps is shown in groups; the first are those within nearby steps of the one that is advised.
const (
	fewSteps = 7
	nearby   = 2
)

// setupSteps lists the steps to start at: those near the one at an index first, then the others, hardest first; those of handling by
// site and tool.
func setupSteps(p *pack.Pack, at, reached int) (list []SetupStep) {
	top := len(p.Steps) - 1
	if most := progression.Index(p.Steps, p.Cap); most >= 0 { // nobody opens above the main handler
		top = most
	}
	rehearsal := p.Rehearses(p.Steps, p.Position.Reached)
	top = max(top, rehearsal)
	one := func(i int, group string) SetupStep {
		name := fmt.Sprintf("%d · %s", i+1, phrase.In(p.Units).Short(p.Steps[i].Criteria))
		if i == reached && !p.First && p.Hands != decision.HandsFirst {
			name += " (reached)"
		}
		if i == rehearsal {
			name += " (rehearsal)"
		}
		return SetupStep{p.Steps[i].ID, name, group}
	}
	many := top >= fewSteps
	for i := min(at+nearby, top); many && i >= max(0, at-nearby); i-- {
		list = append(list, one(i, "Near this step"))
	}
	var apart []string
	grouped := map[string][]SetupStep{}
	for i := top; i >= 0; i-- {
		group := ""
		if many {
			if max(i-at, at-i) <= nearby {
				continue
			}
			group = siteAndTool(p.Steps[i].Criteria)
		}
		if grouped[group] == nil {
			apart = append(apart, group)
		}
		grouped[group] = append(grouped[group], one(i, group))
	}
	for _, group := range apart {
		list = append(list, grouped[group]...)
	}
	return list
}

// siteAndTool is the group of a step that is not near.
func siteAndTool(c criteria.Criteria) string {
	var parts []string
	site := c.Item(criteria.Site)
	if slices.Contains(c.Vary, criteria.Site) {
		site = "in turn"
	}
	for _, word := range []string{site, c.Item(criteria.Tool)} {
		if word != "" {
			parts = append(parts, say.Upper(word))
		}
	}
	if len(parts) == 0 {
		return "The others, hardest first"
	}
	return strings.Join(parts, " · ")
}

// Setup shows what the choices made so far lead to.
func (r Screen) Setup(c session.Choice) SetupView {
	c.Handler = cmp.Or(c.Handler, r.Pack().Person)
	p := r.OpensFor(c.Handler)
	place, _ := pack.Find(p.Places, c.Place)
	if c.Place == pack.NewPlace {
		place.Name = cmp.Or(strings.TrimSpace(c.PlaceName), "a new place")
	}
	person, _ := pack.Find(p.People, c.Handler)
	at, drops := p.StartAt(c.Place, c.Handler)
	rehearsal := p.Rehearses(p.Steps, p.Position.Reached)
	reached := p.ReachedAt()
	v := SetupView{
		Dog: p.DogName, Skill: p.SkillName, Kind: string(p.Kind), Places: p.Places, People: p.People,
		Place: c.Place, Handler: c.Handler, Right: phrase.Ticks(p.Kind, p.Definition),
		Ruled: p.Ruled, How: caution.Conditions, Looks: work.Looks(p.States),
		Start: opens(&p, phrase.Start(reached-at, "", drops, place.Name, person.Name), at, person.Name), StepID: p.Steps[at].ID,
	}
	if p.Track != "" {
		v.Skill += ", " + p.Track
	}
	v.Modes, v.Mode = modes(&p), pack.Train
	if mode := p.Mode(c.Mode); mode != record.Train {
		at, v.Start = p.OpensIn(mode), saysOf(&p, mode, person.Name)
		v.Mode, v.StepID = string(mode), p.Steps[at].ID
		if mode != record.Baseline {
			c.Step = ""
		}
	}
	if i := progression.Index(p.Steps, c.Step); i >= 0 && i != at {
		at = i
		v.Start = "Your own choice of step."
		if i == rehearsal {
			v.Start = saysOf(&p, record.Rehearsal, person.Name)
		}
		v.StepID = c.Step
	}
	v.Step = say.Upper(phrase.In(p.Units).Step(rehearsed(&p, at)))
	v.Chance = r.chanceOf(c, p.Steps[at])
	if given := p.Experiment.Next(); given != nil && p.Mode(c.Mode) == record.Train {
		v.Trying = phrase.Assigned(*given, p.Experiment.Pairs)
	}
	v.Cautions = r.cautionsFor(c, p.Steps[at])
	v.Pay = phrase.Strategy(p.PayAt(p.Steps[at].ID), p.Rung)
	for _, food := range r.Foods(c.Place, p.Steps[at].ID) {
		v.Foods = append(v.Foods, pack.Option{ID: food.ID, Name: food.Name})
	}
	for _, other := range r.Beside(c.Place) {
		v.Beside = append(v.Beside, pack.Option{ID: other.ID, Name: other.Name})
	}
	v.Cards = len(p.Deck)
	if r.Sheet() != nil {
		v.Pieces = r.Sheet().Pieces
		v.Then = r.outline()
	}
	v.Steps = setupSteps(&p, at, reached)
	return v
}

// rehearsed are the criteria of the step with an index, with the line on where it is rehearsed.
func rehearsed(p *pack.Pack, at int) criteria.Criteria {
	c := p.Steps[at].Criteria
	if at == p.Rehearses(p.Steps, p.Position.Reached) && !work.Of(p.Kind).HandsOn {
		return work.LineOn(c)
	}
	return c
}

// opens says where a session opens, at the step with an index, with somebody; start is what is said where it is the main handler.
func opens(p *pack.Pack, start string, at int, who string) string {
	if p.First && at == 0 {
		start = phrase.StartFirst
	}
	if p.Hands == decision.HandsMain {
		return start
	}
	main, _ := pack.Find(p.People, p.Main)
	reached := p.ReachedAt()
	mains := p.For("")
	said := phrase.Hands(p.Hands, who, main.Name, reached+1, mains.ReachedAt()+1)
	if at < reached {
		said += " " + start
	}
	held := progression.Index(p.Steps, p.Held)
	switch {
	case held >= 0 && p.Hands == decision.HandsCapped:
		said = fmt.Sprintf("Opens at step %d. ", at+1) + phrase.Held(held+1, who)
	case held >= 0:
		said += " " + phrase.Held(held+1, who)
	}
	if p.Rehearses(p.Steps, p.Position.Reached) >= 0 {
		said += " Until then rehearse it, " + phrase.Rehearsed(work.Of(p.Kind).HandsOn) + "."
	}
	return said
}

// chanceOf says how likely a trial of a step is met in the place chosen; "" where little is known of the dog.
func (r Screen) chanceOf(c session.Choice, step progression.Step) string {
	p := r.Pack()
	if p.Load == nil || p.Load.N < phrase.FewForLoad {
		return ""
	}
	at, known := p.ChanceAt(step, c.Place, c.Food)
	if !known {
		return ""
	}
	return phrase.Ahead(at, p.Load.N, r.Kind().Success())
}

// callEarly is how a cue that must not fail is given at a step, or that it is not given.
func (r Screen) callEarly(step progression.Step) string {
	if r.Protects() {
		return phrase.DoNotCall
	}
	within := ""
	if c := step.Criteria; c.Has(criteria.Handler) && c.Get(criteria.Handler) > 0 {
		d, _ := c.Dimension(criteria.Handler)
		within = r.Pack().Units.Say(d, c.Get(criteria.Handler))
	}
	return phrase.CallEarly(within)
}

// cautionsFor are the cautions of a session that opens at a step, those that matter most first: the page folds the others away.
func (r Screen) cautionsFor(c session.Choice, step progression.Step) (list []string) {
	p := r.Pack()
	if waits := p.Blocked[step.ID]; waits != "" {
		list = append(list, "This step waits: "+waits)
	}
	if p.Lifeline && r.Kind().OnCue {
		list = append(list, r.callEarly(step))
	}
	first := min(1, len(p.Cautions)) // of a dog with flags this is what they say
	tags, _ := session.ReadTags(c.Tags)
	list = slices.Concat(list, caution.OfConditions(tags), p.Cautions[:first], r.cautionsOf(step), p.Cautions[first:])
	if says := reinforce.Otherwise(p.PayAt(step.ID).Delivery, p.Bans[c.Place]); says != "" {
		list = append(list, says)
	}
	return caution.Once(list)
}

// modes lists what a session can be for, as options with the mode as their id.
func modes(p *pack.Pack) []pack.Option {
	list := []pack.Option{
		{ID: pack.Train, Name: "Teach"}, {ID: string(record.Placing), Name: "Place: find where to begin"},
		{ID: string(record.Baseline), Name: "Baseline: look, do not teach"},
	}
	if at := p.Rehearses(p.Steps, p.Position.Reached); at >= 0 {
		name := fmt.Sprintf("Rehearse step %d, %s", at+1, phrase.Rehearsed(work.Of(p.Kind).HandsOn))
		list = append(list, pack.Option{ID: string(record.Rehearsal), Name: name})
	}
	if p.Finished {
		list = append([]pack.Option{{ID: string(record.Probe), Name: "Probe: is it still there, cold?"}}, list...)
	}
	return list
}

// saysOf is what is said of a mode that does not teach, with somebody who handles.
func saysOf(p *pack.Pack, mode record.Mode, who string) string {
	switch mode {
	case record.Placing:
		return "One easy trial at every third step until one is not met. Then it begins two below the last that was."
	case record.Baseline:
		return "A few trials as the dog is: nothing is taught or paid, and no rule counts them."
	case record.Rehearsal:
		at := p.Rehearses(p.Steps, p.Position.Reached)
		return "A rehearsal " + phrase.Rehearsed(work.Of(p.Kind).HandsOn) + ", in no rate. " + phrase.Held(at+1, who)
	}
	says := "One cold trial. Met, the gap doubles. Missed, repeat it twice at once: both met keeps the gap, else it goes back two steps."
	if p.Steps[len(p.Steps)-1].Safety {
		says += " Always on a line."
	}
	return says
}

// Row is a plan that can be run on this device now.
type Row struct {
	Plan     string `json:"plan"`
	Dog      string `json:"dog"`
	Skill    string `json:"skill"`
	Step     string `json:"step"`
	Start    string `json:"start"`
	Where    string `json:"where"`
	Finished bool   `json:"finished"`
}

// Rows lists packs for a page that has no server to ask: those worked longest ago first, finished ones last.
func Rows(packs []pack.Pack) []Row {
	type aged struct {
		Row
		age int
	}
	list := make([]aged, 0, len(packs))
	for _, p := range packs {
		if p.Date(); p.Check() != nil {
			continue
		}
		run, err := session.Open(p)
		if err != nil {
			continue
		}
		s := Of(run).Setup(session.Choice{Place: p.LastPlace, Mode: pack.Train})
		row := Row{p.Plan, p.DogName, s.Skill, s.Step, s.Start, Of(run).where(p.Position.Open(), p.Steps, p.ReachedAt()), p.Finished}
		age := p.Days
		if p.First {
			age = -1
		}
		if p.Finished {
			age -= 100000
		}
		list = append(list, aged{row, age})
	}
	slices.SortStableFunc(list, func(a, b aged) int { return cmp.Compare(b.age, a.age) })
	rows := make([]Row, len(list))
	for i, one := range list {
		rows[i] = one.Row
	}
	return rows
}
