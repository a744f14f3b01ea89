package phrase

import (
	"fmt"
	"math"

	"patientfox/core/decision"
	"patientfox/core/evidence"
	"patientfox/core/say"
)

// Small calls a small number small; "" where it is not.
func Small(n int) string {
	if n >= evidence.Few {
		return ""
	}
	return fmt.Sprintf("%s: few, so read it with care.", say.Upper(say.Count(n, "trial")))
}

// FirstTrials says how cold trials go beside the others.
func FirstTrials(f evidence.FirstTrial, only bool, word string) string {
	if f.Cold.N() == 0 {
		return "No cold trial yet: the first of a day, before any warm-up."
	}
	line := fmt.Sprintf("Cold, first of the day: %s.", Rate(f.Cold, word))
	if f.Warm.N() > 0 {
		line += fmt.Sprintf(" The others: %s.", Rate(f.Warm, word))
	}
	if f.Cold.N() >= 5 && f.Warm.N() >= 5 {
		switch {
		case f.Clear() && f.Harder:
			line += " The first one is harder: what the dog brings along is less than the session shows."
		case f.Clear():
			line += " The first one is the better one: it tires, or has enough."
		default:
			line += " No clear difference."
		}
		if f.Compared > 0 {
			line += fmt.Sprintf(" Compared within %s, where something was missed.", say.Count(f.Compared, "session"))
		}
	}
	if only {
		line += " Last time only the cold one was not right: repeat before concluding."
	}
	return line
}

// Quantiles says two of some latencies in s: the median, and what nine in ten stay within. Both to a tenth, as a thumb times them.
func Quantiles(median, p90 float64) string {
	tenth := func(s float64) string { return say.Seconds(math.Round(s*10) / 10) }
	return tenth(median) + ", nine in ten within " + tenth(p90)
}

// Latency says how fast right responses come, and whether that changes.
func Latency(l evidence.Latency) string {
	if l.N == 0 {
		return "No latency was measured."
	}
	line := fmt.Sprintf("Median %s (%d right responses).", Quantiles(l.Median, l.P90), l.N)
	if math.IsNaN(l.Before) {
		return line + " Too few for a trend."
	}
	slower, faster := l.Changed()
	part := say.Number(evidence.Few / 2)
	was := fmt.Sprintf("the last %s %s, the %s before %s", part, say.Seconds(l.After), part, say.Seconds(l.Before))
	switch {
	case slower:
		return line + " It grows slower: " + was + "."
	case faster:
		return line + " It grows faster: " + was + "."
	}
	return line + " Steady: " + was + "."
}

// Cues says how many cues responses took.
func Cues(c evidence.Cues, perMinute float64) string {
	if c.Cues == 0 {
		return "No cue was counted."
	}
	line := fmt.Sprintf("%s on %s: %.2f a cue", say.Count(c.Responses, "right response"), say.Count(c.Cues, "cue"), c.Economy())
	if perMinute > 0 {
		line += fmt.Sprintf(", and %.1f cues a minute", perMinute)
	}
	return line + "."
}

// Control says how much of the behaviour comes on cue.
func Control(onCue, offered int) string {
	if offered == 0 {
		return "No offer without a cue was counted. Count them with “Offered” on the Run screen."
	}
	return fmt.Sprintf("%s without a cue beside %d on it: %s of all comes on cue.", say.Upper(say.Count(offered, "offer")), onCue,
		say.Percent(evidence.StimulusControl(onCue, offered)))
}

// Track compares one track with another at the same step; "" where there is nothing to say.
func Track(one, other string, a, b evidence.Tally, all, allOther int) string {
	switch {
	case evidence.Behind(a, b):
		return fmt.Sprintf("%s is behind %s at the same step: %d of %d met against %d of %d.", say.Upper(one), other, a.Met, a.N(), b.Met, b.N())
	case evidence.UnderTrained(all, allOther):
		return fmt.Sprintf("%s has had fewer than half the trials of %s: %d against %d.", say.Upper(one), other, all, allOther)
	}
	return ""
}

// AssociatedWith says what a condition goes with; met is what a success is called. It never says what causes what.
func AssociatedWith(c evidence.Condition, met string) string {
	switch {
	case c.Few:
		return "too few sessions"
	case c.Time:
		return "cannot be told apart from time"
	case !c.Claimed:
		return "no clear difference"
	case c.Difference < 0:
		return "fewer " + met
	}
	return "more " + met
}

// Associated says how conditions were compared, of a plan with so many sessions, and with how many they are looked at next.
func Associated(a evidence.Association, sessions int) []string {
	if a.Visits == 0 {
		return []string{fmt.Sprintf("Compared from %d sessions on: %s more.", a.Next, say.Number(a.Next-sessions))}
	}
	lines := []string{fmt.Sprintf("By session, over %d of them, with practice taken out; next with %d. Of a hundred dogs on which nothing "+
		"has an effect, at most seven are ever told of something. What goes with something need not be its cause.", a.Visits, a.Next)}
	if a.Needed > a.Visits {
		lines = append(lines, fmt.Sprintf("An effect of three times the odds would likely show after about %d sessions, half of them with "+
			"the condition, by how much this dog varies from day to day.", a.Needed))
	}
	return lines
}

// Tiring says where in its sessions a dog falls off, of a plan with so many sessions that say something of it.
func Tiring(t evidence.Tired, sessions int, met string) []string {
	switch {
	case t.Sessions == 0:
		return []string{fmt.Sprintf("Whether this dog tires is looked at from %d sessions on that have ten trials or more at one step: %s more.",
			t.Next, say.Number(t.Next-sessions))}
	case !t.Claimed:
		return []string{fmt.Sprintf("Over %d sessions this dog does not clearly fall off towards the end. Next looked at with %d.",
			t.Sessions, t.Next)}
	}
	likely := ""
	if t.Lo < t.Hi {
		likely = fmt.Sprintf(" (likely %d to %d)", t.Lo, t.Hi)
	}
	return []string{
		fmt.Sprintf("This dog falls off after about trial %d%s of a session: %s %s up to there, %s after.", t.Best, likely,
			say.Percent(t.Before), met, say.Percent(t.After)),
		fmt.Sprintf("Sessions of about %d trials would leave that out. Over %d sessions, next looked at with %d; of a hundred dogs that do not "+
			"tire, at most seven are ever told so.", t.Best, t.Sessions, t.Next),
	}
}

// DaysOff says what days without work cost, of a plan with so many breaks that say something of it.
func DaysOff(l evidence.Lost, breaks int) []string {
	switch {
	case l.Breaks == 0:
		return []string{fmt.Sprintf("What days off cost is looked at from %d sessions on that begin where the last one ended: %s more.",
			l.Next, say.Number(l.Next-breaks))}
	case !l.Claimed:
		return []string{fmt.Sprintf("Over %d breaks of up to %s, longer ones do not clearly cost more. Next looked at with %d.", l.Breaks,
			say.Count(l.Longest, "day"), l.Next)}
	}
	within := "the next day"
	if l.Within > 1 {
		within = "within " + say.Count(l.Within, "day")
	}
	return []string{
		fmt.Sprintf("Longer breaks cost more: the first trials are %.0f points worse each time that the days off double. To lose no more than "+
			"ten points, come back %s.", 100*l.PerDoubling, within),
		fmt.Sprintf("Over %d breaks of up to %s, next looked at with %d; of a hundred dogs that lose nothing, at most seven are ever told so.",
			l.Breaks, say.Count(l.Longest, "day"), l.Next),
	}
}

// Suggestion says one thing to try at a step that does not go on, and the figure behind it.
func Suggestion(s decision.Suggestion) (try, because string) {
	switch s.Code {
	case decision.VetFirst:
		return "See a vet first. A known skill that vanishes may be pain.",
			fmt.Sprintf("Easier steps were %s right before; since this one gave trouble, %d of %d.", say.Percent(s.Rate), s.Of, s.Out)
	case decision.Vague:
		return "Say more exactly what “right” is.", fmt.Sprintf("The definition leaves %s open.", say.Count(s.Of, "question"))
	case decision.FirstOnly:
		return "Repeat, and look at the first trial alone: warm up less on it, or teach it in more short visits.",
			fmt.Sprintf("Cold ones: %d of %d right. The others: %s.", s.Of, s.Out, say.Percent(s.Rate))
	case decision.Timing:
		return "Work on the handler's part: one cue, still hands, mark sooner. That can be drilled without the dog.",
			fmt.Sprintf("%d of %d errors were put down to the handler.", s.Of, s.Out)
	case decision.Closer:
		return "Set it up so that it cannot go wrong that way.", fmt.Sprintf("%d of %d errors were put down to the set-up.", s.Of, s.Out)
	case decision.HalfStep:
		if because = fmt.Sprintf("Come to %s.", say.Times(int(s.Than))); s.Out > int(s.Than) {
			because = say.Upper(say.Count(s.Out, "verdict")) + " without a step up."
		}
		if s.Of > 1 {
			because = fmt.Sprintf("It raises %s things over the step below. ", say.Number(s.Of)) + because
		}
		return "Split it: a half step is ready on the plan.", because
	case decision.Further:
		return "More distance to what is there, or less of it.", fmt.Sprintf("With it there, %d of %d met.", s.Of, s.Out)
	case decision.PayMore:
		if s.Than > 0 {
			return "Pay better, before anything gets harder: more often, or something it values more.",
				fmt.Sprintf("Paid %.1f a minute; the plan asks for %.1f at least.", s.Rate, s.Than)
		}
		return "Pay better, before anything gets harder: more often, or something it values more.",
			fmt.Sprintf("%d of %d were slow, or slower than before.", s.Of, s.Out)
	case decision.FadeSlower:
		return "Fade the help more slowly: give it back, and wait a little longer each time.",
			fmt.Sprintf("%d of %d were right only with help.", s.Of, s.Out)
	case decision.HalfProp:
		return "Bring half of the prop back, and take it away again in smaller parts.",
			fmt.Sprintf("The step takes help, food or gear away; %d of %d met since.", s.Of, s.Out)
	case decision.AnotherWay:
		return "Try another way of getting it, and note in the plan which and why.",
			fmt.Sprintf("Come to %s, over %s.", say.Times(s.Of), say.Count(s.Out, "session"))
	}
	return string(s.Code), ""
}

// Range writes an interval as "53–89 %".
func Range(i evidence.Interval) string {
	return fmt.Sprintf("%d–%d %%", int(math.Round(i.Lo*100)), int(math.Round(i.Hi*100)))
}
