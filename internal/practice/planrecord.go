package practice

import (
	"fmt"
	"slices"
	"strconv"
	"strings"

	"patientfox/core/evidence"
	"patientfox/core/phrase"
	"patientfox/core/progression"
	"patientfox/core/say"
	"patientfox/core/trial"
	"patientfox/internal/store"
)

// unionOf is every step the plan had, as far as the trials name steps that are gone: those come in
// below the step that followed them in the record.
func unionOf(h history, l loaded) []progression.Step {
	all := slices.Clone(l.steps)
	last := ""
	for _, t := range h.trials {
		if progression.Index(all, t.Step) < 0 {
			at := progression.Index(all, last) + 1
			all = slices.Insert(all, at, progression.Step{ID: t.Step})
		}
		last = t.Step
	}
	return all
}

func evidenceOf(l loaded, h history) EvidenceView {
	stretch := l.stretch(h.trials)
	kept := map[string]bool{}
	var outcomes []trial.Outcome
	blocks := map[string]bool{}
	for _, t := range stretch {
		if t.Easy || t.Outcome == trial.Void {
			continue
		}
		outcomes = append(outcomes, t.Outcome)
		kept[t.ID], blocks[t.Block] = true, true
	}
	tally := evidence.Count(outcomes)
	v := EvidenceView{None: tally.N() == 0, Word: "met", Met: tally.Met, N: tally.N()}
	if l.work().ByState {
		v.Word = "at ease"
	}
	if v.None {
		return v
	}
	v.Interval = evidence.Wilson(tally.Met, tally.N(), 0.95)
	if v.Word == "met" {
		v.Lenient = say.Percent(tally.Lenient()) + " with late ones."
		v.Rest = phrase.Rest(tally)
	}
	logged, unlogged := 0, 0
	for id, c := range covers(h.blocks) {
		if blocks[id] {
			logged, unlogged = logged+c.Logged, unlogged+c.Unlogged
		}
	}
	v.Coverage = say.Upper(phrase.Coverage(logged, unlogged)) + "."
	if tally.N() < 20 {
		v.Few = say.Upper(say.Count(tally.N(), "trial")) + " say little: 20 and more narrow it."
	}
	v.Cold = coldLine(h.trials, kept, v.Word)
	var latencies []float64
	for _, t := range h.trials {
		if kept[t.ID] && t.LatencyS != nil && trial.Outcome(t.Outcome).Right() {
			latencies = append(latencies, *t.LatencyS)
		}
	}
	if len(latencies) > 0 {
		v.LatencyS = "Median latency " + say.Seconds(evidence.Quantile(latencies, 0.5)) + ", nine in ten within " + say.Seconds(evidence.Quantile(latencies, 0.9)) + "."
	}
	return v
}

// coldLine says how the cold trials of a stretch went: the ones that tell what the dog brings along.
func coldLine(trials []store.Trial, kept map[string]bool, word string) string {
	met, n := 0, 0
	for _, t := range trials {
		if kept[t.ID] && t.Cold {
			n++
			if t.Outcome == trial.Met {
				met++
			}
		}
	}
	if n == 0 {
		return ""
	}
	return fmt.Sprintf("Cold, first of the day: %d of %d %s.", met, n, word)
}

// sessionRows lists a plan's sessions, newest first.
func sessionRows(h history, today string) []SessionRow {
	tally := map[string][]trial.Outcome{}
	for _, t := range h.trials {
		if !t.Waits && !t.Easy {
			tally[t.Session] = append(tally[t.Session], trial.Outcome(t.Outcome))
		}
	}
	logged, unlogged := map[string]int{}, map[string]int{}
	for _, b := range h.blocks {
		logged[b.Session] += b.Logged
		unlogged[b.Session] += b.Unlogged
	}
	var rows []SessionRow
	for _, s := range slices.Backward(h.sessions) {
		row := SessionRow{ID: s.ID, Day: ShortDay(s.Day, today), Place: s.Where, Open: s.Ended == nil}
		c := evidence.Count(tally[s.ID])
		row.Line = strconv.Itoa(c.Met) + " of " + strconv.Itoa(c.N()) + " met" + notAll(logged[s.ID], unlogged[s.ID])
		if s.Next != "" {
			row.Line += " · " + firstLine(s.Next)
		}
		if rows = append(rows, row); len(rows) == rowsShown {
			break
		}
	}
	return rows
}

func firstLine(text string) string {
	text, _, _ = strings.Cut(text, "\n")
	if runes := []rune(text); len(runes) > 90 {
		return string(runes[:89]) + "…"
	}
	return text
}
