package phrase

import (
	"fmt"

	"patientfox/core/handling"
	"patientfox/core/say"
)

// exercises are what a handler can do about what of their handling happens most, most of it without a dog.
var exercises = map[string]string{
	"late mark":          "Marker timing without a dog: somebody drops a ball, and you mark each bounce.",
	"early hand":         "Without a dog: keep the hand at the belt until the marker, then reach. Ten times, on film.",
	"late food":          "Without a dog: have the treat in the hand before the cue, and deliver within a second of the marker.",
	"wrong hand":         "Carry the treats on the side they are fed from, and deliver ten times without a dog.",
	"moved":              "Stand on a mark and give the cue ten times without moving anything else. Film it.",
	handling.RepeatedCue: "Say the cue once, then count silently to the end of the time that the definition gives.",
	handling.MoreHelp:    "Wait out the pause before helping. Where it needs help twice running, ask for less instead.",
	handling.SlowerPay:   "Have the next treat in the hand before the trial ends; smaller treats are eaten sooner.",
}

// Exercise says what a handler can do about what of their handling happens most, "" where nothing is known.
func Exercise(what string) string { return exercises[what] }

// Practise says what of somebody's handling happened most, how often and of how many.
func Practise(what string, n, of int) string {
	switch what {
	case handling.SlowerPay:
		return fmt.Sprintf("Fewer reinforcers a minute than the plan asks, in %d of %s", n, say.Count(of, "block"))
	case handling.MoreHelp:
		return fmt.Sprintf("More help than the step plans, in %d of %s", n, say.Count(of, "answer"))
	}
	return fmt.Sprintf("%s, in %d of %s", say.Upper(what), n, say.Count(of, "trial"))
}
