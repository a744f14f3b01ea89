package lookback

import "patientfox/core/record"

var recoveries = map[string]string{
	record.Distance: "Distance added", record.Looked: "It offered a look", record.Asked: "An easy cue",
	record.Answered: "Answered in time", record.TooSlow: "No answer in time", record.GoesOn: "It went on",
	record.GoesHome: "Home",
}

// recoverySays says one move of the way back from too much.
func recoverySays(what string) string {
	if says, ok := recoveries[what]; ok {
		return says
	}
	return what
}
