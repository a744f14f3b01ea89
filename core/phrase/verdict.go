package phrase

import (
	"fmt"
	"math"

	"patientfox/core/decision"
	"patientfox/core/evidence"
	"patientfox/core/say"
	"patientfox/core/trial"
)

// Verdict is a verdict in a word or two.
func Verdict(v decision.Verdict) string {
	switch v {
	case decision.StepUp:
		return "Step up"
	case decision.Repeat:
		return "Repeat"
	case decision.StepBack:
		return "Step back"
	case decision.Split:
		return "Split the step"
	case decision.Stop:
		return "Stop"
	case decision.Held:
		return "It held"
	case decision.Placed:
		return "Placed"
	case decision.Finished:
		return "Finished"
	case decision.WorkHere:
		return "Work here"
	case decision.MakeEasier:
		return "Work further off"
	case decision.GoElsewhere:
		return "Go home"
	}
	return string(v)
}

// Action says what was done after a verdict: the same words, and two that no rule says.
func Action(action string) string {
	switch action {
	case "two_up":
		return "Two steps up"
	case "skipped":
		return "Left out"
	case string(decision.Repeat):
		return "Stayed"
	}
	return Verdict(decision.Verdict(action))
}

// plainReasons are the reasons without figures.
var plainReasons = map[decision.Code]string{
	decision.OverThresh:   "over threshold: leave now",
	decision.FirstStep:    "there is no step below",
	decision.Lowest:       "no step is easier: ease the set-up, or leave it for today",
	decision.LastStep:     "this is the last step",
	decision.AtCeiling:    "no higher today",
	decision.AboveMain:    "not above the main handler’s step",
	decision.NotShown:     "the next one is a safety step, and a trainer shows it first",
	decision.OrderUnknown: "a tally has no order",
}

// Reason says one reason in a sentence without its full stop.
func Reason(r decision.Reason) string {
	if says, ok := plainReasons[r.Code]; ok {
		return says
	}
	switch r.Code {
	case decision.FullSet, decision.BetweenSet:
		return fmt.Sprintf("%d of %d met", r.Of, r.Out)
	case decision.FewRight:
		if r.Of == 0 {
			return fmt.Sprintf("none of %d right", r.Out)
		}
		return fmt.Sprintf("only %d of %d right", r.Of, r.Out)
	case decision.SetGoing:
		return fmt.Sprintf("%d of %d trials in", r.Of, r.Out)
	case decision.Slow:
		return "slow: raise the value, shorten something else, or wait"
	case decision.ManyRepeats:
		return fmt.Sprintf("%s repeats in a row: a half step, better pay or a faster rate", say.Number(r.Of))
	case decision.RunMet:
		switch r.Of {
		case 1:
			return "the last one met"
		case 2:
			return "the last two both met"
		}
		return fmt.Sprintf("the last %s all met", say.Number(r.Of))
	case decision.RunWrong:
		return fmt.Sprintf("the last %s not right", say.Number(r.Of))
	case decision.RunGoing:
		return fmt.Sprintf("%d of %d met in a row", r.Of, r.Out)
	case decision.GuardWary:
		return fmt.Sprintf("not at ease %s in a row: make it easier now", say.Times(r.Of))
	case decision.GuardMisses:
		return fmt.Sprintf("%s misses in a row: make it easier now", say.Number(r.Of))
	case decision.GuardErrors:
		return fmt.Sprintf("%d of the last %d not right", r.Of, r.Out)
	case decision.EndedEarly:
		return fmt.Sprintf("%d of %d were ended early: ask less, or let it run", r.Of, r.Out)
	case decision.FewDays:
		return fmt.Sprintf("on %s of %s at this step", say.Among(r.Of), say.Count(r.Out, "day"))
	case decision.AfterHelp:
		if r.Of == r.Out {
			return "only after help"
		}
		return fmt.Sprintf("%d of %d only after help", r.Of, r.Out)
	case decision.WindowGoing:
		return fmt.Sprintf("%d of %d trials of the window are in", r.Of, r.Out)
	case decision.WindowRate:
		return fmt.Sprintf("%d of the last %d met", r.Of, r.Out)
	case decision.BelowRate:
		return fmt.Sprintf("only %d of the last %d right", r.Of, r.Out)
	case decision.FewSessions:
		return fmt.Sprintf("from %s of %s", say.Among(r.Of), say.CountInWords(r.Out, "session"))
	case decision.FewPlaces:
		return fmt.Sprintf("from %s of %s", say.Among(r.Of), say.CountInWords(r.Out, "place"))
	case decision.CountBroken:
		if r.Of > 1 {
			return fmt.Sprintf("not met, %s in a row: the count begins again", say.Number(r.Of))
		}
		return "not met: the count begins again"
	case decision.CalmGoing:
		return fmt.Sprintf("%d of %d at ease in a row", r.Of, r.Out)
	case decision.CalmMet:
		if r.Out == 0 {
			return fmt.Sprintf("the last %s at ease", say.Number(r.Of))
		}
		return fmt.Sprintf("the last %s at ease, %s of them expecting good", say.Number(r.Of), say.Among(r.Out))
	case decision.FewExpect:
		return fmt.Sprintf("%s of %s expecting good", say.Among(r.Of), say.Number(r.Out))
	case decision.FirstWary:
		return "the first one of this session was not at ease"
	case decision.Worried:
		return "worried: make it easier now"
	case decision.ProbeCold:
		return "the first trial of the day is the probe"
	case decision.ProbeMet:
		return "met cold: the gap doubles"
	case decision.ProbeMissed:
		return fmt.Sprintf("missed cold: repeat it, %d of %d so far", r.Of, r.Out)
	case decision.ProbeKept:
		return fmt.Sprintf("missed cold, then %s of %s met: the gap stays", say.Number(r.Of), say.Number(r.Of))
	case decision.ProbeLost:
		return "missed cold, and not met again at once: the gap halves"
	case decision.PlacedBelow:
		if r.Of == 0 {
			return fmt.Sprintf("step %d was not met, so it begins at the first", r.Out)
		}
		return fmt.Sprintf("met at step %d, not at step %d: it begins two below", r.Of, r.Out)
	case decision.PlacedTop:
		return "met up to the last step: it begins two below"
	case decision.NotCalmer:
		return fmt.Sprintf("wary in %d of the last %d, and no calmer", r.Of, r.Out)
	}
	return proofReason(r)
}

// proofReason is Reason of what proof says.
func proofReason(r decision.Reason) string {
	switch r.Code {
	case decision.ProofRound:
		return "proof round " + say.Number(r.Of)
	case decision.ProofPoints:
		return fmt.Sprintf("%s of %d points", say.Whole(r.Of), r.Out)
	case decision.ProofCost:
		return fmt.Sprintf("each miss costs %d", r.Of)
	case decision.RoundOver:
		return "the round is lost: the next one begins with the next session"
	case decision.ProofCount:
		return fmt.Sprintf("%d of %d met, those not logged counted as not met", r.Of, r.Out)
	case decision.ProofNeeds:
		return say.Count(r.Of, "more clean trial") + " needed"
	case decision.LowCoverage:
		return fmt.Sprintf("only %d %% logged: proof asks for %d %%", r.Of, r.Out)
	case decision.FewCold:
		return fmt.Sprintf("%s of %s cold first trials", say.Among(r.Of), say.Number(r.Out))
	case decision.ColdMissed:
		return fmt.Sprintf("%s of the last %s cold first trials met", say.Among(r.Of), say.Number(r.Out))
	case decision.NotEnded:
		return "decided when the session ends"
	case decision.Unmeasured:
		return fmt.Sprintf("%d of %d without their times: at most one in ten for proof", r.Of, r.Out)
	}
	return string(r.Code)
}

// Why joins reasons into one line.
func Why(reasons []decision.Reason) string {
	line := ""
	for i, r := range reasons {
		if i > 0 {
			line += " · "
		}
		line += Reason(r)
	}
	return say.Upper(line)
}

// Coverage is what every verdict prints of how much was logged.
func Coverage(logged, unlogged int) string {
	switch {
	case unlogged <= 0:
		return "none reported missing"
	default:
		return fmt.Sprintf("%s logged, about %d not", say.Percent(evidence.Coverage(logged, unlogged)), unlogged)
	}
}

// RuleOdds says what a rule lets pass, or costs, "" where that is said with the rule.
func RuleOdds(r decision.Rule) string {
	switch r.Kind {
	case decision.Set, decision.Run, decision.Gate:
		return fmt.Sprintf("Of a hundred dogs that are right only 6 times in 10 it lets %.0f pass; of those that are right 9 times in 10, %.0f.",
			100*r.PassOdds(0.6), 100*r.PassOdds(0.9))
	case decision.CountUp:
		return "It asks for errors: of simulated dogs more than four trials in ten are not right under it."
	}
	return ""
}

// ProofRound says how far a proof round is.
func ProofRound(r decision.Round) string {
	if r.Over {
		return fmt.Sprintf("proof round %d is lost at %s points: the next one begins with the next session", r.Number, say.Whole(r.Scored))
	}
	return fmt.Sprintf("proof round %d: %s of %d points, each miss costs %d", r.Number, say.Whole(r.Scored), r.Needs, r.Cost)
}

// ProofShort is ProofRound for a small place.
func ProofShort(r decision.Round) string {
	if r.Over {
		return fmt.Sprintf("Proof round %d is lost", r.Number)
	}
	return fmt.Sprintf("Proof round %d: %s of %d · a miss costs %d", r.Number, say.Whole(r.Scored), r.Needs, r.Cost)
}

// RuleName names a rule in a word or two.
func RuleName(kind decision.Kind) string {
	switch kind {
	case decision.Run:
		return "Runs"
	case decision.Gate:
		return "A gate"
	case decision.Proof:
		return "Proof"
	case decision.CountUp:
		return "Counting up"
	case decision.Calm:
		return "Calm"
	}
	return "Sets"
}

// Rule says a rule in a sentence.
func Rule(r decision.Rule) string {
	line := ""
	switch r.Kind {
	case decision.Run:
		line = fmt.Sprintf("Runs. Up after %s met in a row, back after %s not right.", say.Number(r.Up), say.Number(r.Back))
	case decision.Gate:
		line = fmt.Sprintf("A gate. Up when %s of %d trials are met, from %s and %s; back when fewer than %s of %d are right.",
			say.Percent(r.Rate), r.Window, say.Count(r.Sessions, "session"), say.Count(r.Places, "place"), say.Percent(r.BackBelow), r.BackWindow)
	case decision.Proof:
		line = proofSaid(r)
	case decision.CountUp:
		line = fmt.Sprintf("Counting up. One more after %s met; one that is not met begins again %s.", say.Number(r.Clean), restarts[r.Restart])
	case decision.Calm:
		line = fmt.Sprintf("Calm. Up after %s exposures at ease, %s of them expecting good, and the session's first at ease; back "+
			"when worried, or wary and no calmer.",
			say.Number(r.Up), say.Number(r.Expect))
	default:
		line = fmt.Sprintf("Sets of %s. Up at %d, back at %d or fewer right, split after %s.",
			say.Number(r.Size), r.Up, r.Back, repeats(r.SplitAfter))
	}
	if r.Lenient {
		line += " Slow ones count."
	}
	switch {
	case r.SlowWrong && r.AgainWrong:
		line += " Slow answers and answers to a second cue are not right."
	case r.SlowWrong:
		line += " Slow answers are not right."
	case r.AgainWrong:
		line += " Answers to a second cue are not right."
	}
	if r.MinDays > 1 {
		line += fmt.Sprintf(" At least %s at a step.", say.Count(r.MinDays, "day"))
	}
	if r.MissGuard > 0 {
		line += fmt.Sprintf(" Back at once on %s misses running.", say.Number(r.MissGuard))
	}
	return line
}

var restarts = map[decision.Restart]string{
	decision.RestartOne: "one step down", decision.RestartHalf: "half way down", decision.RestartBottom: "at the first step",
}

// proofSaid says a rule of proof: its points, what it still lets through, and what else it asks.
func proofSaid(r decision.Rule) string {
	p := r.PointsOf(1)
	line := fmt.Sprintf("Proof. Up at the end of a session with %d points: a met trial gives one, any other costs %d, also one that "+
		"was not logged or was ended early. At %s points the round is lost, and the next asks for %d.",
		p.Needs, p.Cost, say.Whole(-2*p.Cost), r.PointsOf(2).Needs)
	line += fmt.Sprintf(" Of a hundred dogs that are right in only %s, at most %d pass, more where their days differ much",
		say.Percent(r.Target), int(math.Round(100*(1-r.Conf))))
	if r.Target > 0 && r.Target < 1 {
		line += fmt.Sprintf("; one that passes may still fail one time in %d", int(math.Round(1/(1-r.Target))))
	}
	return line + fmt.Sprintf(". From %s and %s, with six cold trials or more, the last six met. Back when it is likely under %s.",
		say.Count(r.Sessions, "session"), say.Count(r.Places, "place"), say.Percent(r.BackRate))
}

func repeats(n int) string {
	if n == 1 {
		return "one repeat"
	}
	return say.Number(n) + " repeats"
}

// Rest says what the trials that were not met were.
func Rest(t evidence.Tally) string {
	rest := t.N() - t.Met
	switch {
	case t.N() == 0:
		return ""
	case rest == 0:
		return "Nothing missed."
	case t.Late == 0:
		if rest == 1 {
			return "The other one was not slow but wrong or helped."
		}
		return fmt.Sprintf("The other %s were not slow but wrong or helped.", say.Number(rest))
	case t.Late == rest:
		return "All the rest were slow, not wrong."
	}
	return fmt.Sprintf("%s of the rest %s slow, not wrong.", say.Upper(say.Among(t.Late)), was(t.Late))
}

// Rate says a rate with what few trials can say of it: "15 of 20 met, likely 53–89 %". word is what a success is called.
func Rate(t evidence.Tally, word string) string {
	if t.N() == 0 {
		return "no trials yet"
	}
	return fmt.Sprintf("%d of %d %s, likely %s", t.Met, t.N(), word, Range(evidence.Wilson(t.Met, t.N(), 0.95)))
}

// OffStep says how the cards went that are not the step and so in no rate; "" where none was dealt.
func OffStep(trials []trial.Trial) string {
	met, n := 0, 0
	for i := range trials {
		if t := &trials[i]; t.OffStep() && !t.Waits && !t.Outcome.Unread() {
			if n++; t.Outcome == trial.Met {
				met++
			}
		}
	}
	if n == 0 {
		return ""
	}
	return fmt.Sprintf("Cards other than the step: %d of %d met.", met, n)
}

// AfterHelp says how many of so many that were met came only after the help that their step plans; "" where none did.
func AfterHelp(n, met int) string {
	switch {
	case n == 0:
		return ""
	case n == met && n == 1:
		return "It came only after the planned help."
	case n == met:
		return "All of them only after the planned help."
	}
	return say.Upper(say.Number(n)) + " of them only after the planned help."
}

func was(n int) string {
	if n == 1 {
		return "was"
	}
	return "were"
}

// Reckoning gives the evidence behind a verdict, line by line. word is what a success is called.
func Reckoning(r decision.Reckoning, word string) []string {
	n := r.Tally.N()
	if n == 0 {
		return []string{"It rests on no counted trial."}
	}
	lines := []string{fmt.Sprintf("%d of %d %s: the rate is likely %s.", r.Tally.Met, n, word, Range(r.Interval))}
	if rest := n - r.Tally.Met; rest > 0 && word == "met" {
		lines[0] += fmt.Sprintf(" The others: %d slow, %d helped, %d missed.", r.Tally.Late, r.Tally.Helped, r.Tally.Missed)
	}
	if r.Ended >= 2 {
		lines = append(lines, fmt.Sprintf("%d more were ended early: with them as not met, %d of %d %s.", r.Ended, r.Tally.Met, n+r.Ended, word))
	}
	if r.Unmeasured > 0 {
		lines = append(lines, fmt.Sprintf("%s of them %s logged without what the step measures.",
			say.Upper(say.Number(r.Unmeasured)), was(r.Unmeasured)))
	}
	luck := fmt.Sprintf("By these trials alone, a rate of %s or more is %s likely", say.Percent(r.Target), say.Percent(r.Sure))
	switch {
	case r.Round != nil:
		luck += "."
	case r.Needed > n:
		luck += fmt.Sprintf("; with as many misses it would take %s to be %s sure.", say.Count(r.Needed, "trial"), say.Percent(decision.SureAt))
	default:
		luck += "."
	}
	lines = append(lines, luck)
	spread := fmt.Sprintf("From %s and %s", say.Count(r.Sessions, "session"), say.Count(r.Places, "place"))
	switch missing := max(0, r.SessionsAsked-r.Sessions) + max(0, r.PlacesAsked-r.Places); {
	case r.SessionsAsked == 0 && r.PlacesAsked == 0:
		spread += "; the rule asks for no more."
	case missing == 0:
		spread += ", as asked."
	default:
		spread += fmt.Sprintf("; asked are %s and %s.", say.Count(r.SessionsAsked, "session"), say.Count(r.PlacesAsked, "place"))
	}
	lines = append(lines, spread)
	switch {
	case r.ColdAsked > 0:
		lines = append(lines, fmt.Sprintf("Cold ones: %d of %d met; the last %d of them must be.", r.ColdMet, r.Cold, r.ColdAsked))
	case r.Cold > 0:
		lines = append(lines, fmt.Sprintf("Cold ones among them: %d of %d met.", r.ColdMet, r.Cold))
	}
	if r.Round != nil {
		lines = append(lines, say.Upper(ProofRound(*r.Round))+".")
	}
	if r.Clean > 0 {
		lines = append(lines, fmt.Sprintf("Still asked from there: %s in a row.", say.Count(r.Clean, "clean trial")))
	}
	return append(lines, say.Upper(Coverage(r.Logged, r.Missed))+".")
}
