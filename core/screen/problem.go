package screen

import (
	"fmt"

	"patientfox/core/session"
)

// Problem is what is wrong with a field, in words, and what to do about it.
type Problem struct {
	Field string `json:"field"`
	Text  string `json:"text"`
}

// Say puts a problem into words, nil where there is none.
func (r Screen) Say(p *session.Problem) *Problem {
	if p == nil {
		return nil
	}
	text := Text(*p)
	if p.Code == session.NeedsClearance {
		text += " " + r.Pack().Ruled.Instead
	}
	return &Problem{p.Field, text}
}

// Text says what is wrong with something typed, and what to do about it.
func Text(p session.Problem) string {
	switch p.Code {
	case session.NeedsClearance:
		return "Say who cleared it, and when: a vet, or a certified professional."
	case session.NotInList:
		return "Choose one of the places in the list."
	case session.NotKnown:
		return "Choose one of the people in the list."
	case session.WorkedNow:
		return "That is what is worked now: choose another one."
	case session.StepGone:
		return "That step is not in the plan any more."
	case session.NotBetween:
		return "Between two trials: close this one first."
	case session.AboveMain:
		return "That is above the main handler’s step: nobody else opens there."
	case session.NotShown:
		return "That is a safety step: a trainer shows it first, and says so on the plan’s page. Until then work a step below it."
	case session.NoRecord:
		return "A safety step is on the way there: this handler first needs a record of their own at the step below it."
	case session.NotWhole:
		return fmt.Sprintf("A whole number from 0 to %d, in figures.", p.Most)
	case session.NotOneUp:
		return fmt.Sprintf("A whole number from 1 to %d, or nothing.", p.Most)
	case session.MoreThanOut:
		return fmt.Sprintf("More than the %d you counted out.", p.Most)
	case session.TagTooLong:
		return fmt.Sprintf("At most %d characters a tag.", p.Most)
	case session.TooManyTags:
		return fmt.Sprintf("%d tags; at most %d. Few that come again and again can be compared.", p.N, p.Most)
	case session.NoTallyHere:
		return "A tally belongs between trials, and not to exposures or to a proof."
	case session.NothingCounted:
		return "Say how many there were."
	case session.NotASet:
		return fmt.Sprintf("They make %d; a set of this plan has %d. Tally one set; what is left is asked about at the end.", p.N, p.Most)
	case session.NotNamed:
		return "Name the new place, or choose one of the list."
	case session.NeverSite:
		return "Never touched, by its mark on the page of care."
	case session.SoreSite:
		return "Sore, by its mark: is it agreed with the vet? Press it once more to choose it."
	case session.DoneNotShown:
		return "A trainer first shows what is really done, and says so on the plan’s page. Until then rehearse it."
	case session.NoSuchPart:
		return "There is no such claw at that site."
	case session.SiteOver:
		return "It pulled away there twice: done there for today."
	case session.NothingWritten:
		return "Write something first."
	}
	return fmt.Sprintf("%d characters; at most %d. Nothing is lost: shorten it.", p.N, p.Most)
}
