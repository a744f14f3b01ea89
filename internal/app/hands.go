package app

import (
	"context"
	"fmt"
	"strings"
	"unicode"
	"unicode/utf8"

	"patientfox/core/pack"
	"patientfox/core/progression"
	"patientfox/core/work"
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

// Roles of people who are not of the practice; to a child no safety step is ever opened.
const (
	RoleFamily = "family"
	RoleChild  = "child"
)

// ShownRow is a safety step, or what is really done, that was shown to somebody.
type ShownRow struct{ ID, Who, By, Day, What string }

// Handling is who handles a plan's dog.
type Handling struct {
	Rows  []HandRow // the main handler first
	Could []Named   // who could be that: everybody with a step of their own
	Main  string    // by id

	Safety []Named // the safety steps
	Others []Named // to whom they can be shown
	Shown  []ShownRow
}

// ReadHandling loads it.
func ReadHandling(ctx context.Context, q store.Q, l Plan, today string) (h Handling, err error) {
	people, err := q.Handlers(ctx, l.ID)
	h.Main = l.MainHandler
	h.Rows, h.Could = handsOf(l, people, today)
	for i, step := range l.Steps {
		if step.Safety {
			h.Safety = append(h.Safety, Named{ID: step.ID, Name: fmt.Sprintf("%d · %s", i+1, l.Words.Short(step.Criteria))})
		}
	}
	if work.Of(work.Kind(l.Kind)).HandsOn {
		h.Safety = append(h.Safety, Named{ID: pack.ReallyDone, Name: "what is really done: a claw, drops"})
	}
	if err != nil || len(h.Safety) == 0 {
		return h, err
	}
	names := map[string]string{}
	for _, one := range people {
		if names[one.ID] = one.Name; one.ID != l.MainHandler && one.Role != RoleChild {
			h.Others = append(h.Others, Named{ID: one.ID, Name: one.Name})
		}
	}
	for _, who := range people {
		var list []store.Shown
		if err := store.FromJSON(who.Shown, &list); err != nil {
			return h, err
		}
		for _, one := range list {
			what := "What is really done"
			if at := progression.Index(l.Steps, one.Step); at >= 0 {
				what = fmt.Sprintf("Step %d", at+1)
			} else if one.Step != pack.ReallyDone {
				continue // it was taken out
			}
			h.Shown = append(h.Shown, ShownRow{one.ID, who.Name, names[one.By], ShortDay(one.Day, today), what})
		}
	}
	return h, nil
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
