package session

import (
	"math"
	"slices"

	"patientfox/core/decision"
	"patientfox/core/progression"
	"patientfox/core/record"
	"patientfox/core/reinforce"
	"patientfox/core/work"
)

// Recovery is how far a recovery has come: its moves since it began, none where none is under way.
func (r *Run) Recovery() (moves []record.Recovery, distances, answers int) {
	for _, m := range r.s.Recovers {
		if b := r.Block(); b != nil && m.At < b.At {
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
	if len(r.s.Recovers) == 0 {
		return false // which is asked on every press, many times over
	}
	moves, _, _ := r.Recovery()
	return len(moves) > 0
}

// recover presses a key of a recovery.
func (r *Run) recover(key work.Key, at float64) []record.Draft {
	moves, distances, answers := r.Recovery()
	last := moves[len(moves)-1]
	say := func(what string) []record.Draft {
		return []record.Draft{record.NewDraft(record.KRecover, record.RecoverData{What: what})}
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
		return append(say(record.Answered), r.pays(Earned{Pay: true})...)
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
	if r.now.Due && !r.now.Answered {
		drafts = append(drafts, r.verdict(string(decision.Repeat)))
	}
	if moves := r.moves(-1, progression.WhyCeiling); len(moves) > 0 {
		return append(drafts, moves...)
	}
	return append(drafts, record.NewDraft(record.KMove, record.MoveData{From: r.today().ID, To: r.today().ID, Why: progression.WhyCeiling}))
}

// ceiling is the highest step that may be asked today, the last one where nothing caps it.
func (r *Run) ceiling() int {
	b := r.Block()
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

// Capped tells whether today's step is as high as may be asked today.
func (r *Run) Capped() bool {
	b := r.Block()
	return b != nil && progression.Index(b.Steps, b.Position.Today) >= r.ceiling()
}

// restarts are the count's new beginnings in this session below half of its best so far.
func (r *Run) restarts(b *record.Block) (best, below int) {
	for _, m := range r.s.Moves {
		from := progression.Index(b.Steps, m.From)
		if r.s.LineOf(m.Block) != b.Line() || !m.Followed || from < 0 {
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

// Advice is what the session should do by its signs at a moment (s); ok is false where nothing calls for a change.
func (r *Run) Advice(at float64) (a decision.Advice, ok bool) {
	b := r.Block()
	if b == nil || r.s.Ended != nil || r.Finishing() {
		return a, false
	}
	s := r.signs
	s.GoneS = at
	s.WorkedS, s.RestAfter = r.workedFor(at), r.pack.RestAfter
	if work.Of(b.Kind).ByState || len(r.s.States) > 1 {
		s.Overdue = r.overdue(at)
	}
	return decision.Advise(s)
}

// workedFor is how long the dog has worked since it began, or rested last: a break, or a release to sniff or run.
func (r *Run) workedFor(at float64) float64 {
	from := at
	if len(r.s.Trials) > 0 {
		from = r.s.Trials[0].From
	} else if r.s.Trying != nil {
		from = r.s.Trying.From
	}
	for _, rest := range r.s.Breaks {
		from = max(from, rest.To)
	}
	for i := range r.s.Pays {
		if p := &r.s.Pays[i]; p.As == reinforce.Freedom && p.Seconds != nil {
			from = max(from, p.At+*p.Seconds)
		}
	}
	return at - from
}

// look gathers the signs that do not change with the clock.
func (r *Run) look() (s decision.Signs) {
	b := r.Block()
	if b == nil {
		return s
	}
	var right []bool
	s.Left, s.Reserve = -1, r.Reserve()
	if left, known := r.Left(); known {
		s.Left = left
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
	s.Pulled, s.PulledAt = r.pulled(b)
	s.Growled = r.s.GrowlsIn(b.ID) > 0
	s.Resets, s.Excited = r.resets(), r.excited()
	before := map[string]int{} // state and one, by site
	for i := range r.s.Trials {
		t := &r.s.Trials[i]
		if t.Block != b.ID {
			continue
		}
		if t.State != nil {
			s.Over, s.Rising = *t.State == 4, *t.State+1 > before[t.Site] && before[t.Site] > 0 // than before at the same site
			before[t.Site] = *t.State + 1
		}
		if t.Step != b.Position.Today || !t.Counted() {
			continue
		}
		right = append(right, t.Outcome.Right())
		switch {
		case t.Tally: // its answers have no times, and its misses no order
		case !t.Outcome.Right():
			s.Latencies = append(s.Latencies, math.Inf(1))
		case t.LatencyS != nil:
			s.Latencies = append(s.Latencies, *t.LatencyS)
		}
	}
	s.Set = r.now.Rule.Size
	if halves, enough := decision.HalvesOf(right, r.now.Rule.Size); enough {
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
	r.lookAtPays(&s)
	s.Proofs = r.proofsToday(b)
	return s
}

// proofsToday counts the proof trials at the reached step of a block's plan on this day.
func (r *Run) proofsToday(b *record.Block) (n int) {
	if b.Position.Below() || r.Doing() != record.Train || r.pack.RuleAt(b.Position.Today).Kind != decision.Proof {
		return 0
	}
	trials := r.pack.Stretched(r.s, b)
	for i := range trials {
		if t := &trials[i]; t.Counted() && (t.Session == r.s.ID || t.Day != "" && t.Day == r.pack.Today) {
			n++
		}
	}
	return n
}

// lookAtPays gathers the signs of how the dog takes what it is paid with.
func (r *Run) lookAtPays(s *decision.Signs) {
	for _, p := range r.s.Pays {
		if p.Taken == "slow" || p.Taken == "refused" {
			s.SlowPays++
		} else if p.Pieces > 0 {
			s.SlowPays = 0
		}
		s.Refused = p.Taken == "refused" && r.tierOf(p.With) >= topTier
		s.Ignored = p.Taken == "refused" && p.Lasts() && p.As != reinforce.Lasting
	}
	if t := r.LastTrial(); t != nil && slices.Contains(t.Errors, work.ToyIgnored) {
		s.Ignored = true
	}
}

// pulled counts the pull-aways of a block, and the most of them at one site.
func (r *Run) pulled(b *record.Block) (all, most int) {
	at := map[string]int{}
	for i := range r.s.Trials {
		if t := &r.s.Trials[i]; t.Block == b.ID && t.Pulled {
			at[t.Site]++
			all, most = all+1, max(most, at[t.Site])
		}
	}
	return all, most
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

// overdue is how many gaps in a row, up to now, were overdue.
func (r *Run) overdue(at float64) (n int) {
	clock, begun := r.RateClock()
	band := r.pack.PayAt(r.step().ID).Band
	if !begun || band.Lo <= 0 || r.Kind().PerTrial(r.step().Criteria) {
		return 0
	}
	to, now := clock.Active(at), true // the gap that is open counts where it is overdue already
	for i := len(r.s.Pays) - 1; i >= 0; i-- {
		if r.s.Pays[i].Block != r.Block().ID {
			continue
		}
		from := clock.Active(r.s.Pays[i].At)
		if to-from > band.Overdue() {
			n++
		} else if !now {
			return n
		}
		to, now = from, false
	}
	if to > band.Overdue() { // from the first cue on
		n++
	}
	return n
}
