package session

import (
	"math"

	"patientfox/core/decision"
	"patientfox/core/record"
	"patientfox/core/reinforce"
	"patientfox/core/work"
)

// Phase is what the screen is waiting for.
type Phase string

// The phases of a session.
const (
	Setup      Phase = "setup"      // choices before it begins
	Idle       Phase = "idle"       // between trials
	Trying     Phase = "trying"     // a trial is under way
	Warming    Phase = "warming"    // easy tries before the work
	Deciding   Phase = "deciding"   // a verdict waits to be taken
	Recovering Phase = "recovering" // the way back from too much
	Paused     Phase = "paused"
	Over       Phase = "over"
)

// Phase is what the session waits for.
func (r *Run) Phase() Phase {
	switch {
	case r.s.Ended != nil:
		return Over
	case r.Block() == nil:
		return Setup
	case r.s.Paused:
		return Paused
	case r.s.Trying != nil:
		return Trying
	case r.isRecovering():
		return Recovering
	case r.warms() && !r.now.Due:
		return Warming
	case r.now.Verdict == decision.StepUp && r.Warned(): // it is not taken further, whatever its set was
		return Idle
	case r.now.Due && !r.now.Answered && r.now.Verdict != decision.Repeat && !r.counting():
		return Deciding
	}
	return Idle
}

// Stopped tells whether the work went over the dog's threshold and the stop was taken: nothing more of it is begun.
func (r *Run) Stopped() bool {
	if r.Phase() != Idle || !r.OverThreshold() {
		return false
	}
	for i := len(r.s.Verdicts) - 1; i >= 0; i-- {
		if v := r.s.Verdicts[i]; r.s.PlanOf(v.Block) == r.Block().Plan {
			return v.Action == string(decision.Stop)
		}
	}
	return false
}

// Clock is the active time of the work under way: of the block, or of all that are mixed with it. A wait that is under way counts as
// one.
func (r *Run) Clock() (reinforce.Clock, bool) {
	b := r.Block()
	if b == nil {
		return reinforce.Clock{}, false
	}
	blocks := []*record.Block{b}
	if r.Mixed() {
		blocks = r.Lanes()
	}
	clock, _, begun := r.s.ClockOf(blocks...)
	if since, waits := r.Waits(); begun && waits {
		clock = clock.Without([]reinforce.Span{{From: since, To: math.Inf(1)}})
	}
	return clock, begun
}

// Waits tells whether a wait is under way, in which no pay is overdue, and since when (s): for a dog that left, for a slack line, until
// it is itself again, while it plays.
func (r *Run) Waits() (since float64, waits bool) {
	if playing := r.Playing(); playing != nil {
		return playing.At, true
	}
	switch worried := r.Worried(); {
	case r.s.Away != nil:
		return *r.s.Away, true
	case r.s.Taut != nil:
		return *r.s.Taut, true
	case worried != nil:
		return worried.At, true
	}
	moves, _, _ := r.Recovery()
	if len(moves) > 0 {
		return moves[0].At, true
	}
	return 0, false
}

// RateClock is the time that the rate of reinforcement is over: of exposures that with the stimulus on.
func (r *Run) RateClock() (reinforce.Clock, bool) {
	clock, begun := r.Clock()
	if off := r.offTime(); begun && len(off) > 0 {
		clock = clock.Without(off)
	}
	return clock, begun
}

// OffNow tells whether the rate is over the time that the stimulus is on, and it is not on now.
func (r *Run) OffNow() bool { return r.s.Trying == nil && len(r.offTime()) > 0 }

func (r *Run) offTime() []reinforce.Span {
	if b := r.Block(); b != nil {
		return r.s.Off(b)
	}
	return nil
}

// shownKeys are the keys that are on the board whatever the kind of work and the phase.
var shownKeys = []work.Key{
	work.MetKey, work.LateKey, work.HelpKey, work.MissKey, work.VoidKey, work.ShortKey, work.PayKey, work.UndoKey, work.BreakKey,
	work.JackpotKey, work.OtherKey, work.WantedKey, work.DecoyKey, work.FetchedKey,
	work.EasyKey, work.HardKey, work.CueKey, work.OfferKey, work.PullKey, work.ThrowKey, work.LeftKey,
	work.GrowlKey, work.EarlyKey, work.SlowKey, work.RefusedKey, work.FinishKey, work.RecoverKey, work.AlternateKey,
}

// idleKeys lists the keys that mean nothing now.
func (r *Run) idleKeys() []work.Key {
	var off []work.Key
	for _, k := range shownKeys {
		if !r.Means(k) {
			off = append(off, k)
		}
	}
	return off
}
