package decision

// Handling says what a handler who is new to a dog's skill is to it.
type Handling string

// What changes with a new handler.
const (
	HandlesExposures Handling = "exposure" // of exposures, handling and care: they begin at the first step with anybody new
	HandlesAsTrainer Handling = "trainer"  // another trainer of the practice
	HandlesOtherwise Handling = "other"
)

// Hands says how a skill opens for whoever handles.
type Hands string

// How a skill opens.
const (
	HandsMain   Hands = ""       // as it stands: for the main handler
	HandsOwn    Hands = "own"    // at the step that this handler has come to
	HandsCapped Hands = "capped" // they had come further than the main handler has now
	HandsFirst  Hands = "first"  // they handle it for the first time
)

// HandlerStep is the index of the step at which a skill opens for a handler beside its main handler, who has come to the step with index
// reached of so many: at own, the step that this handler has come to, but never above the main handler's. A handler for whom own is −1
// handles it for the first time: exposures then open at the first step, another trainer a fifth of the steps lower, anybody else half
// way up.
func HandlerStep(reached, steps, own int, as Handling) int {
	if own >= 0 {
		return min(own, reached)
	}
	switch as {
	case HandlesExposures:
		return 0
	case HandlesAsTrainer:
		return max(0, reached-(steps+4)/5)
	}
	return reached / 2
}
