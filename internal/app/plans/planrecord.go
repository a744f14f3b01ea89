package plans

import (
	"fmt"

	"patientfox/core/evidence"
	"patientfox/core/phrase"
	"patientfox/core/say"
	"patientfox/core/trial"
	"patientfox/core/work"
	"patientfox/internal/app"
	"patientfox/internal/store"
)

// ended is the second figure of a rate where trials were taken back once the cue was given: with them as not met.
func ended(stretch []trial.Trial, tally evidence.Tally, word string) string {
	n := 0
	for i := range stretch {
		if stretch[i].Ended() {
			n++
		}
	}
	if n < 2 {
		return ""
	}
	return fmt.Sprintf("%d more were ended early: with them as not %s, %d of %d", n, word, tally.Met, tally.N()+n)
}

// unmeasured says how many trials at the reached step count without a measure that the step names: of old ones, that a new count
// begins; of those logged with one tap, how many they are.
func unmeasured(l app.Plan, h app.History, stretch []trial.Trial) string {
	old, tapped := 0, 0
	step := l.Steps[l.Reached()]
	for i := range h.Trials {
		t := &h.Trials[i].Trial
		if t.Step == step.ID && t.Rev == step.Rev && t.Judge < work.JudgeNow && t.Counted() && t.State == nil &&
			l.Work().Unmeasured(l.Def, step.Criteria, t) {
			old++
		}
	}
	for i := range stretch {
		if stretch[i].Unmeasured {
			tapped++
		}
	}
	switch {
	case old > 0 && len(stretch) > 0 && stretch[0].Judge >= work.JudgeNow:
		return fmt.Sprintf("%s at this step were counted without what it measures. They are left out: the count began anew.",
			say.Upper(say.Count(old, "earlier trial")))
	case old > 0:
		return fmt.Sprintf("%s at this step were counted without what it measures. The next session begins a new count.",
			say.Upper(say.Count(old, "earlier trial")))
	case tapped > 0:
		return fmt.Sprintf("%d of these have no times.", tapped)
	}
	return ""
}

func evidenceOf(l app.Plan, h app.History) EvidenceView {
	stretch := l.Stretch(h.Trials)
	kept := map[string]bool{}
	var outcomes []trial.Outcome
	helped := 0 // of those that were met
	blocks := map[string]bool{}
	for _, t := range stretch {
		if t.Easy || t.Outcome.Unread() {
			continue
		}
		outcomes = append(outcomes, t.Outcome)
		if t.Outcome == trial.Met && t.Assisted {
			helped++
		}
		kept[t.ID], blocks[t.Block] = true, true
	}
	tally := evidence.Count(outcomes)
	v := EvidenceView{None: tally.N() == 0, Word: "met", Met: tally.Met, N: tally.N()}
	if l.Work().ByState {
		v.Word = "at ease"
	}
	if v.Unmeasured = unmeasured(l, h, stretch); v.Unmeasured != "" && len(stretch) > 0 {
		v.CountStep = l.Steps[l.Reached()].ID
	}
	if v.None {
		return v
	}
	if v.Ended = ended(stretch, tally, v.Word); v.Ended != "" {
		v.Ended += "."
	}
	v.Interval = evidence.Wilson(tally.Met, tally.N(), 0.95)
	if v.Word == "met" {
		if tally.Late > 0 {
			v.Lenient = say.Percent(tally.Lenient()) + " with slow ones."
		}
		v.Rest = say.Sentences(phrase.AfterHelp(helped, tally.Met), phrase.Rest(tally))
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
		v.LatencyS = "Median latency " + phrase.Quantiles(evidence.Quantile(latencies, 0.5), evidence.Quantile(latencies, 0.9)) + "."
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
