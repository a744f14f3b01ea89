package phrase

import (
	"fmt"
	"math"
	"strings"

	"patientfox/core/criteria"
	"patientfox/core/load"
	"patientfox/core/say"
)

func chanceRange(c load.Chance) string {
	lo, hi := math.Round(100*c.Lo), math.Round(100*c.Hi)
	if lo == hi {
		return fmt.Sprintf("likely %.0f %%", lo)
	}
	return fmt.Sprintf("likely %.0f–%.0f %%", lo, hi)
}

// FewForLoad is up to how many trials a model of load is mostly what it began with.
const FewForLoad = 20

// Ahead says how a trial at a step is likely to go; met is what a success is called.
func Ahead(c load.Chance, n int, met string) string {
	line := say.Upper(met) + " in about " + say.Percent(c.P) + " of trials (" + chanceRange(c) + ")."
	switch {
	case n == 0:
		line += " That is a starting assumption: nothing has been logged yet."
	case n < FewForLoad:
		line += fmt.Sprintf(" After %s that is mostly a starting assumption.", say.Count(n, "trial"))
	}
	return line
}

// Lever says what one lever alone would have to become, and "" where it cannot do it by itself. steps is the step's criteria, for its
// list of help.
func (w Words) Lever(l load.Lever, at load.Conditions, step criteria.Criteria) string {
	if !l.Can {
		return ""
	}
	switch l.Term {
	case load.Distance:
		metres, _ := criteria.Find(criteria.Trigger)
		to := load.SetUp(l.Value)
		if at.TriggerM <= 0 {
			return "The trigger at " + w.Units.Say(metres, to)
		}
		return w.Units.Say(metres, to-at.TriggerM) + " further off, at " + w.Units.Say(metres, to)
	case load.Intensity:
		if l.Value < 1 {
			return "Without the trigger"
		}
		down := int(math.Round(at.Intensity - l.Value))
		steps := "step"
		if down > 1 {
			steps = "steps"
		}
		return fmt.Sprintf("%s %s down in strength: %s", say.Upper(say.Number(down)), steps, strength[int(l.Value)])
	case load.Moving:
		return "The trigger standing still"
	case load.Value:
		return fmt.Sprintf("Something of value %.0f in the hand", l.Value)
	case load.Rate:
		return fmt.Sprintf("Paid %s times a minute instead of %s", criteria.Figure(l.Value), criteria.Figure(at.Rate))
	}
	d, _ := step.Dimension(criteria.Help)
	if n := len(d.Items); n > 1 {
		return "Help given back: " + d.Items[int(math.Floor((1-l.Value)*float64(n-1)+1e-9))]
	}
	return "Help given back"
}

// NoLever says which levers cannot do it by themselves, and which were never tried that far; "" where there are none.
func NoLever(levers []load.Lever) string {
	var cannot, untried []string
	for _, l := range levers {
		switch {
		case !l.Can:
			cannot = append(cannot, leverNames[l.Term])
		case l.Beyond:
			untried = append(untried, leverNames[l.Term])
		}
	}
	line := ""
	if len(cannot) > 0 {
		line = say.Upper(say.List(cannot)) + " alone cannot do it."
	}
	if len(untried) > 0 {
		line += " Never tried that far: " + say.List(untried) + "."
	}
	return strings.TrimSpace(line)
}

var leverNames = map[load.Term]string{
	load.Distance: "distance", load.Intensity: "less strength", load.Moving: "standing still", load.Value: "a higher value",
	load.Rate: "a faster rate", load.Help: "help",
}

// Effects names a change of each term that people can picture, harder or easier.
var effects = map[load.Term]string{
	load.Distance: "Twice as far from the trigger", load.Intensity: "Trigger one step stronger", load.Moving: "Trigger moves",
	load.Duration: "Twice as long", load.Handler: "You twice as far off", load.Novelty: "A place it has never been",
	load.Value: "Value one higher", load.Rate: "Five more a minute", load.Help: "All the help given back", load.Cold: "First trial of the day",
	load.Practice: "Practised twice as much",
}

// Effect names the change whose size a term is shown by.
func Effect(t load.Term) string { return effects[t] }

// Known says how far a term's size can be trusted.
func Known(m load.Model, t load.Term) string {
	switch {
	case len(m.Fixed) > int(t) && m.Fixed[t]:
		return "no effect seen so far"
	case m.Grey(t):
		return "a starting assumption, not yet tried apart"
	case m.Claimed(t):
		return "shown by this dog's trials"
	}
	return "likely, by this dog's trials"
}

// Threshold says at what distance a dog is likely right as often as aimed at, where the trigger was at most so far off; hi may be +Inf.
func (w Words) Threshold(far, metres, lo, hi float64, ok bool) string {
	d, _ := criteria.Find(criteria.Trigger)
	switch {
	case !ok:
		return "distance alone cannot do it"
	case metres > load.Beyond*far:
		return "further off than was ever tried"
	}
	line := "from " + w.Units.Say(d, load.SetUp(metres)) + " on"
	if math.IsInf(hi, 1) {
		return line + " (likely over " + w.Units.Say(d, load.SetUp(lo)) + ")"
	}
	return line + fmt.Sprintf(" (likely %s to %s)", w.Units.Say(d, load.SetUp(lo)), w.Units.Say(d, load.SetUp(hi)))
}

// Strength names a trigger's strength, 1…5.
func Strength(level int) string { return strength[level] }

// Calibrated says how well predictions came true against the running rate of the step, over n trials. Under FewPredicted they are not
// judged.
func Calibrated(model, running float64, n int) string {
	if n < FewPredicted {
		return fmt.Sprintf("%s so far: too few to judge, from %d on.", say.Upper(say.Count(n, "prediction")), FewPredicted)
	}
	errors := fmt.Sprintf("mean squared error %.3f against %.3f, over %d trials", model, running, n)
	if model > running {
		return "What was said beforehand was further off than the running rate of the step alone (" + errors + "): trust that rate more."
	}
	return "What was said beforehand was closer than the running rate of the step alone (" + errors + ")."
}

// FewPredicted is under how many predictions they are not judged.
const FewPredicted = 200
