package field

import (
	"fmt"

	"patientfox/core/decision"
	"patientfox/core/evidence"
	"patientfox/core/phrase"
	"patientfox/core/progression"
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
		if t.Outcome != evidence.Void {
			n++
		}
	}
	line := phrase.Count(n, "trial")
	if food != "" {
		line += " · " + food
	} else if len(r.s.Pays) > 0 {
		line += " · " + phrase.Count(len(r.s.Pays), "pay")
	}
	return line
}

func (r *Run) closing() ClosingView {
	b := r.block()
	if b == nil {
		return ClosingView{}
	}
	v := ClosingView{Logged: phrase.Upper(phrase.Count(b.Logged, "trial")) + " logged in this block."}
	if b.Logged == 0 {
		v.Logged = "No trial was logged in this block."
	}
	if r.s.Pieces != nil {
		v.Pieces = fmt.Sprintf("%d should be left by the pays logged.", max(0, *r.s.Pieces-r.paidPieces()))
	}
	if r.phase() == Deciding {
		v.Waiting = fmt.Sprintf("Take the verdict: %s.", phrase.Verdict(r.now.Verdict))
	}
	if r.now.rule.Kind == decision.Proof && r.s.Ended == nil {
		if d := r.decide(true, 0); d.Verdict == decision.StepUp || d.Verdict == decision.Finished {
			v.Waiting = fmt.Sprintf("Take the verdict of the proof: %s.", phrase.Verdict(d.Verdict))
		}
	}
	var outcomes []evidence.Outcome
	for _, t := range r.s.Trials {
		if t.Counted() {
			outcomes = append(outcomes, t.Outcome)
		}
	}
	if at := progression.Index(b.Steps, b.Place.Reached); at >= 0 {
		v.Next = fmt.Sprintf("Reached: step %d of %d, %s.", at+1, len(b.Steps), r.say().Step(b.Steps[at].Criteria))
	}
	v.Summary = phrase.Upper(phrase.Rate(evidence.Count(outcomes))) + "."
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
		return fmt.Sprintf("%s more eaten than paid in the log: were pays, or whole trials, not logged?", phrase.Count(more, "piece"))
	case more < 0:
		return fmt.Sprintf("%s more in the log than eaten: is one logged twice, or refused?", phrase.Count(-more, "piece"))
	}
	return "As many eaten as were paid in the log."
}
