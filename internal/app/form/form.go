// Package form reads what was typed: figures in the practice's units, numbers, times, ladders, definitions and rules, with what is
// wrong, by field.
package form

import (
	"crypto/sha256"
	"fmt"
	"maps"
	"slices"
	"strings"
	_ "time/tzdata"
	"unicode"
	"unicode/utf8"

	"patientfox/core/criteria"
)

// Typed is a form as it was typed, by field.
type Typed map[string]string

// Text is a field without the space around it.
func (t Typed) Text(field string) string { return strings.TrimSpace(t[field]) }

// Invalid says what is wrong with a form, by field. Nothing was saved.
type Invalid struct{ Problems map[string]string }

func (i *Invalid) Error() string {
	return "cannot stand: " + strings.Join(slices.Sorted(maps.Keys(i.Problems)), ", ") // what was typed is never logged
}

// Conflict says that somebody changed the same thing meanwhile. Nothing was saved.
type Conflict struct{ Now Typed }

func (c *Conflict) Error() string { return "changed meanwhile" }

// Problems gathers what is wrong with a form.
type Problems map[string]string

// Add says what is wrong with a field; what was said of it first stays.
func (ps Problems) Add(field, text string) {
	if _, ok := ps[field]; !ok {
		ps[field] = text
	}
}

// Criteria adds what the core says.
func (ps Problems) Criteria(list []criteria.Problem) {
	for _, one := range list {
		ps.Add(one.Field, one.Text)
	}
}

// Err is *Invalid where anything is wrong.
func (ps Problems) Err() error {
	if len(ps) == 0 {
		return nil
	}
	return &Invalid{ps}
}

// Name reads a name: not empty, not too long, one line. Emoji and right-to-left names are names.
func (ps Problems) Name(field, typed, what string) string {
	typed = strings.TrimSpace(typed)
	visible := strings.IndexFunc(typed, func(r rune) bool { return unicode.IsGraphic(r) && !unicode.IsSpace(r) }) >= 0
	switch {
	case typed == "" || !visible:
		ps.Add(field, "Give "+what+" a name.")
	case utf8.RuneCountInString(typed) > criteria.MaxName:
		ps.Add(field, fmt.Sprintf("%d characters; a name has at most %d.", utf8.RuneCountInString(typed), criteria.MaxName))
	case strings.ContainsFunc(typed, func(r rune) bool { return unicode.IsControl(r) }):
		ps.Add(field, "A name is one line of text.")
	case !utf8.ValidString(typed):
		ps.Add(field, "This text has characters that cannot be read.")
	}
	return typed
}

// Text reads a longer text of at most n characters.
func (ps Problems) Text(field, typed string, n int) string {
	typed = strings.TrimSpace(strings.ReplaceAll(typed, "\r\n", "\n"))
	if count := utf8.RuneCountInString(typed); count > n {
		ps.Add(field, fmt.Sprintf("%d characters; at most %d. Nothing is lost: shorten it.", count, n))
	}
	if !utf8.ValidString(typed) {
		ps.Add(field, "This text has characters that cannot be read.")
	}
	return typed
}

// Content is the hash of what a form says, but for its key and token.
func (t Typed) Content() []byte {
	sum := sha256.New()
	for _, field := range slices.Sorted(maps.Keys(t)) {
		if field != "key" && field != "csrf" {
			fmt.Fprintf(sum, "%q=%q\n", field, t[field])
		}
	}
	return sum.Sum(nil)
}
