package lookback

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"

	"patientfox/core/decision"
	"patientfox/core/progression"
	"patientfox/core/record"
	"patientfox/core/reinforce"
	"patientfox/core/say"
	"patientfox/core/trial"
)

// sagged says that pay stopped before misses in a gap, "" where it has none, or they came before it was overdue.
func (r *reviewer) sagged(gap Gap) string {
	misses, first := 0, 0.0
	for _, t := range r.f.Trials {
		if t.Outcome == trial.Missed && t.At > gap.From && t.At <= gap.To {
			if misses++; misses == 1 {
				first = t.At
			}
		}
	}
	stopped := "Pay stopped before "
	if r.ranOut(gap) {
		stopped = "The treats ran out before "
	}
	switch {
	case misses == 0 || first-gap.From < r.Band.Overdue():
		return ""
	case onlyExposures(r.f):
		return stopped + "it turned wary"
	case misses == 1:
		return stopped + "the miss"
	}
	return stopped + "the misses"
}

// ranOut tells whether all treats that were counted out had been paid when a gap began.
func (r *reviewer) ranOut(gap Gap) bool {
	if r.f.Pieces == nil || *r.f.Pieces == 0 {
		return false
	}
	paid := 0
	for _, p := range r.f.Pays {
		if p.At <= gap.From {
			paid += p.Pieces
		}
	}
	return paid >= *r.f.Pieces
}

// gravest is the headline of a session that stopped or recovered, or went back at once; "" for any other.
func (r *reviewer) gravest() string {
	if n := len(r.f.Growls); n > 0 {
		r.Sentence = "At " + say.Clock(r.f.Growls[0].At) + ". Ask a veterinarian or a certified behaviour professional before the next session."
		return "Growled or snapped"
	}
	for _, t := range r.f.Trials {
		if t.Shown() == 4 {
			r.Sentence = "At " + say.Clock(t.At) + "."
			return "Stopped: over threshold"
		}
	}
	for _, one := range r.f.States { // noted beside the trials
		if one.State == 4 {
			r.Sentence = "Noted at " + say.Clock(one.At) + "."
			return "Over threshold"
		}
	}
	if r.f.Ended != nil && r.f.Ended.Reason == "stop" {
		return "Stopped"
	}
	if n := len(r.f.Recovers); n > 0 {
		last := r.f.Recovers[n-1]
		r.Sentence = fmt.Sprintf("From %s: %s at %s.", say.Clock(r.f.Recovers[0].At), say.Lower(recoverySays(last.What)), say.Clock(last.At))
		return "A recovery"
	}
	for _, v := range r.f.Verdicts {
		if reasons := string(v.Reasons); v.Action != string(decision.StepBack) {
			continue
		} else if strings.Contains(reasons, string(decision.GuardMisses)) {
			r.Sentence = "After misses in a row, at " + say.Clock(v.At) + "."
		} else if strings.Contains(reasons, string(decision.GuardWary)) {
			r.Sentence = "Not at ease several times in a row, at " + say.Clock(v.At) + "."
		} else {
			continue
		}
		return "Back a step at once"
	}
	return ""
}

// headline says in one sentence what is worth knowing first: the gravest thing that happened.
func (r *reviewer) headline() {
	if r.Headline = r.gravest(); r.Headline != "" {
		return
	}
	worst := Gap{}
	for _, g := range r.Gaps {
		if g.Active > worst.Active {
			worst = g
		}
	}
	if worst.Active > 0 {
		r.Sentence = fmt.Sprintf("From %s nothing was paid for %d s, against a plan of %d at the longest.",
			say.Clock(worst.From), int(math.Round(worst.Active)), int(math.Round(60/r.Band.Lo)))
		if r.ranOut(worst) {
			r.Sentence += fmt.Sprintf(" Nothing was left of the %s counted out.", say.Count(*r.f.Pieces, "treat"))
		}
		if r.Headline = r.sagged(worst); r.Headline != "" {
			return
		}
	}
	up, down, others := 0, 0, 0
	for _, m := range r.f.Moves {
		switch {
		case !m.Followed:
		case m.Why == progression.WhyStepUp && r.f.LineOf(m.Block).Level != r.f.Blocks[0].Level:
			others++
		case m.Why == progression.WhyStepUp:
			up++
		case m.Why == progression.WhyStepBack || m.Why == progression.WhyRestart:
			down++
		}
	}
	switch {
	case len(r.f.Trials) == 0:
		r.Headline = "Nothing was logged"
	case others > 0 && down == 0:
		r.Headline = "With " + r.others() + " " + say.CountInWords(others, "step") + " up"
		if up > 0 {
			r.Headline = say.Upper(say.CountInWords(up, "step")) + " up, " + say.Number(others) + " with " + r.others()
		}
	case up > 0 && down == 0:
		r.Headline = say.Upper(say.CountInWords(up, "step")) + " up"
	case down > 0 && up == 0:
		r.Headline = say.Upper(say.CountInWords(down, "step")) + " back"
	case up > 0:
		r.Headline = say.Upper(say.CountInWords(up, "step")) + " up, " + say.CountInWords(down, "step") + " back"
	case r.byHand() != "":
		r.Headline = r.byHand()
	default:
		r.Headline = cmp.Or(r.beside(), r.under(), r.visit(), "Held its step")
	}
	if r.Sentence == "" && r.Band.Lo > 0 && len(r.Pays) > 0 && r.active >= reinforce.RateFrom && !r.perTrial() {
		r.Sentence = "No gap between pays was overdue."
	}
}

// visit is the headline of a care visit over several sites, with those at which the dog was not at ease; "" of any other session.
func (r *reviewer) visit() string {
	sites := trial.Sites(trial.Each(r.f.Trials))
	if sites == nil {
		return ""
	}
	var uneasy []string
	for _, site := range sites {
		if slices.ContainsFunc(r.f.Trials, func(t trial.Trial) bool { return t.Site == site && t.Counted() && !t.Outcome.Right() }) {
			uneasy = append(uneasy, site)
		}
	}
	if r.Sentence == "" && len(uneasy) > 0 {
		r.Sentence = "Not at ease at every touch: " + strings.Join(uneasy, "; ") + "."
	} else if r.Sentence == "" {
		r.Sentence = "At ease at every touch."
	}
	return fmt.Sprintf("A visit to %d sites", len(sites))
}

// beside is the headline of a session of which no trial counts towards a step; "" where one does.
func (r *reviewer) beside() string {
	cards := true
	for i := range r.f.Trials {
		t := &r.f.Trials[i]
		if t.Counted() {
			return ""
		}
		cards = cards && (t.OffStep() || t.Waits)
	}
	mode := record.Train
	if n := len(r.f.Blocks); n > 0 {
		mode = r.f.Blocks[n-1].Mode
	}
	switch {
	case mode == record.Baseline:
		return "A baseline"
	case mode == record.Rehearsal:
		return "A rehearsal"
	case mode == record.Placing:
		if n := len(r.f.Moves); n > 0 && r.f.Moves[n-1].Followed && r.f.Moves[n-1].Why == progression.WhyPlaced {
			return "Found where to begin"
		}
		return "Looked for where to begin"
	case cards:
		return "Cards other than its step"
	}
	return "No trial counts"
}

// under says that a skill was worked below its step to the end of the session, or came back up to it; "" where neither is so. An easy one
// at the end and two steps in turn are at the step all the same.
func (r *reviewer) under() string {
	if len(r.f.Blocks) == 0 {
		return ""
	}
	b := r.f.Blocks[len(r.f.Blocks)-1]
	for _, m := range slices.Backward(r.f.Moves) {
		switch {
		case !m.Followed || r.f.PlanOf(m.Block) != b.Plan || m.Why == progression.WhyFinish:
		case m.Why == progression.WhySplit:
			return "Half a step down"
		case m.Why == progression.WhyRegain && m.To == b.Position.Reached:
			return "Back at its step"
		case m.Why == progression.WhyStart || m.Why == progression.WhyRegain:
			return "Worked below its step"
		default:
			return ""
		}
	}
	return ""
}

// byHand says to which step the trainer moved a skill in the session, "" where it was worked where it had begun to the end.
func (r *reviewer) byHand() string {
	for _, b := range slices.Backward(r.f.Blocks) {
		began := ""
		for _, t := range r.f.Trials {
			if r.f.PlanOf(t.Block) == b.Plan {
				began = cmp.Or(began, t.Step)
			}
		}
		for _, m := range slices.Backward(r.f.Moves) {
			if m.Followed && m.Why == progression.WhyHand && r.f.PlanOf(m.Block) == b.Plan {
				if number, _ := r.stepName(b, m.To); m.To != began && number > 0 {
					return fmt.Sprintf("Set manually to step %d", number)
				}
				break
			}
		}
	}
	return ""
}

// others names who handled beside the one with whom the session began.
func (r *reviewer) others() string {
	levels := map[string]bool{}
	for _, b := range r.f.Blocks {
		levels[b.Level] = true
	}
	if len(levels) > 2 {
		return "others"
	}
	return "the other handler"
}
