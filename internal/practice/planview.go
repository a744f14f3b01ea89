package practice

import (
	"cmp"
	"context"
	"slices"
	"strconv"
	"strings"

	"patientfox/core/criteria"
	"patientfox/core/evidence"
	"patientfox/core/library"
	"patientfox/core/phrase"
	"patientfox/core/progression"
	"patientfox/core/say"
	"patientfox/core/standing"
	"patientfox/core/work"
	"patientfox/internal/store"
	"patientfox/internal/templates"
)

// history is what the record says of one plan.
type history struct {
	sessions []store.Session
	blocks   []store.Block
	trials   []store.Trial
}

func readHistory(ctx context.Context, q store.Q, plan string) (h history, err error) {
	if h.sessions, err = q.SessionsOfPlan(ctx, plan); err != nil {
		return h, err
	}
	if h.blocks, err = q.BlocksOfPlans(ctx, []string{plan}); err != nil {
		return h, err
	}
	if h.trials, err = q.TrialsOfPlans(ctx, []string{plan}); err != nil {
		return h, err
	}
	markCold(h.trials, h.blocks)
	return h, nil
}

// StepView is one step as the Plan page shows it.
type StepView struct {
	ID         string
	Number     int // 1 is the easiest
	Name       string
	Short      string
	Safety     bool
	Reached    bool
	Difference string
	Figures    Typed // as its form shows them
	Half       string
	Lints      []LintView
	Blocked    string     // what it waits for
	Rule       string     // where another rule decides here than the plan's, in a sentence
	Next       []string   // what the next five trials ask, where the step varies
	Fields     []StepDim  // what its form offers: what the plan uses and its kind of work usually has
	More       []StepDim  // everything else
	Lists      []ListView // whose words can be changed
}

// StepDim is one dimension in a step's form.
type StepDim struct {
	Key, Label, Unit, Hint string
	Items                  []string
	Varies                 bool
}

// ListView is a list of words that a step uses.
type ListView struct{ Key, Label, Items string }

// TrackView is one track of a plan: left, right …
type TrackView struct {
	ID, Name string
	At       int
	Here     bool
	Step     string // its step's id
}

// LintView is one thing that is not sound about a step, with its fix.
type LintView struct{ Code, Says, Fix string }

// PlanView is the page of one plan.
type PlanView struct {
	ID, Dog, DogID, Skill, Kind string
	MainID                      string // the plan whose ladder it climbs
	Version                     int
	Track                       string
	Ticks                       []string
	Missing                     []string
	DefinitionForm              Typed
	DefinitionVersion           int
	SharedWith                  int // other plans that follow the same definition
	Steps                       []StepView
	Tracks                      []TrackView
	Needs                       []NeedView
	Management                  []library.Instead
	Props, Method               string
	Breaches                    []BreachView
	Cueing                      library.Cueing
	CueSays                     string
	CueSteps                    []string
	Wrong                       []string
	SkillNames                  []string // of the dog's other plans and of the library
	Points                      []PathPoint
	Row                         PlanRow
	Rule                        string
	RuleForm                    Typed
	RuleKind                    string
	Pay                         []string // how it is paid, in sentences
	Evidence                    EvidenceView
	Sessions                    []SessionRow
	Cautions                    []string
	Apart                       int // moves that did not begin where the dog stood
	Today                       string
}

// EvidenceView is what the record says at the reached step.
type EvidenceView struct {
	None      bool
	Word      string // met, or at ease for exposures
	Met, N    int
	Interval  evidence.Interval
	Lenient   string
	Rest      string
	Coverage  string
	Few       string // what this many trials can say
	LatencyS  string
	Cold      string // of the first trials of their days, at this step
	OpenSince string
}

// SessionRow is one session in a list.
type SessionRow struct {
	ID, Day, Place, Skill, Line string
	Open                        bool
}

// Plan shows one plan.
func (p *Practice) Plan(ctx context.Context, id string) (PlanView, error) {
	return remember(ctx, p, "plan "+id, func(v PlanView) string { return v.DogID }, func() (PlanView, error) { return p.makePlan(ctx, id) })
}

func (p *Practice) makePlan(ctx context.Context, id string) (v PlanView, err error) {
	q := p.store.Read()
	s, err := p.settings(ctx, q)
	if err != nil {
		return v, err
	}
	l, dog, err := besides(ctx, q, id, s.words())
	if err != nil {
		return v, err
	}
	h, err := readHistory(ctx, q, id)
	if err != nil {
		return v, err
	}
	own, err := ownDimensions(ctx, q)
	if err != nil {
		return v, err
	}
	breaches, err := q.Breaches(ctx, l.Main, rowsShown)
	if err != nil {
		return v, err
	}
	today := s.day(p.ms())
	v = PlanView{
		ID: l.ID, MainID: l.Main, Dog: l.DogName, DogID: l.Dog, Skill: l.SkillName, Kind: l.Kind, Version: l.Version, Track: l.Track,
		Ticks: phrase.Ticks(work.Kind(l.Kind), l.def), DefinitionForm: typedDefinition(l.def, l.Definition), DefinitionVersion: l.Definition,
		Row: planRow(l, today), Rule: phrase.Rule(l.body.Rule), RuleKind: string(l.body.Rule.Kind), RuleForm: ruleForm(l), Pay: phrase.Strategy(l.payHere(), l.Standing.Rung),
		Today: today, Management: l.body.Management, Props: l.body.Props, Method: l.body.Method, Cueing: l.body.Cueing, Wrong: l.body.Wrong,
	}
	v.Missing = missing(l)
	v.SharedWith, v.Apart = l.Sharing-1, l.Standing.Apart
	var missing []progression.Need
	v.Needs, missing = needsOf(l, dog)
	v.Steps = stepViews(l, progression.Dog{Weeks: weeksOld(l.DogBorn, today), Reached: l.reached(), Missing: missing})
	blocked, counts := blockedSteps(l.steps, missing), standing.Tried(l.steps, bare(h.trials), nil)
	rules := l.stepRules()
	f, first := forms{s.units(), dimensionsOf(own)}, usual(l)
	for i := range v.Steps {
		step := &v.Steps[i]
		step.Blocked = blocked[step.ID]
		if rule, own := rules[step.ID]; own {
			step.Rule = phrase.Rule(rule)
		}
		if rule, own := l.body.StepRules[step.ID]; own {
			step.Figures["step_rule"] = string(rule.Kind)
		}
		step.Next = nextTargets(l.steps[i], counts[step.ID], l.words)
		stepFields(f, step, l.steps[i].Criteria, first)
	}
	v.SkillNames = skillNames(l, dog)
	v.Tracks = tracksOf(l, dog)
	for _, b := range breaches {
		v.Breaches = append(v.Breaches, BreachView{b.ID, ShortDay(b.Day, today), b.What, b.Note})
	}
	v.CueSays, v.CueSteps = cueSays(l, h.trials)
	day, named := map[string]string{}, map[string]string{}
	for _, one := range h.sessions {
		day[one.ID], named[one.ID] = one.Day, one.Where
	}
	v.Points = path(h.trials, l.body.Rule.Size, unionOf(h, l), l.steps, day, named)
	v.Evidence = evidenceOf(l, h)
	v.Sessions = sessionRows(h, today)
	// The dog's own flags stand on its page and before a session; here only what the plan brings.
	v.Cautions = cautions(l, false)
	return v, nil
}

func missing(l loaded) []string {
	var steps []criteria.Criteria
	for _, s := range l.steps {
		steps = append(steps, s.Criteria)
	}
	return l.work().Missing(l.def, steps)
}

// nextTargets is what the next five trials at a step ask, where it varies.
func nextTargets(step progression.Step, from int, words phrase.Words) []string {
	var next []string
	for i := range 5 {
		if targets := progression.Target(step, from+i); len(targets) > 0 {
			next = append(next, words.Target(step.Criteria, targets))
		}
	}
	return next
}

// usual are the dimensions that a plan uses or that its kind of work usually has.
func usual(l loaded) map[criteria.Key]bool {
	first := map[criteria.Key]bool{}
	for _, key := range l.work().Keys {
		first[key] = true
	}
	for _, step := range l.steps {
		for key := range step.Criteria.Values {
			first[key] = true
		}
	}
	return first
}

// skillNames are those that another skill may have to stand before: of the dog, and of the library.
func skillNames(l loaded, dog []loaded) []string {
	var names []string
	add := func(name string) {
		if name != l.SkillName && !slices.Contains(names, name) {
			names = append(names, name)
		}
	}
	for _, one := range dog {
		add(one.SkillName)
	}
	for _, t := range templates.All() {
		add(t.Name)
	}
	return names
}

// stepFields sorts the dimensions for a step's form: first the usual ones, then everything else.
func stepFields(f forms, v *StepView, c criteria.Criteria, first map[criteria.Key]bool) {
	for _, d := range f.offered(c) {
		unit, _ := f.units.Of(d)
		dim := StepDim{Key: string(d.Key), Label: d.Label, Unit: unit, Hint: d.Hint, Varies: criteria.Varies(d)}
		if d.IsList() {
			dim.Items = d.Items
			if c.Has(d.Key) && d.Key != criteria.Moving {
				v.Lists = append(v.Lists, ListView{string(d.Key), d.Label, strings.Join(d.Items, "\n")})
			}
		}
		if first[d.Key] {
			v.Fields = append(v.Fields, dim)
		} else {
			v.More = append(v.More, dim)
		}
	}
}

// mainFirst puts the plan whose ladder it is before its other tracks.
func mainFirst(l loaded) int {
	if l.ID == l.Main {
		return 0
	}
	return 1
}

// tracksOf lists the tracks of a plan, none where it has one place only.
func tracksOf(l loaded, dog []loaded) []TrackView {
	same := slices.DeleteFunc(slices.Clone(dog), func(one loaded) bool { return one.Main != l.Main })
	slices.SortFunc(same, func(a, b loaded) int {
		return cmp.Or(cmp.Compare(mainFirst(a), mainFirst(b)), cmp.Compare(a.Made, b.Made), cmp.Compare(a.ID, b.ID))
	})
	var tracks []TrackView
	for _, one := range same {
		tracks = append(tracks, TrackView{one.ID, one.Track, one.reached() + 1, one.ID == l.ID, one.Standing.Reached})
	}
	if len(tracks) < 2 {
		return nil
	}
	return tracks
}

// stepsOf shows steps without what is odd about them.
func stepsOf(steps []progression.Step, words phrase.Words) []StepView {
	views := make([]StepView, len(steps))
	asked := make([]criteria.Criteria, len(steps))
	for i, s := range steps {
		asked[i] = s.Criteria
	}
	shorts := words.Shorts(asked)
	for i, s := range steps {
		view := StepView{
			ID: s.ID, Number: i + 1, Name: say.Upper(words.Step(s.Criteria)), Short: shorts[i], Safety: s.Safety,
			Difference: "The first step: nothing below it.", Figures: typedStep(s, words.Units),
			Half: words.Step(progression.Half(steps, i)),
		}
		if i > 0 {
			view.Difference = phrase.Difference(steps[i-1].Criteria, s.Criteria)
		}
		views[i] = view
	}
	return views
}

// stepViews shows a plan's steps with what is odd about each for this dog.
func stepViews(l loaded, dog progression.Dog) []StepView {
	views := stepsOf(l.steps, l.words)
	for i := range views {
		views[i].Reached = views[i].ID == l.Standing.Reached
	}
	for _, lint := range progression.Lints(l.steps, dog) {
		says, fix := l.words.Lint(lint)
		views[lint.Step].Lints = append(views[lint.Step].Lints, LintView{string(lint.Code), says, fix})
	}
	return views
}

func typedStep(s progression.Step, units criteria.Units) Typed {
	t := Typed{"trig": s.Criteria.Trig, "text": s.Criteria.Text}
	for _, d := range s.Criteria.Asked() {
		t[string(d.Key)] = units.Show(d, s.Criteria.Get(d.Key))
	}
	for _, key := range s.Criteria.Vary {
		t["vary_"+string(key)] = "on"
	}
	if s.Safety {
		t["safety"] = "on"
	}
	return t
}

// ruleForm is the form of the rule as it is saved.
func ruleForm(l loaded) Typed {
	t := typedRule(l.body.Rule)
	t["version"] = strconv.Itoa(l.Version)
	return t
}
