package form

import (
	"strings"
)

// listed reads a list of words: one a line, or with commas or arrows between.
func Listed(typed string) []string {
	var list []string
	for _, word := range strings.FieldsFunc(typed, func(r rune) bool { return r == '\n' || r == ',' || r == ';' || r == '→' }) {
		if word = strings.TrimSpace(word); word != "" {
			list = append(list, word)
		}
	}
	return list
}
