package app

import (
	"context"
	"strings"
	"unicode"
	"unicode/utf8"

	"patientfox/internal/store"
)

// HandRow is where a plan's dog is with one handler.
type HandRow struct {
	Name string
	At   int    // the step, numbered from 1: never above the main handler's
	Step string // its id
	Day  string // on which they last handled it, "" for the main handler
	Main bool
}

// Initials are those of a name, two at most.
func Initials(name string) string {
	letters := ""
	for _, word := range strings.Fields(name) {
		first, _ := utf8.DecodeRuneInString(strings.TrimFunc(word, func(r rune) bool { return !unicode.IsLetter(r) }))
		if unicode.IsLetter(first) && utf8.RuneCountInString(letters) < 2 {
			letters += strings.ToUpper(string(first))
		}
	}
	return letters
}

// Handling is who handles a plan's dog.
type Handling struct {
	Rows  []HandRow // the main handler first
	Could []Named   // who could be that: everybody with a step of their own
	Main  string    // by id
}

// ReadHandling loads it.
func ReadHandling(ctx context.Context, q store.Q, l Plan, today string) (h Handling, err error) {
	people, err := q.Handlers(ctx, l.ID)
	h.Main = l.MainHandler
	h.Rows, h.Could = handsOf(l, people, today)
	return h, err
}

// handsOf lists a plan's handlers, the main one first, and who could be the main one; nothing where nobody has worked it.
func handsOf(l Plan, people []store.Handler, today string) (rows []HandRow, could []Named) {
	if l.MainHandler == "" {
		return nil, nil
	}
	for _, one := range people {
		switch main := one.ID == l.MainHandler; {
		case main:
			rows = append([]HandRow{{Name: one.Name, At: l.Reached() + 1, Step: l.Standing.Reached, Main: true}}, rows...)
		case one.StepAt < 0:
			continue
		default:
			at := min(one.StepAt, l.Reached())
			rows = append(rows, HandRow{Name: one.Name, At: at + 1, Step: l.Steps[at].ID, Day: ShortDay(one.LastDay, today)})
		}
		could = append(could, Named{ID: one.ID, Name: one.Name})
	}
	return rows, could
}
