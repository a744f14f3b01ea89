package field

import (
	"encoding/json"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/evidence"
	"patientfox/core/phrase"
	"patientfox/core/progression"
	"patientfox/core/record"
	"patientfox/core/say"
	"patientfox/core/trial"
)

func (r *Run) paidPieces() int {
	n := 0
	for _, p := range r.s.Pays {
		n += p.Pieces
	}
	return n
}

func (r *Run) logLine(food string) string {
	n := 0
	for _, t := range r.s.Trials {
		if t.Outcome != trial.Void {
			n++
		}
	}
	line := say.Count(n, "trial")
	if food != "" {
		line += " · " + food
	} else if len(r.s.Pays) > 0 {
		line += " · " + say.Count(len(r.s.Pays), "pay")
	}
	if r.aside > 0 {
		line += " · " + say.Count(r.aside, "unreadable event") + " set aside"
	}
	return line
}

func (r *Run) closing() ClosingView {
	b := r.block()
	if b == nil {
		return ClosingView{}
	}
	v := ClosingView{Tags: strings.Join(r.s.Tags, ", "), Logged: say.Upper(say.Count(b.Logged, "trial")) + " logged in this block."}
	if b.Logged == 0 {
		v.Logged = "No trial was logged in this block."
	}
	if r.s.Pieces != nil {
		left := max(0, *r.s.Pieces-r.paidPieces())
		v.Left, v.Pieces = strconv.Itoa(left), fmt.Sprintf("%d should be left by the pays logged.", left)
	}
	if r.phase() == Deciding {
		v.Waiting = fmt.Sprintf("Take the verdict: %s.", phrase.Verdict(r.now.Verdict))
	}
	if r.now.rule.Kind == decision.Proof && r.s.Ended == nil {
		if d := r.decide(true, 0); d.Verdict == decision.StepUp || d.Verdict == decision.Finished {
			v.Waiting = fmt.Sprintf("Take the verdict of the proof: %s.", phrase.Verdict(d.Verdict))
		}
	}
	var outcomes []trial.Outcome
	for _, t := range r.s.Trials {
		if t.Counted() {
			outcomes = append(outcomes, t.Outcome)
		}
	}
	if at := progression.Index(b.Steps, b.Place.Reached); at >= 0 {
		v.Next = fmt.Sprintf("Reached: step %d of %d, %s.", at+1, len(b.Steps), r.say().Step(b.Steps[at].Criteria))
	}
	v.Summary = say.Upper(phrase.Rate(evidence.Count(outcomes))) + "."
	return v
}

// CrossCheck compares the pieces said to be left, as typed, with the pays logged.
func (r *Run) CrossCheck(left string) string {
	n, problem := whole("left", left, 5000)
	if problem != nil || n == nil || r.s.Pieces == nil {
		return r.closing().Pieces
	}
	eaten, paid := *r.s.Pieces-*n, r.paidPieces()
	switch more := eaten - paid; {
	case more > 0:
		return fmt.Sprintf("%s more eaten than paid in the log: were pays, or whole trials, not logged?", say.Count(more, "piece"))
	case more < 0:
		return fmt.Sprintf("%s more in the log than eaten: is one logged twice, or refused?", say.Count(-more, "piece"))
	}
	return "As many eaten as were paid in the log."
}

// Closing is what is asked after a block.
type Closing struct {
	Unlogged string `json:"unlogged"`
	Left     string `json:"left"`
	Next     string `json:"next"`
	Reason   string `json:"reason"`
	Tags     string `json:"tags"`  // weather, people, noise: words with commas between
	Take     bool   `json:"take"`  // take the verdict that still waits
	End      bool   `json:"end"`   // the session too
	Leave    bool   `json:"leave"` // this skill, for another one
}

// Close ends a block, and with it the session if asked.
func (r *Run) Close(c Closing) ([]record.Draft, *Problem) {
	b := r.block()
	if b == nil || r.s.Ended != nil {
		return nil, nil
	}
	n, problem := whole("unlogged", c.Unlogged, 500)
	if problem != nil {
		return nil, problem
	}
	left, problem := whole("left", c.Left, 5000)
	if problem != nil {
		return nil, problem
	}
	if left != nil && r.s.Pieces != nil && *left > *r.s.Pieces {
		return nil, &Problem{"left", fmt.Sprintf("More than the %d you counted out.", *r.s.Pieces)}
	}
	if len([]rune(c.Next)) > criteria.MaxNote {
		return nil, &Problem{"next", fmt.Sprintf("At most %d characters.", criteria.MaxNote)}
	}
	var drafts []record.Draft
	if (c.End || c.Leave) && r.now.rule.Kind == decision.Proof && !r.now.answered {
		more := 0
		if n != nil {
			more = *n
		}
		r.now = r.decide(true, more) // proof decides when the session ends
	}
	switch {
	case c.Take && r.now.rule.Kind == decision.Proof && r.now.Due && (r.now.Verdict == decision.StepUp || r.now.Verdict == decision.Finished):
		drafts = r.take()
	case r.counting():
		drafts = r.take()
	case r.phase() == Deciding && c.Take:
		drafts = r.take()
	case r.now.Due && !r.now.answered:
		drafts = append(drafts, r.verdict(r.leftAs()))
	}
	if n != nil || left != nil {
		u := record.Unlogged{Block: b.ID, Left: left}
		if n != nil {
			u.N = *n
		}
		drafts = append(drafts, record.NewDraft(record.KUnlogged, u))
	}
	tags, problem := ReadTags(c.Tags)
	if problem != nil {
		return nil, problem
	}
	if !slices.Equal(tags, r.s.Tags) {
		drafts = append(drafts, record.NewDraft(record.KAmend, record.Amend{Target: r.s.Opened, Set: map[string]json.RawMessage{"tags": encode(tags)}}))
	}
	if c.End {
		drafts = append(drafts, record.NewDraft(record.KEnd, record.End{Reason: c.Reason, Left: left, Next: strings.TrimSpace(c.Next)}))
	}
	return drafts, nil
}

// mostTags is how many tags a session has room for.
const mostTags = 8

// ReadTags reads words with commas between, each once and in small letters.
func ReadTags(typed string) (tags []string, _ *Problem) {
	for _, word := range strings.Split(typed, ",") {
		word = strings.ToLower(strings.Join(strings.Fields(word), " "))
		if len([]rune(word)) > criteria.MaxName {
			return nil, &Problem{"tags", fmt.Sprintf("At most %d characters a tag.", criteria.MaxName)}
		}
		if word != "" && !slices.Contains(tags, word) {
			tags = append(tags, word)
		}
	}
	if len(tags) > mostTags {
		return nil, &Problem{"tags", fmt.Sprintf("%d tags; at most %d. Few that come again and again can be compared.", len(tags), mostTags)}
	}
	return tags, nil
}

// leftAs is what ending without an answer means: a repeat was done, anything else was left open.
func (r *Run) leftAs() string {
	switch r.now.Verdict {
	case decision.Repeat, decision.Finished, decision.Held:
		return string(r.now.Verdict)
	}
	return "open"
}
