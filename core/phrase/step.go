package phrase

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"patientfox/core/criteria"
	"patientfox/core/progression"
	"patientfox/core/say"
)

// Words says steps in the units that somebody likes. The zero value speaks metric.
type Words struct{ Units criteria.Units }

// In speaks in the units given.
func In(units criteria.Units) Words { return Words{units} }

var (
	strength = []string{"", "faint", "mild", "clear", "strong", "at full strength"}
	newness  = []string{"on home ground", "in a place it knows", "in a place it hardly knows", "in a place it has never seen"}
)

// part is one dimension of a step, in a sentence and at the end of a level line.
type part struct {
	key         criteria.Key
	long, short string
}

// said are the dimensions of a step that are spoken of: a distraction of no strength comes at no time.
func said(c criteria.Criteria) []criteria.Dimension {
	if !c.Has(criteria.Intensity) || c.Get(criteria.Intensity) > 0 {
		return c.Asked()
	}
	return slices.DeleteFunc(c.Asked(), func(d criteria.Dimension) bool { return d.Key == criteria.Lead || d.Key == criteria.Out })
}

// parts says a step dimension by dimension.
func (w Words) parts(c criteria.Criteria) []part {
	var list []part
	var key criteria.Key
	add := func(long, short string) {
		if long != "" || short != "" {
			list = append(list, part{key, long, short})
		}
	}
	same := func(text string) { add(text, text) }
	vary := map[criteria.Key]bool{}
	for _, key := range c.Vary {
		vary[key] = true
	}
	for _, d := range said(c) {
		x := c.Get(d.Key)
		key = d.Key
		said, about := w.Units.Say(d, x), ""
		if vary[d.Key] {
			about = "around "
			if d.IsList() {
				said = "by turns " + strings.Join(d.Items, ", ")
			}
		}
		switch d.Key {
		case criteria.Duration:
			same(about + say.Seconds(x))
		case criteria.Paces:
			same(about + say.Count(int(x), "pace"))
		case criteria.Reps:
			same(about + say.Count(int(x), "time"))
		case criteria.CheckIns:
			add(about+say.Count(int(x), "check-in")+" in the minute", about+say.Count(int(x), "check-in"))
		case criteria.Handler:
			if x == 0 {
				add("you beside", "you beside")
			} else {
				short := "you " + about + said + " away"
				if len(c.Values) > 2 {
					short = about + said
				}
				add("you "+about+said+" away", short)
			}
		case criteria.Trigger, criteria.Intensity, criteria.Moving:
			if d.Key == firstOf(c, criteria.Trigger, criteria.Intensity, criteria.Moving) {
				long, short := w.trigger(c, true), w.trigger(c, false)
				for i := range long {
					if i < len(short) {
						add(long[i], short[i])
					} else {
						add(long[i], "")
					}
				}
			}
		case criteria.Lead:
			same(w.lead(c, x))
		case criteria.Out:
			add("out for "+about+say.Seconds(x), "out "+about+say.Seconds(x))
		case criteria.Latency:
			add("answer within "+say.Seconds(x), "in "+say.Seconds(x))
		case criteria.Height:
			same(about + said + " high")
		case criteria.Angle:
			same(about + said)
		case criteria.Help, criteria.HelpAfter, criteria.Food, criteria.Gear, criteria.Prop:
			if d.Key != criteria.HelpAfter || x > 0 || !c.Has(criteria.Help) {
				add(support(d.Key, x, said))
			}
		case criteria.Stance:
			same("you " + said)
		case criteria.Pace:
			same(said + " pace")
		case criteria.Surface:
			same("on " + said)
		case criteria.Novelty:
			if i := int(x); i >= 0 && i < len(newness) {
				same(newness[i])
			}
		case criteria.Approx, criteria.Part, criteria.Tool, criteria.Site, criteria.Direction:
			same(said)
		default:
			if d.Unit != "" && strings.EqualFold(d.Unit, d.Label) {
				same(about + said)
			} else {
				same(strings.ToLower(d.Label) + " " + about + said)
			}
		}
	}
	return list
}

// support says what helps the dog: in a sentence, and at the end of a level line.
func support(key criteria.Key, x float64, said string) (long, short string) {
	none := criteria.NoSupport(said)
	switch {
	case key == criteria.Help && none:
		return "no help", "no help"
	case key == criteria.Help:
		return "help: " + said, said
	case key == criteria.HelpAfter && x == 0:
		return "help at once", "help at once"
	case key == criteria.HelpAfter:
		long = "help after " + say.Seconds(x)
	case key == criteria.Food:
		long = "food " + said
	case key == criteria.Gear && none:
		long = "no line"
	case key == criteria.Gear:
		long = "on a " + said
	case none:
		long = "no prop"
	default:
		return "prop: " + said, said
	}
	return long, long
}

// Target says what one trial asks of the dimensions that its step varies: "7.5 s", "to the left".
func (w Words) Target(c criteria.Criteria, targets map[criteria.Key]float64) string {
	var said []string
	for _, key := range c.Vary {
		x, ok := targets[key]
		d, known := c.Dimension(key)
		if !ok || !known {
			continue
		}
		if d.Unit == "s" {
			said = append(said, criteria.Figure(math.Round(x*2)/2)+" s")
			continue
		}
		for _, p := range w.parts(criteria.Criteria{}.WithDimension(d, x)) {
			said = append(said, p.short)
		}
	}
	return strings.Join(said, ", ")
}

func firstOf(c criteria.Criteria, keys ...criteria.Key) criteria.Key {
	for _, key := range keys {
		if c.Has(key) {
			return key
		}
	}
	return ""
}

// lead says when the distraction comes; its name goes with its strength or distance where it has one.
func (w Words) lead(c criteria.Criteria, x float64) string {
	name := ""
	if !c.Has(criteria.Trigger) && c.Get(criteria.Intensity) == 0 {
		name = triggerName(c, "distraction") + " "
	}
	switch {
	case x > 0:
		return name + say.Seconds(x) + " after the cue"
	case x < 0:
		return name + say.Seconds(-x) + " before the cue"
	}
	return name + "with the cue"
}

func triggerName(c criteria.Criteria, otherwise string) string {
	if name := strings.TrimSpace(c.Trig); name != "" {
		return name
	}
	return otherwise
}

// bare is a name without its article.
// Condition says what is there while a step is worked, for a grid of where something has been taught; "" where
// nothing is.
func Condition(c criteria.Criteria) string {
	if c.Get(criteria.Intensity) <= 0 {
		return ""
	}
	name := triggerName(c, "something")
	if i := int(c.Get(criteria.Intensity)); i > 0 && i < len(strength) {
		name += ", " + strength[i]
	}
	if c.Get(criteria.Moving) > 0 {
		name += ", moving"
	}
	return say.Upper(name)
}

func bare(name string) string {
	for _, article := range []string{"a ", "an ", "the "} {
		if rest, found := strings.CutPrefix(name, article); found {
			return rest
		}
	}
	return name
}

// Step says in one plain sentence what a step asks: "10 s, you 2 m away, gulls at 27 m, mild, still".
func (w Words) Step(c criteria.Criteria) string {
	var said []string
	for _, p := range w.parts(c) {
		if p.long != "" {
			said = append(said, p.long)
		}
	}
	if text := strings.TrimSpace(c.Text); text != "" {
		said = append(said, text)
	}
	return strings.Join(said, ", ")
}

// Short says the same for the end of a level line: "10 s · you 2 m away · gulls at 12 m".
func (w Words) Short(c criteria.Criteria) string {
	var said []string
	text := strings.TrimSpace(c.Text)
	for _, p := range w.parts(c) {
		// Beside is what goes without saying, where words need the room.
		if p.short == "" || p.short == "you beside" && (text != "" || len(c.Values) > 2) {
			continue
		}
		said = append(said, p.short)
	}
	if text != "" {
		if runes := []rune(text); len(runes) > 40 {
			text = strings.TrimSpace(string(runes[:39])) + "…"
		}
		said = append(said, text)
	}
	return strings.Join(said, " · ")
}

// shortMost is how many letters a level's name has room for.
const shortMost = 37

// Shorts says a whole ladder for the ends of its level lines. What is the same in every step goes without
// saying, and where room is short the trigger's name too: what is left is what differs.
func (w Words) Shorts(steps []criteria.Criteria) []string {
	out := make([]string, len(steps))
	every := map[string]int{} // how many steps a part is in
	long := false
	for i, c := range steps {
		out[i] = w.Short(c)
		long = long || len([]rune(out[i])) > shortMost
		for _, p := range w.parts(c) {
			every[p.short]++
		}
	}
	if !long || len(steps) < 2 {
		return out
	}
	for i, c := range steps {
		var said []string
		for _, p := range w.parts(c) {
			if p.short == "" || every[p.short] == len(steps) {
				continue
			}
			if p.key == criteria.Trigger {
				p.short = strings.TrimPrefix(p.short, triggerName(c, "trigger")+" ")
			}
			said = append(said, p.short)
		}
		if text := strings.TrimSpace(c.Text); text != "" && text != strings.TrimSpace(steps[0].Text) {
			said = append(said, text)
		}
		if len(said) > 0 {
			out[i] = strings.Join(said, " · ")
		}
	}
	return out
}

func (w Words) trigger(c criteria.Criteria, whole bool) []string {
	name := triggerName(c, "trigger")
	var parts []string
	present := c.Get(criteria.Intensity) > 0 || c.Has(criteria.Trigger) && !c.Has(criteria.Intensity)
	if !present {
		if c.Has(criteria.Intensity) && whole && c.Trig != "" {
			return []string{"no " + bare(name)}
		}
		return nil
	}
	if d, _ := c.Dimension(criteria.Trigger); c.Has(criteria.Trigger) {
		at := "at " + w.Units.Say(d, c.Get(criteria.Trigger))
		if c.Trig != "" || !c.Has(criteria.Part) {
			at = name + " " + at
		}
		parts = append(parts, at)
	} else {
		parts = append(parts, name)
	}
	if i := int(c.Get(criteria.Intensity)); i > 0 && i < len(strength) {
		parts = append(parts, strength[i])
	}
	if c.Has(criteria.Moving) {
		if c.Get(criteria.Moving) > 0 {
			parts = append(parts, "moving")
		} else if whole {
			parts = append(parts, "still")
		}
	}
	return parts
}

// Difference says what changes from one step to the next: "Harder in duration; easier in trigger
// distance."
func Difference(from, to criteria.Criteria) string {
	harder, easier := criteria.Changed(from, to)
	names := func(dimensions []criteria.Dimension) string {
		var list []string
		for _, d := range dimensions {
			list = append(list, strings.ToLower(d.Label))
		}
		return say.List(list)
	}
	switch {
	case len(harder) == 0 && len(easier) == 0 && (from.Text != to.Text || from.Trig != to.Trig):
		return "The same figures as the step below; what differs stands in words."
	case len(harder) == 0 && len(easier) == 0:
		return "Asks for the same figures as the step below."
	case len(easier) == 0 && len(harder) == 1:
		return "One thing harder than the step below: " + names(harder) + "."
	case len(easier) == 0:
		return say.Upper(say.Number(len(harder))) + " things harder at once: " + names(harder) + "."
	case len(harder) == 0:
		return "Easier than the step below in " + names(easier) + "."
	}
	return "Harder in " + names(harder) + ", eased in " + names(easier) + "."
}

// Lint says what is not sound about a step, and what its fix does.
func (w Words) Lint(l progression.Lint) (says, fix string) {
	var labels []string
	limit := ""
	for _, d := range l.Dims {
		labels = append(labels, strings.ToLower(d.Label))
		limit = w.Units.Say(d, l.Limit)
	}
	names := say.Upper(say.List(labels))
	are := "are"
	if len(labels) == 1 {
		are = "is"
	}
	switch l.Code {
	case progression.LintTwoRaised:
		return names + " are raised at once: one thing at a time.", "Put a step between: " + w.Step(l.To)
	case progression.LintJump:
		return names + " jumps: from the step below, " + limit + " would do.", "Put a half step between: " + w.Step(l.To)
	case progression.LintNew:
		return names + " " + are + " new here, and nothing is eased for it.", "Ease the rest: " + w.Step(l.To)
	case progression.LintNoHarder:
		return "Harder in nothing than the step below.", "Remove this step"
	case progression.LintGear:
		return "Support gear is skipped: it fades one piece at a time, " + limit + " first.", "Put a step between: " + w.Step(l.To)
	case progression.LintAge:
		return "Holds longer than this dog's age suggests: " + limit + " at most.", "Shorten it: " + w.Step(l.To)
	case progression.LintGrowth:
		return "For a young dog " + strings.ToLower(names) + " should grow by no more than half in a day: " + limit + " from the step below.",
			"Put a half step between: " + w.Step(l.To)
	case progression.LintFirst:
		return "Hard for a first step in " + strings.ToLower(names) +
				". Begin where the dog cannot fail, or place a dog that knows it higher up.",
			"Begin with: " + w.Step(l.To)
	case progression.LintMeasure:
		return "Nothing to measure: give it " + strings.Join(labels, " or ") + ".", "Ask for the least: " + w.Step(l.To)
	case progression.LintNeed:
		return "“" + l.Need.Skill + "” must stand first: " + NeedOf(l.Need) + ".", "Plan “" + l.Need.Skill + "”"
	}
	return string(l.Code), "Mend it"
}

// fixes say how all faults of one sort are mended.
var fixes = map[progression.LintCode]string{
	progression.LintTwoRaised: "Raise one thing at a time",
	progression.LintJump:      "Put half steps where it jumps",
	progression.LintNew:       "Ease what comes with something new",
	progression.LintNoHarder:  "Remove what is not harder",
	progression.LintGear:      "Fade the gear one piece at a time",
	progression.LintAge:       "Shorten holds to the dog's age",
	progression.LintGrowth:    "Grow by half at most",
	progression.LintFirst:     "Begin with an easy step",
	progression.LintMeasure:   "Give each step something to measure",
}

// FixAll names the press that mends all n faults of one sort.
func FixAll(code progression.LintCode, n int) string { return fmt.Sprintf("%s (%d)", fixes[code], n) }

// Fit says what a ladder does otherwise than it was asked.
func (w Words) Fit(f progression.Fit) string {
	was, now, name := w.Units.Say(f.Dim, f.Was), w.Units.Say(f.Dim, f.Now), strings.ToLower(f.Dim.Label)
	switch f.Code {
	case progression.FitAge:
		return say.Upper(name) + " ends at " + now + ", not " + was + ": that is the most at this dog's age. Lay out more when it is older."
	case progression.FitHeight:
		return say.Upper(name) + " ends at " + now + ", not " + was + ", to spare this dog's joints."
	case progression.FitSpace:
		if f.Goal {
			return say.Upper(name) + " ends at " + now + ", not " + was + ": there is no more room."
		}
		return say.Upper(name) + " starts at " + now + ", not " + was + ": there is no more room."
	case progression.FitLead:
		return "The distraction first comes " + now + " after the cue, not " + was + ": the dog holds no longer yet."
	case progression.FitStart:
		return say.Upper(name) + " starts at " + now + ", not " + was + ": a first step is easy. Place a dog that knows more higher up."
	}
	return ""
}

// Takes says how many sessions a ladder takes: of ten dogs the quickest, the middle one and the slowest but one; most is where counting
// ends.
func Takes(lo, mid, hi, most int) string {
	if mid >= most {
		return "More than " + say.Count(most, "session") + " of 10 to 20 trials for most dogs."
	}
	upTo := fmt.Sprint(hi)
	if hi >= most {
		upTo = "over " + fmt.Sprint(most)
	}
	return fmt.Sprintf("Usually %d to %s sessions of 10 to 20 trials. Half of dogs need %d or fewer. A guide only, from simulated dogs.",
		lo, upTo, mid)
}

// NeedOf says what a need asks of the other skill.
func NeedOf(n progression.Need) string {
	text := "finished"
	if n.Step > 0 {
		text = "step " + say.Number(n.Step) + " reached"
	}
	if n.Why != "" {
		text += ", because " + strings.TrimRight(n.Why, ".")
	}
	return text
}

// Card says what a card of a deck asks of a step, with the step's name of the trigger: "a throw · clear · 2 s after the cue".
func (w Words) Card(step criteria.Criteria, card map[criteria.Key]float64) string {
	c := criteria.Criteria{Trig: step.Trig, Lists: step.Lists}
	for key, x := range card {
		c = c.With(key, x)
	}
	return w.Short(c)
}
