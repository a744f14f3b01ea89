package session

import (
	"slices"

	"patientfox/core/pack"
	"patientfox/core/trial"
)

// maxQuota is how many trials a side can have before it is the other's turn.
const maxQuota = 100

// share reads the number of trials of a side, as it was chosen; as many as the other side had where nothing was, 0 where the plan has
// one side.
func (r *Run) share(c Choice) (int, *Problem) {
	n, problem := whole("quota", c.Quota, maxQuota)
	switch {
	case problem != nil:
		return 0, problem
	case n != nil && *n == 0:
		return 0, &Problem{Field: "quota", Code: NotOneUp, Most: maxQuota}
	case len(r.pack.Tracks) == 0:
		return 0, nil
	case n == nil:
		return r.lastShare(), nil
	}
	return *n, nil
}

// lastShare is the number of trials that the other side was given last in this session, 0 for none: each side has as many.
func (r *Run) lastShare() int {
	for _, b := range slices.Backward(r.s.Blocks) {
		if slices.ContainsFunc(r.pack.Tracks, func(side pack.Option) bool { return side.ID == b.Plan }) {
			return b.Quota
		}
	}
	return 0
}

// Side is one side of a ladder in this session.
type Side struct {
	pack.Option
	Trials int  // so far
	Here   bool // it is worked now
}

// Sides are all sides of the running plan with how many trials each had, the one that is worked first; none where it has one side.
func (r *Run) Sides() (sides []Side) {
	b := r.Block()
	if b == nil || len(r.pack.Tracks) == 0 {
		return nil
	}
	n := map[string]int{}
	for i := range r.s.Trials {
		if t := &r.s.Trials[i]; t.Outcome != trial.Void && !t.Waits {
			n[r.s.PlanOf(t.Block)]++
		}
	}
	sides = append(sides, Side{pack.Option{ID: b.Plan, Name: r.pack.Track}, n[b.Plan], true})
	for _, other := range r.pack.Tracks {
		sides = append(sides, Side{Option: other, Trials: n[other.ID]})
	}
	return sides
}

// OtherSide is the side whose turn it is: the running one has had its number of trials, or half of the food has gone and another side
// has had none. ok is false while none is due.
func (r *Run) OtherSide() (side Side, ok bool) {
	sides := r.Sides()
	if len(sides) == 0 || r.Mixed() {
		return side, false
	}
	for _, other := range sides[1:] {
		if side.ID == "" || other.Trials < side.Trials {
			side = other
		}
	}
	b := r.Block()
	inBlock := 0
	for i := range r.s.Trials {
		if t := &r.s.Trials[i]; t.Block == b.ID && t.Outcome != trial.Void && !t.Waits {
			inBlock++
		}
	}
	if b.Quota > 0 {
		return side, inBlock >= b.Quota && side.Trials < sides[0].Trials
	}
	return side, r.s.Pieces != nil && *r.s.Pieces > 0 && 2*r.PaidPieces() >= *r.s.Pieces && side.Trials == 0
}

// mixesSkills tells whether blocks of several skills are mixed, and not the sides of one.
func (r *Run) mixesSkills() bool {
	lanes := r.Lanes()
	for _, b := range lanes {
		if b.Dog == lanes[0].Dog && b.Skill != lanes[0].Skill {
			return r.Mixed()
		}
	}
	return false
}
