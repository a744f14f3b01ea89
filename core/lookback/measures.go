package lookback

import (
	"fmt"
	"math"
	"strings"

	"patientfox/core/criteria"
	"patientfox/core/phrase"
	"patientfox/core/progression"
	"patientfox/core/record"
	"patientfox/core/say"
	"patientfox/core/trial"
	"patientfox/core/work"
)

// measured says what was measured of a trial, as its kind of work has it.
func measured(t trial.Trial, b *record.Block) string {
	var parts []string
	add := func(format string, args ...any) { parts = append(parts, fmt.Sprintf(format, args...)) }
	seconds := func(format string, s *float64) {
		if s != nil {
			add(format, *s)
		}
	}
	parts = append(parts, took(t, b)...)
	if t.Unmeasured {
		parts = append(parts, "unmeasured")
	}
	parts = append(parts, touched(t, b)...)
	if t.FedFirst {
		parts = append(parts, "food came first")
	}
	parts = append(parts, prompted(&t)...)
	if t.State != nil {
		seconds("itself again after %.0f s", t.RecoveryS)
	} else {
		seconds("in position again after %.0f s", t.RecoveryS)
	}
	if t.Paces > 0 {
		parts = append(parts, say.Count(t.Paces, "pace"))
	}
	if t.Pulls > 0 {
		parts = append(parts, say.Count(t.Pulls, "pull"))
	}
	seconds("loose after %.1f s", t.SlackS)
	if t.CheckIns > 0 {
		parts = append(parts, say.Count(t.CheckIns, "check-in"))
	}
	seconds("back after %.1f s", t.ReturnS)
	if t.LeadS != nil {
		parts = append(parts, leads(*t.LeadS))
	}
	seconds("out for %.1f s", t.OutS)
	if word := Approximation(t, b); word != "" {
		parts = append(parts, "offered: "+word)
	}
	switch t.Broke {
	case "":
	case trial.ByLine:
		parts = append(parts, "the line helped")
	default:
		parts = append(parts, "interrupted: "+t.Broke)
	}
	return strings.Join(parts, ", ")
}

// took says how long a trial took, and its answer.
func took(t trial.Trial, b *record.Block) (parts []string) {
	seconds := func(format string, s *float64) {
		if s != nil {
			parts = append(parts, fmt.Sprintf(format, *s))
		}
	}
	if b != nil && len(t.Phases) > 0 && work.StepPhase(b.Phases) >= 0 {
		t.HeldS = nil // it is what a phase took, and that is said there
	}
	switch minutes := b != nil && work.Of(b.Kind).Minutes; {
	case t.State != nil:
		seconds("on for %.1f s", t.HeldS)
	case minutes:
		seconds("first check-in after %.1f s", t.LatencyS)
		if t.HeldS != nil && *t.HeldS >= 1 {
			seconds("%.0f s long", t.HeldS)
		}
	default:
		seconds("answered in %.1f s", t.LatencyS)
		seconds("held %.1f s", t.HeldS)
	}
	return parts
}

// prompted says how a dog was helped, and what of an engaged dog was seen.
func prompted(t *trial.Trial) (parts []string) {
	if t.Prompts > 0 {
		words := "helped"
		if t.Prompts > 1 {
			words += " " + say.Times(t.Prompts)
		}
		if t.Prompt != "" {
			words += ": " + t.Prompt
		}
		parts = append(parts, words)
	}
	if t.Assisted {
		parts = append(parts, "after the planned help")
	}
	for _, p := range t.Phases {
		parts = append(parts, fmt.Sprintf("%s %.1f s", p.Name, p.S))
	}
	if len(t.Ticks) > 0 {
		parts = append(parts, "seen: "+say.List(t.Ticks))
	}
	return parts
}

// leads says when the distraction came, s from the signal.
func leads(s float64) string {
	switch s = math.Round(s*10) / 10; {
	case s > 0:
		return fmt.Sprintf("distraction %.1f s after the signal", s)
	case s < 0:
		return fmt.Sprintf("distraction %.1f s before the signal", -s)
	}
	return "distraction with the signal"
}

// Approximation is the word for what was offered, by the list of the step that asked; "" where nothing was, or where trials are no offers:
// there it is the step's own, which was reached.
func Approximation(t trial.Trial, b *record.Block) string {
	if t.Offered == nil || b == nil {
		return ""
	}
	if at := progression.Index(b.Steps, t.Step); at >= 0 {
		c := b.Steps[at].Criteria
		if d, ok := c.Dimension(criteria.Approx); ok && work.Of(b.Kind).Offers(c) && *t.Offered < len(d.Items) {
			return d.Items[*t.Offered]
		}
	}
	return ""
}

// Card is what the card of a deck asked in a trial, in words; "" where there was none.
func Card(t trial.Trial, b *record.Block, words phrase.Words) string {
	if b == nil || t.Card < 1 || t.Card > len(b.Deck) {
		return ""
	}
	var step criteria.Criteria
	if at := progression.Index(b.Steps, t.Step); at >= 0 {
		step = b.Steps[at].Criteria
	}
	return words.Card(step, b.Deck[t.Card-1])
}

// touched says how a site was handled.
func touched(t trial.Trial, b *record.Block) (parts []string) {
	if t.Site != "" {
		parts = append(parts, t.Site)
	}
	if t.State != nil && b != nil && work.Of(b.Kind).HandsOn {
		parts = append(parts, map[bool]string{true: "taken", false: "offered"}[t.Taken])
	}
	if t.Pulled {
		parts = append(parts, "pulled away, let go")
	}
	if t.Done {
		parts = append(parts, t.Touch.DoneAs())
	}
	return parts
}
