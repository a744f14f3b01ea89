package field

import (
	"fmt"
	"hash/fnv"
	"math"

	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/progression"
	"patientfox/core/record"
	"patientfox/core/reinforce"
	"patientfox/core/say"
	"patientfox/core/trial"
)

// rung is how far thinning has come by now: what the record says, and what this session did to it.
func (r *Run) rung() int {
	b := r.block()
	if b == nil {
		return max(1, r.pack.Rung)
	}
	return r.pack.Climbed(r.s, b)
}

// paid is what a met trial earns by the schedule.
type earned struct {
	Pay bool
	Own bool // with what the dog wanted itself
}

// seed makes the schedule of a step in a session the same on every device.
func (r *Run) seed(step string) uint64 {
	h := fnv.New64a()
	h.Write([]byte(r.s.ID + step))
	return h.Sum64()
}

// here are the met trials at today's step since it was come to: how many, how many of them were paid, and their
// latencies after those of earlier sessions.
func (r *Run) here(step string) (met, paid int, latencies []float64) {
	b := r.block()
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

// earns says whether a met trial that ends now is paid. Easy trials, and those by which a dog is placed or
// probed, always are; a hold that was paid inside is not paid again at its release.
func (r *Run) earns(at float64, easy bool) earned {
	step := r.step().ID
	pay := r.pack.PayAt(step)
	switch {
	case r.doing() == record.Baseline:
		return earned{}
	case r.s.Trying != nil && r.paidInside() && !pay.Release:
		return earned{}
	case easy || r.doing() != record.Train:
		return earned{Pay: true}
	}
	met, paid, latencies := r.here(step)
	schedule := pay.Schedule.At(r.rung())
	due := schedule.Pays(met, r.seed(step))
	if schedule.Way == reinforce.Best && r.s.Trying != nil {
		due = schedule.PaysBest(at-r.s.Trying.From, latencies)
	}
	return earned{due, due && reinforce.PaysOwn(paid, pay.Own, r.seed(step))}
}

func (r *Run) paidInside() bool { return r.s.Trying != nil && r.s.Trying.Pays > 0 }

// payLine says what the trial under way, or the next one, earns: "" where every one is simply paid.
func (r *Run) payLine(at float64) string {
	if n := r.breakthrough(); n > 0 {
		return fmt.Sprintf("A breakthrough: pay %s, one after another", say.Count(n, "piece"))
	}
	if phase := r.phase(); phase != Idle && phase != Trying || r.doing() != record.Train || r.work().ByState {
		return ""
	}
	step := r.ahead()
	pay := r.pack.PayAt(step.ID)
	if line := r.insideLine(step, pay, at); line != "" {
		return line
	}
	met, paid, latencies := r.here(step.ID)
	schedule := pay.Schedule.At(r.rung())
	due := schedule.Pays(met, r.seed(step.ID))
	if schedule.Way == reinforce.Best {
		limit, all := schedule.BestLimit(latencies)
		if all {
			return ""
		}
		return "Paid within " + say.Seconds(math.Round(limit*10)/10) + ", else praise"
	}
	switch {
	case !due:
		return "This one: praise, no food"
	case reinforce.PaysOwn(paid, pay.Own, r.seed(step.ID)):
		return "This one is paid with " + pay.OwnIs
	case pay.Own > 0:
		return "Pick " + pay.OwnIs + " up first, then pay"
	case schedule.PaidShare() < 1:
		return "This one is paid"
	}
	return ""
}

// payNow says that a pay inside the hold is due.
const payNow = "Pay now, in position"

// insideLine says when the next pay inside a long hold comes.
func (r *Run) insideLine(step progression.Step, pay reinforce.Strategy, at float64) string {
	seconds := step.Criteria.Get(criteria.Duration)
	if target, varied := r.Target()[criteria.Duration]; varied {
		seconds = target
	}
	usual := reinforce.Cycle{DurationS: seconds, DeliverS: reinforce.UsualDeliverS, ResetS: reinforce.UsualResetS}
	if c, n := reinforce.Measured(nil, r.pack.Lately[step.ID].Between, seconds); n > 0 {
		usual = c
	}
	if !r.work().Holds || !pay.NeedsInside(usual) {
		return ""
	}
	met, _, _ := r.here(step.ID)
	times := reinforce.PayTimes(seconds, pay.Band.Lo, r.seed(step.ID)+uint64(met))
	if r.s.Trying == nil {
		return fmt.Sprintf("Pay inside: %s, the first at %s s", say.Count(len(times), "time"), criteria.Figure(math.Round(times[0])))
	}
	given := r.s.Trying.Pays
	if given >= len(times) {
		return "Paid inside: release it"
	}
	if at-r.s.Trying.From >= times[given] {
		return payNow
	}
	return fmt.Sprintf("Next pay at %s s", criteria.Figure(math.Round(times[given])))
}

// paid is one pay from the hand, or of what the dog wanted itself.
func (r *Run) paid(e earned) record.Draft {
	if e.Own {
		return record.NewDraft(record.KPay, record.Pay{Own: true})
	}
	pieces := r.pack.PayAt(r.step().ID).Piece()
	if n := r.breakthrough(); n > 0 {
		pieces = n
	}
	if r.finishing() {
		pieces = max(pieces, r.pack.PayAt(r.step().ID).Jackpot, finishPieces)
	}
	return record.NewDraft(record.KPay, record.Pay{Pieces: pieces})
}

// breakthrough is how many pieces the step up that waits is worth, 0 where none waits or it has been paid.
func (r *Run) breakthrough() int {
	if r.phase() != Deciding || r.now.Verdict != decision.StepUp && r.now.Verdict != decision.Finished {
		return 0
	}
	jackpot := r.pack.PayAt(r.step().ID).Jackpot
	for _, p := range r.s.Pays {
		if p.Trial == r.now.trial && p.Pieces >= jackpot {
			return 0
		}
	}
	return jackpot
}

// finishPieces is what the easy trial at the end earns at least.
const finishPieces = 3

// finishing tells whether the dog was brought to an easy step to finish on.
func (r *Run) finishing() bool {
	b := r.block()
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

// foods are the foods that can be paid with at a place, for a step: the fitting one first.
func (r *Run) foods(place, step string) []reinforce.Reward {
	pay := r.pack.PayAt(step)
	return reinforce.InHand(r.pack.Foods, pay.Tier, place, r.pack.Bans[place])
}

// takes puts another food into the hand, nothing where it is there already.
func (r *Run) takes(place, step, chosen string) []record.Draft {
	list := r.foods(place, step)
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
	return []record.Draft{record.NewDraft(record.KFood, record.Food{Reward: food.ID, Tier: food.Tier})}
}

// Take puts a food into the hand in the middle of a session.
func (r *Run) Take(food string) []record.Draft {
	if r.block() == nil || r.s.Ended != nil {
		return nil
	}
	return r.takes(r.s.Place, r.step().ID, food)
}

// foodLine says what is in the hand, how much is left of it, and for how long.
func (r *Run) foodLine(at float64) (line string, gone bool) {
	name := ""
	for _, one := range r.pack.Foods {
		if one.ID == r.s.Food {
			name = one.Name
		}
	}
	if r.s.Pieces == nil {
		return name, false
	}
	left := max(0, *r.s.Pieces-r.paidPieces())
	line = say.Count(left, "piece") + " left"
	if left <= reinforce.Reserve {
		return line, true
	}
	if clock, begun := r.clock(); begun {
		// The first minute says little about how fast they go.
		if active := clock.Active(at); active >= 60 {
			eaten := 0
			for _, p := range r.s.Pays {
				if p.Block == r.block().ID {
					eaten += p.Pieces
				}
			}
			if in, ok := reinforce.RunsOut(left, reinforce.Reserve, eaten, active/60); ok {
				line += fmt.Sprintf(", about %s", say.Count(int(math.Round(in)), "minute"))
			}
		}
	}
	if name != "" {
		line += " · " + name
	}
	return line, false
}
