package session

import (
	"encoding/json"
	"hash/fnv"
	"math"
	"slices"

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

// Here are the trials at a step since the dog came to it: how many met ones the schedule dealt with, how many were paid, and the latencies
// of the met ones after those of earlier sessions. A card of the deck goes by the schedule, whatever it asks.
func (r *Run) Here(step string) (met, paid int, latencies []float64) {
	b := r.Block()
	if b == nil {
		return 0, 0, nil
	}
	from := -1.0
	for _, m := range r.s.Moves {
		if m.Followed && m.To == step && r.s.LineOf(m.Block) == b.Line() {
			from = m.At
		}
	}
	latencies = append(latencies, r.pack.Lately[step].Latencies...)
	for t := range trial.Each(r.s.Trials) {
		if t.Step != step || t.At < from || r.s.LineOf(t.Block) != b.Line() {
			continue
		}
		if t.Pays > 0 {
			paid++
		}
		if t.Outcome != trial.Met || t.Waits || t.Easy && t.Card == 0 {
			continue
		}
		met++
		if t.LatencyS != nil && !t.Easy {
			latencies = append(latencies, *t.LatencyS)
		}
	}
	return met, paid, latencies
}

// Earns says whether a met trial that ends now is paid. Easy trials of the step, and those by which a dog is placed or
// probed, always are; a hold that was paid inside is not paid again at its release.
func (r *Run) Earns(at float64, easy bool) Earned {
	step := r.Ahead().ID
	pay := r.pack.PayAt(step)
	switch {
	case r.Doing() == record.Baseline:
		return Earned{}
	case r.s.Trying != nil && r.PaidInside() && !pay.Release:
		return Earned{}
	case r.Finishing() || r.Doing() != record.Train:
		return Earned{Pay: true}
	}
	met, paid, latencies := r.Here(step)
	schedule := pay.Schedule.At(r.Rung())
	due := easy || schedule.Pays(met, r.Seed(step))
	if !easy && schedule.Way == reinforce.Best && r.s.Trying != nil {
		due = schedule.PaysBest(at-r.s.Trying.From, latencies)
	}
	return Earned{due, due && !r.hadLifeReward() && reinforce.PaysLifeReward(paid, pay.LifeReward, r.Seed(step))}
}

// hadLifeReward tells whether the dog just had what it wanted itself. It never has it twice running, whoever gave the last one: the
// schedule or a key.
func (r *Run) hadLifeReward() bool {
	n := len(r.s.Pays)
	return n > 0 && r.s.Pays[n-1].LifeReward
}

// Easy tells whether the trial under way, or the next one, asks for less than the step on purpose.
func (r *Run) Easy() bool { return r.asksLess(r.Target()) || r.Finishing() }

// PaidInside tells whether the trial under way was paid already.
// Where it has phases each is paid for itself.
func (r *Run) PaidInside() bool {
	return r.s.Trying != nil && r.s.Trying.Pays > 0 && len(r.Block().Phases) == 0
}

// Left is how many pieces are left of those that were counted out; known is false where none were.
func (r *Run) Left() (n int, known bool) {
	if r.s.Pieces == nil {
		return 0, false
	}
	return max(0, *r.s.Pieces-r.PaidPieces()), true
}

// Reserve is how many of the pieces that were counted out are kept for the finish, 0 where none were.
func (r *Run) Reserve() int {
	if r.s.Pieces == nil {
		return 0
	}
	return reinforce.ReserveOf(*r.s.Pieces)
}

// pays is one pay from the hand, or of what the dog wanted itself; none where the hand is empty.
func (r *Run) pays(e Earned) []record.Draft {
	if e.LifeReward {
		return []record.Draft{record.NewDraft(record.KPay, record.PayData{LifeReward: true})}
	}
	pieces := r.pack.PayAt(r.step().ID).Piece()
	if n := r.Breakthrough(); n > 0 {
		pieces = n
	}
	if r.Finishing() {
		pieces = max(pieces, r.pack.PayAt(r.step().ID).Jackpot, finishPieces)
	}
	return r.gives(pieces, record.PayData{})
}

// gives pays with what is in the hand: so many pieces of food as far as they last, or something that takes its time; none where the hand
// is empty.
func (r *Run) gives(pieces int, d record.PayData) []record.Draft {
	with := r.InHand()
	if with.ID != r.s.Food {
		d.Reward = with.ID
	}
	if with.Kind != reinforce.Food {
		d.As = with.Kind
		return []record.Draft{record.NewDraft(record.KPay, d)}
	}
	if left, known := r.Left(); known {
		pieces = min(pieces, left)
	}
	if pieces <= 0 {
		return nil
	}
	d.Pieces = pieces
	return []record.Draft{record.NewDraft(record.KPay, d)}
}

// InHand is what the next pay is made with: what was taken in the hand, or the other where two take turns. Food that nobody named is one
// without a name.
func (r *Run) InHand() reinforce.Reward {
	id := r.s.Food
	if r.s.FoodTurn != "" && r.turned() {
		id = r.s.FoodTurn
	}
	if reward, known := r.Reward(id); known {
		return reward
	}
	return reinforce.Reward{ID: id, Kind: reinforce.Food}
}

// turned tells whether the second of two rewards is due: every other time. A stimulus goes with the first as long as it is on, and the
// second fills the time between.
func (r *Run) turned() bool {
	if r.Kind().Pairs {
		return r.s.Trying == nil
	}
	return r.s.FoodPays%2 == 1
}

// hasPay tells whether there is anything left to pay with.
func (r *Run) hasPay() bool {
	left, known := r.Left()
	return r.InHand().Kind != reinforce.Food || !known || left > 0
}

// Reward is a reward that the dog can be paid with, by its id.
func (r *Run) Reward(id string) (reward reinforce.Reward, known bool) {
	for _, one := range slices.Concat(r.pack.Foods, reinforce.Usual) {
		if one.ID == id {
			return one, true
		}
	}
	return reward, false
}

// Playing is the pay that takes its time now: play, food that lasts, a release. Nil where none does; the next trial ends it.
func (r *Run) Playing() *record.Payment {
	n := len(r.s.Pays)
	if n == 0 || r.s.Trying != nil || r.s.Ended != nil {
		return nil
	}
	if last := &r.s.Pays[n-1]; last.Lasts() && last.Seconds == nil && !r.triedSince(last.At) {
		return last
	}
	return nil
}

// triedSince tells whether a trial was closed after a moment, s.
func (r *Run) triedSince(at float64) bool {
	for i := len(r.s.Trials) - 1; i >= 0; i-- {
		if r.s.Trials[i].At > at {
			return true
		}
	}
	return false
}

// endsPlay says how long the pay lasted that takes its time, none where none does.
func (r *Run) endsPlay(at float64) []record.Draft {
	playing := r.Playing()
	if playing == nil {
		return nil
	}
	seconds := max(0, math.Round(10*(at-playing.At))/10)
	set := map[string]json.RawMessage{"s": encode(seconds)}
	return []record.Draft{record.NewDraft(record.KAmend, record.AmendData{Target: playing.ID, Set: set})}
}

// usualJackpot is how many pieces a jackpot has where the plan says none.
const usualJackpot = 5

// jackpot pays several pieces, one after another.
func (r *Run) jackpot() []record.Draft {
	pieces := r.pack.PayAt(r.step().ID).Jackpot
	if pieces == 0 {
		pieces = usualJackpot
	}
	return r.gives(pieces, record.PayData{Jackpot: true})
}

// Unreasoned is the last pay, where it was a jackpot or for something else and nobody has said why yet; nil for any other.
func (r *Run) Unreasoned() *record.Payment {
	n := len(r.s.Pays)
	if n == 0 || r.s.Trying != nil || r.s.Ended != nil {
		return nil
	}
	if last := &r.s.Pays[n-1]; (last.Jackpot || last.Apart) && last.Reason == "" && !r.triedSince(last.At) {
		return last
	}
	return nil
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

// Beside are the other rewards that can be paid with at a place: they take their time.
func (r *Run) Beside(place string) []reinforce.Reward {
	return reinforce.Beside(r.pack.Foods, place, r.pack.Bans[place])
}

// takes puts another reward into the hand, nothing where it is there already.
func (r *Run) takes(place, step string, chosen Hold) []record.Draft {
	list := r.Foods(place, step)
	reward, known := r.Reward(chosen.Food)
	if !known && len(list) > 0 {
		reward = list[0] // else food that nobody named
	}
	turn, turns := r.Reward(chosen.Turn)
	if !turns || turn.ID == reward.ID {
		turn.ID = ""
	}
	if reward.ID == r.s.Food && turn.ID == r.s.FoodTurn {
		return nil
	}
	return []record.Draft{record.NewDraft(record.KFood, record.FoodData{Reward: reward.ID, Tier: reward.Tier, Turn: turn.ID})}
}

// Hold is what is taken in the hand, by id: a reward, "" for the one that fits, and another with which it takes turns, "" for none.
type Hold struct {
	Food string `json:"food"`
	Turn string `json:"turn"`
}

// Take puts a reward into the hand in the middle of a session.
func (r *Run) Take(h Hold) []record.Draft {
	if r.Block() == nil || r.s.Ended != nil {
		return nil
	}
	return r.takes(r.s.Place, r.step().ID, h)
}
