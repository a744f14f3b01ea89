package shell

import "patientfox/core/homework"

// signWord is the word over a picture of a household's strip.
func signWord(sign homework.Sign) string {
	switch sign {
	case homework.Say:
		return "Say"
	case homework.Show:
		return "Show"
	case homework.Cue:
		return "Cue"
	case homework.Does:
		return "It does it"
	case homework.Meets:
		return "It meets"
	case homework.Mark:
		return "Mark"
	}
	return "Feed"
}
