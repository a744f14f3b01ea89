package screen

import (
	"math"

	"patientfox/core/phrase"
	"patientfox/core/say"
	"patientfox/core/session"
	"patientfox/core/trial"
	"patientfox/core/work"
)

// lastLine says between trials how the last one was read: its outcome or state, what was measured, and why it is in no rate where it is
// in none. "" before the first, and where a verdict is shown.
func (r Screen) lastLine(phase session.Phase) string {
	t := r.LastTrial()
	if t == nil || phase != session.Idle && phase != session.Deciding {
		return ""
	}
	line := say.Upper(phrase.Outcome(t.Outcome))
	if t.State != nil {
		line = work.StateNames[*t.State]
	}
	seconds := func(s *float64) {
		if s != nil && t.From < t.At {
			line += ", " + say.Seconds(math.Round(*s*10)/10)
		}
	}
	if seconds(t.LatencyS); t.LatencyS == nil {
		seconds(t.HeldS)
	}
	if names := work.Spoiled(t); len(names) > 0 {
		line += ", in " + say.List(names)
	}
	switch {
	case t.State != nil && t.Outcome == trial.LetGo:
		line += ", ended early"
	case t.OffStep():
		line += ". Its card is not the step: in no rate"
	case t.Rearranged():
		line += ". Not as planned: in no rate"
	case t.Easy:
		line += ". Easy: in no rate"
	case t.Unmeasured:
		line += ", without its times"
	}
	return line + "."
}
