package session

import (
	"patientfox/core/deal"
	"patientfox/core/record"
)

// movements are those of the running plan in this session so far, real ones and decoys, oldest first.
func (r *Run) movements() (made []deal.Movement) {
	b := r.Block()
	decoys := r.s.Decoys
	for i := range r.s.Trials {
		t := &r.s.Trials[i]
		if t.State == nil || r.s.PlanOf(t.Block) != b.Plan {
			continue
		}
		for ; len(decoys) > 0 && decoys[0].At <= t.From; decoys = decoys[1:] {
			if r.s.PlanOf(decoys[0].Block) == b.Plan {
				made = append(made, deal.Movement{Decoy: true})
			}
		}
		made = append(made, deal.Movement{State: t.Shown()})
	}
	for _, one := range decoys {
		if r.s.PlanOf(one.Block) == b.Plan {
			made = append(made, deal.Movement{Decoy: true})
		}
	}
	return made
}

func (r *Run) decoys() deal.Decoys {
	return deal.Decoys{Seed: r.Seed("decoys " + r.pack.Plan), In: r.pack.DecoyIn}
}

// movesNow tells whether a movement towards the dog comes next, a decoy or a real one: where the work has states, and nothing is
// waited for.
func (r *Run) movesNow() bool {
	waits := r.s.Away != nil || r.Worried() != nil || r.Playing() != nil
	return r.Phase() == Idle && r.Kind().ByState && !waits && !r.Stopped() && !r.Warned()
}

// Decoyed tells whether the next movement is a decoy, as the session was dealt.
func (r *Run) Decoyed() bool {
	return r.movesNow() && r.pack.DecoyIn > 0 && r.decoys().Next(r.movements())
}

// MovesAhead tells of the next three movements whether they are decoys; none where the plan has no decoys.
func (r *Run) MovesAhead() []bool {
	if !r.movesNow() || r.pack.DecoyIn == 0 {
		return nil
	}
	return r.decoys().Ahead(r.movements(), aheadShown)
}

// aheadShown is how many movements are told beforehand.
const aheadShown = 3

// Unreacted is the last decoy while nobody has said how the dog reacted to it and no movement has followed; nil for any other.
func (r *Run) Unreacted() *record.Decoy {
	n := len(r.s.Decoys)
	if n == 0 || r.s.Trying != nil || r.Phase() != Idle {
		return nil
	}
	if last := &r.s.Decoys[n-1]; last.Reaction == "" && !r.triedSince(last.At) {
		return last
	}
	return nil
}

// decoy logs one.
func (r *Run) decoy() []record.Draft {
	return []record.Draft{record.NewDraft(record.KDecoy, record.DecoyData{})}
}
