package lookback

import (
	"fmt"
	"math"
	"strings"

	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/evidence"
	"patientfox/core/phrase"
	"patientfox/core/record"
	"patientfox/core/reinforce"
	"patientfox/core/say"
	"patientfox/core/schedule"
	"patientfox/core/session"
)

// PlannedLine is one block of a planned session beside what was done of it.
type PlannedLine struct {
	Name           string
	Trials, Rate   string // planned and done
	Minutes, Gaps  string
	Pieces         string
	Skipped, Below bool // nothing of it was done; the rate lay below the planned one
}

// Comparison is a planned session beside the record of it.
type Comparison struct {
	Lines []PlannedLine
	Notes []string
}

// Planned is what a comparison needs beside the record.
type Planned struct {
	Sheet schedule.Sheet
	Names map[string]string         // of plans
	Main  map[string]string         // the ladder that a plan climbs: its sides share it
	Band  map[string]reinforce.Band // planned pays per minute, by plan
}

// Against compares a session with its plan: trials, rate, gaps, pieces and time block by block, what was skipped, and
// whether both sides were worked.
func Against(p Planned, f *record.Session) Comparison {
	var c Comparison
	plans := make([]string, len(f.Blocks))
	for i, b := range f.Blocks {
		plans[i] = b.Plan
	}
	at := schedule.Match(p.Sheet.Blocks, plans)
	done := map[string]int{} // trials by plan
	for _, b := range f.Blocks {
		done[b.Plan] += b.Logged
	}
	for i, planned := range p.Sheet.Blocks {
		line := PlannedLine{Name: p.Names[planned.Plan], Skipped: true}
		for k, b := range f.Blocks {
			if at[k] == i {
				line = p.line(planned, b, f)
			}
		}
		if line.Skipped {
			line.Trials, line.Minutes, line.Pieces = "0 of "+say.Count(planned.Trials(), "trial"), "–", "–"
		}
		c.Lines = append(c.Lines, line)
	}
	for k, b := range f.Blocks {
		if at[k] < 0 && b.Plan != p.Sheet.Finish {
			c.Lines = append(c.Lines, PlannedLine{Name: p.Names[b.Plan] + " (not planned)", Trials: say.Count(b.Logged, "trial")})
		}
	}
	c.notes(p, f, done)
	return c
}

// line is one block as it was planned and as it went.
func (p Planned) line(planned schedule.Block, b *record.Block, f *record.Session) PlannedLine {
	line := PlannedLine{Name: p.Names[planned.Plan]}
	var pays []float64
	pieces := 0
	for _, pay := range f.Pays {
		if pay.Block == b.ID {
			pays = append(pays, pay.At)
			pieces += pay.Pieces
		}
	}
	line.Trials = fmt.Sprintf("%d of %s", b.Logged, say.Count(planned.Trials(), "trial"))
	line.Pieces = fmt.Sprintf("%d of %d", pieces, planned.Pieces)
	clock, last, begun := f.ClockOf(b)
	if b.Logged == 0 || !begun {
		line.Skipped = b.Logged == 0
		return line
	}
	minutes := clock.Active(last) / 60
	paced := clock.Without(f.Off(b)).Active(last) / 60
	if planned.Probe {
		return line // one cold trial has no rate
	}
	line.Minutes = fmt.Sprintf("%s of %s min", tenth(minutes), tenth(planned.WorkS/60))
	band := p.Band[planned.Plan]
	if paced > 0 && paced*60 < reinforce.RateFrom {
		line.Rate = "too short"
	} else if paced > 0 {
		rate := float64(len(pays)) / paced
		line.Rate = tenth(rate) + " a minute"
		if band.Lo > 0 {
			line.Rate = tenth(rate) + " of " + phrase.PayRate(band)
			line.Below = rate < band.Lo-evidence.Epsilon
		}
	}
	if line.Gaps = "–"; perTrial(b) { // nothing is overdue between its trials
		return line
	}
	overdue := 0
	for _, gap := range clock.Gaps(pays, last) {
		if gap > band.Overdue() {
			overdue++
		}
	}
	if line.Gaps = "none overdue"; overdue > 0 {
		line.Gaps = say.Count(overdue, "gap") + " overdue"
	}
	return line
}

func tenth(x float64) string { return criteria.Figure(math.Round(x*10) / 10) }

// notes says what else differed from the plan.
func (c *Comparison) notes(p Planned, f *record.Session, done map[string]int) {
	add := func(format string, args ...any) { c.Notes = append(c.Notes, fmt.Sprintf(format, args...)) }
	if p.Sheet.WarmS > 0 {
		c.Notes = append(c.Notes, warmed(f))
	}
	sides := map[string]bool{}
	for i, a := range p.Sheet.Blocks {
		for _, b := range p.Sheet.Blocks[i+1:] {
			if a.Plan == b.Plan || p.Main[a.Plan] == "" || p.Main[a.Plan] != p.Main[b.Plan] || sides[a.Plan+b.Plan] {
				continue
			}
			sides[a.Plan+b.Plan] = true
			less, more := a.Plan, b.Plan
			if done[less] > done[more] {
				less, more = more, less
			}
			if done[more] > 0 && 2*done[less] < done[more] {
				add("%s had %s, %s %d: the other side falls behind.", p.Names[less], say.Count(done[less], "trial"), p.Names[more], done[more])
			}
		}
	}
	finished := false
	for _, m := range f.Moves {
		finished = finished || m.Why == "finish"
	}
	if p.Sheet.Finish != "" && !finished {
		add("No easy trial at the end: the session ended where it was hard.")
	}
	if f.Pieces != nil {
		add("%s counted out for the %d that were planned; %d paid.", say.Count(*f.Pieces, "treat"), p.Sheet.Pieces(), f.PaidPieces())
	}
}

// warmed says how the warm-up went.
func warmed(f *record.Session) string {
	eager := 0
	for _, w := range f.Warm {
		if w.Answer == decision.AnswerEager {
			eager++
		}
	}
	if len(f.Warm) == 0 {
		return "Warm-up: left out."
	}
	line := fmt.Sprintf("Warm-up: %d of %d eager", eager, len(f.Warm))
	if f.Warm[0].Part != "" {
		line = "Readiness: " + say.Lower(phrase.Ready(tried(f)))
	}
	for _, v := range f.Verdicts {
		switch {
		case !session.Readiness(v.Recommended, v.Action):
		case v.Action == v.Recommended:
			return line + ", " + say.Lower(phrase.Action(v.Action)) + "."
		default:
			return line + ". Advised: " + say.Lower(phrase.Action(v.Recommended)) + "; done: " + say.Lower(phrase.Action(v.Action)) + "."
		}
	}
	return line + "."
}

// tried are the parts of a session's readiness test.
func tried(f *record.Session) (list []decision.Tried) {
	for _, w := range f.Warm {
		list = append(list, decision.Tried{Part: w.Part, Answer: w.Answer})
	}
	return list
}

// readiness lists what a readiness test showed, part by part.
func (r *reviewer) readiness() {
	if len(r.f.Warm) == 0 || r.f.Warm[0].Part == "" {
		return
	}
	line := ""
	for _, w := range r.f.Warm {
		part := map[decision.Part]string{
			decision.PartLook: "look", decision.PartName: "name", decision.PartBack: "back from a thrown treat", decision.PartFood: "food",
			decision.PartCue: "cue",
		}[w.Part]
		how := map[decision.Answer]string{decision.AnswerEager: "yes", decision.AnswerSlow: "slowly", decision.AnswerNone: "no"}[w.Answer]
		if w.S != nil {
			how = "after " + say.Seconds(*w.S)
		}
		line += part + " " + how + ", "
	}
	line = warmed(r.f) + " " + say.Upper(strings.TrimSuffix(line, ", ")) + "."
	if ticks := r.f.Warm[0].Ticks; len(ticks) > 0 {
		line += " Seen: " + say.List(ticks) + "."
	}
	r.Notes = append([]NoteLine{{Text: line}}, r.Notes...)
}
