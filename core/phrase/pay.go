package phrase

import (
	"fmt"
	"strings"

	"patientfox/core/criteria"
	"patientfox/core/library"
	"patientfox/core/reinforce"
	"patientfox/core/say"
)

// tiers are the words for how good a reward is, by tier.
var tiers = []string{"", "better than nothing", "everyday", "good", "very good", "the best there is"}

// Tier says a tier in words, "" where it was not said.
func Tier(tier int) string {
	if tier < 1 || tier >= len(tiers) {
		return ""
	}
	return fmt.Sprintf("%s (tier %d)", tiers[tier], tier)
}

// PayRate says a band of pays a minute, "" without a plan.
func PayRate(b reinforce.Band) string {
	switch {
	case b.Lo <= 0:
		return ""
	case b.Hi > b.Lo:
		return fmt.Sprintf("%s to %s pays a minute", criteria.Figure(b.Lo), criteria.Figure(b.Hi))
	}
	return Pays(b.Lo) + " a minute"
}

// Pays writes a number of pays, whole or not.
func Pays(x float64) string {
	if x == 1 {
		return "1 pay"
	}
	return criteria.Figure(x) + " pays"
}

// Schedule says which of the met trials are paid; rung is how far thinning has come.
func Schedule(s reinforce.Schedule, rung int) string {
	switch s.Way {
	case reinforce.Fixed, reinforce.Variable:
		says := func(k int) string {
			if k <= 1 {
				return "every one that is met"
			}
			if s.Way == reinforce.Fixed {
				return "every " + Ordinal(k) + " that is met"
			}
			return "one in " + say.Number(k) + ", unforeseen"
		}
		if now := s.At(rung).K; s.Thin && now < s.K {
			return strings.TrimSuffix(says(now), ", unforeseen") + " by now, on the way to one in " + say.Number(s.K)
		}
		return says(s.K)
	case reinforce.Best:
		share := s.Share
		if share == 0 {
			share = reinforce.DefaultShare
		}
		return "the quickest " + say.Percent(share)
	}
	return "every one that is met"
}

var ordinals = []string{"", "first", "second", "third", "fourth", "fifth", "sixth", "seventh", "eighth", "ninth", "tenth"}

// Ordinal writes a small number's place: "third".
func Ordinal(n int) string {
	if n >= 1 && n < len(ordinals) {
		return ordinals[n]
	}
	return fmt.Sprintf("%d.", n)
}

// Strategy says how a step is paid, in sentences.
func Strategy(s reinforce.Strategy, rung int) []string {
	first := say.Upper(Schedule(s.Schedule, rung)) + ", " + say.Count(s.Piece(), "treat") + " a pay"
	if rate := PayRate(s.Band); rate != "" {
		first += "; " + rate
	}
	if s.Paces > 0 {
		first += fmt.Sprintf("; one per %s", say.Count(s.Paces, "pace"))
	}
	lines := []string{first + "."}
	var what []string
	if tier := Tier(s.Tier); tier != "" {
		what = append(what, tier)
	}
	for _, label := range []string{
		reinforce.LabelOf(reinforce.Deliveries, string(s.Delivery)), reinforce.LabelOf(reinforce.Purposes, string(s.Purpose)),
	} {
		if label != "" {
			what = append(what, label)
		}
	}
	if len(what) > 0 {
		lines = append(lines, say.Upper(strings.Join(what, ", "))+".")
	}
	if s.Where != "" {
		lines = append(lines, "Where: "+s.Where+".")
	}
	if s.Jackpot > 0 {
		lines = append(lines, fmt.Sprintf("A breakthrough earns %s, one after another.", say.Count(s.Jackpot, "treat")))
	}
	if s.LifeReward > 0 {
		lines = append(lines, fmt.Sprintf("Up to %s of the pays is %s itself: never the first, never two running.",
			say.Percent(s.LifeReward), s.LifeRewardIs))
	}
	if s.Release {
		lines = append(lines, "The release is paid too, after pays inside.")
	}
	if s.Extra {
		lines = append(lines, "On top of meals.")
	}
	return lines
}

// PayLint says what is not sound about a step's pay, and what its fix would be.
func PayLint(l library.PayLint) (says, fix string) {
	switch l.Code {
	case library.PayNotRaised:
		says = "Something new comes in here, and neither value nor rate rises: they go up before the difficulty does."
	case library.PayThin:
		says = "Something new comes in here while not every one is paid."
	case library.PayAttainable:
		says = fmt.Sprintf("The trials themselves allow %s a minute here.", Pays(roundTenth(l.Needed)))
	case library.PayNoLatency:
		says = "The best share goes by latency, and nothing times one here."
	}
	if l.To == nil {
		return says, ""
	}
	var parts []string
	if tier := Tier(l.To.Tier); tier != "" && l.Code == library.PayNotRaised {
		parts = append(parts, tier)
	}
	if l.Code == library.PayThin || l.Code == library.PayNoLatency {
		parts = append(parts, Schedule(l.To.Schedule, 1))
	} else if rate := PayRate(l.To.Band); rate != "" {
		parts = append(parts, rate)
	}
	return says, "Make it " + strings.Join(parts, ", ")
}

func roundTenth(x float64) float64 { return float64(int(x*10+0.5)) / 10 }

// Attainable says what rate the trials allow beside the plan's; share is the part of them that is paid.
func Attainable(c reinforce.Cycle, planned, share float64) string {
	line := fmt.Sprintf("A trial takes %s from cue to cue, so %s a minute can be reached", say.Seconds(roundTenth(c.Seconds())),
		Pays(roundTenth(c.Attainable(share))))
	switch {
	case planned <= 0:
		return line + "."
	case c.Attainable(share) >= planned-1e-9:
		return line + fmt.Sprintf(": the plan asks for %s.", criteria.Figure(planned))
	}
	return line + fmt.Sprintf(". The plan asks for %s.", criteria.Figure(planned))
}

var parts = map[reinforce.Part]string{
	reinforce.PartReset: "set up again", reinforce.PartDeliver: "deliver and eat", reinforce.PartDuration: "hold",
}

// Remedy says one change that alone reaches the planned rate.
func Remedy(r reinforce.Remedy) string {
	verb := map[reinforce.Part]string{
		reinforce.PartReset: "Set up again in", reinforce.PartDeliver: "Deliver, and let it eat, in", reinforce.PartDuration: "Ask for",
	}[r.Part]
	return fmt.Sprintf("%s %s instead of %s.", verb, say.Seconds(roundTenth(r.To)), say.Seconds(roundTenth(r.From)))
}

// Cycle says the parts of a trial, each with its seconds.
func Cycle(c reinforce.Cycle) string {
	list := []string{}
	for _, one := range []struct {
		name string
		s    float64
	}{{"to respond", c.LatencyS}, {
		parts[reinforce.PartDuration], c.DurationS,
	}, {parts[reinforce.PartDeliver], c.DeliverS}, {parts[reinforce.PartReset], c.ResetS}} {
		if one.s > 0 {
			list = append(list, one.name+" "+say.Seconds(roundTenth(one.s)))
		}
	}
	return strings.Join(list, " · ")
}

// PayTimes says when the pays inside a hold come; none where there are none.
func PayTimes(seconds float64, times []float64, release bool) string {
	if len(times) == 0 {
		return ""
	}
	list := make([]string, len(times))
	for i, at := range times {
		list[i] = criteria.Figure(roundTenth(at))
	}
	line := fmt.Sprintf("Inside a hold of %s: %s, about %s s; the last in position, just before the release.",
		say.Seconds(seconds), say.Count(len(times), "pay"), say.List(list))
	if !release {
		line += " The release itself is not paid."
	}
	return line
}
