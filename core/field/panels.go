package field

import (
	"fmt"
	"strings"

	"patientfox/core/decision"
	"patientfox/core/evidence"
	"patientfox/core/record"
	"patientfox/core/trial"
)

// TallyTyped is a count after a set, as typed.
type TallyTyped struct {
	Met    string `json:"met"`
	Late   string `json:"late"`
	Helped string `json:"helped"`
	Missed string `json:"missed"`
}

// Tally keeps the count of one set, made after it: its order is not known.
func (r *Run) Tally(t TallyTyped) ([]record.Draft, *Problem) {
	var d record.Tally
	for _, f := range []struct {
		name, typed string
		to          *int
	}{{"met", t.Met, &d.Met}, {"late", t.Late, &d.Late}, {"helped", t.Helped, &d.Helped}, {"missed", t.Missed, &d.Missed}} {
		n, problem := whole(f.name, f.typed, 100)
		if problem != nil {
			return nil, problem
		}
		if n != nil {
			*f.to = *n
		}
	}
	size := r.now.rule.Size
	switch n := d.Met + d.Late + d.Helped + d.Missed; {
	case r.phase() != Idle || r.work().ByState || r.doing() != record.Train:
		return nil, &Problem{"met", "A tally belongs between trials, and not to exposures."}
	case n == 0:
		return nil, &Problem{"met", "Say how many there were."}
	case r.now.rule.Kind == decision.Set && n != size:
		return nil, &Problem{"met", fmt.Sprintf("They make %d; a set of this plan has %d.", n, size)}
	}
	return r.starts(record.NewDraft(record.KTally, d)), nil
}

// Exits says how to get out of here: as the session was planned, and as it always holds.
func (r *Run) Exits() (lines []string) {
	if r.sheet != nil {
		for _, text := range []string{r.sheet.Plan.Exits, r.sheet.Plan.Falls} {
			if text = strings.TrimSpace(text); text != "" {
				lines = append(lines, text)
			}
		}
	}
	if line := r.cueProtection(); line != "" {
		lines = append(lines, line)
	}
	if len(lines) == 0 {
		lines = append(lines, "Feed while leaving, if it eats. Further off first, then ask; then home.")
	}
	return append(lines, "Biting, growling or panic: leave, manage, and ask a veterinarian or a certified behaviour professional.")
}

// A cue that is given and not answered is worn. Below this, at the lower end, or with fewer trials unhelped, it is not
// called with.
const (
	protectBelow  = 0.6
	protectTrials = 10
)

// cueProtection says whether to call the dog with this cue where it matters; "" for other kinds of work.
func (r *Run) cueProtection() string {
	if !r.pack.Lifeline || r.block() == nil {
		return ""
	}
	met, n, unhelped := 0, 0, r.pack.Unhelped
	for _, t := range r.pack.Stretched(r.s, r.block()) {
		if t.Outcome == trial.Void || t.Easy {
			continue
		}
		n++
		if t.Outcome == trial.Met {
			met++
		}
	}
	for _, t := range r.s.Trials {
		if t.Counted() && t.Outcome != trial.Helped && r.s.PlanOf(t.Block) == r.pack.Plan {
			unhelped++
		}
	}
	if unhelped >= protectTrials && n > 0 && evidence.Jeffreys(met, n, 0.8).Lo >= protectBelow {
		return ""
	}
	return "Do not call: go and get the dog. This cue is not sure enough here to be spent."
}
