package session

import (
	"encoding/json"
	"slices"
	"strings"

	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/record"
)

// PaidPieces is how many pieces were paid in the session so far.
func (r *Run) PaidPieces() int { return r.s.PaidPieces() }

// Eaten compares the pieces said to be left, as typed, with the pays logged: how many more were eaten than paid, fewer than none where
// it is the other way; ok is false where that cannot be said.
func (r *Run) Eaten(left string) (more int, ok bool) {
	n, problem := whole("left", left, maxPieces)
	if problem != nil || n == nil || r.s.Pieces == nil {
		return 0, false
	}
	return *r.s.Pieces - *n - r.PaidPieces(), true
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
	b := r.Block()
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
		return nil, &Problem{Field: "left", Code: MoreThanOut, N: *left, Most: *r.s.Pieces}
	}
	if len([]rune(c.Next)) > criteria.MaxNote {
		return nil, &Problem{Field: "next", Code: TooLong, N: len([]rune(c.Next)), Most: criteria.MaxNote}
	}
	drafts := r.answers(c, n)
	if r.Phase() == Trying && r.Kind().Minutes && r.Kind().Lasting(r.Moment(0)) { // what was seen in it is not lost
		drafts = append(r.outcome("", 0), drafts...)
	}
	if n != nil || left != nil {
		u := record.UnloggedData{Block: b.ID, Left: left, Unsaid: n == nil}
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
		drafts = append(drafts, record.NewDraft(record.KAmend, record.AmendData{
			Target: r.s.Opened, Set: map[string]json.RawMessage{"tags": encode(tags)},
		}))
	}
	if c.End {
		drafts = append(drafts, record.NewDraft(record.KEnd, record.EndData{Reason: c.Reason, Left: left, Next: strings.TrimSpace(c.Next)}))
	}
	return drafts, nil
}

// answers takes the verdict that waits as a block ends, or leaves it; unlogged are the trials that were said not to be logged.
func (r *Run) answers(c Closing, unlogged *int) []record.Draft {
	at := *r
	proof := r.now.Rule.Kind == decision.Proof
	if (c.End || c.Leave) && proof && !r.now.Answered {
		more := 0
		if unlogged != nil {
			more = *unlogged
		}
		at.now = r.Ends(more) // proof decides when the session ends
	}
	passed := at.now.Verdict == decision.StepUp || at.now.Verdict == decision.Finished
	switch {
	case c.Take && proof && at.now.Due && passed, at.counting(), at.Phase() == Deciding && c.Take:
		return at.take()
	case at.now.Due && !at.now.Answered:
		return []record.Draft{at.verdict(at.leftAs())}
	}
	return nil
}

// maxTags is how many tags a session has room for.
const maxTags = 8

// ReadTags reads words with commas between, each once and in small letters.
func ReadTags(typed string) (tags []string, _ *Problem) {
	for _, word := range strings.Split(typed, ",") {
		word = strings.ToLower(strings.Join(strings.Fields(word), " "))
		if len([]rune(word)) > criteria.MaxName {
			return nil, &Problem{Field: "tags", Code: TagTooLong, Most: criteria.MaxName}
		}
		if word != "" && !slices.Contains(tags, word) {
			tags = append(tags, word)
		}
	}
	if len(tags) > maxTags {
		return nil, &Problem{Field: "tags", Code: TooManyTags, N: len(tags), Most: maxTags}
	}
	return tags, nil
}
