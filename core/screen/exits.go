package screen

import (
	"strings"

	"patientfox/core/evidence"
	"patientfox/core/trial"
)

// Exits says how to get out of here: as the session was planned, and as it always holds.
func (r Screen) Exits() (lines []string) {
	if r.Sheet() != nil {
		for _, text := range []string{r.Sheet().Plan.Exits, r.Sheet().Plan.Falls} {
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
func (r Screen) cueProtection() string {
	if !r.Pack().Lifeline || r.Block() == nil {
		return ""
	}
	met, n, unhelped := 0, 0, r.Pack().Unhelped
	for _, t := range r.Pack().Stretched(r.Session(), r.Block()) {
		if t.Outcome.Unread() || t.Easy {
			continue
		}
		n++
		if t.Outcome == trial.Met {
			met++
		}
	}
	for _, t := range r.Session().Trials {
		if t.Counted() && t.Outcome != trial.Helped && r.Session().PlanOf(t.Block) == r.Pack().Plan {
			unhelped++
		}
	}
	if unhelped >= protectTrials && n > 0 && evidence.Jeffreys(met, n, 0.8).Lo >= protectBelow {
		return ""
	}
	return "Do not call: go and get the dog. This cue is not sure enough here to be spent."
}
