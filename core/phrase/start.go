package phrase

import (
	"cmp"
	"fmt"

	"patientfox/core/decision"
	"patientfox/core/say"
)

// Drop says why a session starts lower.
func Drop(d decision.Drop, place, handler string) string {
	switch d.Code {
	case decision.LongPause, decision.Pause:
		return fmt.Sprintf("%d days since the last session", d.Days)
	case decision.NewPlace:
		if place == "" {
			place = "the place"
		}
		return place + " is new to this skill"
	case decision.NewHandler:
		if handler == "" {
			handler = "the handler"
		}
		return handler + " is new to this skill"
	case decision.AfterStop:
		return "the last session ended in a stop"
	case decision.SplitOff:
		return "the half step first, until it has led back up"
	}
	return string(d.Code)
}

// StartFirst says where the very first session of a plan opens, if nobody chose another step.
const StartFirst = "Opens at the first step."

// Start says where a session opens: "Opens two steps down (2 s): the north quay is new to this skill." What that step asks may be "".
func Start(down int, asks string, drops []decision.Drop, place, handler string) string {
	if down <= 0 {
		return "Opens at the step reached."
	}
	if asks != "" {
		asks = " (" + asks + ")"
	}
	return fmt.Sprintf("Opens %s down%s: %s.", say.CountInWords(down, "step"), asks, dropped(drops, place, handler))
}

// Hands says at whose level a session opens, where it is not the main handler's; "" for theirs. Steps are numbered from 1.
func Hands(how decision.Hands, who, main string, step, mains int) string {
	main = cmp.Or(main, "the main handler")
	switch how {
	case decision.HandsFirst:
		return fmt.Sprintf("The first time with %s: step %d. With %s it is at step %d.", who, step, main, mains)
	case decision.HandsOwn:
		if step == mains {
			return fmt.Sprintf("With %s it has reached step %d, as with %s.", who, step, main)
		}
		return fmt.Sprintf("With %s it has reached step %d, with %s step %d.", who, step, main, mains)
	case decision.HandsCapped:
		return fmt.Sprintf("With %s it had come further, but nobody goes above the step of %s: step %d.", who, main, step)
	}
	return ""
}

// Held says which safety step a handler waits for.
func Held(step int, who string) string {
	return fmt.Sprintf("Step %d is a safety step: a trainer shows it to %s first.", step, who)
}

// Rehearsed says how a safety step is worked by a handler whom nobody has shown it.
func Rehearsed(handsOn bool) string {
	if handsOn {
		return "with nothing really done"
	}
	return "with the line on"
}

// StartHere says why a session opens at a step that was just named: "Two steps below the one reached: …".
func StartHere(down int, drops []decision.Drop) string {
	if down <= 0 {
		return "Opens at the step reached."
	}
	return fmt.Sprintf("That is %s below the one reached: %s.", say.CountInWords(down, "step"), dropped(drops, "", ""))
}

func dropped(drops []decision.Drop, place, handler string) string {
	var reasons []string
	for _, d := range drops {
		reasons = append(reasons, Drop(d, place, handler))
	}
	return say.List(reasons)
}
