package criteria

import (
	"fmt"
	"math"
	"strings"
	"unicode/utf8"
)

// Definition is what "right" means for a skill, so plain that two strangers score alike.
type Definition struct {
	Position   string  `json:"position"`            // where and how: "all four feet behind the ramp's lip"
	Postures   string  `json:"postures"`            // allowed postures: "stand, sit or down"
	When       string  `json:"when,omitempty"`      // when which posture: "down once it has lain down"
	Break      string  `json:"break"`               // what counts as a break or as wrong
	Cue        string  `json:"cue"`                 // the first cue: a word, a sign, or the place itself
	CueBy      string  `json:"cue_by,omitempty"`    // one of CueWays
	Cue2       string  `json:"cue2,omitempty"`      // what may follow where the first is not answered
	Cue3       string  `json:"cue3,omitempty"`      // and what after that
	LatencyS   float64 `json:"latency_s,omitempty"` // s within which an answer is in time, 0 for no limit; a step's own wins
	MissedS    float64 `json:"missed_s,omitempty"`  // s after which an answer is missed and not slow, 0 for never
	TimedFrom  string  `json:"timed_from"`          // "begin" or "end" of the cue
	Marker     string  `json:"marker"`              // click, "yes"
	Release    string  `json:"release"`             // release word
	AfterError string  `json:"after_error"`         // one of ErrorResponses
	AfterText  string  `json:"after_text,omitempty"`
	Text       string  `json:"text"` // anything else
}

// Sources are where an error can come from: the dog; the handler (late mark, repeated cue, early reach, wrong
// hand); the set-up (too near, too long, interrupted, closer than planned, the line did the work).
var Sources = []string{"dog", "handler", "set-up"}

// ErrorResponses lists what a trainer may do after an error, as a record and never as advice.
var ErrorResponses = []string{
	"wait", "reset to the start", "go back to the same spot", "guide by the line", "close the door", "stop moving",
	"spoken interrupter", "other",
}

// DoneAfter lists what a trainer can say was done after an error, as a record and never as advice. The last three
// come with a caution.
var DoneAfter = []string{
	"waited", "reset", "guided by the line", "door closed", "spoken interrupter", "leash or collar correction", "other",
}

// Cautioned tells whether what was done after an error comes with a caution.
func Cautioned(done string) bool { return oneOf(done, DoneAfter[4:]) && done != "" }

// CueWays lists what a cue can be.
var CueWays = []string{
	"a word", "a hand sign", "a whistle", "a touch", "the place", "an object", "something that happens",
	"none yet: the dog offers it",
}

// Uncued tells whether the dog offers the behaviour and no cue has been added yet.
func (d Definition) Uncued() bool { return d.CueBy == CueWays[len(CueWays)-1] }

// CuesAllowed is how many cues a right answer may have, in the order given; at least one.
func (d Definition) CuesAllowed() int {
	n := 1
	for _, cue := range []string{d.Cue2, d.Cue3} {
		if strings.TrimSpace(cue) != "" {
			n++
		}
	}
	return n
}

// Limit is the latency in seconds within which an answer to a step is in time; ok is false where
// there is no limit.
func (d Definition) Limit(c Criteria) (seconds float64, ok bool) {
	if c.Has(Latency) {
		return c.Get(Latency), true
	}
	return d.LatencyS, d.LatencyS > 0
}

// Check lists what is wrong with the definition.
func (d Definition) Check() []Problem {
	var problems []Problem
	add := func(field, text string) { problems = append(problems, Problem{field, text}) }
	for _, f := range []struct{ field, text string }{
		{"postures", d.Postures}, {"when", d.When}, {"position", d.Position}, {"break", d.Break}, {"cue", d.Cue}, {"cue2", d.Cue2},
		{"cue3", d.Cue3}, {"marker", d.Marker}, {"release", d.Release}, {"after_text", d.AfterText}, {"text", d.Text},
	} {
		if utf8.RuneCountInString(f.text) > MaxText {
			add(f.field, fmt.Sprintf("At most %d characters.", MaxText))
		}
	}
	if strings.TrimSpace(d.Position) == "" {
		add("position", "Say what a bystander would see when it is right.")
	}
	if d.LatencyS != 0 && !(d.LatencyS >= 0.2 && d.LatencyS <= 600) || math.IsNaN(d.LatencyS) {
		add("latency_s", "Answer within takes 0.2 to 600 s.")
	}
	switch {
	case d.MissedS != 0 && !(d.MissedS >= 0.2 && d.MissedS <= 600):
		add("missed_s", "Missed after takes 0.2 to 600 s.")
	case d.MissedS != 0 && d.MissedS <= d.LatencyS:
		add("missed_s", "This is for answers that are slower still: more seconds than it must answer within.")
	}
	if strings.TrimSpace(d.Cue3) != "" && strings.TrimSpace(d.Cue2) == "" {
		add("cue2", "The third cue comes after a second one: name that first.")
	}
	if !oneOf(d.AfterError, ErrorResponses) {
		add("after_error", "Choose one from the list; “other” has room for words.")
	}
	if !oneOf(d.CueBy, CueWays) {
		add("cue_by", "Choose one from the list.")
	}
	if d.TimedFrom != "" && d.TimedFrom != "begin" && d.TimedFrom != "end" {
		add("timed_from", "Choose where the latency is timed from.")
	}
	return problems
}

func oneOf(text string, list []string) bool {
	for _, item := range list {
		if item == text {
			return true
		}
	}
	return text == ""
}
