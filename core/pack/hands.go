package pack

import (
	"cmp"
	"maps"
	"slices"

	"patientfox/core/decision"
	"patientfox/core/progression"
	"patientfox/core/record"
	"patientfox/core/standing"
	"patientfox/core/trial"
	"patientfox/core/work"
)

// Level is where one of a plan's handlers has come to with the dog: the reached step, and what a rule reads of it.
type Level struct {
	Position progression.Position      `json:"position"`
	Finished bool                      `json:"finished,omitempty"`
	Rounds   standing.Rounds           `json:"rounds,omitempty"`
	Stretch  []trial.Trial             `json:"stretch,omitempty"`
	Cover    map[string]standing.Cover `json:"cover,omitempty"`
}

// Roles of those who work dogs for the practice. Whoever is no trainer handles a skill for the first time further down.
const (
	RoleTrainer = "trainer"
	RoleHelper  = "helper"
)

// WorksDogs tells whether somebody of a role works dogs for the practice: a dog can be theirs for a day.
func WorksDogs(role string) bool { return role == RoleTrainer || role == RoleHelper }

// ReallyDone stands among the steps that were shown to somebody for what is really done to the dog, at whatever step.
const ReallyDone = "done"

// MayReallyDo tells whether somebody of a role does what a skill of handling is for, and does not rehearse it alone: a trainer, or whom a
// trainer showed it.
func MayReallyDo(role string, shown []string) bool {
	return role == RoleTrainer || slices.Contains(shown, ReallyDone)
}

// MayDo tells whether somebody may really do what a plan of handling leads to: its main handler, whoever begins it, another trainer, and
// whoever was shown it.
func (p *Pack) MayDo(who string) bool {
	person, _ := Find(p.People, who)
	return p.Main == "" || who == p.Main || MayReallyDo(person.Role, p.Shown[who])
}

// LevelOf is whose level is worked when somebody handles, as blocks name it: "" is that of the one who began the plan, and also of
// anybody where nobody has yet.
func (p *Pack) LevelOf(handler string) string {
	if p.Founder == "" || handler == "" || handler == p.Founder {
		return ""
	}
	return handler
}

// Begun is the pack with who began the plan, if that was in a session: whoever handled the first block of it that names no level.
func (p Pack) Begun(s *record.Session) Pack {
	for _, b := range s.Blocks {
		if p.Founder == "" && b.Line() == (record.Line{Plan: p.Plan}) {
			p.Founder = b.Handler
			p.Main = p.Founder
		}
	}
	return p
}

// MainLevel is the level of the main handler.
func (p *Pack) MainLevel() string { return p.LevelOf(p.Main) }

// levelNow is the level that the pack shows.
func (p *Pack) levelNow() Level { return Level{p.Position, p.Finished, p.Rounds, p.Stretch, p.Cover} }

// For is the pack as it opens for a handler: at their own level, never above the main handler's. "" is the main handler.
func (p Pack) For(handler string) Pack {
	if handler == "" {
		handler = p.Main
	}
	return p.ForLevel(p.LevelOf(handler))
}

// ForLevel is For, of a level.
func (p Pack) ForLevel(level string) Pack {
	if p.Hands = decision.HandsMain; level == p.MainLevel() {
		return p.at(level)
	}
	mains := p.at(p.MainLevel())
	main, own := mains.ReachedAt(), -1
	_, known := mains.Levels[level]
	if p = mains.at(level); known {
		own = p.ReachedAt()
	}
	who := cmp.Or(level, p.Founder)
	person, _ := Find(p.People, who)
	to, top, held := Opens(p.Steps, main, own, Handling(p.Kind, person.Role), p.Shown[who])
	p.Cap, p.Held = p.Steps[top].ID, held
	switch {
	case to == own:
		p.Hands = decision.HandsOwn
		return p
	case known:
		p.Hands = decision.HandsCapped
	default:
		p.Hands = decision.HandsFirst
	}
	p.From = p.Position
	p.Position = progression.Position{Reached: p.Steps[to].ID, Today: p.Steps[to].ID}
	p.Finished, p.Stretch, p.Cover = false, nil, nil
	return p
}

// Opens is the index of the step at which a ladder opens for a handler beside the main one, and of the highest that they may work. The
// main handler has come to the step with index main, they to own, −1 where they handle it for the first time; shown are the safety steps
// that a trainer has shown them, by id. Held is the one that was not shown and keeps them below it, "" for none.
func Opens(steps []progression.Step, main, own int, as decision.Handling, shown []string) (to, top int, held string) {
	top = main
	for at := safety(steps, 0); at >= 0 && at <= main && held == ""; at = safety(steps, at+1) {
		if !slices.Contains(shown, steps[at].ID) {
			top, held = max(0, at-1), steps[at].ID
		}
	}
	to = min(decision.HandlerStep(main, len(steps), own, as), top)
	if first := safety(steps, 0); own < 0 && first >= 0 { // shown or not: a record at the step below it comes first
		to = min(to, max(0, first-1))
	}
	return to, top, held
}

// safety is the index of the first step from an index on where somebody could be hurt, −1 where there is none.
func safety(steps []progression.Step, from int) int {
	at := slices.IndexFunc(steps[from:], func(s progression.Step) bool { return s.Safety })
	if at < 0 {
		return -1
	}
	return from + at
}

// Unready is the first safety step up to an index for which a handler beside the main one has no record at the step below it, "" where
// there is none: they do not begin there, whoever says so.
func (p *Pack) Unready(upTo int) string {
	for at := safety(p.Steps, 0); p.Level != p.MainLevel() && at >= 0 && at <= upTo; at = safety(p.Steps, at+1) {
		if at > p.ReachedAt()+1 || at > p.ReachedAt() && p.Hands == decision.HandsFirst {
			return p.Steps[at].ID
		}
	}
	return ""
}

// Rehearses is Rehearsal, of the pack's handler.
func (p *Pack) Rehearses(steps []progression.Step, reached string) int {
	return Rehearsal(p.Kind, steps, progression.Index(steps, reached), p.Held)
}

// Rehearsal is the index of the safety step that a handler works as a rehearsal, since nobody has shown it to them: the held one, where it
// is the one above the step with the index they have reached, or the first of the ladder. It is −1 where there is none, or none that can
// be made safe.
func Rehearsal(kind work.Kind, steps []progression.Step, reached int, held string) int {
	at := progression.Index(steps, held)
	if at < 0 || at > reached+1 || !work.Rehearsed(kind, steps[at].Criteria) {
		return -1
	}
	return at
}

// at shows another level of the pack, as the record has it: at the first step for somebody who never handled it.
func (p Pack) at(level string) Pack {
	if p.Cap, p.Held = "", ""; level == p.Level {
		return p
	}
	levels := maps.Clone(p.Levels)
	if levels == nil {
		levels = map[string]Level{}
	}
	levels[p.Level] = p.levelNow()
	own, known := levels[level]
	if !known {
		own.Position = progression.StartOf(p.Steps)
	}
	delete(levels, level)
	p.Level, p.Levels = level, levels
	p.Position, p.Finished, p.Rounds, p.Stretch, p.Cover = own.Position, own.Finished, own.Rounds, own.Stretch, own.Cover
	return p
}

// Handling is what somebody of a role who handles for the first time is to a kind of work.
func Handling(kind work.Kind, role string) decision.Handling {
	switch {
	case work.Of(kind).ByState:
		return decision.HandlesExposures
	case role == RoleTrainer:
		return decision.HandlesAsTrainer
	}
	return decision.HandlesOtherwise
}

// SetsLevel tells whether the level at which the pack opens is yet to be written.
func (p *Pack) SetsLevel() bool {
	return p.Hands == decision.HandsFirst || p.Hands == decision.HandsCapped
}
