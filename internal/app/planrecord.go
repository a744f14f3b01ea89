package app

import (
	"patientfox/core/evidence"
	"patientfox/core/progression"
	"patientfox/core/trial"
	"slices"
	"strconv"
	"strings"
)

// unionOf is every step the plan had, as far as the trials name steps that are gone: those come in
// below the step that followed them in the record.
func UnionOf(h History, l Plan) []progression.Step {
	all := slices.Clone(l.Steps)
	last := ""
	for _, t := range h.Trials {
		if progression.Index(all, t.Step) < 0 {
			at := progression.Index(all, last) + 1
			all = slices.Insert(all, at, progression.Step{ID: t.Step})
		}
		last = t.Step
	}
	return all
}

// sessionRows lists a plan's sessions, newest first.
func SessionRows(h History, today string) []SessionRow {
	tally := map[string][]trial.Outcome{}
	for _, t := range h.Trials {
		if !t.Waits && !t.Easy {
			tally[t.Session] = append(tally[t.Session], trial.Outcome(t.Outcome))
		}
	}
	logged, unlogged := map[string]int{}, map[string]int{}
	for _, b := range h.Blocks {
		logged[b.Session] += b.Logged
		unlogged[b.Session] += b.Unlogged
	}
	var rows []SessionRow
	for _, s := range slices.Backward(h.Sessions) {
		row := SessionRow{ID: s.ID, Day: ShortDay(s.Day, today), Place: s.Where, Open: s.Ended == nil}
		c := evidence.Count(tally[s.ID])
		row.Line = strconv.Itoa(c.Met) + " of " + strconv.Itoa(c.N()) + " met" + NotAll(logged[s.ID], unlogged[s.ID])
		if s.Next != "" {
			row.Line += " · " + FirstLine(s.Next)
		}
		if rows = append(rows, row); len(rows) == RowsShown {
			break
		}
	}
	return rows
}

func FirstLine(text string) string {
	text, _, _ = strings.Cut(text, "\n")
	if runes := []rune(text); len(runes) > 90 {
		return string(runes[:89]) + "…"
	}
	return text
}
