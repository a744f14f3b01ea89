package plans

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
	"patientfox/core/standing"
	"patientfox/core/work"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/store"
	"patientfox/internal/templates"
)

// TrackView is one track of a plan: left, right …
type TrackView struct {
	ID, Name string
	At       int
	Here     bool
	Step     string // its step's id
}

// PlanView is the page of one plan.
type PlanView struct {
	Notes                       []store.Note // to colleagues, open
	ID, Dog, DogID, Skill, Kind string
	MainID                      string // the plan whose ladder it climbs
	Version                     int
	Track                       string
	Ticks                       []string
	Missing                     []string
	DefinitionForm              form.Typed
	DefinitionVersion           int
	SharedWith                  int // other plans that follow the same definition
	Steps                       []app.StepView
	Tracks                      []TrackView
	Handling                    app.Handling
	Needs                       []app.NeedView
	Management                  []library.Instead
	Exposes                     bool       // its trials are exposures
	Phased                      bool       // its trials can have phases
	PhasesForm                  form.Typed // they
	Engaged                     []string   // what an engaged dog looks like
	DeckForm                    form.Typed // figures that can be mixed
	Cards                       int        // that they make
	RestMin                     string     // minutes of work before a rest
	DecoyIn                     int        // of movements towards the dog one in so many is a decoy, 0 none
	ErrorsForm                  form.Typed // the dog's errors that have a key
	Props, Method               string
	Breaches                    []BreachView
	Cueing                      library.Cueing
	CueSays                     string
	CueSteps                    []string
	Wrong                       []string
	SkillNames                  []string // of the dog's other plans and of the library
	Points                      []app.PathPoint
	Row                         app.PlanRow
	Rule, RuleOdds              string
	RuleForm                    form.Typed
	RuleKind                    string
	Pay                         []string // how it is paid, in sentences
	Evidence                    EvidenceView
	Sessions                    []app.SessionRow
	Cautions                    []string
	UnfollowedMoves             int // moves that did not begin where the dog stood
	Today                       string
}

// EvidenceView is what the record says at the reached step.
type EvidenceView struct {
	None     bool
	Word     string // met, or at ease for exposures
	Met, N   int
	Interval evidence.Interval
	Lenient  string
	Rest     string
	Coverage string
	Few      string // what this many trials can say
	LatencyS string
	// Unmeasured says how many trials lack a measure that the step names, Ended what the rate is with those ended early.
	Unmeasured, Ended string
	CountStep         string // the step whose count can begin anew because of that, "" where it need not
	Cold              string // of the first trials of their days, at this step
	OpenSince         string
}

// Plan shows one plan.
func (p *Cases) Plan(ctx context.Context, id string) (PlanView, error) {
	return app.Remember(ctx, p.Practice, "plan "+id, func(v PlanView) string { return v.DogID },
		func() (PlanView, error) { return p.makePlan(ctx, id) })
}

func (p *Cases) makePlan(ctx context.Context, id string) (v PlanView, err error) {
	q := p.Store.Read()
	s, err := p.Profile(ctx, q)
	if err != nil {
		return v, err
	}
	l, dog, err := app.Besides(ctx, q, id, s.Words())
	if err != nil {
		return v, err
	}
	h, err := app.ReadHistory(ctx, q, id)
	if err != nil {
		return v, err
	}
	own, err := app.OwnDimensions(ctx, q)
	if err != nil {
		return v, err
	}
	beside, err := q.BesidePlan(ctx, l.ID, l.Main, app.RowsShown)
	if err != nil {
		return v, err
	}
	today := s.Day(p.Ms())
	v = PlanView{
		ID: l.ID, MainID: l.Main, Dog: l.DogName, DogID: l.Dog, Skill: l.SkillName, Kind: l.Kind, Version: l.Version, Track: l.Track,
		Ticks: phrase.Ticks(work.Kind(l.Kind), l.Def), DefinitionForm: form.TypedDefinition(l.Def, l.Definition), DefinitionVersion: l.Definition,
		Row: app.RowOf(l, today), Rule: phrase.Rule(l.Body.Rule), RuleOdds: phrase.RuleOdds(l.Body.Rule),
		RuleKind: string(l.Body.Rule.Kind), RuleForm: ruleForm(l),
		Pay:   phrase.Strategy(l.PayHere(), l.Standing.Rung),
		Today: today, Management: l.Body.Management, Props: l.Body.Props, Method: l.Body.Method, Cueing: l.Body.Cueing, Wrong: l.Body.Wrong,
	}
	v.inTheField(l, s.Units())
	v.Missing = app.Missing(l)
	v.SharedWith, v.UnfollowedMoves = l.Sharing-1, l.Standing.UnfollowedMoves
	var missing []progression.Need
	v.Needs, missing = app.NeedsOf(l, dog)
	c := l.Case(today)
	c.Missing = missing
	v.Steps = stepViews(l, c)
	v.stepForms(l, h, missing, form.Figures{Units: s.Units(), All: form.DimensionsOf(own)})
	v.SkillNames = skillNames(l, dog)
	v.Tracks = tracksOf(l, dog)
	for _, b := range beside.Breaches {
		v.Breaches = append(v.Breaches, BreachView{b.ID, app.ShortDay(b.Day, today), b.What, b.Note})
	}
	v.Notes = beside.Notes
	v.CueSays, v.CueSteps = cueSays(l, h.Trials)
	day, named := map[string]string{}, map[string]string{}
	for _, one := range h.Sessions {
		day[one.ID], named[one.ID] = one.Day, one.Where
	}
	v.Points = app.Path(l.Mains(h.Trials), l.Body.Rule.Size, app.UnionOf(h, l), l.Steps, day, named)
	v.Evidence = evidenceOf(l, h)
	v.Sessions = app.SessionRows(h, l.Work().Success(), today)
	// The dog's own flags are on its page and before a session; here only what the plan brings.
	v.Cautions = app.Cautions(l, false)
	v.Handling, err = app.ReadHandling(ctx, q, l, today)
	return v, err
}

// stepForms fills in what the steps wait for, by which rule they are judged, and what their forms offer.
func (v *PlanView) stepForms(l app.Plan, h app.History, missing []progression.Need, f form.Figures) {
	blocked, counts := app.BlockedSteps(l.Steps, missing), standing.Tried(l.Steps, app.Bare(h.Trials), nil)
	rules := l.StepRules()
	first := usual(l)
	for i := range v.Steps {
		step := &v.Steps[i]
		step.Blocked = blocked[step.ID]
		if rule, own := rules[step.ID]; own {
			step.Rule = phrase.Rule(rule)
		}
		if rule, own := l.Body.StepRules[step.ID]; own {
			step.Figures["step_rule"] = string(rule.Kind)
		}
		step.Next = nextTargets(l.Steps[i], counts[step.ID], l.Words)
		stepFields(f, step, l.Steps[i].Criteria, first)
	}
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
func usual(l app.Plan) map[criteria.Key]bool {
	first := map[criteria.Key]bool{}
	for _, key := range l.Work().Keys {
		first[key] = true
	}
	for _, step := range l.Steps {
		for key := range step.Criteria.Values {
			first[key] = true
		}
	}
	return first
}

// skillNames are those that may be prerequisites: of the dog, and of the library.
func skillNames(l app.Plan, dog []app.Plan) []string {
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
func stepFields(f form.Figures, v *app.StepView, c criteria.Criteria, first map[criteria.Key]bool) {
	var own []app.StepDim
	for _, d := range f.Offered(c) {
		unit, _ := f.Units.Of(d)
		dim := app.StepDim{Key: string(d.Key), Label: d.Label, Unit: unit, Hint: d.Hint, Varies: criteria.Varies(d)}
		if d.IsList() {
			dim.Items = d.Items
			if c.Has(d.Key) && d.Key != criteria.Moving {
				v.Lists = append(v.Lists, app.ListView{Key: string(d.Key), Label: d.Label, Items: strings.Join(d.Items, "\n")})
			}
		}
		switch {
		case c.Has(d.Key):
			own = append(own, dim) // the step's own come first
		case first[d.Key]:
			v.Fields = append(v.Fields, dim)
		default:
			v.More = append(v.More, dim)
		}
	}
	v.Fields = append(own, v.Fields...)
}

// mainFirst puts the plan whose ladder it is before its other tracks.
func mainFirst(l app.Plan) int {
	if l.ID == l.Main {
		return 0
	}
	return 1
}

// inTheField shows what a plan says of the board: errors, decoys, a deck, work and rest, what an engaged dog looks like.
func (v *PlanView) inTheField(l app.Plan, units criteria.Units) {
	kind := work.Kind(l.Kind)
	v.Exposes, v.DecoyIn = work.Of(kind).ByState, l.Body.DecoyInOf(kind)
	v.Phased, v.PhasesForm = work.Of(kind).Phased(), phasesForm(l.Body.Phases)
	v.Engaged = l.Body.EngagedOr()
	v.RestMin = criteria.Figure(l.Body.RestAfter(kind) / 60)
	if !v.Exposes {
		v.DeckForm, v.Cards = deckForm(l.Body.Deck, units), len(l.Body.Deck.Cards())
		v.ErrorsForm = errorsForm(l.Body.ErrorsOf(kind))
	}
}

// tracksOf lists the tracks of a plan, none where it has one place only.
func tracksOf(l app.Plan, dog []app.Plan) []TrackView {
	same := slices.DeleteFunc(slices.Clone(dog), func(one app.Plan) bool { return one.Main != l.Main })
	slices.SortFunc(same, func(a, b app.Plan) int {
		return cmp.Or(cmp.Compare(mainFirst(a), mainFirst(b)), cmp.Compare(a.Made, b.Made), cmp.Compare(a.ID, b.ID))
	})
	var tracks []TrackView
	for _, one := range same {
		tracks = append(tracks, TrackView{one.ID, one.Track, one.Reached() + 1, one.ID == l.ID, one.Standing.Reached})
	}
	if len(tracks) < 2 {
		return nil
	}
	return tracks
}

// stepViews shows a plan's steps with what is odd about each for this dog.
func stepViews(l app.Plan, c progression.Case) []app.StepView {
	views := app.StepsOf(l.Steps, l.Words)
	for i := range views {
		views[i].Reached = views[i].ID == l.Standing.Reached
	}
	for _, lint := range progression.Lints(l.Steps, c) {
		says, fix := l.Words.Lint(lint)
		views[lint.Step].Lints = append(views[lint.Step].Lints, app.LintView{Code: string(lint.Code), Says: says, Fix: fix})
	}
	return views
}

// ruleForm is the form of the rule as it is saved.
func ruleForm(l app.Plan) form.Typed {
	t := form.TypedRule(l.Body.Rule)
	t["version"] = strconv.Itoa(l.Version)
	return t
}
