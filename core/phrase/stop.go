package phrase

import (
	"fmt"

	"patientfox/core/decision"
	"patientfox/core/say"
)

// NoTreats says on Run that the pouch is empty.
const NoTreats = "No treats left: nothing is paid. Put more in the pouch under More keys, or end here."

// Advice says in a line what a session should do now, and why. capped names the step of a cap.
func Advice(a decision.Advice, capped string) string {
	switch a.Sign {
	case decision.OverNow:
		return "Leave now, feeding on the way if it eats. No last trial, and no more of this today."
	case decision.BiteRisk:
		return "A growl or a snap: a bite may be near. Give it room and leave now, feeding on the way if it eats. No more of this today."
	case decision.RefusedBest:
		return "It refused the best food: add distance, or finish."
	case decision.SlowPays:
		return say.Upper(say.Number(a.Of)) + " in a row eaten slowly or refused: add distance, or finish."
	case decision.ToyIgnored:
		return "It ignored what it loves: add distance, or finish."
	case decision.PulledHere:
		return say.Upper(say.Times(a.Of)) + " it pulled away here: leave this site for today."
	case decision.PulledOften:
		return say.Upper(say.Times(a.Of)) + " it pulled away: finish with something easy."
	case decision.StepBacks:
		return say.Upper(say.Number(a.Of)) + " steps back in this block: leave this skill for today."
	case decision.Restarts:
		return "The count broke early three times: no higher than " + capped + " today."
	case decision.RestDue:
		return say.Upper(say.Count(a.Of, "minute")) + " of work: let it sniff for one."
	case decision.ProofsDone:
		return say.Upper(say.Number(a.Of)) + " proof trials today: enough of this skill."
	case decision.ManyResets:
		return say.Upper(say.Number(a.Of)) + " resets in this set: make it easier."
	case decision.OverExcited:
		return "Over-excited twice running: take a break."
	case decision.ExcitedAgain:
		return "Over-excited again after the break: finish with an easy one."
	case decision.FoodGone:
		if a.Of == 0 {
			return NoTreats
		}
		return fmt.Sprintf("%s left, the reserve: finish with an easy one.", say.Count(a.Of, "treat"))
	case decision.TimeGone:
		return fmt.Sprintf("The %s planned are over: finish with an easy one.", say.Count(a.Of, "minute"))
	case decision.SlowerNow:
		return fmt.Sprintf("The last five answers took %.1f times as long as earlier ones: finish with an easy one.", a.Part)
	case decision.FewerNow:
		return "Fewer are right than in the first half: finish with an easy one."
	case decision.SaggingRate:
		return "Two gaps without food, and the dog is rising: pay more, or finish."
	}
	return ""
}

// DoNotCall is said where a cue that must not fail would likely not be answered.
const DoNotCall = "Do not call: go and get the dog. This cue is not sure enough here to be spent."

// CallEarly says before a block how a cue that must not fail is given: "Call within 10 m, before it locks on." within is how far off the
// dog is, "" where the step does not say.
func CallEarly(within string) string {
	if within != "" {
		within = " within " + within + ","
	}
	return "Call" + within + " before the dog locks on. If you would lose it, go and get it instead: a cue that fails is worn."
}

// Ready says what a readiness test showed: "A look, food taken, one of two cues within 3 s."
func Ready(tried []decision.Tried) string {
	look, food, cues, given := "no look", "food not taken", 0, 0
	for _, one := range tried {
		switch {
		case one.Part == decision.PartLook && one.Answer != decision.AnswerNone:
			look = "a look"
		case one.Part == decision.PartFood && one.Answer != decision.AnswerNone:
			food = "food taken"
		case one.Part == decision.PartCue:
			given++
			if one.Answer == decision.AnswerEager {
				cues++
			}
		}
	}
	of := say.Among(cues) + " of " + say.Number(given)
	switch {
	case given == 0:
		of = "no"
	case cues == 0 && given == 2:
		of = "neither of two"
	}
	return say.Upper(fmt.Sprintf("%s, %s, %s cues within %s", look, food, of, say.Seconds(decision.EasyAnswerS)))
}
