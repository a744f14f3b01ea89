package sessions

import (
	"context"
	"errors"
	"slices"

	"patientfox/core/care"
	"patientfox/core/caution"
	"patientfox/core/pack"
	"patientfox/core/progression"
	"patientfox/core/reinforce"
	"patientfox/core/session"
	"patientfox/core/standing"
	"patientfox/core/work"
	"patientfox/internal/app"
	"patientfox/internal/derive"
	"patientfox/internal/store"
)

// Pack is all that a phone needs of one plan to run it.
func (p *Cases) Pack(ctx context.Context, id string) (pack.Pack, error) {
	of, err := app.Remember(ctx, p.Practice, "pack "+id, func(v packed) string { return v.Dog },
		func() (of packed, err error) {
			// A session that is read meanwhile would otherwise be in the pack's trials, and not in where the dog stands.
			err = p.Store.Snapshot(ctx, func(q store.Q) (err error) {
				of, err = p.makePack(ctx, q, id)
				return err
			})
			return of, err
		})
	if err != nil {
		return of.Pack, err
	}
	// Not remembered with the rest: a pack that was asked for while the model was being worked out would go without it for long.
	m, known, err := p.ModelOf(of.plan, of.dog, of.rewards, of.day)
	if known {
		of.Load = &pack.Load{Model: m.Model, Experience: m.Experience}
	}
	return of.Pack, err
}

// packed is a pack with what its model of load is worked out from.
type packed struct {
	pack.Pack
	plan    app.Plan
	dog     []app.Plan
	rewards []reinforce.Reward
	day     string
}

func (p *Cases) makePack(ctx context.Context, q store.Q, id string) (made packed, err error) {
	s, err := p.Profile(ctx, q)
	if err != nil {
		return made, err
	}
	l, dog, err := app.Besides(ctx, q, id, s.Words())
	if err != nil {
		return made, err
	}
	if err := p.Ready(ctx, q, l.Dog, l.ID); err != nil {
		return made, err
	}
	_, missing := app.NeedsOf(l, dog)
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
	rewards, err := app.LoadLarder(ctx, q, []store.Dog{{ID: l.Dog, Feeding: l.DogFeeding}}, s.Day(p.Ms()))
	if err != nil {
		return made, err
	}
	made = packed{plan: l, dog: dog, rewards: rewards[l.Dog], day: s.Day(p.Ms())}
	made.Pack = planned(l, s, missing, p.Ms())
	if made.States, err = s.Looks(); err != nil {
		return made, err
	}
	if made.Read, err = readTo(ctx, q, id); err != nil {
		return made, err
	}
	app.MarkCold(rows, blocks)
	been, trying, err := choose(&made.Pack, choices, s.Day(p.Ms()))
	if err != nil {
		return made, err
	}
	stands, err := standsOf(l, been)
	if err != nil {
		return made, err
	}
	made.Pack = pack.Make(made.Pack, stands, pack.RecordOf(l.Steps, l.Standing.Reached, app.Bare(rows), l.Since(rows), app.Covers(blocks)))
	if made.Levels, err = levelsOf(ctx, q, l, rows, blocks); err != nil {
		return made, err
	}
	made.Experiment, _ = app.RunningOf(trying, blocks)
	made.Foods = foodsOf(rewards[l.Dog])
	made.Tracks = sidesOf(l, dog)
	made.Care, err = careOf(ctx, q, l, dog)
	return made, err
}

// careOf is how the dog takes what is done within a skill of handling, on all sides; nil of other work.
func careOf(ctx context.Context, q store.Q, l app.Plan, dog []app.Plan) (*care.Skill, error) {
	if !work.Of(work.Kind(l.Kind)).HandsOn {
		return nil, nil
	}
	var sides []store.Plan
	for _, one := range dog {
		if one.Skill == l.Skill {
			sides = append(sides, one.Plan)
		}
	}
	skills, err := derive.Touches(ctx, q, sides)
	if err != nil {
		return nil, err
	}
	marks, err := q.CareMarks(ctx, l.Dog)
	if err != nil {
		return nil, err
	}
	return skills[0].Care(marks), nil
}

// planned is what a plan and the practice say in a pack; now is UTC ms.
func planned(l app.Plan, s app.Profile, missing []progression.Need, now int64) pack.Pack {
	return pack.Pack{
		Plan: l.ID, PlanVersion: l.Version, Track: l.Track, Dog: l.Dog, DogName: l.DogName, Skill: l.Skill, SkillName: l.SkillName,
		Kind: work.Kind(l.Kind), Definition: l.Def, DefVersion: l.Definition, Steps: l.Steps, Rule: l.Body.Rule,
		StepRules: l.StepRules(), Pay: l.Body.Pay, StepPay: l.Body.StepPay, Lifeline: l.Body.Lifeline, First: true, Person: s.Person,
		Errors: l.Body.ErrorsOf(work.Kind(l.Kind)), DecoyIn: l.Body.DecoyInOf(work.Kind(l.Kind)),
		Phases: l.Body.Phases, Engaged: l.Body.EngagedOr(),
		Deck: l.Body.Deck.Cards(), RestAfter: l.Body.RestAfter(work.Kind(l.Kind)), Ruled: l.Ruled(), Zone: s.Zone.String(), Now: now,
		Founder: l.Founder, Main: l.MainHandler, Level: l.MainLevel(),
		Cautions: app.Cautions(l, true), Units: s.Units(), Blocked: app.BlockedSteps(l.Steps, missing),
	}
}

// standsOf is where a plan's dog stands.
func standsOf(l app.Plan, been []string) (standing.Standing, error) {
	s := standing.Standing{
		Position: l.Position(), Visits: l.Standing.Sessions, Been: been, LastPlace: l.Standing.LastPlace, Stopped: l.Standing.Stopped,
		Finished: l.Finished(), Rung: l.Standing.Rung,
	}
	err := store.FromJSON(l.Standing.Rounds, &s.Rounds)
	return s, err
}

// levelsOf is where a plan's dog is with its handlers beside the main one; nil where nobody else has handled it.
func levelsOf(
	ctx context.Context, q store.Q, l app.Plan, rows []store.Trial, blocks []store.Block,
) (map[string]pack.Level, error) {
	if l.Others == 0 {
		return nil, nil
	}
	list, err := q.Levels(ctx, l.ID)
	if err != nil {
		return nil, err
	}
	covers := app.Covers(blocks)
	levels := map[string]pack.Level{}
	for _, one := range list {
		at := l.WithLevel(one)
		stands, err := standsOf(at, nil)
		if err != nil {
			return nil, err
		}
		has := pack.RecordOf(l.Steps, at.Standing.Reached, nil, at.Since(rows), covers)
		levels[one.Level] = pack.Level{
			Position: stands.Position, Finished: stands.Finished, Rounds: stands.Rounds, Stretch: has.Stretch, Cover: has.Cover,
		}
	}
	return levels, nil
}

// sidesOf are the other tracks of a plan's ladder.
func sidesOf(l app.Plan, dog []app.Plan) (sides []pack.Option) {
	for _, one := range dog {
		if one.Main == l.Main && one.ID != l.ID {
			sides = append(sides, pack.Option{ID: one.ID, Name: one.Track})
		}
	}
	return sides
}

// foodsOf are the rewards that a dog can be paid with in a session; praise is given anyway.
func foodsOf(rewards []reinforce.Reward) (foods []reinforce.Reward) {
	for _, r := range rewards {
		if r.Kind != reinforce.Praise && r.Excluded == "" && !r.Off {
			foods = append(foods, r)
		}
	}
	return foods
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
		if err := store.FromJSON(one.ReadTo, &to); err != nil {
			return nil, err
		}
		read[one.ID] = to
	}
	return read, nil
}

// choose puts into a pack what can be chosen before a session, and when the skill was worked; it answers where the plan was, and which
// experiment is under way with it.
func choose(made *pack.Pack, choices []store.Chosen, today string) (been []string, trying *store.Experiment, err error) {
	for _, one := range choices {
		option := pack.Option{ID: one.ID, Name: one.Name, Known: one.Known}
		switch one.What {
		case "last":
			made.First, made.LastDay, made.Days = false, one.Name, app.DaysBetween(one.Name, today)
		case "logged":
			made.LastLogged = one.Name
		case "growled":
			if app.DaysBetween(one.Name, today) <= caution.GrowlDays {
				made.Cautions = caution.WithGrowl(made.Cautions)
			}
		case "experiment":
			trying = &store.Experiment{}
			if err := store.FromJSON(one.Name, trying); err != nil {
				return nil, nil, err
			}
		case "shown":
			if made.Shown == nil {
				made.Shown = map[string][]string{}
			}
			made.Shown[one.ID] = append(made.Shown[one.ID], one.Name)
		case "person":
			option.Role, option.LastDay = one.Role, one.Last
			made.People = append(made.People, option)
		case "place":
			made.Places = append(made.Places, option)
			if one.Been {
				been = standing.Been(been, one.ID)
			}
			var bans []reinforce.Ban
			if err := store.FromJSON(one.Bans, &bans); err != nil {
				return nil, nil, err
			}
			if len(bans) > 0 {
				if made.Bans == nil {
					made.Bans = map[string][]reinforce.Ban{}
				}
				made.Bans[one.ID] = bans
			}
		}
	}
	return been, trying, nil
}

// Field is all that a phone needs of the day without a signal.
type Field struct {
	Day    string          `json:"day"`
	Sheets []session.Sheet `json:"sheets"`
	Packs  []pack.Pack     `json:"packs"`
}

// Field is what Today shows, as a phone can run it: the sessions planned for today and tomorrow, and the packs of
// their plans and of those that are next, to be probed, or were worked already.
func (p *Cases) Field(ctx context.Context) (Field, error) {
	return app.Remember(ctx, p.Practice, "field", app.On[Field](app.AllDogs), func() (Field, error) { return p.makeField(ctx) })
}

func (p *Cases) makeField(ctx context.Context) (f Field, err error) {
	q := p.Store.Read()
	s, err := p.Profile(ctx, q)
	if err != nil {
		return f, err
	}
	now := p.Now().In(s.Zone)
	heads, err := q.PlanHeads(ctx, app.PlansLooked, now.Format(app.DayLayout))
	if err != nil {
		return f, err
	}
	f = Field{Day: now.Format(app.DayLayout), Sheets: []session.Sheet{}, Packs: []pack.Pack{}}
	sheets, err := app.LoadSheets(ctx, q, nil, f.Day, now.AddDate(0, 0, 1).Format(app.DayLayout))
	if err != nil {
		return f, err
	}
	chosen := app.ChooseToday(heads, sheets, f.Day)
	plans := app.PlansOf(sheets)
	for _, id := range slices.Concat(chosen.Probes, chosen.Next, chosen.Done, chosen.Finished, chosen.Class) {
		if !slices.Contains(plans, id) {
			plans = append(plans, id)
		}
	}
	for _, id := range plans[:min(len(plans), packsCarried)] {
		pack, err := p.Pack(ctx, id)
		if errors.Is(err, app.ErrNotFound) || errors.Is(err, derive.ErrBehind) || errors.Is(err, derive.ErrAside) {
			continue // put away meanwhile, or being read: the phone goes on with its own
		}
		if err != nil {
			return f, err
		}
		f.Packs = append(f.Packs, pack)
	}
	for _, one := range sheets {
		if one.Session != "" {
			continue // begun already
		}
		out, err := p.SheetPack(ctx, one.ID)
		if errors.Is(err, app.ErrNotFound) || errors.Is(err, derive.ErrBehind) || errors.Is(err, derive.ErrAside) {
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
func (p *Cases) SheetPack(ctx context.Context, id string) (out SheetPack, err error) {
	q := p.Store.Read()
	row, err := q.Sheet(ctx, id)
	if err != nil {
		return out, app.Found(err)
	}
	if row.Deleted != nil {
		return out, app.ErrNotFound
	}
	one, err := app.PlannedOf(row)
	if err != nil {
		return out, err
	}
	out.Sheet = session.Sheet{
		ID: id, Day: row.Day, At: row.Start, Place: row.Place, Handler: row.Handler, Names: map[string]string{},
		Pieces: one.Body.Pieces(),
	}
	out.Sheet.Plan = one.Body
	out.Sheet.Plan.Blocks = nil
	for _, b := range one.Body.Blocks {
		if _, known := out.Sheet.Names[b.Plan]; !known {
			pack, err := p.Pack(ctx, b.Plan)
			if errors.Is(err, app.ErrNotFound) {
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
	if _, known := out.Sheet.Names[one.Body.Finish]; !known {
		out.Sheet.Plan.Finish = ""
	}
	if len(out.Packs) == 0 {
		return out, app.ErrNotFound
	}
	return out, nil
}
