package screen

import (
	"fmt"
	"slices"
	"strconv"
	"strings"

	"patientfox/core/decision"
	"patientfox/core/evidence"
	"patientfox/core/phrase"
	"patientfox/core/progression"
	"patientfox/core/record"
	"patientfox/core/say"
	"patientfox/core/session"
	"patientfox/core/trial"
	"patientfox/core/work"
)

// ClosingView is what the panel after a block says.
type ClosingView struct {
	Logged  string `json:"logged"`
	Pieces  string `json:"pieces"` // what the pieces left should be, by the pays logged
	Left    string `json:"left"`   // the same as a figure, "" where nothing was counted out
	Waiting string `json:"waiting"`
	Tags    string `json:"tags"`   // how it was, as far as that was said
	Reason  string `json:"reason"` // why it ends, as far as the log says
	Summary string `json:"summary"`
	Next    string `json:"next"` // where the next session begins, as it looks now
}

func (r Screen) closing() ClosingView {
	b := r.Block()
	if b == nil {
		return ClosingView{}
	}
	v := ClosingView{Tags: strings.Join(r.Session().Tags, ", "), Logged: say.Upper(say.Count(b.Logged, "trial")) + " logged in this block."}
	if b.Logged == 0 {
		v.Logged = "No trial was logged in this block."
	}
	if left, known := r.Left(); known {
		v.Left, v.Pieces = strconv.Itoa(left), fmt.Sprintf("%d should be left by the pays logged.", left)
	}
	if r.Phase() == session.Deciding {
		v.Waiting = fmt.Sprintf("Take the verdict: %s.", phrase.Verdict(r.Now().Verdict))
	}
	if r.Now().Rule.Kind == decision.Proof && r.Session().Ended == nil {
		if d := r.Ends(0); d.Verdict == decision.StepUp || d.Verdict == decision.Finished {
			v.Waiting = fmt.Sprintf("Take the verdict of the proof: %s.", phrase.Verdict(d.Verdict))
		}
	}
	v.Summary = r.summary()
	v.Next = r.reached(b)
	v.Reason = r.reason()
	return v
}

// summary says how the session went: its rate, or of several skills only how much was worked, because a rate over them is of none.
func (r Screen) summary() string {
	plans := map[string]bool{}
	n := 0
	for i := range r.Session().Trials {
		if t := &r.Session().Trials[i]; t.Counted() {
			plans[r.Session().PlanOf(t.Block)] = true
			n++
		}
	}
	said := say.Count(n, "trial") + fmt.Sprintf(" in %d skills", len(plans))
	if sites := trial.Sites(trial.Each(r.Session().Trials)); sites != nil {
		said = fmt.Sprintf("%d touches at %d sites", n, len(sites))
	} else if len(plans) < 2 {
		said = phrase.Rate(r.tally(r.Block().Plan))
		for plan := range plans {
			said = phrase.Rate(r.tally(plan))
		}
	}
	cards := phrase.OffStep(r.Session().Trials)
	if n == 0 && cards != "" {
		return cards
	}
	return strings.TrimSpace(say.Upper(said) + ". " + cards)
}

// tally counts what was met in a plan's counted trials, with the word for it.
func (r Screen) tally(plan string) (evidence.Tally, string) {
	var outcomes []trial.Outcome
	word := work.Of(r.Block().Kind).Success()
	for _, b := range r.Session().Blocks {
		if b.Plan == plan {
			word = work.Of(b.Kind).Success()
		}
	}
	for i := range r.Session().Trials {
		t := &r.Session().Trials[i]
		if !t.Counted() || r.Session().PlanOf(t.Block) != plan {
			continue
		}
		outcomes = append(outcomes, t.Outcome)
		if t.State == nil {
			word = "met" // logged by the outcome alone
		}
	}
	return evidence.Count(outcomes), word
}

// reached says which step the dog has reached in the plan of a block, or in each, with how it went, where the session had several.
func (r Screen) reached(b *record.Block) string {
	var said []string
	seen := map[string]bool{}
	for _, one := range slices.Backward(r.Session().Blocks) { // the last of each plan
		at := progression.Index(one.Steps, one.Position.Reached)
		if at < 0 || seen[one.Plan] || one.Dog != b.Dog {
			continue
		}
		seen[one.Plan] = true
		name := r.PackOf(one).SkillName
		if side := r.PackOf(one).Track; side != "" {
			name += ", " + side
		}
		went := ""
		if t, word := r.tally(one.Plan); t.N() > 0 {
			went = fmt.Sprintf("%d of %d %s, ", t.Met, t.N(), word)
		}
		said = append(said, fmt.Sprintf("%s: %sstep %d of %d", name, went, at+1, len(one.Steps)))
	}
	if at := progression.Index(b.Steps, b.Position.Reached); len(said) == 1 && at >= 0 {
		return fmt.Sprintf("Reached: step %d of %d, %s.", at+1, len(b.Steps), r.say().Step(b.Steps[at].Criteria))
	}
	slices.Reverse(said)
	return strings.Join(said, ". ") + "."
}

// reason is why the session ends, as far as the log says: on a success only after one.
func (r Screen) reason() string {
	moves, _, _ := r.Recovery() // under way, or home; none where it went on
	if r.OverThreshold() || len(moves) > 0 || r.Phase() == session.Deciding && r.Now().Verdict == decision.Stop {
		return "stop"
	}
	if t := r.LastTrial(); t != nil && !t.Outcome.Right() {
		return "other"
	}
	return "done"
}

// CrossCheck compares the pieces said to be left, as typed, with the pays logged.
func (r Screen) CrossCheck(left string) string {
	more, ok := r.Eaten(left)
	if !ok {
		return r.closing().Pieces
	}
	switch {
	case more > 0:
		return fmt.Sprintf("%s more eaten than paid in the log: were pays, or whole trials, not logged?", say.Count(more, "treat"))
	case more < 0:
		return fmt.Sprintf("%s more in the log than eaten: is one logged twice, or refused?", say.Count(-more, "treat"))
	}
	return "As many eaten as were paid in the log."
}

// lined tells whether it can be said of the last trial that the line made the response.
func (r Screen) lined() bool {
	t := r.LastTrial()
	return t != nil && t.State == nil && t.Outcome.Right()
}

// tells names the last trial, where it was not met: what broke it and whose error it was can be said.
func (r Screen) tells() string {
	t := r.LastTrial()
	if t == nil || t.State != nil || t.Outcome == trial.Met || t.Outcome == trial.Void {
		return ""
	}
	return "The last one: " + phrase.Outcome(t.Outcome)
}
