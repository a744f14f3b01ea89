package screen

import (
	"fmt"
	"math"
	"slices"

	"patientfox/core/criteria"
	"patientfox/core/phrase"
	"patientfox/core/progression"
	"patientfox/core/record"
	"patientfox/core/reinforce"
	"patientfox/core/say"
	"patientfox/core/session"
)

// PayView is pay as a word.
type PayView struct {
	Word  string  `json:"word"`  // on pace, slow, overdue, or "" without a plan
	Since string  `json:"since"` // "last 9 s ago"
	Next  string  `json:"next"`  // what the next met trial earns, "" where every one is paid
	Food  string  `json:"food"`  // what is in the hand, and what is left of it
	Gone  string  `json:"gone"`  // that nothing is left but what the finish takes
	Due   bool    `json:"due"`   // a pay inside the hold is due now
	Gap   float64 `json:"gap"`   // s between pays at the middle of the planned rate, 0 without one
	Key   string  `json:"key"`   // what the key that pays is called now
	Hand  string  `json:"hand"`  // id of what the next pay is made with
	Turn  string  `json:"turn"`  // id of what takes turns with what is in the hand, "" for nothing
}

func (r Screen) pay(at float64) PayView {
	v := PayView{Next: r.payLine(at), Key: "Pay", Hand: r.InHand().ID, Turn: r.Session().FoodTurn}
	if len(r.Session().Pays) == 0 {
		v.Since = "nothing paid yet"
	}
	if with := r.InHand(); with.Kind != reinforce.Food {
		v.Key = payKeys[with.Kind]
	}
	if r.Playing() != nil {
		v.Key = "It ends"
	}
	v.Due = v.Next == payNow
	if band := r.Pack().PayAt(r.Today().ID).Band; band.Lo > 0 && !r.Kind().PerTrial(r.Today().Criteria) {
		v.Gap = 120 / (band.Lo + max(band.Lo, band.Hi))
	}
	if food, gone := r.foodLine(at); gone {
		v.Food, v.Gone = food, "What is left is kept for the finish."
		if left, _ := r.Left(); left == 0 {
			v.Gone = phrase.NoTreats
		}
	} else {
		v.Food = food
	}
	clock, begun := r.RateClock()
	if !begun {
		return v
	}
	if r.Session().Paused {
		v.Since = "break"
		return v
	}
	if playing := r.Playing(); playing != nil {
		v.Since = fmt.Sprintf("%s for %d s", say.Upper(playedWith(playing)), int(math.Max(0, at-playing.At)))
		return v
	}
	if r.OffNow() {
		return v // nothing is owed while it is not there
	}
	since := clock.Active(at)
	last, unknown := r.lastPaid(clock)
	if last >= 0 {
		since -= last
		v.Since = fmt.Sprintf("last %d s ago", int(math.Max(0, since)))
	}
	if unknown {
		v.Since = ""
	}
	_, waits := r.Waits()
	if band := r.Pack().PayAt(r.Today().ID).Band; band.Lo > 0 && !waits && !r.Kind().PerTrial(r.Today().Criteria) {
		switch {
		case since > band.Overdue():
			v.Word = "overdue"
		case since > 60/band.Lo:
			v.Word = "slow"
		case !unknown:
			v.Word = "on pace"
		}
	}
	return v
}

// lastPaid is when the work was last paid, s of its active time, −1 where it was not. Of what was only tallied nobody knows when it was
// paid: until the next pay it is unknown.
func (r Screen) lastPaid(clock reinforce.Clock) (active float64, unknown bool) {
	active, at := -1.0, -1.0
	for _, p := range r.Session().Pays {
		if r.SameWork(p.Block) {
			active, at = math.Max(active, clock.Active(p.At)), math.Max(at, p.At)
		}
	}
	return active, slices.ContainsFunc(r.Session().Tallied, func(s reinforce.Span) bool { return s.To >= at })
}

// payLine says what the trial under way, or the next one, earns: "" where every one is simply paid.
func (r Screen) payLine(at float64) string {
	if n := r.Breakthrough(); n > 0 {
		return fmt.Sprintf("A breakthrough: pay %s, one after another", say.Count(n, "treat"))
	}
	if phase := r.Phase(); phase != session.Idle && phase != session.Trying || r.Doing() != record.Train || r.Kind().ByState {
		return ""
	}
	step := r.Ahead()
	pay := r.Pack().PayAt(step.ID)
	if line := r.insideLine(step, pay, at); line != "" {
		return line
	}
	schedule := pay.Schedule.At(r.Rung())
	if schedule.Way == reinforce.Best && !r.Easy() {
		_, _, latencies := r.Here(step.ID)
		limit, all := schedule.BestLimit(latencies)
		if all {
			return ""
		}
		return "Paid within " + say.Seconds(math.Round(limit*10)/10) + ", else praise"
	}
	earned := r.Earns(at, r.Easy())
	switch {
	case r.PaidInside() && !pay.Release:
		return ""
	case !earned.Pay:
		return r.which() + ": praise, no food"
	case earned.LifeReward:
		return r.which() + " is paid with " + pay.LifeRewardIs
	case pay.LifeReward > 0:
		return "Pick " + pay.LifeRewardIs + " up first, then pay"
	case schedule.PaidShare() < 1:
		return r.which() + " is paid"
	}
	return ""
}

// which is the trial that a line speaks of: between trials the next one.
func (r Screen) which() string {
	if r.Phase() == session.Trying {
		return "This one"
	}
	return "Next one"
}

// payKeys are what the key that pays is called where something else than food in pieces is in the hand.
var payKeys = map[reinforce.RewardKind]string{
	reinforce.Lasting: "Give it", reinforce.Toy: "Toy", reinforce.Play: "Play", reinforce.Freedom: "Release", reinforce.Wanted: "Release",
}

// payNow says that a pay inside the hold is due.
const payNow = "Pay now, in position"

// insideLine says when the next pay inside a long hold comes.
func (r Screen) insideLine(step progression.Step, pay reinforce.Strategy, at float64) string {
	seconds := step.Criteria.Get(criteria.Duration)
	if target, varied := r.Target()[criteria.Duration]; varied {
		seconds = target
	}
	usual := reinforce.Cycle{DurationS: seconds, DeliverS: reinforce.UsualDeliverS, ResetS: reinforce.UsualResetS}
	if c, n := reinforce.Measured(nil, r.Pack().Lately[step.ID].Between, seconds); n > 0 {
		usual = c
	}
	if !r.Kind().Holds || !pay.NeedsInside(usual) {
		return ""
	}
	met, _, _ := r.Here(step.ID)
	times := reinforce.PayTimes(seconds, pay.Band.Lo, r.Seed(step.ID)+uint64(met))
	if r.Session().Trying == nil {
		return fmt.Sprintf("Pay inside: %s, the first at %s s", say.Count(len(times), "time"), criteria.Figure(math.Round(times[0])))
	}
	given := r.Session().Trying.Pays
	if given >= len(times) {
		return "Paid inside: release it"
	}
	if at-r.Session().Trying.From >= times[given] {
		return payNow
	}
	return fmt.Sprintf("Next pay at %s s", criteria.Figure(math.Round(times[given])))
}

// foodLine says what is in the hand, how much is left of it, and for how long.
func (r Screen) foodLine(at float64) (line string, gone bool) {
	name := r.InHand().Name
	if _, turns := r.Reward(r.Session().FoodTurn); turns && name != "" {
		name = "next: " + name
	}
	left, known := r.Left()
	if !known {
		return name, false
	}
	line = say.Count(left, "treat") + " left"
	if left <= r.Reserve() {
		return line, true
	}
	if clock, begun := r.Clock(); begun {
		// The first minute says little about how fast they go.
		if active := clock.Active(at); active >= 60 {
			eaten := 0
			for _, p := range r.Session().Pays {
				if p.Block == r.Block().ID {
					eaten += p.Pieces
				}
			}
			if in, ok := reinforce.RunsOut(left, r.Reserve(), eaten, active/60); ok {
				line += fmt.Sprintf(", about %s", say.Count(int(math.Round(in)), "minute"))
			}
		}
	}
	if name != "" {
		line += " · " + name
	}
	return line, false
}

// playedWith names a pay that takes its time.
func playedWith(p *record.Payment) string {
	if p.LifeReward {
		return reinforce.Wanted.Short()
	}
	return p.As.Short()
}
