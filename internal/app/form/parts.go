package form

import (
	"regexp"
	"strings"

	"patientfox/core/criteria"
	"patientfox/core/progression"
)

// strengthOf reads "strength 3".
var strengthOf = regexp.MustCompile(`(?i)^strength\s+([0-5])$`)

// withUnit reads "3 m", "0.5 s", "2 min", "10 ft".
var withUnit = regexp.MustCompile(`^[0-9]+([.,][0-9]+)?\s*\pL+$`)

// readParts reads parts of a stimulus, one a line. After a colon a line may have the part's own ladder: “the motor: 6 m, 3 m; 0.5 s, 3 s”.
// Where what follows the colon is no figures, it is part of the name. together has which of them come at once: “its look + its click”.
func (f Figures) readParts(g progression.Generator, parts, together string) progression.Generator {
	g.Items = nil
	for line := range strings.SplitSeq(parts, "\n") {
		if line = strings.TrimSpace(line); line != "" {
			g.Parts = append(g.Parts, f.readPart(line))
		}
	}
	for line := range strings.SplitSeq(together, "\n") {
		if line = strings.TrimSpace(line); line == "" {
			continue
		}
		var names []string
		for name := range strings.SplitSeq(line, "+") {
			names = append(names, strings.TrimSpace(name))
		}
		g.Together = append(g.Together, names)
	}
	return g
}

func (f Figures) readPart(line string) progression.Part {
	at := strings.LastIndex(line, ":")
	if at < 0 {
		return progression.Part{Name: line}
	}
	part := progression.Part{Name: strings.TrimSpace(line[:at])}
	metres, _ := criteria.Find(criteria.Trigger)
	seconds, _ := criteria.Find(criteria.Duration)
	for _, word := range strings.FieldsFunc(strings.ReplaceAll(line[at+1:], ", ", ";"), func(r rune) bool { return r == ';' }) {
		word = strings.TrimSpace(word)
		if level := strengthOf.FindStringSubmatch(word); level != nil {
			part.Levels = append(part.Levels, float64(level[1][0]-'0'))
			continue
		}
		if !withUnit.MatchString(word) {
			return progression.Part{Name: line}
		}
		if x, ok, problem := f.Units.Parse(seconds, word); ok && problem == "" {
			part.Seconds = append(part.Seconds, x)
		} else if x, ok, problem := f.Units.Parse(metres, word); ok && problem == "" {
			part.Metres = append(part.Metres, x)
		} else {
			return progression.Part{Name: line}
		}
	}
	return part
}

// typedParts are parts, and which of them come together, as the form shows them.
func (f Figures) typedParts(g progression.Generator) (parts, together string) {
	metres, _ := criteria.Find(criteria.Trigger)
	seconds, _ := criteria.Find(criteria.Duration)
	var lines []string
	list := g.Parts
	for _, name := range g.Items {
		list = append(list, progression.Part{Name: name})
	}
	for _, p := range list {
		var groups []string
		for _, group := range []struct {
			figures []float64
			show    func(x float64) string
		}{
			{p.Metres, func(x float64) string { return f.Units.Say(metres, progression.SetUp(metres, f.Units, x)) }},
			{p.Levels, func(x float64) string { return "strength " + criteria.Figure(x) }},
			{p.Seconds, func(x float64) string { return f.Units.Say(seconds, x) }},
		} {
			var words []string
			for _, x := range group.figures {
				words = append(words, group.show(x))
			}
			if len(words) > 0 {
				groups = append(groups, strings.Join(words, ", "))
			}
		}
		line := p.Name
		if len(groups) > 0 {
			line += ": " + strings.Join(groups, "; ")
		}
		lines = append(lines, line)
	}
	var rows []string
	for _, names := range g.Together {
		rows = append(rows, strings.Join(names, " + "))
	}
	return strings.Join(lines, "\n"), strings.Join(rows, "\n")
}
