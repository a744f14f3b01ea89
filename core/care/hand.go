package care

import "strings"

// BareHand tells whether a tool, by its words, is the hand alone: "fingers", "the back of a hand". What is in a hand is a tool: "a file
// in the other hand".
func BareHand(tool string) bool {
	tool = strings.ToLower(strings.TrimSpace(tool))
	if strings.Contains(tool, " in ") || strings.Contains(tool, " with ") {
		return false
	}
	for _, part := range []string{"hand", "finger", "palm", "thumb", "knuckle"} {
		if strings.Contains(tool, part) {
			return true
		}
	}
	return false
}
