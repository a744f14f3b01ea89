package practice

import (
	"context"
	"encoding/json"
	"fmt"
	"strconv"
	"strings"

	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/progression"
	"patientfox/core/reinforce"
	"patientfox/internal/store"
)

// planBody is what a plan's version holds beside its steps.
type planBody struct {
	Rule      decision.Rule  `json:"rule"`
	Band      reinforce.Band `json:"band"`       // planned pays per minute
	PayPieces int            `json:"pay_pieces"` // pieces in one pay
}

// Defaults of a new plan: paid fast, as a new skill is.
var defaultBody = planBody{Rule: decision.Defaults(decision.Set), Band: reinforce.Band{Lo: 4, Hi: 8}, PayPieces: 1}

// maxSteps bounds a plan.
const maxSteps = 60

func encode(v any) string {
	raw, err := json.Marshal(v)
	if err != nil {
		panic(err) // our own types always encode
	}
	return string(raw)
}

// readSteps decodes step rows.
func readSteps(rows []store.Step) ([]progression.Step, error) {
	steps := make([]progression.Step, len(rows))
	for i, r := range rows {
		steps[i] = progression.Step{ID: r.ID, Rev: r.Rev, Safety: r.Safety}
		if err := json.Unmarshal([]byte(r.Criteria), &steps[i].Criteria); err != nil {
			return nil, fmt.Errorf("criteria of step %s: %w", r.ID, err)
		}
	}
	return steps, nil
}

func stepRows(steps []progression.Step) []store.Step {
	rows := make([]store.Step, len(steps))
	for i, s := range steps {
		rows[i] = store.Step{ID: s.ID, Rev: s.Rev, Criteria: encode(s.Criteria), Safety: s.Safety}
	}
	return rows
}

// readFigures reads "2, 4, 6, 10" for one dimension.
func readFigures(ps problems, field string, d criteria.Dimension, typed string) []float64 {
	parts := strings.FieldsFunc(typed, func(r rune) bool { return r == ';' || r == ' ' || r == '\n' || r == '\t' || r == '\r' || r == ',' })
	if len(parts) == 0 {
		ps.add(field, "Give at least one figure, easiest first: 2, 4, 6, 10.")
	}
	if len(parts) > maxSteps {
		ps.add(field, fmt.Sprintf("%d steps; a plan has at most %d.", len(parts), maxSteps))
		return nil
	}
	var values []float64
	for _, part := range parts {
		value, ok, problem := d.Parse(part)
		if problem != "" {
			ps.add(field, problem)
			return nil
		}
		if ok {
			values = append(values, value)
		}
	}
	for i := 1; i < len(values); i++ {
		if (values[i]-values[i-1])*float64(d.Harder) <= 0 {
			ps.add(field, fmt.Sprintf("Easiest first, each harder than the one before: %s does not follow %s.",
				criteria.Figure(values[i]), criteria.Figure(values[i-1])))
			return nil
		}
	}
	return values
}

// newSteps lays out the first ladder from the form of a new plan.
func newSteps(ps problems, kind criteria.Kind, t Typed) []progression.Step {
	duration, _ := criteria.Find(criteria.Duration)
	handler, _ := criteria.Find(criteria.Handler)
	latency, _ := criteria.Find(criteria.Latency)
	var steps []progression.Step
	add := func(c criteria.Criteria) {
		steps = append(steps, progression.Step{ID: NewID(), Rev: 1, Criteria: c})
	}
	if kind == criteria.Held {
		for _, s := range readFigures(ps, "ladder", duration, t["ladder"]) {
			add(criteria.Criteria{}.With(criteria.Duration, s).With(criteria.Handler, 0))
		}
		return steps
	}
	limit, limited, problem := latency.Parse(t["latency"])
	if problem != "" {
		ps.add("latency", problem)
	}
	for _, m := range readFigures(ps, "ladder", handler, t["ladder"]) {
		c := criteria.Criteria{}.With(criteria.Handler, m)
		if limited {
			c = c.With(criteria.Latency, limit)
		}
		add(c)
	}
	return steps
}

// AddPlan lays out a plan for a dog and returns its id. A skill of the same name is used again, with
// its definition.
func (p *Practice) AddPlan(ctx context.Context, dog string, t Typed) (string, error) {
	ps := problems{}
	name := ps.name("skill", t["skill"], "the skill")
	kind := criteria.Kind(t.Text("kind"))
	if kind != criteria.Held && kind != criteria.Cued {
		ps.add("kind", "Choose the kind of work.")
		kind = criteria.Held
	}
	def := readDefinition(t)
	steps := newSteps(ps, kind, t)
	q := p.store.Read()
	if d, err := q.Dog(ctx, dog); err != nil {
		return "", found(err)
	} else if d.Deleted != nil {
		return "", ErrNotFound
	}
	skills, err := q.Skills(ctx)
	if err != nil {
		return "", err
	}
	var skill *store.Skill
	for i := range skills {
		if strings.EqualFold(skills[i].Name, name) {
			skill = &skills[i]
		}
	}
	switch {
	case skill == nil:
		ps.criteria(def.Check())
	case skill.Kind != string(kind):
		ps.add("kind", fmt.Sprintf("“%s” is already there as another kind of work. Choose that one, or give this skill another name.", skill.Name))
	case def.Position != "":
		ps.add("position", fmt.Sprintf("“%s” is already defined. Leave this empty to use that definition, or give this skill another name.", skill.Name))
	}
	if err := ps.err(); err != nil {
		return "", err
	}
	row, err := q.Practice(ctx)
	if err != nil {
		return "", err
	}
	return p.once(ctx, t, func(q store.Q) (string, error) {
		if skill == nil {
			skill = &store.Skill{ID: NewID(), Name: name, Kind: string(kind), Version: 1, Made: p.ms()}
			if err := q.AddSkill(ctx, *skill); err != nil {
				return "", err
			}
			if _, err := q.AddDefinition(ctx, store.Definition{Skill: skill.ID, Version: 1, Body: encode(def), Made: p.ms(), MadeBy: row.Person}); err != nil {
				return "", err
			}
		}
		id := NewID()
		if err := q.AddPlan(ctx, id, dog, skill.ID, "", p.ms()); err != nil {
			return "", err
		}
		v := store.PlanVersion{Plan: id, Version: 1, Body: encode(defaultBody), Why: "made", Made: p.ms(), MadeBy: row.Person}
		if _, err := q.AddPlanVersion(ctx, v, stepRows(steps)); err != nil {
			return "", err
		}
		return id, p.stand(ctx, q, id)
	})
}

func readDefinition(t Typed) criteria.Definition {
	return criteria.Definition{
		Postures: t.Text("postures"), Position: t.Text("position"), Break: t.Text("break"), Cue: t.Text("cue"),
		TimedFrom: t.Text("timed_from"), Marker: t.Text("marker"), Release: t.Text("release"),
		AfterError: t.Text("after_error"), Text: t.Text("text"),
	}
}

// SaveDefinition writes the next version of what "right" means. The past keeps the version it ran
// under; stretches of evidence begin anew.
func (p *Practice) SaveDefinition(ctx context.Context, plan string, t Typed) error {
	def := readDefinition(t)
	ps := problems{}
	ps.criteria(def.Check())
	if err := ps.err(); err != nil {
		return err
	}
	version, _ := strconv.Atoi(t.Text("version"))
	return p.store.Write(ctx, func(q store.Q) error {
		row, err := q.Plan(ctx, plan)
		if err != nil {
			return found(err)
		}
		defs, err := q.Definitions(ctx, []string{row.Skill})
		if err != nil {
			return err
		}
		now, err := definitionOf(defs, row.Skill, row.Definition)
		if err != nil {
			return err
		}
		if row.Definition != version {
			return &Conflict{typedDefinition(now, row.Definition)}
		}
		if now == def {
			return nil
		}
		me, err := q.Practice(ctx)
		if err != nil {
			return err
		}
		_, err = q.AddDefinition(ctx, store.Definition{
			Skill: row.Skill, Version: version + 1, Body: encode(def), Made: p.ms(), MadeBy: me.Person,
		})
		return err
	})
}

func definitionOf(rows []store.Definition, skill string, version int) (d criteria.Definition, err error) {
	for _, r := range rows {
		if r.Skill == skill && r.Version == version {
			return d, json.Unmarshal([]byte(r.Body), &d)
		}
	}
	return d, nil
}

func typedDefinition(d criteria.Definition, version int) Typed {
	return Typed{
		"postures": d.Postures, "position": d.Position, "break": d.Break, "cue": d.Cue, "timed_from": d.TimedFrom, "marker": d.Marker,
		"release": d.Release, "after_error": d.AfterError, "text": d.Text, "version": strconv.Itoa(version),
	}
}

// changePlan makes the next version of a plan from the one typed["version"] names; where another one
// came meanwhile it answers with a Conflict.
func (p *Practice) changePlan(ctx context.Context, plan string, t Typed, why string, change func(body *planBody, steps []progression.Step) ([]progression.Step, error)) error {
	version, _ := strconv.Atoi(t.Text("version"))
	_, err := p.once(ctx, t, func(q store.Q) (string, error) {
		row, err := q.Plan(ctx, plan)
		if err != nil {
			return "", found(err)
		}
		if row.Version != version {
			return "", &Conflict{Typed{"version": strconv.Itoa(row.Version)}}
		}
		rows, err := q.Steps(ctx, []string{plan})
		if err != nil {
			return "", err
		}
		steps, err := readSteps(rows)
		if err != nil {
			return "", err
		}
		var body planBody
		if err := json.Unmarshal([]byte(row.Body), &body); err != nil {
			return "", err
		}
		if steps, err = change(&body, steps); err != nil {
			return "", err
		}
		me, err := q.Practice(ctx)
		if err != nil {
			return "", err
		}
		v := store.PlanVersion{Plan: plan, Version: version + 1, Body: encode(body), Why: why, Made: p.ms(), MadeBy: me.Person}
		if _, err := q.AddPlanVersion(ctx, v, stepRows(steps)); err != nil {
			return "", err
		}
		return plan, p.stand(ctx, q, plan)
	})
	return err
}

// SaveRule changes when to step up and how fast to pay.
func (p *Practice) SaveRule(ctx context.Context, plan string, t Typed) error {
	ps := problems{}
	number := func(field string) int {
		n, err := strconv.Atoi(t.Text(field))
		if err != nil {
			ps.add(field, "A whole number, in figures.")
		}
		return n
	}
	rate := func(field string) float64 {
		typed := strings.Replace(t.Text(field), ",", ".", 1)
		if typed == "" {
			return 0
		}
		x, err := strconv.ParseFloat(typed, 64)
		if err != nil || !(x >= 0 && x <= 60) {
			ps.add(field, "Pays per minute from 0 to 60, in figures.")
		}
		return x
	}
	rule := decision.Rule{
		Kind: decision.Kind(t.Text("kind")), MissGuard: number("miss_guard"),
		Lenient: t.Text("lenient") != "", ErrorGuard: t.Text("error_guard") != "",
	}
	if rule.Kind == decision.Run {
		rule.Up, rule.Back = number("run_up"), number("run_back")
	} else {
		rule.Size, rule.Up, rule.Back, rule.SplitAfter = number("size"), number("up"), number("back"), number("split_after")
	}
	body := planBody{Rule: rule, Band: reinforce.Band{Lo: rate("rate_lo"), Hi: rate("rate_hi")}, PayPieces: number("pay_pieces")}
	if len(ps) == 0 {
		for _, bad := range rule.Check() {
			field := bad.Field
			if rule.Kind == decision.Run && (field == "up" || field == "back") {
				field = "run_" + field
			}
			ps.add(field, bad.Text)
		}
	}
	if body.PayPieces < 1 || body.PayPieces > 20 {
		ps.add("pay_pieces", "A pay has 1 to 20 pieces.")
	}
	if body.Band.Hi > 0 && body.Band.Hi < body.Band.Lo {
		ps.add("rate_hi", "The upper end is below the lower one.")
	}
	if err := ps.err(); err != nil {
		return err
	}
	return p.changePlan(ctx, plan, t, "rule", func(b *planBody, steps []progression.Step) ([]progression.Step, error) {
		*b = body
		return steps, nil
	})
}

// EditSteps does one edit of the ladder, named by typed["op"]: save, add, remove, up, down, split, or
// mend, which does the fix of the lint that typed["lint"] names.
func (p *Practice) EditSteps(ctx context.Context, plan string, t Typed) error {
	op := t.Text("op")
	var wanted criteria.Criteria
	if op == "save" {
		ps := problems{}
		wanted = criteria.Criteria{Values: map[criteria.Key]float64{}, Trig: t.Text("trig"), Text: t.Text("text")}
		for _, d := range criteria.Dimensions {
			value, ok, problem := d.Parse(t[string(d.Key)])
			if problem != "" {
				ps.add(string(d.Key), problem)
			} else if ok {
				wanted.Values[d.Key] = value
			}
		}
		if len(ps) == 0 {
			ps.criteria(wanted.Check())
		}
		if err := ps.err(); err != nil {
			return err
		}
	}
	weeks, err := p.weeksOf(ctx, plan)
	if err != nil {
		return err
	}
	return p.changePlan(ctx, plan, t, op, func(_ *planBody, steps []progression.Step) ([]progression.Step, error) {
		i := progression.Index(steps, t.Text("step"))
		if i < 0 {
			return nil, &Invalid{map[string]string{"step": "That step is not in the plan any more."}}
		}
		if (op == "add" || op == "split" || op == "mend") && len(steps) >= maxSteps {
			return nil, &Invalid{map[string]string{"step": fmt.Sprintf("A plan has at most %d steps.", maxSteps)}}
		}
		switch op {
		case "save":
			steps[i].Safety = t.Text("safety") != ""
			if !steps[i].Criteria.Equal(wanted) {
				steps[i].Criteria = wanted
				steps[i].Rev++
			}
		case "add":
			added := progression.Step{ID: newStepID(t), Rev: 1, Criteria: steps[i].Criteria, Safety: steps[i].Safety}
			steps = append(steps[:i+1:i+1], append([]progression.Step{added}, steps[i+1:]...)...)
		case "split":
			half := progression.Step{ID: newStepID(t), Rev: 1, Criteria: progression.Half(steps, i), Safety: steps[i].Safety}
			steps = progression.Insert(steps, half, steps[i].ID)
		case "mend":
			for _, l := range progression.Lints(steps, weeks) {
				if l.Step == i && string(l.Code) == t.Text("lint") {
					return progression.Mend(steps, l, newStepID(t)), nil
				}
			}
			return nil, &Invalid{map[string]string{"step": "That is mended already."}}
		case "remove":
			if len(steps) == 1 {
				return nil, &Invalid{map[string]string{"step": "A plan keeps at least one step."}}
			}
			steps = append(steps[:i:i], steps[i+1:]...)
		case "up":
			if i+1 < len(steps) {
				steps[i], steps[i+1] = steps[i+1], steps[i]
			}
		case "down":
			if i > 0 {
				steps[i], steps[i-1] = steps[i-1], steps[i]
			}
		default:
			return nil, &Invalid{map[string]string{"step": "That cannot be done with a step."}}
		}
		return steps, nil
	})
}

// weeksOf is the age in weeks of a plan's dog, 0 where it is not known.
func (p *Practice) weeksOf(ctx context.Context, plan string) (float64, error) {
	q := p.store.Read()
	row, err := q.Plan(ctx, plan)
	if err != nil {
		return 0, found(err)
	}
	s, err := p.settings(ctx, q)
	return weeksOld(row.DogBorn, s.day(p.ms())), err
}

// newStepID takes the form's own id for a new step, so that the page can show it at once.
func newStepID(t Typed) string {
	if id := t.Text("new"); len(id) == 36 {
		return id
	}
	return NewID()
}

// RestoreSteps brings the ladder of an earlier version back, as the next version.
func (p *Practice) RestoreSteps(ctx context.Context, plan string, t Typed) error {
	back, _ := strconv.Atoi(t.Text("back_to"))
	rows, err := p.store.Read().StepsOfVersions(ctx, []string{plan})
	if err != nil {
		return err
	}
	var then []store.Step
	for _, r := range rows {
		if r.Version == back {
			then = append(then, r)
		}
	}
	if len(then) == 0 {
		return ErrNotFound
	}
	steps, err := readSteps(then)
	if err != nil {
		return err
	}
	return p.changePlan(ctx, plan, t, "undo", func(_ *planBody, now []progression.Step) ([]progression.Step, error) {
		for i := range steps {
			if at := progression.Index(now, steps[i].ID); at >= 0 && !now[at].Criteria.Equal(steps[i].Criteria) {
				steps[i].Rev = now[at].Rev + 1
			}
		}
		return steps, nil
	})
}

// DeletePlan puts a plan away, or brings it back. Its record stays.
func (p *Practice) DeletePlan(ctx context.Context, id string, away bool) error {
	return p.away(ctx, away, func(q store.Q, at *int64) (bool, error) { return q.DeletePlan(ctx, id, at) })
}

// SkillNames lists the skills that a new plan can use again.
func (p *Practice) SkillNames(ctx context.Context) ([]string, error) {
	skills, err := p.store.Read().Skills(ctx)
	names := make([]string, len(skills))
	for i, s := range skills {
		names[i] = s.Name
	}
	return names, err
}
