package homework

import (
	"cmp"
	"slices"
	"strings"

	"patientfox/core/criteria"
)

// Word is what one skill is asked for by, and ended with, as the whole family says it.
type Word struct {
	Skill  string
	Spoken string // "" where nothing is said
	Signal string // a hand signal or another cue, "" for none
	Counts string // what the dog does
	Ends   string // the release, "" for none
}

// WordOf reads the words of a skill's definition.
func WordOf(skill string, d criteria.Definition) Word {
	w := Word{Skill: skill, Counts: strings.TrimSpace(d.Position), Ends: strings.TrimSpace(d.Release)}
	cue, second := strings.TrimSpace(d.Cue), strings.TrimSpace(d.Cue2)
	switch {
	case d.Uncued():
	case d.CueBy == "" || d.CueBy == criteria.CueWays[0]:
		w.Spoken, w.Signal = cue, second
	default:
		w.Signal = cue
		if quoted(second) != "" {
			w.Spoken = second
		} else if second != "" {
			w.Signal = strings.TrimPrefix(w.Signal+"; "+second, "; ")
		}
	}
	return w
}

// Conflict is a word that means two things.
type Conflict struct {
	Word string
	Uses []string // the skills that it asks for or ends, in their order
}

// Conflicts finds the words that ask for two skills, or ask for one and end another: to a dog they are one word.
func Conflicts(words []Word) (list []Conflict) {
	type use struct{ word, says string }
	var uses []use
	for _, w := range words {
		if said := spoken(w.Spoken); said != "" {
			uses = append(uses, use{said, w.Skill})
		}
	}
	for _, w := range words {
		if said := spoken(w.Ends); said != "" && slices.ContainsFunc(words, func(other Word) bool { return spoken(other.Spoken) == said }) {
			uses = append(uses, use{said, "the end of " + w.Skill})
		}
	}
	for _, one := range uses {
		at := slices.IndexFunc(list, func(c Conflict) bool { return c.Word == one.word })
		if at < 0 {
			list, at = append(list, Conflict{Word: one.word}), len(list)
		}
		if !slices.Contains(list[at].Uses, one.says) {
			list[at].Uses = append(list[at].Uses, one.says)
		}
	}
	list = slices.DeleteFunc(list, func(c Conflict) bool { return len(c.Uses) < 2 })
	slices.SortFunc(list, func(a, b Conflict) int { return cmp.Compare(a.Word, b.Word) })
	return list
}

// spoken is the word of a cue that may be told with more: what is in quotes, or all of it where nothing is.
func spoken(cue string) string {
	return strings.ToLower(bare(cmp.Or(quoted(cue), cue)))
}
