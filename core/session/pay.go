package session

import (
	"encoding/json"
	"hash/fnv"

	"patientfox/core/decision"
	"patientfox/core/progression"
	"patientfox/core/record"
	"patientfox/core/reinforce"
	"patientfox/core/trial"
)

// Rung is how far thinning has come by now: what the record says, and what this session did to it.
func (r *Run) Rung() int {
	b := r.Block()
	if b == nil {
		return max(1, r.pack.Rung)
	}
	return r.pack.Climbed(r.s, b)
}

// paid is what a met trial earns by the schedule.
type Earned struct {
	Pay        bool
	LifeReward bool // with what the dog wanted itself
}

// Seed makes the schedule of a step in a session the same on every device.
func (r *Run) Seed(step string) uint64 {
	h := fnv.New64a()
	h.Write([]byte(r.s.ID + step))
	return h.Sum64()
}

// Here are the met trials at today's step since the dog came to it: how many, how many of them were paid, and their
// latencies after those of earlier sessions.
func (r *Run) Here(step string) (met, paid int, latencies []float64) {
	b := r.Block()
	if b == nil {
		return 0, 0, nil
	}
	from := -1.0
	for _, m := range r.s.Moves {
		if m.Followed && m.To == step && r.s.PlanOf(m.Block) == b.Plan {
			from = m.At
		}
	}
	latencies = append(latencies, r.pack.Lately[step].Latencies...)
	for _, t := range r.s.Trials {
		if t.Step != step || t.At < from || !t.Counted() || t.Outcome != trial.Met || r.s.PlanOf(t.Block) != b.Plan {
			continue
		}
		met++
		if t.Pays > 0 {
			paid++
		}
		if t.LatencyS != nil {
			latencies = append(latencies, *t.LatencyS)
		}
	}
	return met, paid, latencies
}

// Earns says whether a met trial that ends now is paid. Easy trials, and those by which a dog is placed or
// probed, always are; a hold that was paid inside is not paid again at its release.
func (r *Run) Earns(at float64, easy bool) Earned {
	step := r.step().ID
	pay := r.pack.PayAt(step)
	switch {
	case r.Doing() == record.Baseline:
		return Earned{}
	case r.s.Trying != nil && r.PaidInside() && !pay.Release:
		return Earned{}
	case easy || r.Doing() != record.Train:
		return Earned{Pay: true}
	}
	met, paid, latencies := r.Here(step)
	schedule := pay.Schedule.At(r.Rung())
	due := schedule.Pays(met, r.Seed(step))
	if schedule.Way == reinforce.Best && r.s.Trying != nil {
		due = schedule.PaysBest(at-r.s.Trying.From, latencies)
	}
	return Earned{due, due && reinforce.PaysLifeReward(paid, pay.LifeReward, r.Seed(step))}
}

// PaidInside tells whether the trial under way was paid already.
func (r *Run) PaidInside() bool { return r.s.Trying != nil && r.s.Trying.Pays > 0 }

// Left is how many pieces are left of those that were counted out; known is false where none were.
func (r *Run) Left() (n int, known bool) {
	if r.s.Pieces == nil {
		return 0, false
	}
	return max(0, *r.s.Pieces-r.PaidPieces()), true
}

// pays is one pay from the hand, or of what the dog wanted itself; none where the hand is empty.
func (r *Run) pays(e Earned) []record.Draft {
	one := func(d record.PayData) []record.Draft { return []record.Draft{record.NewDraft(record.KPay, d)} }
	if e.LifeReward {
		return one(record.PayData{LifeReward: true})
	}
	pieces := r.pack.PayAt(r.step().ID).Piece()
	if n := r.Breakthrough(); n > 0 {
		pieces = n
	}
	if r.Finishing() {
		pieces = max(pieces, r.pack.PayAt(r.step().ID).Jackpot, finishPieces)
	}
	if left, known := r.Left(); known {
		pieces = min(pieces, left)
	}
	if pieces <= 0 {
		return nil
	}
	return one(record.PayData{Pieces: pieces})
}

// TopUp adds pieces, as typed, to those that were counted out.
func (r *Run) TopUp(typed string) ([]record.Draft, *Problem) {
	n, problem := whole("more-pieces", typed, maxPieces)
	switch {
	case problem != nil:
		return nil, problem
	case n == nil || *n == 0:
		return nil, &Problem{Field: "more-pieces", Code: NothingCounted}
	}
	all := *n
	if r.s.Pieces != nil {
		all += *r.s.Pieces
	}
	if all > maxPieces {
		return nil, &Problem{Field: "more-pieces", Code: NotWhole, Most: maxPieces - all + *n}
	}
	set := map[string]json.RawMessage{"pieces": encode(all)}
	return []record.Draft{record.NewDraft(record.KAmend, record.AmendData{Target: r.s.Opened, Set: set})}, nil
}

// maxPieces is how many can be counted out.
const maxPieces = 5000

// Breakthrough is how many pieces the step up that waits is worth, 0 where none waits or it has been paid.
func (r *Run) Breakthrough() int {
	if r.Phase() != Deciding || r.now.Verdict != decision.StepUp && r.now.Verdict != decision.Finished {
		return 0
	}
	jackpot := r.pack.PayAt(r.step().ID).Jackpot
	for _, p := range r.s.Pays {
		if p.Trial == r.now.Trial && p.Pieces >= jackpot {
			return 0
		}
	}
	return jackpot
}

// finishPieces is what the easy trial at the end earns at least.
const finishPieces = 3

// Finishing tells whether the dog was brought to an easy step to finish on.
func (r *Run) Finishing() bool {
	b := r.Block()
	if b == nil {
		return false
	}
	last := false
	for _, m := range r.s.Moves {
		if m.Block == b.ID && m.Followed {
			last = m.Why == progression.WhyFinish
		}
	}
	return last
}

// Foods are the foods that can be paid with at a place, for a step: the fitting one first.
func (r *Run) Foods(place, step string) []reinforce.Reward {
	pay := r.pack.PayAt(step)
	return reinforce.InHand(r.pack.Foods, pay.Tier, place, r.pack.Bans[place])
}

// takes puts another food into the hand, nothing where it is there already.
func (r *Run) takes(place, step, chosen string) []record.Draft {
	list := r.Foods(place, step)
	if len(list) == 0 {
		return nil
	}
	food := list[0]
	for _, one := range r.pack.Foods {
		if one.ID == chosen {
			food = one
		}
	}
	if food.ID == r.s.Food {
		return nil
	}
	return []record.Draft{record.NewDraft(record.KFood, record.FoodData{Reward: food.ID, Tier: food.Tier})}
}

// Take puts a food into the hand in the middle of a session.
func (r *Run) Take(food string) []record.Draft {
	if r.Block() == nil || r.s.Ended != nil {
		return nil
	}
	return r.takes(r.s.Place, r.step().ID, food)
}
