package homework

// Leads is what a line that came back does to a household's level.
type Leads string

// What a line does. No rule of a plan is asked, because a tally has no order.
const (
	StepUp   Leads = "up"     // all of a set were right, or relaxed
	StepBack Leads = "back"   // two in five or fewer were right, or the dog was worried
	Repeat   Leads = "repeat" // in between
	TooFew   Leads = "few"    // no set
)

// Leads is what a line says: one of MinSet or more is a set. A worried dog steps back after however few.
func (l Line) Leads() Leads {
	faces := l.Relaxed + l.Unsure + l.Worried
	switch {
	case l.Worried > 0:
		return StepBack
	case l.Of < MinSet:
		return TooFew
	case faces > 0 && l.Relaxed == l.Of, faces == 0 && l.Met == l.Of:
		return StepUp
	case faces == 0 && 5*l.Met <= 2*l.Of:
		return StepBack
	}
	return Repeat
}

// Next is the index of the step that a household has come to after a set at the step with index at, when it was at own before; top is the
// highest that it may come to. A set below its own step, easier or of an older sheet, raises nothing.
func (leads Leads) Next(own, at, top int) int {
	switch {
	case leads == StepUp && at >= own:
		return max(own, min(own+1, top)) // whoever stands above what they may work now is not lowered by a good set
	case leads == StepBack:
		return max(0, own-1)
	}
	return own
}
