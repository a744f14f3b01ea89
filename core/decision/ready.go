package decision

// The answers of a warm-up, beside those of a rule.
const (
	WorkHere    Verdict = "work_here"
	MakeEasier  Verdict = "make_easier"
	GoElsewhere Verdict = "go_elsewhere"
)

// Answer is how a dog took one try of a warm-up.
type Answer string

// The answers.
const (
	AnswerEager Answer = "eager" // offered itself, and ate at once
	AnswerSlow  Answer = "slow"  // late, or ate slowly
	AnswerNone  Answer = "none"  // did not answer, or did not eat
)

// Valid tells whether a is one of the answers.
func (a Answer) Valid() bool { return a == AnswerEager || a == AnswerSlow || a == AnswerNone }

// ReadyTries is how many tries a warm-up has.
const ReadyTries = 3

// Ready says from the tries of a warm-up whether a dog can work here: three eager ones, work here; two without
// an answer, go elsewhere; anything else, make it easier. due is false while more tries are needed.
func Ready(answers []Answer) (verdict Verdict, due bool) {
	eager, none := 0, 0
	for _, a := range answers {
		switch a {
		case AnswerEager:
			eager++
		case AnswerNone:
			none++
		}
	}
	switch {
	case none >= 2:
		return GoElsewhere, true
	case len(answers) < ReadyTries:
		return Repeat, false
	case eager == len(answers):
		return WorkHere, true
	}
	return MakeEasier, true
}

// Part is one part of a readiness test.
type Part string

// The parts: an offered look, its name, the way back from a thrown treat, whether it eats that, and an easy cue.
const (
	PartLook Part = "look"
	PartName Part = "name"
	PartBack Part = "back"
	PartFood Part = "food"
	PartCue  Part = "cue"
)

// ReadyParts are those of one test, in their order: about a minute.
var ReadyParts = []Part{PartLook, PartName, PartBack, PartFood, PartCue, PartCue}

// Given tells whether something is given first, and the answer to it is timed.
func (p Part) Given() bool { return p == PartName || p == PartBack || p == PartCue }

// InTime is the answer of a dog that answered after some seconds.
func InTime(s float64) Answer {
	if s > EasyAnswerS+1e-9 {
		return AnswerSlow
	}
	return AnswerEager
}

// Tried is how a dog took one part.
type Tried struct {
	Part   Part
	Answer Answer
}

// ReadyTo says from a readiness test whether a dog can work here. Its signs are an offered look, food taken, and both easy cues answered
// within 3 s: all three, work here; two, further off; otherwise home. due is false while parts are missing.
func ReadyTo(tried []Tried) (verdict Verdict, signs int, due bool) {
	look, food, cues := false, false, 0
	for _, one := range tried {
		switch one.Part {
		case PartLook:
			look = one.Answer != AnswerNone
		case PartFood:
			food = one.Answer != AnswerNone
		case PartCue:
			if one.Answer == AnswerEager {
				cues++
			}
		}
	}
	for _, sign := range []bool{look, food, cues == EasyCues} {
		if sign {
			signs++
		}
	}
	switch {
	case len(tried) < len(ReadyParts):
		return Repeat, signs, false
	case signs == 3:
		return WorkHere, signs, true
	case signs == 2:
		return MakeEasier, signs, true
	}
	return GoElsewhere, signs, true
}
