package phrase

import (
	"slices"
	"strings"

	"patientfox/core/criteria"
	"patientfox/core/say"
	"patientfox/core/work"
)

// Ticks lists a definition as points that a bystander could tick.
func Ticks(kind work.Kind, d criteria.Definition) []string {
	var ticks []string
	add := func(before, text string) {
		if text = strings.TrimSpace(text); text != "" {
			ticks = append(ticks, before+text)
		}
	}
	add("", say.Upper(strings.TrimSpace(d.Position)))
	if posture := strings.TrimSpace(d.Postures); posture != "" {
		if when := strings.TrimSpace(d.When); when != "" {
			posture += "; " + when
		}
		ticks = append(ticks, "Posture: "+posture)
	}
	ticks = append(ticks, cues(kind, d)...)
	add("Not right: ", d.Break)
	add("Marker: ", d.Marker)
	add(work.Of(kind).Stops(), d.Release)
	after := d.AfterError
	if text := strings.TrimSpace(d.AfterText); text != "" {
		if after == "" || after == "other" {
			after = text
		} else {
			after += ", " + text
		}
	}
	add("After an error: ", after)
	add("", say.Upper(strings.TrimSpace(d.Text)))
	return ticks
}

// cues says what the cue is, what may follow it, and how fast an answer is in time.
func cues(kind work.Kind, d criteria.Definition) []string {
	cue, by := strings.TrimSpace(d.Cue), d.CueBy
	line := ""
	switch {
	case d.Uncued():
		line = "No cue yet: the dog offers it"
	case cue == "":
		return nil
	case by != "":
		line = "Cue, " + by + ": " + cue
	default:
		line = "Cue: " + cue
	}
	ticks := []string{line}
	if second := strings.TrimSpace(d.Cue2); second != "" {
		order := "If that is not answered: " + second
		if third := strings.TrimSpace(d.Cue3); third != "" {
			order += ", then " + third
		}
		ticks = append(ticks, order)
	} else if work.Of(kind).OnCue && !d.Uncued() {
		ticks = append(ticks, "One cue: an answer to a second one is slow")
	}
	switch {
	case d.LatencyS > 0:
		ticks = append(ticks, "Answers within "+say.Seconds(d.LatencyS)+", timed from where the cue "+timed(d.TimedFrom))
	case work.Of(kind).OnCue:
		ticks = append(ticks, "Timed from where the cue "+timed(d.TimedFrom))
	}
	if d.MissedS > 0 {
		ticks = append(ticks, "An answer after more than "+say.Seconds(d.MissedS)+" is missed")
	}
	return ticks
}

func timed(from string) string {
	if from == "end" {
		return "ends"
	}
	return "begins"
}

// DefinitionChange says what one version of a definition has that the one before had not, and what is
// gone.
func DefinitionChange(kind work.Kind, before, after criteria.Definition) string {
	was, is := Ticks(kind, before), Ticks(kind, after)
	var parts []string
	for _, tick := range is {
		if !slices.Contains(was, tick) {
			parts = append(parts, "now: "+tick)
		}
	}
	for _, tick := range was {
		if !slices.Contains(is, tick) {
			parts = append(parts, "before: "+tick)
		}
	}
	return say.Upper(strings.Join(parts, "; "))
}
