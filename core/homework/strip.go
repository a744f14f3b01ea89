package homework

import (
	"strings"

	"patientfox/core/criteria"
	"patientfox/core/work"
)

// Sign is what happens in one picture of a strip.
type Sign string

// The signs, in the order in which a strip can have them.
const (
	Say   Sign = "say"   // the person says a word
	Show  Sign = "show"  // the person shows a hand signal
	Cue   Sign = "cue"   // another cue: a whistle, a touch, the place
	Does  Sign = "does"  // the dog does it by itself
	Meets Sign = "meets" // the dog meets a thing, or is handled
	Mark  Sign = "mark"  // the person marks it
	Feed  Sign = "feed"  // the dog is fed
)

// Panel is one picture of a strip with its words, as the plan has them; "" where the plan has none.
type Panel struct {
	Sign Sign
	Text string
	Hand Hand // of Show
}

// Strip is what happens in one repetition, in its order. What is asked for: the cue, a hand signal that may follow it, the marker, food.
// What the dog offers: it does it, the marker, food. What it is exposed to or handled with, meets says what: that, then food, whatever the
// dog does.
func Strip(kind work.Kind, d criteria.Definition, meets string) []Panel {
	feed := Panel{Sign: Feed}
	mark := Panel{Sign: Mark, Text: strings.TrimSpace(d.Marker)}
	cue := strings.TrimSpace(d.Cue)
	switch {
	case work.Of(kind).ByState:
		return []Panel{{Sign: Meets, Text: meets}, feed}
	case d.Uncued() || cue == "":
		return []Panel{{Sign: Does, Text: strings.TrimSpace(d.Position)}, mark, feed}
	}
	first := Panel{Sign: Cue, Text: cue}
	switch d.CueBy {
	case "", criteria.CueWays[0]:
		first.Sign = Say
	case criteria.CueWays[1]:
		first.Sign, first.Hand = Show, HandOf(cue)
	}
	strip := []Panel{first}
	if second := strings.TrimSpace(d.Cue2); second != "" {
		one := Panel{Sign: Cue, Text: second}
		if hand := HandOf(second); hand != "" || first.Sign == Say {
			one.Sign, one.Hand = Show, hand
		}
		strip = append(strip, one)
	}
	return append(strip, mark, feed)
}

// Hand is the shape of a hand signal for which there is a drawing.
type Hand string

// The hands.
const (
	Palm   Hand = "palm"   // open, towards the dog
	Down   Hand = "down"   // flat, moving down
	Up     Hand = "up"     // flat, moving up
	Point  Hand = "point"  // a finger that points
	Finger Hand = "finger" // one finger raised
	Fist   Hand = "fist"
)

// hands are the words by which a hand signal is told, the more particular first.
var hands = []struct {
	word string
	hand Hand
}{
	{"point", Point}, {"raised finger", Finger}, {"finger up", Finger}, {"one finger", Finger}, {"fist", Fist}, {"closed hand", Fist},
	{"palm down", Down}, {"down to the floor", Down}, {"hand down", Down}, {"palm up", Up}, {"hand up", Up}, {"upward", Up},
	{"palm", Palm}, {"open hand", Palm}, {"flat hand", Palm}, {"hand", Palm},
}

// HandOf is the drawing for a hand signal that is told in words, "" where the words tell of no hand.
func HandOf(text string) Hand {
	text = strings.ToLower(text)
	for _, one := range hands {
		if strings.Contains(text, one.word) {
			return one.hand
		}
	}
	return ""
}
