package caution

// Conditions are words for how it is at the place, offered before a session and after it.
var Conditions = []string{"hot", "cold", "wind", "rain", "people", "children", "dogs about", "noise"}

// OfConditions lists the cautions that such words bring.
func OfConditions(words []string) []string {
	var list []string
	seen := map[string]bool{}
	for _, word := range words {
		line := ofCondition(word)
		if line != "" && !seen[line] {
			list = append(list, line)
		}
		seen[line] = true
	}
	return list
}

func ofCondition(word string) string {
	switch word {
	case "hot":
		return "Heat: ground on which you cannot hold the back of your hand for five seconds is too hot for paws. Shade, water, " +
			"short work; a dog that pants hard and does not settle goes out of the sun and to a vet."
	case "cold":
		return "Cold, ice and salt: short work, somewhere dry to rest, paws looked at afterwards. A young, old, small or " +
			"thin-coated dog goes in first."
	case "people", "dogs about":
		return "In public the access rules and the leash law of the place come first. Nobody pets the dog while it works, and " +
			"whoever passes has the right of way."
	case "children":
		return "Children are never left to run a session: a grown-up handles the dog and decides when it ends."
	}
	return ""
}
