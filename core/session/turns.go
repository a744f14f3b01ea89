package session

import (
	"hash/fnv"

	"patientfox/core/decision"
	"patientfox/core/pack"
	"patientfox/core/progression"
	"patientfox/core/record"
	"patientfox/core/trial"
)

// Instead is the beginning of the key of what the dog did instead; its name follows.
const Instead = "instead:"

// mixTrials is for how many trials an order by chance is made.
const mixTrials = 120

// Lanes are the blocks that are worked in turn with the running one; nil where there are none.
func (r *Run) Lanes() []*record.Block {
	if b := r.Block(); b != nil {
		return r.s.InTurn(b)
	}
	return nil
}

// Mixed tells whether several skills of one dog are mixed.
func (r *Run) Mixed() bool {
	lanes := r.Lanes()
	for _, b := range lanes {
		if b.Dog != lanes[0].Dog {
			return false
		}
	}
	return len(lanes) > 0
}

// SameWork tells whether a block is the running one, or mixed with it: what is paid there counts as paid here.
func (r *Run) SameWork(block string) bool {
	if b := r.Block(); b == nil || b.ID == block {
		return b != nil
	}
	if !r.Mixed() {
		return false
	}
	for _, b := range r.Lanes() {
		if b.ID == block {
			return true
		}
	}
	return false
}

// holds makes the pack that of the block that is worked.
func (r *Run) holds() {
	b := r.Block()
	if b == nil || b.Plan == r.pack.Plan && b.Level == r.pack.Level || r.renewed {
		return
	}
	if p := r.packFor(b.Plan); p != nil {
		r.pack = r.standsNow(*p).ForLevel(b.Level)
		r.disarm()
	}
}

// turns hands the work to the skill that comes next in a mixed block, or back to the one beside which another was worked, once nothing
// waits to be answered. It stands in the log with the next press.
func (r *Run) turns() {
	r.inTurn = nil
	if r.renewed || r.s.Ended != nil || r.s.Paused || r.s.Trying != nil || r.Phase() != Idle {
		return
	}
	next := r.Block()
	if n, of := r.Interlude(); of > 0 && n >= of {
		next = r.s.Before(r.Block())
	} else if r.Mixed() {
		next = r.nextLane()
	}
	if next == nil || next == r.Block() {
		return
	}
	switch {
	case r.counting():
		r.inTurn = r.take()
	case r.now.Due && !r.now.Answered:
		r.inTurn = []record.Draft{r.verdict(string(decision.Repeat))}
	}
	r.inTurn = append(r.inTurn, record.NewDraft(record.KTurn, record.TurnData{Block: next.ID}))
	r.s.At = next
	r.holds()
	r.now = r.decide(false, 0)
}

// Interlude is how many trials the running block has had of those for which it is worked beside another; of is 0 for a block of its own.
func (r *Run) Interlude() (n, of int) {
	b := r.Block()
	if b == nil || b.Interlude == 0 {
		return 0, 0
	}
	for i := range r.s.Trials {
		if t := &r.s.Trials[i]; t.Block == b.ID && t.Outcome != trial.Void {
			n++
		}
	}
	return n, b.Interlude
}

// nextLane is whose turn it is: each skill as often as the others, in an order by chance that every device makes alike.
func (r *Run) nextLane() *record.Block {
	lanes := r.Lanes()
	n := 0
	ids := make([]string, len(lanes))
	for i, b := range lanes {
		ids[i] = b.ID
		for t := range trial.Each(r.s.Trials) {
			if t.Block == b.ID && t.At >= lanes[len(lanes)-1].At && t.Outcome != trial.Void {
				n++
			}
		}
	}
	hash := fnv.New64a()
	hash.Write([]byte(r.s.ID + ids[0]))
	id := progression.Shuffled(ids, mixTrials, hash.Sum64())[n%mixTrials]
	for _, b := range lanes {
		if b.ID == id {
			return b
		}
	}
	return lanes[0]
}

// asked is the skill that a trial of a mixed block asks for, "" elsewhere.
func (r *Run) asked() string {
	if r.Mixed() {
		return r.Block().Skill
	}
	return ""
}

// Others are what a dog may have done instead, after a miss of a mixed block of which it was not said yet.
func (r *Run) Others() (names []string) {
	if !r.mixesSkills() || len(r.s.Trials) == 0 || r.s.Trying != nil {
		return nil
	}
	last := r.s.Trials[len(r.s.Trials)-1]
	if last.Outcome != trial.Missed || last.Instead != "" {
		return nil
	}
	for _, b := range r.Lanes() {
		if b.ID != last.Block && b.Skill != r.skillIn(last.Block) {
			names = append(names, r.skillOf(b))
		}
	}
	return append(names, "nothing")
}

// PackOf is the pack of a block.
func (r *Run) PackOf(b *record.Block) *pack.Pack {
	for i := range r.packs {
		if r.packs[i].Plan == b.Plan {
			return &r.packs[i]
		}
	}
	return &r.pack
}

// skillIn is the id of the skill of a block.
func (r *Run) skillIn(block string) string {
	for _, b := range r.s.Blocks {
		if b.ID == block {
			return b.Skill
		}
	}
	return ""
}

func (r *Run) skillOf(b *record.Block) string { return r.PackOf(b).SkillName }

// OtherDog is the block of the dog that rests, nil where one dog works alone.
func (r *Run) OtherDog() *record.Block {
	lanes := r.Lanes()
	if r.Mixed() {
		return nil
	}
	for i, b := range lanes {
		if b == r.Block() {
			return lanes[(i+1)%len(lanes)]
		}
	}
	return nil
}

// swap goes on with another block: lets the other dog work, or goes back from an interlude.
func (r *Run) swap(to *record.Block) (drafts []record.Draft) {
	if r.now.Due && !r.now.Answered {
		drafts = append(drafts, r.verdict(r.leftAs()))
	}
	return append(drafts, record.NewDraft(record.KTurn, record.TurnData{Block: to.ID}))
}

// Alternating is the step worked in turn with today's, where two are.
func (r *Run) Alternating() (other string, on bool) {
	b := r.Block()
	if b == nil {
		return "", false
	}
	for _, m := range r.s.Moves {
		if m.Block == b.ID && m.Followed {
			other, on = m.From, m.Why == progression.WhyTurn
		}
	}
	return other, on
}

// otherStep is the step that the next trial asks, where two are worked in turn and today's had its trial.
func (r *Run) otherStep() (step string, due bool) {
	step, on := r.Alternating()
	if !on {
		return "", false
	}
	b := r.Block()
	from := 0.0
	for _, m := range r.s.Moves {
		if m.Block == b.ID && m.Followed {
			from = m.At
		}
	}
	for t := range trial.Each(r.s.Trials) {
		if t.Block == b.ID && t.At > from && t.Step == b.Position.Today && t.Outcome != trial.Void {
			return step, true
		}
	}
	return "", false
}

// isTurn tells whether the next trial is the other step's.
func (r *Run) isTurn() bool {
	_, due := r.otherStep()
	return due
}

// alternate begins to take today's step and the one below in turn, or goes back to the reached one.
func (r *Run) alternate() []record.Draft {
	place, _ := r.Position()
	if _, on := r.Alternating(); on {
		if place.Below() {
			return []record.Draft{record.NewDraft(record.KMove, record.MoveData{From: place.Today, To: place.Reached, Why: progression.WhyRegain})}
		}
		return []record.Draft{record.NewDraft(record.KMove, record.MoveData{From: place.Today, To: place.Today, Why: progression.WhyRegain})}
	}
	return r.moves(-1, progression.WhyTurn)
}
