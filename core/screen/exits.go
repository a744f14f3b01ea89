package screen

import (
	"strings"

	"patientfox/core/phrase"
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

// cueProtection says not to call the dog with this cue where it matters, if it is not sure enough for that; "" for other kinds of work.
func (r Screen) cueProtection() string {
	if !r.Pack().Lifeline || r.Block() == nil || !r.Chance(true).Protects() {
		return ""
	}
	return phrase.DoNotCall
}
