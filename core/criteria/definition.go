package criteria

import (
	"fmt"
	"strings"
	"unicode/utf8"
)

// Kind is the kind of work a skill is, which decides what a trial is and what is measured.
type Kind string

// The kinds that can be run so far.
const (
	Cued Kind = "cued" // cue → response; latency is watched
	Held Kind = "held" // start → release or break; seconds are watched
)

// Kinds lists the kinds with their meaning, for pages.
var Kinds = []struct {
	Kind  Kind
	Label string
	Hint  string
}{
	{Held, "Held: a stay, a wait, a settle", "A trial runs from the start to your release, or until the dog breaks"},
	{Cued, "Cued: a recall, a stop, a touch", "A trial is one cue and the dog's answer; its latency is timed"},
}

// Definition is what "right" means for a skill, so plain that two strangers score alike.
type Definition struct {
	Postures   string `json:"postures"`    // allowed postures: "stand, sit or down"
	Position   string `json:"position"`    // where and how: "all four feet behind the ramp's lip"
	Break      string `json:"break"`       // what counts as a break or as wrong
	Cue        string `json:"cue"`         // the cue: word, sign, or the place itself
	TimedFrom  string `json:"timed_from"`  // "begin" or "end" of the cue
	Marker     string `json:"marker"`      // click, "yes"
	Release    string `json:"release"`     // release word
	AfterError string `json:"after_error"` // one of AfterErrors
	Text       string `json:"text"`        // anything else
}

// AfterErrors lists what a trainer may do after an error, as a record and never as advice.
var AfterErrors = []string{
	"wait", "reset to the start", "go back to the same spot", "guide by the line", "close the door", "stop moving", "spoken interrupter", "other",
}

// Check says what in the definition cannot stand.
func (d Definition) Check() []Problem {
	var problems []Problem
	for _, f := range []struct{ field, text string }{
		{"postures", d.Postures}, {"position", d.Position}, {"break", d.Break}, {"cue", d.Cue},
		{"marker", d.Marker}, {"release", d.Release}, {"text", d.Text},
	} {
		if utf8.RuneCountInString(f.text) > MaxText {
			problems = append(problems, Problem{f.field, fmt.Sprintf("At most %d characters.", MaxText)})
		}
	}
	if strings.TrimSpace(d.Position) == "" {
		problems = append(problems, Problem{"position", "Say what a bystander would see when it is right."})
	}
	return problems
}

// Missing asks for what a stranger would still have to guess.
func (d Definition) Missing(kind Kind, steps []Criteria) []string {
	var asks []string
	ask := func(text, question string) {
		if strings.TrimSpace(text) == "" {
			asks = append(asks, question)
		}
	}
	ask(d.Cue, "What is the cue?")
	ask(d.Break, "What counts as wrong, or as a break?")
	if kind == Held {
		ask(d.Postures, "Which postures are allowed?")
		ask(d.Release, "How does it end: what is the release?")
	}
	limited := false
	for _, c := range steps {
		limited = limited || c.Has(Latency)
	}
	if kind == Cued && !limited {
		asks = append(asks, "How fast must the dog answer?")
	}
	return asks
}
