package practice

import (
	"context"
	"encoding/json"
	"strings"

	"patientfox/core/caution"
	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/evidence"
	"patientfox/core/field"
	"patientfox/core/progression"
	"patientfox/internal/store"
)

// loaded is one plan with all that its pages need.
type loaded struct {
	store.Plan
	body     planBody
	def      criteria.Definition
	steps    []progression.Step
	standing store.Standing
}

func (l loaded) place() progression.Place {
	return progression.Place{Reached: l.standing.Reached, Today: l.standing.Reached, Given: l.standing.Given, Since: l.standing.Since}
}

// reached is the index of the reached step.
func (l loaded) reached() int { return max(0, progression.Index(l.steps, l.standing.Reached)) }

// finished tells whether the top step was passed and that was taken.
func (l loaded) finished() bool {
	return l.standing.LastDeed == string(decision.Finished) && l.reached() == len(l.steps)-1
}

// loadPlans loads plans with their steps, definitions and standings: three statements, however many.
func loadPlans(ctx context.Context, q store.Q, rows []store.Plan) ([]loaded, error) {
	var ids, skills []string
	for _, r := range rows {
		ids, skills = append(ids, r.ID), append(skills, r.Skill)
	}
	stepRows, err := q.Steps(ctx, ids)
	if err != nil {
		return nil, err
	}
	defs, err := q.Definitions(ctx, skills)
	if err != nil {
		return nil, err
	}
	standings, err := q.Standings(ctx, ids)
	if err != nil {
		return nil, err
	}
	byPlan := map[string][]store.Step{}
	for _, s := range stepRows {
		byPlan[s.Plan] = append(byPlan[s.Plan], s)
	}
	standing := map[string]store.Standing{}
	for _, s := range standings {
		standing[s.Plan] = s
	}
	out := make([]loaded, len(rows))
	for i, r := range rows {
		l := loaded{Plan: r, standing: standing[r.ID]}
		if err := json.Unmarshal([]byte(r.Body), &l.body); err != nil {
			return nil, err
		}
		if l.def, err = definitionOf(defs, r.Skill, r.Definition); err != nil {
			return nil, err
		}
		if l.steps, err = readSteps(byPlan[r.ID]); err != nil {
			return nil, err
		}
		out[i] = l
	}
	return out, nil
}

func (p *Practice) loadPlan(ctx context.Context, q store.Q, id string) (loaded, error) {
	row, err := q.Plan(ctx, id)
	if err != nil {
		return loaded{}, found(err)
	}
	if row.Deleted != nil {
		return loaded{}, ErrNotFound
	}
	list, err := loadPlans(ctx, q, []store.Plan{row})
	if err != nil {
		return loaded{}, err
	}
	return list[0], nil
}

// stretch picks the trials at the reached step since it became that, under the same version of its
// criteria and of the definition, out of all trials of the plan in order.
func (l loaded) stretch(trials []store.Trial, moves []store.Move, place map[string]string) []field.Prior {
	var since *store.Move
	for i := range moves {
		if moves[i].ID == l.standing.Since {
			since = &moves[i]
		}
	}
	rev := 0
	if i := progression.Index(l.steps, l.standing.Reached); i >= 0 {
		rev = l.steps[i].Rev
	}
	var out []field.Prior
	begun := since == nil
	for _, t := range trials {
		if since != nil && t.Session == since.Session {
			begun = true
			if t.At < since.At {
				continue
			}
		}
		if !begun || t.Step != l.standing.Reached || t.Rev != rev || t.Definition != l.Definition || !t.Counts {
			continue
		}
		out = append(out, field.Prior{Trial: decisionTrial(t, place[t.Session]), Step: t.Step, Rev: t.Rev})
	}
	return out
}

func decisionTrial(t store.Trial, place string) decision.Trial {
	return decision.Trial{
		ID: t.ID, Outcome: evidence.Outcome(t.Outcome), Session: t.Session, Place: place, Block: t.Block, Easy: t.Easy, Tally: t.Tally,
	}
}

// history is what the record says of one plan.
type history struct {
	sessions []store.Session
	blocks   []store.Block
	trials   []store.Trial
	moves    []store.Move
	verdicts []store.Verdict
	place    map[string]string // of a session
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
	if h.moves, err = q.MovesOfPlans(ctx, []string{plan}); err != nil {
		return h, err
	}
	h.place = map[string]string{}
	for _, s := range h.sessions {
		h.place[s.ID] = s.Place
	}
	return h, nil
}

// Pack is all that a phone needs of one plan to run it.
func (p *Practice) Pack(ctx context.Context, id string) (field.Pack, error) {
	var pack field.Pack
	if err := p.settle(ctx); err != nil {
		return pack, err
	}
	q := p.store.Read()
	l, err := p.loadPlan(ctx, q, id)
	if err != nil {
		return pack, err
	}
	s, err := p.settings(ctx, q)
	if err != nil {
		return pack, err
	}
	h, err := readHistory(ctx, q, id)
	if err != nil {
		return pack, err
	}
	visits, err := q.VisitsOf(ctx, l.Dog, l.Skill)
	if err != nil {
		return pack, err
	}
	dog, err := q.Dog(ctx, l.Dog)
	if err != nil {
		return pack, err
	}
	places, err := q.Places(ctx)
	if err != nil {
		return pack, err
	}
	people, err := q.People(ctx)
	if err != nil {
		return pack, err
	}
	pack = field.Pack{
		V: 1, Plan: l.ID, PlanVersion: l.Version, Track: l.Track, Dog: l.Dog, DogName: l.DogName, Skill: l.Skill, SkillName: l.SkillName,
		Kind: criteria.Kind(l.Kind), Definition: l.def, DefVersion: l.Definition, Steps: l.steps, Rule: l.body.Rule, Band: l.body.Band,
		PayPieces: l.body.PayPieces, Place: l.place(), Stretch: l.stretch(h.trials, h.moves, h.place), Cover: covers(h.blocks),
		First: len(visits) == 0, Stopped: l.standing.Stopped, Finished: l.finished(), LastPlace: l.standing.LastPlace, Person: s.Person,
		Cautions: cautions(dog, l),
	}
	last, place, handler := "", map[string]bool{}, map[string]bool{}
	for _, v := range visits {
		last = max(last, v.Day)
		place[v.Place], handler[v.Handler] = true, true
	}
	if last != "" {
		pack.Days = daysBetween(last, s.day(p.ms()))
	}
	for _, one := range places {
		pack.Places = append(pack.Places, field.Option{ID: one.ID, Name: one.Name, Known: place[one.ID]})
	}
	for _, one := range people {
		pack.People = append(pack.People, field.Option{ID: one.ID, Name: one.Name, Known: handler[one.ID]})
	}
	return pack, nil
}

func covers(blocks []store.Block) map[string]field.Cover {
	cover := make(map[string]field.Cover, len(blocks))
	for _, b := range blocks {
		cover[b.ID] = field.Cover{Logged: b.Logged, Unlogged: b.Unlogged}
	}
	return cover
}

func cautions(dog store.Dog, l loaded) []string {
	where := caution.Where{Flags: strings.TrimSpace(dog.Flags) != "", AfterError: l.def.AfterError}
	for _, s := range l.steps {
		where.Safety = where.Safety || s.Safety
	}
	list := caution.For(where)
	if where.Flags {
		list = append([]string{dog.Name + ": " + strings.TrimSpace(dog.Flags)}, list...)
	}
	return list
}
