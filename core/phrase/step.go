package phrase

import (
	"strings"

	"patientfox/core/criteria"
	"patientfox/core/progression"
)

var strength = []string{"", "faint", "mild", "clear", "strong", "at full strength"}

// Step says in one plain sentence what a step asks: "10 s, you 2 m away, gulls at 27 m, mild, still".
func Step(c criteria.Criteria) string {
	var parts []string
	if c.Has(criteria.Duration) {
		parts = append(parts, Seconds(c.Get(criteria.Duration)))
	}
	if c.Has(criteria.Handler) {
		if m := c.Get(criteria.Handler); m == 0 {
			parts = append(parts, "you beside")
		} else {
			parts = append(parts, "you "+Metres(m)+" away")
		}
	}
	parts = append(parts, trigger(c, true)...)
	if c.Has(criteria.Latency) {
		parts = append(parts, "answer within "+Seconds(c.Get(criteria.Latency)))
	}
	if text := strings.TrimSpace(c.Text); text != "" {
		parts = append(parts, text)
	}
	return strings.Join(parts, ", ")
}

// StepShort says the same for the end of a level line: "10 s · 2 m · gulls at 12 m".
func StepShort(c criteria.Criteria) string {
	var parts []string
	if c.Has(criteria.Duration) {
		parts = append(parts, Seconds(c.Get(criteria.Duration)))
	}
	if c.Has(criteria.Handler) {
		switch m := c.Get(criteria.Handler); {
		case m == 0 && strings.TrimSpace(c.Text) != "":
			// beside is what goes without saying, and the words need the room
		case m == 0:
			parts = append(parts, "you beside")
		case len(c.Values) <= 2:
			parts = append(parts, "you "+Metres(m)+" away")
		default:
			parts = append(parts, Metres(m))
		}
	}
	parts = append(parts, trigger(c, false)...)
	if c.Has(criteria.Latency) {
		parts = append(parts, "in "+Seconds(c.Get(criteria.Latency)))
	}
	if text := strings.TrimSpace(c.Text); text != "" {
		if runes := []rune(text); len(runes) > 40 {
			text = strings.TrimSpace(string(runes[:39])) + "…"
		}
		parts = append(parts, text)
	}
	return strings.Join(parts, " · ")
}

func trigger(c criteria.Criteria, whole bool) []string {
	name := strings.TrimSpace(c.Trig)
	if name == "" {
		name = "trigger"
	}
	var parts []string
	present := c.Has(criteria.Trigger) || c.Get(criteria.Intensity) > 0
	if !present {
		if c.Has(criteria.Intensity) && whole && c.Trig != "" {
			return []string{"no " + name}
		}
		return nil
	}
	if c.Has(criteria.Trigger) {
		parts = append(parts, name+" at "+Metres(c.Get(criteria.Trigger)))
	} else {
		parts = append(parts, name)
	}
	if i := int(c.Get(criteria.Intensity)); i > 0 && i < len(strength) && (whole || !c.Has(criteria.Trigger)) {
		parts = append(parts, strength[i])
	}
	if c.Has(criteria.Moving) {
		if c.Get(criteria.Moving) > 0 {
			parts = append(parts, "moving")
		} else if whole {
			parts = append(parts, "still")
		}
	}
	return parts
}

// Difference says what changes from one step to the next: "Harder in duration; easier in trigger
// distance."
func Difference(from, to criteria.Criteria) string {
	harder, easier := criteria.Changed(from, to)
	names := func(dimensions []criteria.Dimension) string {
		var list []string
		for _, d := range dimensions {
			list = append(list, strings.ToLower(d.Label))
		}
		return List(list)
	}
	switch {
	case len(harder) == 0 && len(easier) == 0 && (from.Text != to.Text || from.Trig != to.Trig):
		return "The same figures as the step below; what differs stands in words."
	case len(harder) == 0 && len(easier) == 0:
		return "Asks for the same figures as the step below."
	case len(easier) == 0 && len(harder) == 1:
		return "One thing harder than the step below: " + names(harder) + "."
	case len(easier) == 0:
		return Upper(Number(len(harder))) + " things harder at once: " + names(harder) + "."
	case len(harder) == 0:
		return "Easier than the step below in " + names(easier) + "."
	}
	return "Harder in " + names(harder) + ", eased in " + names(easier) + "."
}

// Lint says what is not sound about a step, and what its fix does.
func Lint(l progression.Lint) (says, fix string) {
	var labels []string
	unit := ""
	for _, key := range l.Keys {
		if d, ok := criteria.Find(key); ok {
			labels = append(labels, strings.ToLower(d.Label))
			unit = d.Unit
		}
	}
	names := Upper(List(labels))
	are := "are"
	if len(labels) == 1 {
		are = "is"
	}
	limit := criteria.Figure(l.Limit)
	if unit != "" {
		limit += " " + unit
	}
	switch l.Code {
	case progression.LintTwoRaised:
		return names + " are raised at once: one thing at a time.", "Put a step between: " + Step(l.To)
	case progression.LintJump:
		return names + " jumps: from the step below, " + limit + " would do.", "Put a half step between: " + Step(l.To)
	case progression.LintNew:
		return names + " " + are + " new here, and nothing is eased for it.", "Ease the rest: " + Step(l.To)
	case progression.LintNoHarder:
		return "Harder in nothing than the step below.", "Remove this step"
	case progression.LintAge:
		return "Holds longer than this dog's age suggests: " + limit + " at most.", "Shorten it: " + Step(l.To)
	}
	return string(l.Code), "Mend it"
}

// Ticks lists a definition as points that a bystander could tick.
func Ticks(kind criteria.Kind, d criteria.Definition) []string {
	var ticks []string
	add := func(before, text string) {
		if text = strings.TrimSpace(text); text != "" {
			ticks = append(ticks, before+text)
		}
	}
	add("", Upper(strings.TrimSpace(d.Position)))
	add("Posture: ", d.Postures)
	if cue := strings.TrimSpace(d.Cue); cue != "" {
		line := "First cue: " + cue
		if kind == criteria.Cued {
			line += ", timed from where it " + timed(d.TimedFrom)
		}
		ticks = append(ticks, line)
	}
	add("Not right: ", d.Break)
	add("Marker: ", d.Marker)
	add("Ends with: ", d.Release)
	add("After an error: ", d.AfterError)
	add("", Upper(strings.TrimSpace(d.Text)))
	return ticks
}

func timed(from string) string {
	if from == "end" {
		return "ends"
	}
	return "begins"
}
