package field

import (
	"fmt"
	"math"

	"patientfox/core/decision"
	"patientfox/core/phrase"
	"patientfox/core/progression"
	"patientfox/core/record"
	"patientfox/core/reinforce"
	"patientfox/core/trial"
	"patientfox/core/work"
)

// recovery is how far a recovery has come: its moves since it began, none where none is under way.
func (r *Run) recovery() (moves []record.RecoverRead, distances, answers int) {
	for _, m := range r.s.Recovers {
		if b := r.block(); b != nil && m.At < b.At {
			continue // another block goes on without it
		}
		switch m.What {
		case record.GoesOn:
			moves, distances = nil, 0
			continue
		case record.Distance:
			distances, answers = distances+1, 0
		case record.Answered:
			answers++
		}
		moves = append(moves, m)
	}
	return moves, distances, answers
}

// isRecovering tells whether a recovery is under way, one that goes home to its end.
func (r *Run) isRecovering() bool {
	moves, _, _ := r.recovery()
	return len(moves) > 0
}

// RecoverView is a recovery as a guided exchange.
type RecoverView struct {
	Say  string `json:"say"`  // what to do now
	Then string `json:"then"` // what comes of it
}

// recovering says what a recovery asks for now, with the keys that answer it.
func (r *Run) recovering(at float64) (v RecoverView, main work.Button, row []work.Button) {
	moves, distances, answers := r.recovery()
	if len(moves) == 0 {
		return v, main, nil
	}
	last := moves[len(moves)-1]
	v.Then = "Two easy answers, and it goes on one step easier."
	further := work.Button{Key: work.NoAnswerKey, Label: "No answer"}
	switch last.What {
	case record.Distance:
		left := decision.FurtherOffS - (at - last.At)
		v.Say = "Go further off. Feed on the way if it eats, and ask for nothing."
		main = work.Button{Key: work.Main, Label: "Wait", Sub: fmt.Sprintf("%d s more", int(math.Ceil(max(0, left))))}
		if left <= 0 {
			v.Say, main = "Wait for it to look at you. Do not call.", work.Button{Key: work.Main, Label: "It looked", Sub: "offered by itself"}
		}
		further.Label = "No look: further off"
	case record.Looked:
		v.Say, main = "Give one easy cue that it knows well.", work.Button{Key: work.Main, Label: "Cue", Sub: "as you give it"}
	case record.Asked:
		v.Say, main = "Answered within three seconds?", work.Button{Key: work.Main, Label: "Answered", Sub: "and pay it"}
	case record.Answered:
		v.Say, main = "Good. One more easy cue.", work.Button{Key: work.Main, Label: "Cue", Sub: "as you give it"}
		if answers >= decision.EasyCues {
			v.Say, main = "It is back. Go on one step easier; the harder place waits a day.", work.Button{Key: work.Main, Label: "Go on", Sub: "one step easier"}
			further.Key = ""
		}
	default: // no answer, or too late
		v.Say, main = "Not yet. Once more distance.", work.Button{Key: work.Main, Label: "Further off", Sub: "and wait there"}
		further.Key = ""
	}
	if last.What == record.GoesHome || last.What == record.TooSlow && distances >= decision.DistancesAdded {
		v.Say, v.Then = "Home. Feed while leaving; that was enough for today.", "Nothing more of this is asked today."
		return v, work.Button{Key: work.Main, Label: endHere, Sub: "it fell apart: stop"}, nil
	}
	if distances >= decision.DistancesAdded {
		v.Then = "This is the second distance: without an answer it goes home."
		if further.Label != "No answer" {
			further.Label = "No look: home"
		}
	}
	if further.Key != "" {
		row = append(row, further)
	}
	return v, main, append(row, work.Button{Key: work.HomeKey, Label: "Home now"})
}

// recover presses a key of a recovery.
func (r *Run) recover(key work.Key, at float64) []record.Draft {
	moves, distances, answers := r.recovery()
	last := moves[len(moves)-1]
	say := func(what string) []record.Draft {
		return []record.Draft{record.NewDraft(record.KRecover, record.Recover{What: what})}
	}
	more := func() []record.Draft {
		if distances >= decision.DistancesAdded {
			return say(record.GoesHome)
		}
		return say(record.Distance)
	}
	switch key {
	case work.HomeKey:
		return say(record.GoesHome)
	case work.NoAnswerKey:
		if last.What == record.Distance {
			return more()
		}
		return say(record.TooSlow)
	}
	switch last.What {
	case record.Distance:
		if at-last.At < decision.FurtherOffS {
			return nil
		}
		return say(record.Looked)
	case record.Looked:
		return say(record.Asked)
	case record.Asked:
		if at-last.At > decision.EasyAnswerS+1e-9 {
			return say(record.TooSlow)
		}
		return append(say(record.Answered), r.paid(earned{Pay: true}))
	case record.Answered:
		if answers < decision.EasyCues {
			return say(record.Asked)
		}
		return append(say(record.GoesOn), r.easierToday()...)
	case record.TooSlow:
		return more()
	}
	return nil // it goes home: what ends the session is the closing panel
}

// easierToday moves to the step below today's, which is today's ceiling from then on.
func (r *Run) easierToday() (drafts []record.Draft) {
	if r.now.Due && !r.now.answered {
		drafts = append(drafts, r.verdict(string(decision.Repeat)))
	}
	if moves := r.moves(-1, progression.WhyCeiling); len(moves) > 0 {
		return append(drafts, moves...)
	}
	return append(drafts, record.NewDraft(record.KMove, record.Move{From: r.step().ID, To: r.step().ID, Why: progression.WhyCeiling}))
}

// ceiling is the highest step that may be asked today, the last one where nothing caps it.
func (r *Run) ceiling() int {
	b := r.block()
	top := len(b.Steps) - 1
	for _, m := range r.s.Moves {
		if m.Why == progression.WhyCeiling && m.Followed && r.s.PlanOf(m.Block) == b.Plan {
			top = min(top, max(0, progression.Index(b.Steps, m.To)))
		}
	}
	if best, restarts := r.restarts(b); restarts >= 3 {
		top = min(top, max(0, best-2))
	}
	return top
}

// capsHere tells whether today's step is as high as may be asked today.
func (r *Run) capsHere() bool {
	b := r.block()
	return b != nil && progression.Index(b.Steps, b.Place.Today) >= r.ceiling()
}

// restarts are the count's new beginnings in this session below half of its best so far.
func (r *Run) restarts(b *record.BlockRead) (best, below int) {
	for _, m := range r.s.Moves {
		from := progression.Index(b.Steps, m.From)
		if r.s.PlanOf(m.Block) != b.Plan || !m.Followed || from < 0 {
			continue
		}
		if m.Why == progression.WhyRestart {
			if 2*(from+1) < best+1 {
				below++
			}
		}
		best = max(best, from)
	}
	return best, below
}

// AdviceView is what a session should do now, in one calm line.
type AdviceView struct {
	Line   string `json:"line"`
	Urgent bool   `json:"urgent"`
	Finish bool   `json:"finish"` // an easy one at the end is advised, and can be had by one press
}

// advise reads the session's signs.
func (r *Run) advise(at float64) AdviceView {
	b := r.block()
	if b == nil || r.s.Ended != nil || r.finishing() {
		return AdviceView{}
	}
	s := r.signs
	s.GoneS = at
	if work.Of(b.Kind).ByState || len(r.s.States) > 1 {
		s.Overdue = r.overdue(at)
	}
	a, ok := decision.Advise(s)
	if !ok {
		return AdviceView{}
	}
	return AdviceView{Line: phrase.Advice(a, r.capped(a)), Urgent: a.Do == decision.LeaveNow, Finish: (a.Do == decision.EndEasily || a.Do == decision.PayFaster) && r.stepBy(-1) != nil}
}

// capped names the step that an advice caps the day at, "" for others.
func (r *Run) capped(a decision.Advice) string {
	if a.Do != decision.CapToday {
		return ""
	}
	_, steps := r.place()
	return r.say().Short(steps[min(a.Of, len(steps)-1)].Criteria)
}

// look gathers the signs that do not change with the clock.
func (r *Run) look() (s decision.Signs) {
	b := r.block()
	if b == nil {
		return s
	}
	var right []bool
	s.Left, s.Reserve = -1, reinforce.Reserve
	if r.s.Pieces != nil {
		s.Left = max(0, *r.s.Pieces-r.paidPieces())
	}
	if r.sheet != nil {
		s.PlannedS = r.sheet.Plan.Seconds()
	}
	for _, m := range r.s.Moves {
		if m.Block == b.ID && m.Followed && m.Why == progression.WhyStepBack {
			s.Backs++
		}
	}
	s.Best, s.Restarts = r.restarts(b)
	for _, t := range r.s.Trials {
		if t.Block != b.ID {
			continue
		}
		if t.State != nil {
			s.Over = *t.State == 4
			s.Rising = r.rises(t)
		}
		if t.Step != b.Place.Today || !t.Counted() {
			continue
		}
		right = append(right, t.Outcome.Right())
		if t.LatencyS != nil && t.Outcome.Right() {
			s.Latencies = append(s.Latencies, *t.LatencyS)
		}
	}
	if halves, enough := decision.HalvesOf(right, r.now.rule.Size); enough {
		if halves != r.halves {
			r.halves, r.sure = halves, halves.Sure()
		}
		s.Declines = r.sure
	}
	if n := len(r.s.States); n > 0 {
		last := r.s.States[n-1]
		s.Over = s.Over || last.State == 4
		s.Rising = s.Rising || n > 1 && last.State > r.s.States[n-2].State
	}
	for _, p := range r.s.Pays {
		if p.Taken == "slow" || p.Taken == "refused" {
			s.SlowPays++
		} else if p.Pieces > 0 {
			s.SlowPays = 0
		}
		s.Refused = p.Taken == "refused" && r.tierOf(p.Reward) >= topTier
		s.Ignored = p.Taken == "refused" && p.Own
	}
	return s
}

// topTier is the tier whose refusal says that it is too much here.
const topTier = 5

func (r *Run) tierOf(reward string) int {
	for _, one := range r.pack.Foods {
		if one.ID == reward {
			return one.Tier
		}
	}
	return 0
}

// rises tells whether an exposure was worse than the one before it.
func (r *Run) rises(t trial.Trial) bool {
	before := -1
	for _, one := range r.s.Trials {
		if one.ID == t.ID {
			break
		}
		if one.State != nil && one.Block == t.Block {
			before = *one.State
		}
	}
	return before >= 0 && *t.State > before
}

// overdue is how many gaps in a row, up to now, were overdue.
func (r *Run) overdue(at float64) (n int) {
	clock, begun := r.rateClock()
	band := r.pack.PayAt(r.step().ID).Band
	if !begun || band.Lo <= 0 {
		return 0
	}
	last := 0.0
	for _, p := range r.s.Pays {
		if p.Block != r.block().ID {
			continue
		}
		now := clock.Active(p.At)
		if now-last > band.Overdue() {
			n++
		} else {
			n = 0
		}
		last = now
	}
	if clock.Active(at)-last > band.Overdue() {
		n++
	}
	return n
}
