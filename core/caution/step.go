package caution

import (
	"slices"
	"strings"
	"unicode"
)

// Step is what of a step calls for its own caution.
type Step struct {
	Gear    string // what holds the dog
	Tool    string // what touches it
	Site    string // where
	Trigger string // what it is worked near, or beside
	Near    bool   // a trigger is there
	Height  bool   // it climbs or jumps
	Handled bool   // it is touched, groomed or treated
}

// powered are tools, and things that frighten, which run on a cable or a motor. A clipper for claws does not: one for hair is told by what
// else is said of it.
var powered = []string{"grinder", "dryer", "drill", "mower", "blower", "pump", "saw", "winch", "vacuum", "mixer", "sander"}

var motor = []string{"motor", "tool at work", "electric", "buzz", "hair clipper", "coat clipper"}

// names tells whether a text has one of these words in it, or its plural.
func names(text string, words []string) bool {
	for _, word := range strings.FieldsFunc(strings.ToLower(text), func(r rune) bool { return !unicode.IsLetter(r) }) {
		if slices.Contains(words, strings.TrimSuffix(word, "s")) {
			return true
		}
	}
	return false
}

// topics are what several cautions can be about: by words that all stand in one of them.
var topics = [][]string{{"long line", "harness"}, {"unplugged"}, {"never permission to drop"}}

// Once leaves out of a list what an earlier one says already: the same text, or another about the same topic.
func Once(list []string) (kept []string) {
	about := func(text string) int {
		return slices.IndexFunc(topics, func(words []string) bool {
			return !slices.ContainsFunc(words, func(word string) bool { return !strings.Contains(strings.ToLower(text), word) })
		})
	}
	for _, text := range list {
		topic := about(text)
		if !slices.ContainsFunc(kept, func(k string) bool { return k == text || topic >= 0 && about(k) == topic }) {
			kept = append(kept, text)
		}
	}
	return kept
}

// OfStep lists the cautions of one step: said before it, and again where a later step brings another one.
func OfStep(s Step) []string {
	var list []string
	has := func(text string, words ...string) bool {
		text = strings.ToLower(text)
		for _, word := range words {
			if strings.Contains(text, word) {
				return true
			}
		}
		return false
	}
	if has(s.Gear, "long line", "line") {
		list = append(list, "A long line on a body harness only, with gloves, clear of trees and traffic, and never wrapped round a hand.")
	}
	if s.Near {
		list = append(list,
			"A dog that is over its threshold already when the trigger appears is not trained there: give it distance, manage, and "+
				"plan another day.")
	}
	if has(s.Tool, motor...) || names(s.Tool+" "+s.Trigger, powered) {
		list = append(list, "A powered tool stays unplugged until it is needed, its cable out of reach.")
	}
	if s.Handled && has(s.Site+" "+s.Tool, "ear", "nail", "claw", "drops", "paw") {
		list = append(list, "Stop on pain, blood or a flinch. A professional shows the owner how; medicine is a vet's.")
	}
	if s.Height {
		list = append(list, "No jumps or tight turns on a slippery floor, and none over again and again; a growing or an old dog stays low.")
	}
	return list
}
