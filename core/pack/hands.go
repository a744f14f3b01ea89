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

// RoleTrainer is the role of a trainer of the practice; others handle a skill for the first time further down.
const RoleTrainer = "trainer"

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
	top := main
	if at := p.heldBefore(who, main); at >= 0 {
		top, p.Held = max(0, at-1), p.Steps[at].ID
	}
	p.Cap = p.Steps[top].ID
	to := min(decision.HandlerStep(main, len(p.Steps), own, Handling(p.Kind, person.Role)), top)
	if first := p.safety(0); !known && first >= 0 { // shown or not: a record at the step below it comes first
		to = min(to, max(0, first-1))
	}
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

// safety is the index of the first step from an index on where somebody could be hurt, −1 where there is none.
func (p *Pack) safety(from int) int {
	at := slices.IndexFunc(p.Steps[from:], func(s progression.Step) bool { return s.Safety })
	if at < 0 {
		return -1
	}
	return from + at
}

// heldBefore is the index of the first safety step up to an index that nobody has shown to a person, −1 where there is none.
func (p *Pack) heldBefore(person string, upTo int) int {
	for at := p.safety(0); at >= 0 && at <= upTo; at = p.safety(at + 1) {
		if !slices.Contains(p.Shown[person], p.Steps[at].ID) {
			return at
		}
	}
	return -1
}

// Unready is the first safety step up to an index for which a handler beside the main one has no record at the step below it, "" where
// there is none: they do not begin there, whoever says so.
func (p *Pack) Unready(upTo int) string {
	for at := p.safety(0); p.Level != p.MainLevel() && at >= 0 && at <= upTo; at = p.safety(at + 1) {
		if at > p.ReachedAt()+1 || at > p.ReachedAt() && p.Hands == decision.HandsFirst {
			return p.Steps[at].ID
		}
	}
	return ""
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
