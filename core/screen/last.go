package screen

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"patientfox/core/evidence"
	"patientfox/core/phrase"
	"patientfox/core/record"
	"patientfox/core/say"
	"patientfox/core/session"
	"patientfox/core/trial"
	"patientfox/core/work"
)

// lastLine says between trials how the last one was read: its outcome or state, what was measured, and why it is in no rate where it is
// in none. "" before the first, and where a verdict is shown.
func (r Screen) lastLine(phase session.Phase) string {
	if phase != session.Idle && phase != session.Deciding {
		return ""
	}
	t := r.LastTrial()
	if noted := r.noted(t); noted != "" || t == nil {
		return noted
	}
	if t.Tally {
		return r.tallied(t)
	}
	line := say.Upper(phrase.Outcome(t.Outcome))
	if t.State != nil {
		line = work.StateNames[*t.State]
	}
	if t.Pulled {
		line = "Pulled away, let go"
	}
	seconds := func(s *float64) {
		if s != nil && t.From < t.At {
			line += ", " + say.Seconds(math.Round(*s*10)/10)
		}
	}
	if seconds(t.LatencyS); t.LatencyS == nil {
		seconds(t.HeldS)
	}
	if t.Done {
		line += ", " + t.Touch.DoneAs()
	}
	if t.Assisted {
		line += ", after the planned help"
	}
	if names := work.Spoiled(t); len(names) > 0 {
		line += ", in " + say.List(names)
	}
	switch {
	case t.State != nil && t.Outcome == trial.LetGo:
		line += ", ended early"
	case slices.ContainsFunc(r.Session().Blocks, func(b *record.Block) bool { return b.ID == t.Block && b.Doing == record.Rehearsal }):
		line += ". A rehearsal: in no rate"
	case t.OffStep():
		line += ". Its card is not the step: in no rate"
	case t.Rearranged():
		line += ". Not as planned: in no rate"
	case t.Apart():
		line += ". No step asks for that: in no rate"
	case t.Easy:
		line += ". Easy: in no rate"
	case t.Unmeasured:
		line += ", without its times"
	}
	return line + "."
}

// tallied says what the tally came to that a trial is of: its order is not known, and it has no last one.
func (r Screen) tallied(last *trial.Trial) string {
	event, _, _ := strings.Cut(last.ID, "#")
	var tally evidence.Tally
	for i := range r.Session().Trials {
		if t := &r.Session().Trials[i]; t.Tally && strings.HasPrefix(t.ID, event+"#") {
			tally.Add(t.Outcome)
		}
	}
	return fmt.Sprintf("Tally: %d of %d met.", tally.Met, tally.N())
}

// noted says what was noted since the last trial that is no trial itself, so that a press of its key is seen.
func (r Screen) noted(last *trial.Trial) (line string) {
	since := 0.0
	if last != nil {
		since = last.At
	}
	latest := func(at float64, says string) {
		if at >= since {
			since, line = at, says
		}
	}
	for _, w := range r.Session().Withheld {
		latest(w.At, "Fetched, not called: noted, and no trial.")
	}
	for _, g := range r.Session().Growls {
		latest(g.At, "Growl or snap: noted.")
	}
	return line
}
