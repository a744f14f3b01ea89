package practice

import (
	"context"
	"encoding/json"
	"errors"
	"slices"
	"strings"

	"patientfox/core/caution"
	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/evidence"
	"patientfox/core/field"
	"patientfox/core/library"
	"patientfox/core/phrase"
	"patientfox/core/progression"
	"patientfox/core/reinforce"
	"patientfox/core/standing"
	"patientfox/internal/store"
)

// loaded is one plan with all that its pages need.
type loaded struct {
	store.Plan
	body  library.Body
	def   criteria.Definition
	steps []progression.Step
	words phrase.Words
}

func (l loaded) place() progression.Place {
	s := l.Standing
	return progression.Place{Reached: s.Reached, Today: s.Reached, Given: s.Given, Since: s.Since}
}

// reached is the index of the reached step.
func (l loaded) reached() int { return max(0, progression.Index(l.steps, l.Standing.Reached)) }

// name is the skill's, with its track.
func (l loaded) name() string {
	if l.Track != "" {
		return l.SkillName + ", " + l.Track
	}
	return l.SkillName
}

// stepRules are the rules of steps that do not follow the plan's: those the trainer gave one, and those
// where somebody could be hurt, which ask for proof.
func (l loaded) stepRules() map[string]decision.Rule {
	var rules map[string]decision.Rule
	for _, s := range l.steps {
		if rule, own := l.body.RuleAt(s); own {
			if rules == nil {
				rules = map[string]decision.Rule{}
			}
			rules[s.ID] = rule
		}
	}
	return rules
}

// finished tells whether the top step was passed and that was taken.
func (l loaded) finished() bool {
	return l.Standing.Finished && l.reached() == len(l.steps)-1
}

// loadPlans decodes plans and loads their steps: one statement, however many.
func loadPlans(ctx context.Context, q store.Q, rows []store.Plan, words phrase.Words) ([]loaded, error) {
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
	out := make([]loaded, len(rows))
	for i, r := range rows {
		l := loaded{Plan: r, words: words}
		if err := json.Unmarshal([]byte(r.Body), &l.body); err != nil {
			return nil, err
		}
		if err := json.Unmarshal([]byte(r.DefBody), &l.def); err != nil {
			return nil, err
		}
		if l.steps, err = readSteps(byPlan[r.ID]); err != nil {
			return nil, err
		}
		out[i] = l
	}
	return out, nil
}

func (p *Practice) loadPlan(ctx context.Context, q store.Q, id string, words phrase.Words) (loaded, error) {
	row, err := q.Plan(ctx, id)
	if err != nil {
		return loaded{}, found(err)
	}
	if row.Deleted != nil {
		return loaded{}, ErrNotFound
	}
	list, err := loadPlans(ctx, q, []store.Plan{row}, words)
	if err != nil {
		return loaded{}, err
	}
	return list[0], nil
}

// look loads one plan, for a use case that is not remembered. What rests on its record asks ready beside.
func (p *Practice) look(ctx context.Context, plan string) (q store.Q, s settings, l loaded, err error) {
	q = p.store.Read()
	if s, err = p.settings(ctx, q); err != nil {
		return q, s, l, err
	}
	l, err = p.loadPlan(ctx, q, plan, s.words())
	return q, s, l, err
}

// ruled says whether the dog's flags keep the plan from starting.
func (l loaded) ruled() *caution.Ruled {
	return field.RuledOut(l.DogFlags, criteria.Kind(l.Kind), l.steps)
}

// stretch picks the trials at the reached step since it became that, under the same version of its
// criteria and of the definition, out of all trials of the plan in order.
func (l loaded) stretch(trials []store.Trial, blocks []store.Block) []field.Prior {
	rev := 0
	if i := progression.Index(l.steps, l.Standing.Reached); i >= 0 {
		rev = l.steps[i].Rev
	}
	var out []field.Prior
	cold := coldOnes(trials, blocks)
	since := func(t store.Trial) bool {
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
	for _, t := range trials {
		if since(t) && t.Step == l.Standing.Reached && t.Rev == rev && t.Definition == l.Definition && t.Counts {
			one := decisionTrial(t)
			one.Cold = cold[t.ID]
			out = append(out, field.Prior{Trial: one, Step: t.Step, Rev: t.Rev})
		}
	}
	return out
}

// coldOnes are the first trials of a skill on its day, on whatever track, where they count; easy work before
// them has warmed the dog up.
func coldOnes(trials []store.Trial, blocks []store.Block) map[string]bool {
	first := map[string]bool{}
	for _, b := range blocks {
		if b.First {
			first[b.ID] = true
		}
	}
	cold := map[string]bool{}
	for _, t := range trials {
		if t.Outcome == string(evidence.Void) || !first[t.Block] {
			continue
		}
		delete(first, t.Block)
		if t.Counts && !t.Easy {
			cold[t.ID] = true
		}
	}
	return cold
}

func decisionTrial(t store.Trial) decision.Trial {
	state := 0
	if t.State != nil {
		state = *t.State
	}
	return decision.Trial{
		State: state, ID: t.ID, Outcome: evidence.Outcome(t.Outcome), Session: t.Session, Place: t.Place, Block: t.Block, Easy: t.Easy, Tally: t.Tally,
	}
}

// Pack is all that a phone needs of one plan to run it.
func (p *Practice) Pack(ctx context.Context, id string) (field.Pack, error) {
	return remember(ctx, p, "pack "+id, func(v field.Pack) string { return v.Dog }, func() (field.Pack, error) { return p.makePack(ctx, id) })
}

func (p *Practice) makePack(ctx context.Context, id string) (pack field.Pack, err error) {
	q := p.store.Read()
	s, err := p.settings(ctx, q)
	if err != nil {
		return pack, err
	}
	l, dog, err := besides(ctx, q, id, s.words())
	if err != nil {
		return pack, err
	}
	if err := p.ready(ctx, q, l.Dog, l.ID); err != nil {
		return pack, err
	}
	_, missing := needsOf(l, dog)
	trials, err := q.TrialsOfPlans(ctx, []string{id})
	if err != nil {
		return pack, err
	}
	blocks, err := q.BlocksOfPlans(ctx, []string{id})
	if err != nil {
		return pack, err
	}
	choices, err := q.ChoicesFor(ctx, l.Dog, l.Skill, l.ID)
	if err != nil {
		return pack, err
	}
	rewards, err := loadLarder(ctx, q, []store.Dog{{ID: l.Dog, Feeding: l.DogFeeding}}, s.day(p.ms()))
	if err != nil {
		return pack, err
	}
	pack = field.Pack{
		V: field.PackVersion, Plan: l.ID, PlanVersion: l.Version, Track: l.Track, Dog: l.Dog, DogName: l.DogName, Skill: l.Skill, SkillName: l.SkillName,
		Kind: criteria.Kind(l.Kind), Definition: l.def, DefVersion: l.Definition, Steps: l.steps, Rule: l.body.Rule, StepRules: l.stepRules(), Pay: l.body.Pay,
		StepPay: l.body.StepPay, Lifeline: l.body.Lifeline, Rung: max(1, l.Standing.Rung), Place: l.place(), Stretch: l.stretch(trials, blocks),
		First: true, Stopped: l.Standing.Stopped, Finished: l.finished(), LastPlace: l.Standing.LastPlace, Person: s.Person,
		Ruled: l.ruled(), Zone: s.zone.String(), Now: p.ms(), Cautions: cautions(l, true), Units: s.units(), Visits: l.Standing.Sessions, Blocked: blockedSteps(l.steps, missing),
	}
	if pack.Read, err = readTo(ctx, q, id); err != nil {
		return pack, err
	}
	pack.Cover = field.CoverOf(pack.Stretch, covers(blocks))
	worked := ofRecord(trials)
	pack.Unhelped, pack.Lately, pack.Tried = standing.Unhelped(worked), standing.Times(worked, nil), standing.Tried(l.steps, worked, nil)
	if err := choose(&pack, choices, s.day(p.ms())); err != nil {
		return pack, err
	}
	for _, r := range rewards[l.Dog] {
		if r.Kind == reinforce.Food && r.Excluded == "" && !r.Off {
			pack.Foods = append(pack.Foods, r)
		}
	}
	return pack, nil
}

// readTo is how far the latest sessions of a plan have been read, by session and device.
func readTo(ctx context.Context, q store.Q, plan string) (map[string]map[string]int64, error) {
	rows, err := q.ReadTo(ctx, plan, sessionsNamed)
	if err != nil {
		return nil, err
	}
	read := map[string]map[string]int64{}
	for _, one := range rows {
		var to map[string]int64
		if err := jsonInto(one.ReadTo, &to); err != nil {
			return nil, err
		}
		read[one.ID] = to
	}
	return read, nil
}

// choose puts into a pack what can be chosen before a session, and when and where the skill was worked.
func choose(pack *field.Pack, choices []store.Chosen, today string) error {
	for _, one := range choices {
		option := field.Option{ID: one.ID, Name: one.Name, Known: one.Known}
		switch one.What {
		case "last":
			pack.First, pack.LastDay, pack.Days = false, one.Name, daysBetween(one.Name, today)
		case "logged":
			pack.LastLogged = one.Name
		case "person":
			pack.People = append(pack.People, option)
		case "place":
			pack.Places = append(pack.Places, option)
			if one.Been {
				pack.Been = standing.Been(pack.Been, one.ID)
			}
			var bans []reinforce.Ban
			if err := jsonInto(one.Bans, &bans); err != nil {
				return err
			}
			if len(bans) > 0 {
				if pack.Bans == nil {
					pack.Bans = map[string][]reinforce.Ban{}
				}
				pack.Bans[one.ID] = bans
			}
		}
	}
	return nil
}

// Field is all that a phone needs of the day without a signal.
type Field struct {
	Day    string        `json:"day"`
	Sheets []field.Sheet `json:"sheets"`
	Packs  []field.Pack  `json:"packs"`
}

// Field is what Today shows, as a phone can run it: the sessions planned for today and tomorrow, and the packs of
// their plans and of those that are next, to be probed, or were worked already.
func (p *Practice) Field(ctx context.Context) (Field, error) {
	return remember(ctx, p, "field", on[Field](allDogs), func() (Field, error) { return p.makeField(ctx) })
}

func (p *Practice) makeField(ctx context.Context) (f Field, err error) {
	q := p.store.Read()
	s, err := p.settings(ctx, q)
	if err != nil {
		return f, err
	}
	heads, err := q.PlanHeads(ctx, plansLooked)
	if err != nil {
		return f, err
	}
	now := p.now().In(s.zone)
	f = Field{Day: now.Format(dayLayout), Sheets: []field.Sheet{}, Packs: []field.Pack{}}
	sheets, err := loadSheets(ctx, q, nil, f.Day, now.AddDate(0, 0, 1).Format(dayLayout))
	if err != nil {
		return f, err
	}
	chosen := chooseToday(heads, f.Day)
	plans := plansOf(sheets)
	for _, id := range slices.Concat(chosen.probes, chosen.next, chosen.done, chosen.finished) {
		if !slices.Contains(plans, id) {
			plans = append(plans, id)
		}
	}
	for _, id := range plans[:min(len(plans), packsCarried)] {
		pack, err := p.Pack(ctx, id)
		if errors.Is(err, ErrNotFound) || errors.Is(err, ErrBehind) || errors.Is(err, ErrAside) {
			continue // put away meanwhile, or being read: the phone goes on with its own
		}
		if err != nil {
			return f, err
		}
		f.Packs = append(f.Packs, pack)
	}
	for _, one := range sheets {
		if one.session != "" {
			continue // begun already
		}
		out, err := p.SheetPack(ctx, one.ID)
		if errors.Is(err, ErrNotFound) || errors.Is(err, ErrBehind) || errors.Is(err, ErrAside) {
			continue
		}
		if err != nil {
			return f, err
		}
		f.Sheets = append(f.Sheets, out.Sheet)
	}
	return f, nil
}

// packsCarried bounds how many plans a phone carries.
const packsCarried = 60

// sessionsNamed is how many sessions a pack says how far it has read.
const sessionsNamed = 8

// SheetPack is a planned session for the phone, with the packs of its plans.
type SheetPack struct {
	Sheet field.Sheet  `json:"sheet"`
	Packs []field.Pack `json:"packs"`
}

// SheetPack is all that a phone needs of a planned session to run it.
func (p *Practice) SheetPack(ctx context.Context, id string) (out SheetPack, err error) {
	q := p.store.Read()
	row, err := q.Sheet(ctx, id)
	if err != nil {
		return out, found(err)
	}
	if row.Deleted != nil {
		return out, ErrNotFound
	}
	one, err := plannedOf(row)
	if err != nil {
		return out, err
	}
	out.Sheet = field.Sheet{ID: id, Day: row.Day, At: row.Start, Place: row.Place, Handler: row.Handler, Names: map[string]string{}, Pieces: one.body.Pieces()}
	out.Sheet.Plan = one.body
	out.Sheet.Plan.Blocks = nil
	for _, b := range one.body.Blocks {
		if _, known := out.Sheet.Names[b.Plan]; !known {
			pack, err := p.Pack(ctx, b.Plan)
			if errors.Is(err, ErrNotFound) {
				continue // its plan was put away since
			}
			if err != nil {
				return out, err
			}
			out.Packs = append(out.Packs, pack)
			if out.Sheet.Names[b.Plan] = pack.SkillName; pack.Track != "" {
				out.Sheet.Names[b.Plan] += ", " + pack.Track
			}
		}
		out.Sheet.Plan.Blocks = append(out.Sheet.Plan.Blocks, b)
	}
	if _, known := out.Sheet.Names[one.body.Finish]; !known {
		out.Sheet.Plan.Finish = ""
	}
	if len(out.Packs) == 0 {
		return out, ErrNotFound
	}
	return out, nil
}

// ofRecord are trials of a plan as rules about its standing read them.
func ofRecord(trials []store.Trial) []standing.Trial {
	list := make([]standing.Trial, len(trials))
	for i, t := range trials {
		list[i] = standing.Trial{Block: t.Block, Step: t.Step, Rev: t.Rev, From: t.Began, At: t.At, Outcome: evidence.Outcome(t.Outcome), LatencyS: t.LatencyS, Easy: t.Easy, Counts: t.Counts}
	}
	return list
}

func covers(blocks []store.Block) map[string]field.Cover {
	cover := make(map[string]field.Cover, len(blocks))
	for _, b := range blocks {
		cover[b.ID] = field.Cover{Logged: b.Logged, Unlogged: b.Unlogged}
	}
	return cover
}

// cautions lists those of a plan; with the dog's own flags where it is about to work.
func cautions(l loaded, flags bool) []string {
	flag := strings.TrimSpace(l.DogFlags)
	where := caution.Where{Flags: flags && flag != "", AfterError: l.def.AfterError}
	for _, s := range l.steps {
		where.Safety = where.Safety || s.Safety
	}
	list := append(caution.For(where), l.body.Cautions...)
	if ruled := l.ruled(); ruled != nil && !flags { // before a session it stands by itself
		list = append([]string{ruled.Why + " " + ruled.Instead}, list...)
	}
	if where.Flags {
		list = append([]string{l.DogName + ": " + flag}, list...)
	}
	return list
}
