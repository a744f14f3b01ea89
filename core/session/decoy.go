package session

import (
	"slices"

	"patientfox/core/care"
	"patientfox/core/deal"
	"patientfox/core/progression"
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

// Movement is what is to be done with the hand next.
type Movement string

// The movements.
const (
	Real     Movement = "real"  // what the step asks for
	Decoy    Movement = "decoy" // nothing follows
	ToolShow Movement = "tool"  // the tool is taken out, paid, and put away untouched
)

// NextMove is the movement that comes next, as the session was dealt.
func (r *Run) NextMove() Movement {
	if !r.Decoyed() {
		return Real
	}
	return r.decoyAfter(r.decoysMade())
}

// MovesAhead tells of the next three movements what they are; none where the plan has no decoys.
func (r *Run) MovesAhead() (ahead []Movement) {
	if !r.movesNow() || r.pack.DecoyIn == 0 {
		return nil
	}
	made := r.decoysMade()
	for _, decoy := range r.decoys().Ahead(r.movements(), aheadShown) {
		if !decoy {
			ahead = append(ahead, Real)
			continue
		}
		ahead = append(ahead, r.decoyAfter(made))
		made++
	}
	return ahead
}

// decoyAfter is what the decoy after so many others of the plan is. The bare hand, however it is called, has nothing to show.
func (r *Run) decoyAfter(made int) Movement {
	_, steps := r.Position()
	tools := progression.Tools(steps)
	if !r.Kind().HandsOn || slices.Index(tools, r.Tool()) < 1 || care.BareHand(r.Tool()) || !r.decoys().Shows(made) {
		return Decoy
	}
	return ToolShow
}

// decoysMade are how many decoys the running plan had in this session.
func (r *Run) decoysMade() (n int) {
	for _, one := range r.s.Decoys {
		if r.s.PlanOf(one.Block) == r.Block().Plan {
			n++
		}
	}
	return n
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

// decoy logs one. A tool that is shown is paid for, whatever the dog does.
func (r *Run) decoy(what Movement) []record.Draft {
	if what != ToolShow {
		return []record.Draft{record.NewDraft(record.KDecoy, record.DecoyData{})}
	}
	shown := []record.Draft{record.NewDraft(record.KDecoy, record.DecoyData{Tool: r.Tool()})}
	if !r.hasPay() {
		return shown
	}
	return append(shown, r.gives(r.pack.PayAt(r.step().ID).Piece(), record.PayData{Apart: true, Reason: shownReason})...)
}

// shownReason is why a tool that was shown is paid.
const shownReason = "tool shown"
