package pack

import (
	"maps"
	"slices"

	"patientfox/core/caution"
	"patientfox/core/decision"
	"patientfox/core/progression"
	"patientfox/core/record"
	"patientfox/core/standing"
	"patientfox/core/trial"
	"patientfox/core/work"
)

// Record sums up a plan's trials.
type Record struct {
	Stretch  []trial.Trial // that a rule reads of the reached step, from earlier sessions
	Cover    map[string]standing.Cover
	Unhelped int
	Lately   map[string]standing.Lately
	Tried    map[string]int
}

// RecordOf sums up all trials of a plan; since are those since its reached step became that, under the current definition.
func RecordOf(steps []progression.Step, reached string, trials, since []trial.Trial, covers map[string]standing.Cover) Record {
	return Record{}.after(steps, reached, trials, since, covers)
}

// after is the record with more trials of the plan.
func (r Record) after(steps []progression.Step, reached string, trials, since []trial.Trial, covers map[string]standing.Cover) Record {
	next := Record{
		Unhelped: r.Unhelped + standing.Unhelped(trials), Lately: standing.Times(trials, r.Lately), Tried: standing.Tried(steps, trials, r.Tried),
	}
	if at := progression.Index(steps, reached); at >= 0 {
		next.Stretch = standing.Stretch(since, steps[at])
	}
	next.Cover = standing.CoverOf(next.Stretch, covers)
	return next
}

// Make is the pack of a plan, of a standing and a record. Of the pack given it keeps what the plan and the practice say.
func Make(p Pack, s standing.Standing, r Record) Pack {
	p.V = Version
	p.Position, p.Visits, p.Been, p.LastPlace = s.Position, s.Visits, s.Been, s.LastPlace
	p.Stopped, p.Finished, p.Rung, p.Rounds = s.Stopped, s.Finished, max(1, s.Rung), s.Rounds
	p.Stretch, p.Cover, p.Unhelped, p.Lately, p.Tried = r.Stretch, r.Cover, r.Unhelped, r.Lately, r.Tried
	return p
}

// Stands is where the dog stood when the pack was made.
func (p *Pack) Stands() standing.Standing {
	return standing.Standing{
		Position: p.Position, Visits: p.Visits, Been: p.Been, LastPlace: p.LastPlace, Stopped: p.Stopped, Finished: p.Finished, Rung: p.Rung,
		Rounds: p.Rounds,
	}
}

// Record is the record that the pack was made of.
func (p *Pack) Record() Record { return Record{p.Stretch, p.Cover, p.Unhelped, p.Lately, p.Tried} }

// Leave is the pack of a plan after a session that worked it, from which a device without a signal goes on: p is the pack with
// which the session last worked it, as it stands for the main handler, and last is its last block.
func Leave(p Pack, s *record.Session, last *record.Block) Pack {
	p = p.Begun(s)
	stands, has := p.leaves(s, last)
	made := Make(p, stands, has)
	made.Steps, made.Read = last.Steps, nil // how far the server has read says nothing of what this session left
	made.Levels = p.levelsAfter(s, last)
	for _, m := range s.Moves {
		known := func(one record.Made) bool { return one.Step.ID == m.New.ID }
		if m.New != nil && m.Followed && s.PlanOf(m.Block) == p.Plan && !slices.ContainsFunc(made.Made, known) {
			made.Made = append(slices.Clone(made.Made), record.Made{Step: *m.New, Above: m.Above})
		}
	}
	if p.Care != nil {
		after := p.Care.With(p.Touches(s))
		made.Care = &after
	}
	made.First, made.Days, made.LastDay = false, 0, p.Today
	if slices.ContainsFunc(s.Blocks, func(one *record.Block) bool { return one.Skill == last.Skill && one.Logged > 0 }) {
		made.LastLogged = p.Today
	}
	if s.PlaceNamed != "" {
		if _, listed := Find(p.Places, s.Place); !listed {
			p.Places = append(slices.Clone(p.Places), Option{ID: s.Place, Name: s.PlaceNamed})
		}
	}
	made.Places, made.People = knows(p.Places, s.Place, ""), p.People
	for _, b := range s.Blocks {
		if b.Skill == last.Skill && b.Dog == p.Dog {
			made.People = knows(made.People, b.Handler, p.Today)
		}
		if b.Plan == p.Plan {
			made.Experiment = made.Experiment.After(b.Experiment)
		}
		if b.Dog == p.Dog && s.GrowlsIn(b.ID) > 0 {
			made.Cautions = caution.WithGrowl(p.Cautions)
		}
	}
	return made
}

// leaves is where a session leaves the level that the pack shows; last is the plan's last block.
func (p *Pack) leaves(s *record.Session, last *record.Block) (standing.Standing, Record) {
	line := record.Line{Plan: p.Plan, Level: p.Level}
	visit := visited(s, line)
	visit.Stopped = s.Ended != nil && s.Ended.Reason == "stop" && s.At != nil && s.At.Plan == p.Plan
	stands := p.Stands().After(p.ladder(s, last.Steps), visit)
	covers := maps.Clone(p.Cover)
	if covers == nil {
		covers = map[string]standing.Cover{}
	}
	for _, b := range s.Blocks {
		covers[b.ID] = standing.Cover{Logged: b.Logged, Unlogged: b.Unlogged, Withheld: b.Withheld}
	}
	since := p.earlier(s)
	stands.Position = p.Position.Open()
	for _, b := range slices.Backward(s.Blocks) {
		if b.Line() == line {
			since, stands.Position = p.Stretched(s, b), b.Position.Open() // on the steps as they were when the session followed its moves
			break
		}
	}
	return stands, p.Record().after(last.Steps, stands.Position.Reached, worked(s, p.Plan), since, covers)
}

// levelsAfter are the levels of the other handlers after a session.
func (p *Pack) levelsAfter(s *record.Session, last *record.Block) map[string]Level {
	levels := maps.Clone(p.Levels)
	for _, b := range s.Blocks {
		if b.Plan != p.Plan || b.Level == p.Level {
			continue
		}
		own := p.at(b.Level)
		own.Steps = last.Steps
		stands, has := own.leaves(s, last)
		if levels == nil {
			levels = map[string]Level{}
		}
		levels[b.Level] = Level{stands.Position, stands.Finished, stands.Rounds, has.Stretch, has.Cover}
	}
	return levels
}

// Climbed is how far the thinning of pay has come by the moves of a session that is running, in a block of the plan: its rate of
// reinforcement says nothing yet.
func (p *Pack) Climbed(s *record.Session, b *record.Block) int {
	return p.Stands().After(p.ladder(s, b.Steps), moved(s, b.Line())).Rung
}

// RoundsBefore are the proof rounds that were over at the step reached in a block, before its stretch.
func (p *Pack) RoundsBefore(s *record.Session, b *record.Block) decision.RoundsOver {
	stands := p.Stands().After(p.ladder(s, b.Steps), visited(s, b.Line()))
	at := progression.Index(b.Steps, b.Position.Reached)
	if at < 0 {
		return decision.RoundsOver{}
	}
	return stands.RoundsBefore(b.Steps[at], b.Definition)
}

// Proofs are the rules of the steps that are proved, nil where none is.
func (p *Pack) Proofs(steps []progression.Step) map[string]decision.Rule {
	var rules map[string]decision.Rule
	for _, one := range steps {
		if rule := p.RuleAt(one.ID); rule.Kind == decision.Proof {
			if rules == nil {
				rules = map[string]decision.Rule{}
			}
			rules[one.ID] = rule
		}
	}
	return rules
}

// ladder is what the dog climbs, with the steps as a session has them.
func (p *Pack) ladder(s *record.Session, steps []progression.Step) standing.Ladder {
	l := standing.Ladder{All: steps, Now: steps, MaxRung: work.Of(p.Kind).MaxRung(p.Lifeline), Lo: p.Pay.Band.Lo}
	if rules := p.Proofs(steps); rules != nil {
		l.Proof = standing.Proof{Rules: rules, Stretch: p.earlier(s), Definition: p.DefVersion, Cover: p.Cover}
	}
	return l
}

// earlier is the stretch that the pack carries without the session's own trials: a pack that was loaded between two blocks knows those too.
func (p *Pack) earlier(s *record.Session) []trial.Trial {
	return slices.DeleteFunc(slices.Clone(p.Stretch), func(t trial.Trial) bool { return t.Session == s.ID })
}

// visited is what a session has of a plan, with the moves, verdicts and trials of one of its levels.
func visited(s *record.Session, of record.Line) standing.Visit {
	v := moved(s, of)
	v.Apart = true
	for _, b := range s.Blocks {
		v.Apart = v.Apart && b.Line() != of
		if b.Plan == of.Plan {
			v.Blocks = append(v.Blocks, standing.Work{
				Teaches: b.Mode.Teaches(), Pays: s.PaysIn(b.ID), Active: s.ActiveIn(b.ID),
				Block: b.ID, Definition: b.Definition, Unlogged: b.Unlogged,
			})
		}
	}
	for i := range s.Trials {
		if s.LineOf(s.Trials[i].Block) == of {
			v.Trials = append(v.Trials, s.Trials[i])
		}
	}
	return v
}

// worked are all trials that a session has of a plan.
func worked(s *record.Session, plan string) (trials []trial.Trial) {
	for i := range s.Trials {
		if s.PlanOf(s.Trials[i].Block) == plan {
			trials = append(trials, s.Trials[i])
		}
	}
	return trials
}

// moved are the moves and verdicts that a session has of a level of a plan.
func moved(s *record.Session, of record.Line) standing.Visit {
	v := standing.Visit{Session: s.ID, Opened: s.Wall, Place: s.Place}
	for _, m := range s.Moves {
		if s.LineOf(m.Block) == of {
			v.Moves = append(v.Moves, standing.Move{Move: progression.Move{ID: m.ID, From: m.From, To: m.To, Why: m.Why}, At: m.At})
		}
	}
	for _, one := range s.Verdicts {
		if s.LineOf(one.Block) == of {
			v.Verdicts = append(v.Verdicts, standing.Verdict{
				Step: one.Step, At: one.At, Recommended: decision.Verdict(one.Recommended), Action: one.Action,
			})
		}
	}
	return v
}

// Stretched are the trials that a rule reads of the reached step of a block's plan, since it became that and under the block's
// definition: those that the pack carries, and those of the session.
func (p *Pack) Stretched(s *record.Session, b *record.Block) (trials []trial.Trial) {
	at := progression.Index(b.Steps, b.Position.Reached)
	if at < 0 {
		return nil
	}
	if b.Position.Since == p.Position.Since && p.DefVersion == b.Definition {
		trials = standing.Stretch(p.earlier(s), b.Steps[at])
	}
	here := s.TrialsAt(b, b.Steps[at], b.Position.Since)
	if len(trials) == 0 {
		return here
	}
	return append(trials, here...)
}

// knows marks one of the options as known, with the day of it.
func knows(list []Option, id, day string) []Option {
	list = slices.Clone(list)
	for i := range list {
		if list[i].ID == id {
			list[i].Known, list[i].LastDay = true, day
		}
	}
	return list
}
