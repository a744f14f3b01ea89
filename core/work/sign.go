package work

// Sign is what calls somebody to a dog of a class, seen at a glance.
type Sign string

// The signs.
const (
	Worried   Sign = "worried"
	TooClose  Sign = "too_close"
	NeedsHelp Sign = "help"
)

// Signs are all of them.
var Signs = []Sign{Worried, TooClose, NeedsHelp}

// SignName is a sign in words, "" for one that there is not.
func SignName(s Sign) string {
	return map[Sign]string{Worried: "Worried", TooClose: "Too close", NeedsHelp: "Needs help"}[s]
}
