package progression

// Why is the reason of a move.
type Why string

// The reasons a move can have.
const (
	WhyStepUp   Why = "step_up"
	WhyStepBack Why = "step_back"
	WhyRestart  Why = "restart"
	WhySplit    Why = "split"   // to a half step, made today
	WhyStart    Why = "start"   // lower at the start of a session
	WhyRegain   Why = "regain"  // on the way back up
	WhyCeiling  Why = "ceiling" // no higher today
	WhyFinish   Why = "finish"  // to an easy one at the end
	WhyHand     Why = "hand"    // the trainer's own choice
	WhyTry      Why = "try"     // while a dog is placed: the next step to try, which changes nothing else
	WhyTurn     Why = "turn"    // two steps in turn: to the other one, which changes nothing else
	WhyHands    Why = "hands"   // the level at which a handler begins, or to which it was capped, whatever it was before
	// to a safety step that is rehearsed, and back from it, which changes nothing else
	WhyRehearse Why = "rehearse"
	WhyPlaced   Why = "placed" // where a dog that knows something begins: given, not earned
)

// Move is one change of today's step.
type Move struct {
	ID   string
	From string
	To   string
	Why  Why
}

// Position is where a dog is on a ladder.
type Position struct {
	Reached string `json:"reached"` // what the record has earned
	Today   string `json:"today"`   // where the dog works now, at or below it
	Given   bool   `json:"given"`   // the reached step was set by hand, not earned
	Since   string `json:"since"`   // the move that made it the reached step, "" from the beginning
	// Half is a half step that was split off below the reached one: sessions open there until it has led back up. "" for none.
	Half string `json:"half,omitempty"`
	// Splits are how many were taken of the reached step since it became that: each ends a row of repeats.
	Splits int `json:"splits,omitempty"`
}

// StartOf is a dog's position before any session: the first step.
func StartOf(steps []Step) Position {
	if len(steps) == 0 {
		return Position{}
	}
	return Position{Reached: steps[0].ID, Today: steps[0].ID}
}

// Halved is how many steps below the reached one sessions open because a half step was split off there, 0 for none.
func (p Position) Halved(steps []Step) int {
	if p.Half == "" || Index(steps, p.Half) < 0 {
		return 0
	}
	return max(0, Index(steps, p.Reached)-Index(steps, p.Half))
}

// Open begins a session: the dog works at the reached step until a move says otherwise.
func (p Position) Open() Position {
	p.Today = p.Reached
	return p
}

// Below tells whether the dog works below the reached step; the plan's rule is silent then.
func (p Position) Below() bool { return p.Today != p.Reached }

// Apply follows one move. A move whose From is not today's step, or that leads to a step that is not
// there, is not followed; ok says so, and whoever shows the record flags it.
func (p Position) Apply(steps []Step, m Move) (after Position, ok bool) {
	to := Index(steps, m.To)
	if m.From != p.Today && m.Why != WhyHands || to < 0 {
		return p, false
	}
	after = p
	after.Today = m.To
	switch m.Why {
	case WhyStepUp, WhyStepBack, WhyRestart:
		after = Position{Reached: m.To, Today: m.To, Since: m.ID}
	case WhyTry, WhyTurn, WhyRehearse:
	case WhyHands:
		after = Position{Reached: m.To, Today: m.To, Since: m.ID}
	case WhyPlaced:
		after = Position{Reached: m.To, Today: m.To, Since: m.ID, Given: true}
	case WhySplit:
		if after.Half = m.To; !p.Below() {
			after.Splits++
		}
	default:
		if (m.Why == WhyRegain || m.Why == WhyHand) && to >= Index(steps, p.Reached) {
			after.Half = ""
		}
		// By hand above the reached step: given, not earned.
		if to > Index(steps, p.Reached) {
			after = Position{Reached: m.To, Today: m.To, Since: m.ID, Given: true}
		}
	}
	return after, true
}

// Fall is the position after something forced the dog past its step: a number of steps below the reached one, never below
// the first, since the setback named.
func (p Position) Fall(steps []Step, by int, since string) Position {
	to := steps[max(0, Index(steps, p.Reached)-by)].ID
	return Position{Reached: to, Today: to, Since: since}
}

// Settle puts the position on a step that is there, after steps were taken out of the plan: the nearest
// one below in the order before, else the first.
func (p Position) Settle(before, steps []Step) Position {
	settle := func(id string) string {
		if Index(steps, id) >= 0 || len(steps) == 0 {
			return id
		}
		for i := Index(before, id) - 1; i >= 0; i-- {
			if Index(steps, before[i].ID) >= 0 {
				return before[i].ID
			}
		}
		return steps[0].ID
	}
	p.Reached, p.Today = settle(p.Reached), settle(p.Today)
	if Index(steps, p.Half) < 0 {
		p.Half = ""
	}
	return p
}
