package app

import (
	"cmp"
	"context"
	"encoding/json"
	"slices"
	"strings"

	"patientfox/core/caution"
	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/library"
	"patientfox/core/phrase"
	"patientfox/core/progression"
	"patientfox/core/standing"
	"patientfox/core/trial"
	"patientfox/core/work"
	"patientfox/internal/store"
)

// DefinitionOf picks one version of a skill's definition out of rows.
func DefinitionOf(rows []store.Definition, skill string, version int) (d criteria.Definition, err error) {
	for _, r := range rows {
		if r.Skill == skill && r.Version == version {
			err = json.Unmarshal([]byte(r.Body), &d)
			return d, err
		}
	}
	return d, nil
}

// NewSteps gives a ladder its names for life.
func NewSteps(made []criteria.Criteria) []progression.Step {
	steps := make([]progression.Step, len(made))
	for i, c := range made {
		steps[i] = progression.Step{ID: NewID(), Rev: 1, Criteria: c}
	}
	return steps
}

// Plan is one plan with all that its pages need.
type Plan struct {
	store.Plan
	Body  library.Body
	Def   criteria.Definition
	Steps []progression.Step
	Words phrase.Words
}

// Work is the kind of work of the skill.
func (l Plan) Work() *work.Work { return work.Of(work.Kind(l.Kind)) }

// Position is where its dog is on the ladder.
func (l Plan) Position() progression.Position {
	s := l.Standing
	return progression.Position{Reached: s.Reached, Today: s.Reached, Given: s.Given, Since: s.Since, Half: s.Half, Splits: s.Splits}
}

// Reached is the index of the reached step.
func (l Plan) Reached() int { return max(0, progression.Index(l.Steps, l.Standing.Reached)) }

// Name is the skill's, with its track.
func (l Plan) Name() string {
	if l.Track != "" {
		return l.SkillName + ", " + l.Track
	}
	return l.SkillName
}

// StepRules are the rules of steps that do not follow the plan's: those the trainer gave one, and those
// where somebody could be hurt, which ask for proof.
func (l Plan) StepRules() map[string]decision.Rule {
	var rules map[string]decision.Rule
	for _, s := range l.Steps {
		if rule, own := l.Body.RuleAt(s); own {
			if rules == nil {
				rules = map[string]decision.Rule{}
			}
			rules[s.ID] = rule
		}
	}
	return rules
}

// RoundsBefore are the proof rounds that were over at the reached step before its stretch.
func (l Plan) RoundsBefore() decision.RoundsOver {
	var stands standing.Standing
	if store.FromJSON(l.Standing.Rounds, &stands.Rounds) != nil || len(l.Steps) == 0 {
		return decision.RoundsOver{} // a standing that is worked out again puts it right
	}
	return stands.RoundsBefore(l.Steps[l.Reached()], l.Definition)
}

// Finished tells whether the top step was passed and that was taken.
func (l Plan) Finished() bool {
	return l.Standing.Finished && l.Reached() == len(l.Steps)-1
}

// DogsPlans loads the plans of one dog.
func DogsPlans(ctx context.Context, q store.Q, dog string, words phrase.Words) ([]Plan, error) {
	rows, err := q.Plans(ctx, []string{dog}, PlansLooked)
	if err != nil {
		return nil, err
	}
	return LoadPlans(ctx, q, rows, words)
}

// LoadPlans decodes plans and loads their steps: one statement, however many.
func LoadPlans(ctx context.Context, q store.Q, rows []store.Plan, words phrase.Words) ([]Plan, error) {
	ids := make([]string, len(rows))
	for i, r := range rows {
		ids[i] = r.ID
	}
	stepRows, err := q.Steps(ctx, ids)
	if err != nil {
		return nil, err
	}
	byPlan := map[string][]store.Step{}
	for _, s := range stepRows {
		byPlan[s.Plan] = append(byPlan[s.Plan], s)
	}
	out := make([]Plan, len(rows))
	for i, r := range rows {
		l := Plan{Plan: r, Words: words}
		if err := json.Unmarshal([]byte(r.Body), &l.Body); err != nil {
			return nil, err
		}
		if err := json.Unmarshal([]byte(r.DefBody), &l.Def); err != nil {
			return nil, err
		}
		if l.Steps, err = store.ReadSteps(byPlan[r.ID]); err != nil {
			return nil, err
		}
		out[i] = l
	}
	return out, nil
}

// LoadPlan loads one plan; one that was put away is ErrNotFound.
func (p *Practice) LoadPlan(ctx context.Context, q store.Q, id string, words phrase.Words) (Plan, error) {
	row, err := q.Plan(ctx, id)
	if err != nil {
		return Plan{}, Found(err)
	}
	if row.Deleted != nil {
		return Plan{}, ErrNotFound
	}
	list, err := LoadPlans(ctx, q, []store.Plan{row}, words)
	if err != nil {
		return Plan{}, err
	}
	return list[0], nil
}

// Look loads one plan, for a use case that is not remembered. What depends on its record asks ready beside.
func (p *Practice) Look(ctx context.Context, plan string) (q store.Q, s Profile, l Plan, err error) {
	q = p.Store.Read()
	s, l, err = p.LookIn(ctx, q, plan)
	return q, s, l, err
}

// LookIn is Look within a snapshot.
func (p *Practice) LookIn(ctx context.Context, q store.Q, plan string) (s Profile, l Plan, err error) {
	if s, err = p.Profile(ctx, q); err != nil {
		return s, l, err
	}
	l, err = p.LoadPlan(ctx, q, plan, s.Words())
	return s, l, err
}

// Ruled says whether the dog's flags keep the plan from starting.
func (l Plan) Ruled() *caution.Ruled {
	return caution.RulesOut(l.DogFlags, caution.PlanOf(l.Work(), l.Steps))
}

// WithLevel is the plan as it stands with another handler.
func (l Plan) WithLevel(level store.Level) Plan {
	l.Standing, l.SinceOpened, l.MainHandler = level.Standing, level.SinceOpened, cmp.Or(level.Level, l.Founder)
	return l
}

// Mains are the trials that were worked at the main handler's level.
func (l Plan) Mains(rows []store.Trial) []store.Trial {
	level := l.MainLevel()
	if !slices.ContainsFunc(rows, func(t store.Trial) bool { return t.Level != level }) {
		return rows
	}
	return slices.DeleteFunc(slices.Clone(rows), func(t store.Trial) bool { return t.Level != level })
}

// Stretch picks the trials that a rule reads of the reached step, out of all trials of the plan in order.
func (l Plan) Stretch(rows []store.Trial) (stretch []trial.Trial) {
	in := l.InStretch(rows)
	n := 0
	for i := range rows {
		n += BoolInt(in(i))
	}
	stretch = make([]trial.Trial, 0, n) // a list of trials that grows is copied whole
	for i := range rows {
		if in(i) {
			stretch = append(stretch, rows[i].Brief())
		}
	}
	return stretch
}

// InStretch tells of a row, by its index, whether the rule of the reached step reads it.
func (l Plan) InStretch(rows []store.Trial) func(i int) bool {
	at := progression.Index(l.Steps, l.Standing.Reached)
	if at < 0 {
		return func(int) bool { return false }
	}
	since, judge := l.since(rows), 0
	for i := range rows {
		if since(i) {
			judge = max(judge, rows[i].Judge)
		}
	}
	return func(i int) bool { return since(i) && standing.InStretch(&rows[i].Trial, l.Steps[at], judge) }
}

// Since are the trials since the reached step became that, under the current definition.
func (l Plan) Since(rows []store.Trial) (list []trial.Trial) {
	asked := l.since(rows)
	n := 0
	for i := range rows {
		n += BoolInt(asked(i))
	}
	list = make([]trial.Trial, 0, n)
	for i := range rows {
		if asked(i) {
			list = append(list, rows[i].Trial)
		}
	}
	return list
}

func (l Plan) since(rows []store.Trial) func(i int) bool {
	later := func(t *store.Trial) bool {
		switch s := l.Standing; {
		case s.SinceSession == "":
			return true
		case t.Session == s.SinceSession:
			return t.At >= s.SinceAt
		case t.Opened == l.SinceOpened:
			return t.Session > s.SinceSession
		}
		return t.Opened > l.SinceOpened
	}
	level := l.MainLevel()
	return func(i int) bool {
		return rows[i].Definition == l.Definition && rows[i].Level == level && later(&rows[i])
	}
}

// Bare are trials as the rules of core read them.
func Bare(rows []store.Trial) []trial.Trial {
	list := make([]trial.Trial, len(rows))
	for i := range rows {
		list[i] = rows[i].Trial
	}
	return list
}

// MarkCold marks the first trials of their skill on a day.
func MarkCold(rows []store.Trial, blocks []store.Block) {
	first := make(map[string]bool, len(blocks))
	for _, b := range blocks {
		first[b.ID] = b.First
	}
	standing.MarkCold(func(yield func(*trial.Trial) bool) {
		for i := range rows {
			if !yield(&rows[i].Trial) {
				return
			}
		}
	}, first)
}

// Covers are how much of each block was logged.
func Covers(blocks []store.Block) map[string]standing.Cover {
	cover := make(map[string]standing.Cover, len(blocks))
	for _, b := range blocks {
		cover[b.ID] = standing.Cover{Logged: b.Logged, Unlogged: b.Unlogged, Withheld: b.Withheld}
	}
	return cover
}

// SoreOf is what is said of the dog of plans where it is sore, "" where it is not.
func SoreOf(plans []Plan) string {
	if len(plans) == 0 || plans[0].DogSore == "" {
		return ""
	}
	return caution.Sore(plans[0].DogName, strings.ReplaceAll(plans[0].DogSore, ",", ", "))
}

// Cautions lists those of a plan; with the dog's own flags where it is about to work.
func Cautions(l Plan, flags bool) []string {
	flag := strings.TrimSpace(l.DogFlags)
	where := caution.Where{Flags: flags && flag != "", AfterError: l.Def.AfterError}
	for _, s := range l.Steps {
		where.Safety = where.Safety || s.Safety
	}
	list := append(caution.For(where), l.Body.Cautions...)
	if ruled := l.Ruled(); ruled != nil && !flags { // before a session it is shown by itself
		list = append([]string{ruled.Why + " " + ruled.Instead}, list...)
	}
	if sore := SoreOf([]Plan{l}); sore != "" {
		list = append([]string{sore}, list...)
	}
	if where.Flags {
		list = append([]string{l.DogName + ": " + flag}, list...)
	}
	return caution.Once(list)
}

// Missing asks for what a stranger would still have to guess of a plan.
func Missing(l Plan) []string {
	var steps []criteria.Criteria
	for _, s := range l.Steps {
		steps = append(steps, s.Criteria)
	}
	return l.Work().Missing(l.Def, steps)
}

// ProbeLine says when a finished skill is next probed; "" for others.
func ProbeLine(l Plan, today string) string {
	if !l.Finished() || l.Standing.ProbeDue == "" {
		return ""
	}
	s := l.Standing
	return phrase.Probe(s.ProbeGap, DaysBetween(today, s.ProbeDue), ShortDay(s.ProbeDue, today), l.Steps[len(l.Steps)-1].Safety)
}

// UsualSetback is how many steps a setback lowers the reached one, where nobody says otherwise.
const UsualSetback = 2
