package session

import (
	"slices"

	"patientfox/core/decision"
	"patientfox/core/pack"
	"patientfox/core/progression"
	"patientfox/core/record"
	"patientfox/core/trial"
)

// OpensFor is the pack of the plan that is next worked, as it opens for a handler: at the level that they have come to, in this session
// too, and never above the main handler's.
func (r *Run) OpensFor(handler string) pack.Pack {
	p := r.standsNow(*r.base())
	return p.For(handler)
}

// base is the running plan's pack as it was taken, at its main handler's level.
func (r *Run) base() *pack.Pack {
	if p := r.packFor(r.pack.Plan); p != nil {
		return p
	}
	return &r.pack
}

// standsNow is a pack as it stands by now: who began the plan, and where the main handler has brought the dog in this session.
func (r *Run) standsNow(p pack.Pack) pack.Pack {
	p = p.Begun(r.s)
	main := record.Line{Plan: p.Plan, Level: p.Level}
	if b := r.lastOf(main); b != nil {
		p.Position = b.Position.Settle(b.Steps, p.Steps).Open()
	}
	return p
}

// begun tells whether the plan that is next worked was worked in this session before.
func (r *Run) begun() bool {
	return slices.ContainsFunc(r.s.Blocks, func(b *record.Block) bool { return b.Plan == r.pack.Plan })
}

// top is the highest of the steps that the handler of the block may be asked: never above the main handler's.
func (r *Run) top(steps []progression.Step) int {
	if at := progression.Index(steps, r.pack.Cap); at >= 0 {
		return at
	}
	return len(steps) - 1
}

// bounded is why no step above the one with an index is asked, "" where one may be.
func (r *Run) bounded(at int) decision.Code {
	switch {
	case at >= r.ceiling():
		return decision.AtCeiling
	case at < r.top(r.Block().Steps):
		return ""
	case r.pack.Held != "":
		return decision.NotShown
	case r.pack.Cap != "":
		return decision.AboveMain
	}
	return ""
}

// HandsOver tells whether the work goes over to another level when somebody else handles from here on. What is worked in turn, or for a
// few trials between, stays at the level at which it was begun.
func (r *Run) HandsOver(handler string) bool {
	b := r.Block()
	if b == nil || r.s.Ended != nil || r.Helps() || b.Interlude > 0 || len(r.Lanes()) > 0 {
		return false
	}
	p := r.standsNow(*r.base())
	return p.LevelOf(handler) != b.Level
}

// HandOver lets somebody else handle from here on, between two trials: today's step is then that of their level.
func (r *Run) HandOver(handler string) (drafts []record.Draft, _ *Problem) {
	if r.s.Trying != nil {
		return nil, &Problem{Field: "handles", Code: NotBetween}
	}
	if !r.HandsOver(handler) {
		return nil, nil
	}
	b := r.Block()
	mode := string(b.Doing)
	if b.Doing == record.Train {
		mode = pack.Train
	}
	begun, problem := r.Begin(Choice{Handler: handler, Mode: mode, Food: r.s.Food, Deck: len(b.Deck) > 0})
	if problem != nil {
		problem.Field = "handles" // where it was chosen
		return nil, problem
	}
	if r.now.Due && !r.now.Answered {
		drafts = append(drafts, r.verdict(r.leftAs()))
	}
	return append(drafts, begun...), nil
}

// leftAs is what ending without an answer means: a repeat was done, anything else was left open.
func (r *Run) leftAs() string {
	switch r.now.Verdict {
	case decision.Repeat, decision.Finished, decision.Held:
		return string(r.now.Verdict)
	}
	return "open"
}

// Share says who holds the dog and who feeds it from here on; nothing where it is so already.
func (r *Run) Share(roles trial.Roles) ([]record.Draft, *Problem) {
	for _, one := range []struct{ field, id string }{{"holds", roles.Holds}, {"feeds", roles.Feeds}} {
		if _, known := pack.Find(r.pack.People, one.id); one.id != "" && !known {
			return nil, &Problem{Field: one.field, Code: NotKnown}
		}
	}
	if roles == r.s.Roles {
		return nil, nil
	}
	return []record.Draft{record.NewDraft(record.KRoles, roles)}, nil
}
