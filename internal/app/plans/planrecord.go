package plans

import (
	"fmt"

	"patientfox/core/evidence"
	"patientfox/core/phrase"
	"patientfox/core/say"
	"patientfox/core/trial"
	"patientfox/internal/app"
	"patientfox/internal/store"
)

func evidenceOf(l app.Plan, h app.History) EvidenceView {
	stretch := l.Stretch(h.Trials)
	kept := map[string]bool{}
	var outcomes []trial.Outcome
	blocks := map[string]bool{}
	for _, t := range stretch {
		if t.Easy || t.Outcome.Unread() {
			continue
		}
		outcomes = append(outcomes, t.Outcome)
		kept[t.ID], blocks[t.Block] = true, true
	}
	tally := evidence.Count(outcomes)
	v := EvidenceView{None: tally.N() == 0, Word: "met", Met: tally.Met, N: tally.N()}
	if l.Work().ByState {
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
	for id, c := range app.Covers(h.Blocks) {
		if blocks[id] {
			logged, unlogged = logged+c.Logged, unlogged+c.Unlogged
		}
	}
	v.Coverage = say.Upper(phrase.Coverage(logged, unlogged)) + "."
	if tally.N() < 20 {
		v.Few = say.Upper(say.Count(tally.N(), "trial")) + " say little: 20 and more narrow it."
	}
	v.Cold = coldLine(h.Trials, kept, v.Word)
	var latencies []float64
	for _, t := range h.Trials {
		if kept[t.ID] && t.LatencyS != nil && trial.Outcome(t.Outcome).Right() {
			latencies = append(latencies, *t.LatencyS)
		}
	}
	if len(latencies) > 0 {
		v.LatencyS = "Median latency " + say.Seconds(evidence.Quantile(latencies, 0.5)) + ", nine in ten within " +
			say.Seconds(evidence.Quantile(latencies, 0.9)) + "."
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
