package practice

import (
	"context"
	"slices"
	"strconv"
	"strings"

	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/evidence"
	"patientfox/core/phrase"
	"patientfox/core/progression"
	"patientfox/internal/store"
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
	h.trials, err = q.TrialsOfPlans(ctx, []string{plan})
	return h, err
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
}

// LintView is one thing that is not sound about a step, with its fix.
type LintView struct{ Code, Says, Fix string }

// PlanView is the page of one plan.
type PlanView struct {
	ID, Dog, DogID, Skill, Kind string
	Version                     int
	Track                       string
	Ticks                       []string
	Missing                     []string
	DefinitionForm              Typed
	DefinitionVersion           int
	SharedWith                  int // other plans that follow the same definition
	Steps                       []StepView
	Points                      []PathPoint
	Row                         PlanRow
	Rule                        string
	RuleForm                    Typed
	RuleKind                    string
	Pay                         string
	Evidence                    EvidenceView
	Sessions                    []SessionRow
	Cautions                    []string
	Apart                       int // moves that did not begin where the dog stood
	Today                       string
	Fields                      []criteria.Dimension
}

// EvidenceView is what the record says at the reached step.
type EvidenceView struct {
	None      bool
	Met, N    int
	Interval  evidence.Interval
	Lenient   string
	Rest      string
	Coverage  string
	Few       string // what this many trials can say
	LatencyS  string
	OpenSince string
}

// SessionRow is one session in a list.
type SessionRow struct {
	ID, Day, Place, Skill, Line string
	Open                        bool
}

// Plan shows one plan.
func (p *Practice) Plan(ctx context.Context, id string) (PlanView, error) {
	return remember(ctx, p, "plan "+id, func() (PlanView, error) { return p.makePlan(ctx, id) })
}

func (p *Practice) makePlan(ctx context.Context, id string) (v PlanView, err error) {
	q := p.store.Read()
	l, err := p.loadPlan(ctx, q, id)
	if err != nil {
		return v, err
	}
	s, err := p.settings(ctx, q)
	if err != nil {
		return v, err
	}
	h, err := readHistory(ctx, q, id)
	if err != nil {
		return v, err
	}
	today := s.day(p.ms())
	v = PlanView{
		ID: l.ID, Dog: l.DogName, DogID: l.Dog, Skill: l.SkillName, Kind: l.Kind, Version: l.Version, Track: l.Track,
		Ticks: phrase.Ticks(criteria.Kind(l.Kind), l.def), DefinitionForm: typedDefinition(l.def, l.Definition), DefinitionVersion: l.Definition,
		Row: planRow(l, today), Rule: phrase.Rule(l.body.Rule), RuleKind: string(l.body.Rule.Kind), RuleForm: typedRule(l), Pay: payLine(l.body),
		Today: today, Fields: criteria.Dimensions,
	}
	v.Missing = missing(l)
	v.SharedWith, v.Apart = l.Sharing-1, l.Standing.Apart
	v.Steps = stepViews(l, weeksOld(l.DogBorn, today))
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
	return l.def.Missing(criteria.Kind(l.Kind), steps)
}

func stepViews(l loaded, weeks float64) []StepView {
	views := make([]StepView, len(l.steps))
	for i, s := range l.steps {
		view := StepView{
			ID: s.ID, Number: i + 1, Name: phrase.Upper(phrase.Step(s.Criteria)), Short: phrase.StepShort(s.Criteria), Safety: s.Safety,
			Reached: s.ID == l.Standing.Reached, Difference: "The first step: nothing below it.", Figures: typedStep(s),
			Half: phrase.Step(progression.Half(l.steps, i)),
		}
		if i > 0 {
			view.Difference = phrase.Difference(l.steps[i-1].Criteria, s.Criteria)
		}
		views[i] = view
	}
	for _, lint := range progression.Lints(l.steps, weeks) {
		says, fix := phrase.Lint(lint)
		views[lint.Step].Lints = append(views[lint.Step].Lints, LintView{string(lint.Code), says, fix})
	}
	return views
}

func typedStep(s progression.Step) Typed {
	t := Typed{"trig": s.Criteria.Trig, "text": s.Criteria.Text}
	for key, value := range s.Criteria.Values {
		t[string(key)] = criteria.Figure(value)
	}
	if s.Safety {
		t["safety"] = "on"
	}
	return t
}

func typedRule(l loaded) Typed {
	r, defaults := l.body.Rule, map[decision.Kind]decision.Rule{decision.Set: decision.Defaults(decision.Set), decision.Run: decision.Defaults(decision.Run)}
	set, run := defaults[decision.Set], defaults[decision.Run]
	if r.Kind == decision.Run {
		run = r
	} else {
		set = r
	}
	t := Typed{
		"kind": string(r.Kind), "size": strconv.Itoa(set.Size), "up": strconv.Itoa(set.Up), "back": strconv.Itoa(set.Back),
		"split_after": strconv.Itoa(set.SplitAfter), "run_up": strconv.Itoa(run.Up), "run_back": strconv.Itoa(run.Back),
		"miss_guard": strconv.Itoa(r.MissGuard), "rate_lo": criteria.Figure(l.body.Band.Lo), "rate_hi": criteria.Figure(l.body.Band.Hi),
		"pay_pieces": strconv.Itoa(l.body.PayPieces), "version": strconv.Itoa(l.Version),
	}
	if r.Lenient {
		t["lenient"] = "on"
	}
	if r.ErrorGuard {
		t["error_guard"] = "on"
	}
	return t
}

func payLine(b planBody) string {
	line := "Every one that is met, " + phrase.Count(b.PayPieces, "piece") + " a pay."
	if b.Band.Lo > 0 {
		line += " Planned: " + criteria.Figure(b.Band.Lo)
		if b.Band.Hi > b.Band.Lo {
			line += " to " + criteria.Figure(b.Band.Hi)
		}
		line += " pays a minute."
	}
	return line
}

// unionOf is every step the plan had, as far as the trials name steps that are gone: those come in
// below the step that followed them in the record.
func unionOf(h history, l loaded) []progression.Step {
	all := slices.Clone(l.steps)
	last := ""
	for _, t := range h.trials {
		if progression.Index(all, t.Step) < 0 {
			at := progression.Index(all, last) + 1
			all = slices.Insert(all, at, progression.Step{ID: t.Step})
		}
		last = t.Step
	}
	return all
}

func evidenceOf(l loaded, h history) EvidenceView {
	stretch := l.stretch(h.trials)
	kept := map[string]bool{}
	var outcomes []evidence.Outcome
	blocks := map[string]bool{}
	for _, t := range stretch {
		if t.Easy || t.Outcome == evidence.Void {
			continue
		}
		outcomes = append(outcomes, t.Outcome)
		kept[t.ID], blocks[t.Block] = true, true
	}
	tally := evidence.Count(outcomes)
	v := EvidenceView{None: tally.N() == 0, Met: tally.Met, N: tally.N()}
	if v.None {
		return v
	}
	v.Interval = evidence.Wilson(tally.Met, tally.N(), 0.95)
	v.Lenient = phrase.Percent(tally.Lenient())
	v.Rest = phrase.Rest(tally)
	logged, unlogged := 0, 0
	for id, c := range covers(h.blocks) {
		if blocks[id] {
			logged, unlogged = logged+c.Logged, unlogged+c.Unlogged
		}
	}
	v.Coverage = phrase.Upper(phrase.Coverage(logged, unlogged)) + "."
	if tally.N() < 20 {
		v.Few = phrase.Upper(phrase.Count(tally.N(), "trial")) + " say little: 20 and more narrow it."
	}
	var latencies []float64
	for _, t := range h.trials {
		if kept[t.ID] && t.LatencyS != nil && evidence.Outcome(t.Outcome).Right() {
			latencies = append(latencies, *t.LatencyS)
		}
	}
	if len(latencies) > 0 {
		v.LatencyS = "Median latency " + phrase.Seconds(evidence.Quantile(latencies, 0.5)) + ", nine in ten within " + phrase.Seconds(evidence.Quantile(latencies, 0.9)) + "."
	}
	return v
}

// sessionRows lists a plan's sessions, newest first.
func sessionRows(h history, today string) []SessionRow {
	tally := map[string][]evidence.Outcome{}
	for _, t := range h.trials {
		if t.Counts && !t.Easy {
			tally[t.Session] = append(tally[t.Session], evidence.Outcome(t.Outcome))
		}
	}
	var rows []SessionRow
	for _, s := range slices.Backward(h.sessions) {
		row := SessionRow{ID: s.ID, Day: ShortDay(s.Day, today), Place: s.Where, Open: s.Ended == nil}
		c := evidence.Count(tally[s.ID])
		row.Line = strconv.Itoa(c.Met) + " of " + strconv.Itoa(c.N()) + " met"
		if s.Next != "" {
			row.Line += " · " + firstLine(s.Next)
		}
		if rows = append(rows, row); len(rows) == rowsShown {
			break
		}
	}
	return rows
}

func firstLine(text string) string {
	text, _, _ = strings.Cut(text, "\n")
	if runes := []rune(text); len(runes) > 90 {
		return string(runes[:89]) + "…"
	}
	return text
}
