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
	"patientfox/core/library"
	"patientfox/core/pack"
	"patientfox/core/phrase"
	"patientfox/core/progression"
	"patientfox/core/reinforce"
	"patientfox/core/session"
	"patientfox/core/standing"
	"patientfox/core/trial"
	"patientfox/core/work"
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

// work is the kind of work of the skill.
func (l loaded) work() *work.Work { return work.Of(work.Kind(l.Kind)) }

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
	return caution.RulesOut(l.DogFlags, caution.PlanOf(l.work(), l.steps))
}

// stretch picks the trials that a rule reads of the reached step, out of all trials of the plan in order.
func (l loaded) stretch(rows []store.Trial) []trial.Trial {
	if at := progression.Index(l.steps, l.Standing.Reached); at >= 0 {
		return standing.Stretch(l.since(rows), l.steps[at])
	}
	return nil
}

// since are the trials since the reached step became that, under the definition as it is now.
func (l loaded) since(rows []store.Trial) (list []trial.Trial) {
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
	for i := range rows {
		if rows[i].Definition == l.Definition && later(&rows[i]) {
			list = append(list, rows[i].Trial)
		}
	}
	return list
}

// bare are trials as the rules of core read them.
func bare(rows []store.Trial) []trial.Trial {
	list := make([]trial.Trial, len(rows))
	for i := range rows {
		list[i] = rows[i].Trial
	}
	return list
}

// markCold marks the first trials of their skill on a day.
func markCold(rows []store.Trial, blocks []store.Block) {
	first := make(map[string]bool, len(blocks))
	for _, b := range blocks {
		first[b.ID] = b.First
	}
	trials := bare(rows)
	standing.MarkCold(trials, first)
	for i := range rows {
		rows[i].Cold = trials[i].Cold
	}
}

// Pack is all that a phone needs of one plan to run it.
func (p *Practice) Pack(ctx context.Context, id string) (pack.Pack, error) {
	return remember(ctx, p, "pack "+id, func(v pack.Pack) string { return v.Dog }, func() (pack.Pack, error) { return p.makePack(ctx, id) })
}

func (p *Practice) makePack(ctx context.Context, id string) (made pack.Pack, err error) {
	q := p.store.Read()
	s, err := p.settings(ctx, q)
	if err != nil {
		return made, err
	}
	l, dog, err := besides(ctx, q, id, s.words())
	if err != nil {
		return made, err
	}
	if err := p.ready(ctx, q, l.Dog, l.ID); err != nil {
		return made, err
	}
	_, missing := needsOf(l, dog)
	rows, err := q.TrialsOfPlans(ctx, []string{id})
	if err != nil {
		return made, err
	}
	blocks, err := q.BlocksOfPlans(ctx, []string{id})
	if err != nil {
		return made, err
	}
	choices, err := q.ChoicesFor(ctx, l.Dog, l.Skill, l.ID)
	if err != nil {
		return made, err
	}
	rewards, err := loadLarder(ctx, q, []store.Dog{{ID: l.Dog, Feeding: l.DogFeeding}}, s.day(p.ms()))
	if err != nil {
		return made, err
	}
	made = pack.Pack{
		Plan: l.ID, PlanVersion: l.Version, Track: l.Track, Dog: l.Dog, DogName: l.DogName, Skill: l.Skill, SkillName: l.SkillName,
		Kind: work.Kind(l.Kind), Definition: l.def, DefVersion: l.Definition, Steps: l.steps, Rule: l.body.Rule, StepRules: l.stepRules(), Pay: l.body.Pay,
		StepPay: l.body.StepPay, Lifeline: l.body.Lifeline, First: true, Person: s.Person,
		Ruled: l.ruled(), Zone: s.zone.String(), Now: p.ms(), Cautions: cautions(l, true), Units: s.units(), Blocked: blockedSteps(l.steps, missing),
	}
	if made.Read, err = readTo(ctx, q, id); err != nil {
		return made, err
	}
	markCold(rows, blocks)
	been, err := choose(&made, choices, s.day(p.ms()))
	if err != nil {
		return made, err
	}
	stands := standing.Standing{
		Place: l.place(), Visits: l.Standing.Sessions, Been: been, LastPlace: l.Standing.LastPlace, Stopped: l.Standing.Stopped, Finished: l.finished(), Rung: l.Standing.Rung,
	}
	made = pack.Make(made, stands, pack.RecordOf(l.steps, l.Standing.Reached, bare(rows), l.since(rows), covers(blocks)))
	for _, r := range rewards[l.Dog] {
		if r.Kind == reinforce.Food && r.Excluded == "" && !r.Off {
			made.Foods = append(made.Foods, r)
		}
	}
	return made, nil
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

// choose puts into a pack what can be chosen before a session, and when the skill was worked; it answers where the plan was.
func choose(made *pack.Pack, choices []store.Chosen, today string) (been []string, err error) {
	for _, one := range choices {
		option := pack.Option{ID: one.ID, Name: one.Name, Known: one.Known}
		switch one.What {
		case "last":
			made.First, made.LastDay, made.Days = false, one.Name, daysBetween(one.Name, today)
		case "logged":
			made.LastLogged = one.Name
		case "person":
			made.People = append(made.People, option)
		case "place":
			made.Places = append(made.Places, option)
			if one.Been {
				been = standing.Been(been, one.ID)
			}
			var bans []reinforce.Ban
			if err := jsonInto(one.Bans, &bans); err != nil {
				return nil, err
			}
			if len(bans) > 0 {
				if made.Bans == nil {
					made.Bans = map[string][]reinforce.Ban{}
				}
				made.Bans[one.ID] = bans
			}
		}
	}
	return been, nil
}

// Field is all that a phone needs of the day without a signal.
type Field struct {
	Day    string          `json:"day"`
	Sheets []session.Sheet `json:"sheets"`
	Packs  []pack.Pack     `json:"packs"`
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
	f = Field{Day: now.Format(dayLayout), Sheets: []session.Sheet{}, Packs: []pack.Pack{}}
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
	Sheet session.Sheet `json:"sheet"`
	Packs []pack.Pack   `json:"packs"`
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
	out.Sheet = session.Sheet{ID: id, Day: row.Day, At: row.Start, Place: row.Place, Handler: row.Handler, Names: map[string]string{}, Pieces: one.body.Pieces()}
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

func covers(blocks []store.Block) map[string]standing.Cover {
	cover := make(map[string]standing.Cover, len(blocks))
	for _, b := range blocks {
		cover[b.ID] = standing.Cover{Logged: b.Logged, Unlogged: b.Unlogged}
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
