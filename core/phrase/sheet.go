package phrase

import (
	"fmt"
	"math"

	"patientfox/core/decision"
	"patientfox/core/say"
	"patientfox/core/schedule"
)

// What every session plan says.
const (
	Falls = "Feed while leaving. Add distance, and wait for a look that is offered. Two easy cues, each answered at once: go " +
		"on one step easier. Otherwise further off, and otherwise home: the harder place waits a day."
	WarmUp = "Easy and uncued: three times, let it offer something and pay. Three eager answers: work here. Two without an " +
		"answer: go elsewhere. Anything between: make it easier."
)

// SheetWhy says why a skill is in a session; days is since it was last worked.
func SheetWhy(why schedule.Why, days int) string {
	switch why {
	case schedule.Due:
		return "its probe is due"
	case schedule.Stuck:
		return "it is stuck"
	case schedule.Neglected:
		return fmt.Sprintf("not worked for %d days", days)
	case schedule.Needed:
		return "another skill waits for it"
	case schedule.Side:
		return "the other side"
	case schedule.Fresh:
		return "not begun yet"
	case schedule.Again:
		return "worked today already"
	case schedule.ByHand:
		return "put in by hand"
	}
	if days <= 1 {
		return "its turn"
	}
	return fmt.Sprintf("its turn: last worked %d days ago", days)
}

// SheetHint says what is worth a second look on a sheet.
func SheetHint(h schedule.Hint) string {
	switch h.Code {
	case schedule.HintTwoNew:
		return "A second new thing: one a session is enough."
	case schedule.HintLong:
		return fmt.Sprintf("Longer than this dog's age suggests: %s.", say.Count(int(h.Limit), "minute"))
	case schedule.HintTime:
		return fmt.Sprintf("It takes longer than its place in the day: %s.", say.Count(int(h.Limit), "minute"))
	case schedule.HintNoBreak:
		return fmt.Sprintf("%s of work without a break to be a dog.", say.Seconds(math.Round(h.Limit/10)*10))
	case schedule.HintLively:
		return "Two lively ones running: put something that settles between them."
	case schedule.HintFinish:
		return "Nothing easy at the end: finish two steps down, so that it ends on a success."
	case schedule.HintWarm:
		return "No warm-up: nothing tells whether the dog is ready to work there."
	case schedule.HintProbe:
		return "A probe is only cold before anything else of that skill."
	case schedule.HintWorries:
		return "A second thing that worries the dog: worries add up, one a session."
	case schedule.HintFood:
		return fmt.Sprintf("%.0f kcal more than the day still has.", h.Limit)
	}
	return string(h.Code)
}

// Answers are the keys of a warm-up.
var Answers = map[decision.Answer]string{decision.AnswerEager: "Eager", decision.AnswerSlow: "Slow", decision.AnswerNone: "Nothing"}

// Down says how many steps below its start a session finishes: 0, 1 or 2, for below the first step is none.
func Down(steps int) string {
	return [...]string{"The easiest step there is", "One step down", "Two steps down"}[steps]
}
