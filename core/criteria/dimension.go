package criteria

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"unicode/utf8"
)

// Key names a dimension, in storage and in events. Those of a practice's own begin with "own-".
type Key string

// The dimensions that everybody has.
const (
	Duration  Key = "duration"      // s the behaviour is held
	Handler   Key = "handler"       // m between handler and dog
	Trigger   Key = "trigger"       // m between the trigger and the dog
	Intensity Key = "intensity"     // 0…5, how strong the trigger is; 0 is none
	Moving    Key = "moving"        // still, moving
	Latency   Key = "latency"       // s from the cue within which the dog must respond
	Paces     Key = "paces"         // paces to the next mark
	Reps      Key = "reps"          // repetitions to the next mark
	CheckIns  Key = "check_ins"     // looks at the handler in a free minute
	Lead      Key = "lead"          // s from the cue to the distraction; negative: the distraction comes first
	Out       Key = "out"           // s the distraction stays out
	Height    Key = "height"        // m above the ground
	Angle     Key = "angle"         // °
	HelpAfter Key = "help_after"    // s before help comes
	Help      Key = "help"          // what helps the dog to it, most help first
	Food      Key = "food"          // where the food is, nearest to the dog first
	Gear      Key = "gear"          // what holds the dog, most first
	Prop      Key = "prop"          // what shows the dog where or how, most first
	Approx    Key = "approximation" // how near the behaviour is to the whole of it
	Part      Key = "part"          // what of a stimulus is there: a look, a smell, a sound
	Tool      Key = "tool"          // what touches the dog
	Site      Key = "site"          // where it is touched
	Stance    Key = "stance"        // whether the handler is upright, sits or lies
	Pace      Key = "pace"          // how fast the handler goes
	Direction Key = "direction"     // left, right, clockwise …
	Surface   Key = "surface"       // what is under the feet
	Novelty   Key = "novelty"       // 0…3, how new the place is
)

// Scale is how a dimension's figures are spaced, which decides what half way means.
type Scale int

// Measures halve by geometric mean, ranks by the middle rank. A ranked list's figure is the place in
// the list, from 0; one that is not ranked counts any change as one thing raised.
const (
	Measure Scale = iota
	Rank
	Ranked
	Unranked
)

// Dimension is one thing that a step can make harder.
type Dimension struct {
	Key    Key      `json:"key"`
	Label  string   `json:"label"`
	Unit   string   `json:"unit,omitempty"` // SI, or a word; "" for none
	Scale  Scale    `json:"scale,omitempty"`
	Harder int      `json:"harder,omitempty"` // +1 where more is harder, −1 where less is, 0 where neither
	Min    float64  `json:"min,omitempty"`
	Max    float64  `json:"max,omitempty"`
	Hint   string   `json:"hint,omitempty"`
	Items  []string `json:"items,omitempty"` // of a list, easiest first; a plan may have its own
	Fades  bool     `json:"fades,omitempty"` // a support: not named is the end of the list
	Small  bool     `json:"small,omitempty"` // metres that are spoken of in centimetres
}

// Longest list, and how much a practice may add.
const (
	MaxItems            = 30
	MaxCustomDimensions = 20
)

var last = float64(MaxItems - 1)

// Dimensions lists those that everybody has, in the order in which pages show them.
var Dimensions = []Dimension{
	{Key: Duration, Label: "Duration", Unit: "s", Harder: +1, Min: 0.5, Max: 7200, Hint: "How long the dog holds it"},
	{Key: Paces, Label: "Paces", Scale: Rank, Harder: +1, Min: 1, Max: 5000, Hint: "To the next mark"},
	{Key: Reps, Label: "Repetitions", Scale: Rank, Harder: +1, Min: 1, Max: 5000, Hint: "To the next mark"},
	{Key: CheckIns, Label: "Check-ins in the minute", Scale: Rank, Harder: +1, Min: 1, Max: 60, Hint: "Looks at you that nobody asked for"},
	{
		Key: Approx, Label: "Approximation", Scale: Ranked, Harder: +1, Max: last,
		Items: []string{"looks at it", "a step towards it", "touches it", "the whole of it"}, Hint: "The least that is marked",
	},
	{Key: Handler, Label: "Your distance", Unit: "m", Harder: +1, Max: 500, Hint: "From the dog to the handler"},
	{
		Key: Part, Label: "Part of the stimulus", Scale: Ranked, Harder: +1, Max: last,
		Items: []string{"the look", "the smell", "the sound", "look and smell", "look, smell and sound"},
		Hint:  "Which look, smell, sound or motion is there",
	},
	{Key: Trigger, Label: "Trigger distance", Unit: "m", Harder: -1, Min: 0.5, Max: 1000, Hint: "From the dog to the trigger; less is harder"},
	{Key: Intensity, Label: "Trigger strength", Scale: Rank, Harder: +1, Max: 5, Hint: "0 none · 1 faint · 3 clear · 5 full"},
	{Key: Moving, Label: "Trigger moving", Scale: Ranked, Harder: +1, Max: 1, Items: []string{"still", "moving"}, Hint: "Moving is harder"},
	{
		Key: Lead, Label: "Cue before the distraction", Unit: "s", Harder: -1, Min: -60, Max: 60,
		Hint: "Less is harder; −2 is two seconds after it",
	},
	{Key: Out, Label: "Distraction stays out", Unit: "s", Harder: +1, Max: 3600, Hint: "How long it can be had or seen"},
	{Key: Latency, Label: "Answer within", Unit: "s", Harder: -1, Min: 0.2, Max: 600, Hint: "From the cue; less is harder"},
	{Key: Height, Label: "Height", Unit: "m", Harder: +1, Max: 5, Small: true, Hint: "Of the platform, the step, the ramp"},
	{Key: Angle, Label: "Angle", Unit: "°", Harder: +1, Max: 360, Hint: "Of a turn or a slope"},
	{
		Key: Help, Label: "Help", Scale: Ranked, Harder: +1, Max: last, Fades: true,
		Items: []string{"lure", "empty hand", "small sign", "wait 2 s, then the sign", "none"},
		Hint:  "Most help first; none is hardest",
	},
	{Key: HelpAfter, Label: "Help comes after", Unit: "s", Harder: +1, Max: 60, Hint: "A pause, or the dog learns to wait for help"},
	{
		Key: Food, Label: "Where the food is", Scale: Ranked, Harder: +1, Max: last, Fades: true,
		Items: []string{"in the hand", "in the pouch", "in a pocket", "on a table"}, Hint: "Further off is harder",
	},
	{
		Key: Gear, Label: "Support gear", Scale: Ranked, Harder: +1, Max: last, Fades: true,
		Items: []string{"long line", "short line", "tab", "none"}, Hint: "Fades one at a time",
	},
	{
		Key: Prop, Label: "Prop", Scale: Ranked, Harder: +1, Max: last, Fades: true,
		Items: []string{"full size", "half size", "a mat", "none"}, Hint: "A platform, a target, a barrier; smaller is harder",
	},
	{
		Key: Tool, Label: "Tool", Scale: Ranked, Harder: +1, Max: last,
		Items: []string{"the back of a hand", "fingers", "the closed tool", "the tool at work"}, Hint: "What touches the dog",
	},
	{
		Key: Site, Label: "Place on the body", Scale: Unranked, Max: last,
		Items: []string{"shoulder", "flank", "neck", "ear", "foreleg", "hind leg", "paw", "muzzle", "tail"},
		Hint:  "Where it is touched",
	},
	{
		Key: Stance, Label: "How you stand", Scale: Unranked, Max: last,
		Items: []string{"facing the dog", "side on", "back turned", "sitting", "kneeling", "lying down"},
		Hint:  "Any change is one thing raised",
	},
	{Key: Pace, Label: "Pace", Scale: Unranked, Max: last, Items: []string{"slow", "even", "brisk", "running"}, Hint: "How fast you go"},
	{
		Key: Direction, Label: "Direction", Scale: Unranked, Max: last, Items: []string{"left", "right", "ahead", "behind"},
		Hint: "Where to, or which side",
	},
	{
		Key: Surface, Label: "Surface", Scale: Unranked, Max: last,
		Items: []string{"boards", "grass", "gravel", "wet stone", "grating"}, Hint: "What is under the feet",
	},
	{Key: Novelty, Label: "Newness of the place", Scale: Rank, Harder: +1, Max: 3, Hint: "0 home ground · 3 never seen"},
}

var builtIn = func() map[Key]Dimension {
	m := make(map[Key]Dimension, len(Dimensions))
	for _, d := range Dimensions {
		m[d.Key] = d
	}
	return m
}()

// Find returns the dimension of a key that everybody has.
func Find(key Key) (Dimension, bool) {
	d, ok := builtIn[key]
	return d, ok
}

// NoSupport tells whether a word of a support's list is the one for none of it: "none", "no help", "no line", "off leash".
func NoSupport(item string) bool {
	item = strings.ToLower(item) + " "
	begins := func(word string) bool { return strings.HasPrefix(item, word) }
	return item == "none " || slices.ContainsFunc([]string{"no ", "off ", "off-", "without "}, begins)
}

// IsList tells whether the figures are places in a list of words.
func (d Dimension) IsList() bool { return d.Scale == Ranked || d.Scale == Unranked }

// Check says what is wrong with a figure of the dimension, "" where nothing is.
func (d Dimension) Check(value float64) string {
	switch {
	case d.IsList() && (math.IsNaN(value) || value < 0 || value >= float64(len(d.Items)) || value != math.Trunc(value)):
		return fmt.Sprintf("%s takes one of its words: %s.", d.Label, strings.Join(d.Items, ", "))
	case math.IsNaN(value) || value < d.Min || value > d.Max:
		return fmt.Sprintf("%s takes %s to %s%s.", d.Label, Figure(d.Min), Figure(d.Max), unit(d.Unit))
	case d.Scale == Rank && value != math.Trunc(value):
		return fmt.Sprintf("%s takes a whole number, %s to %s.", d.Label, Figure(d.Min), Figure(d.Max))
	}
	return ""
}

// CheckOwn lists what is wrong with a practice's own dimension, by field.
func (d Dimension) CheckOwn() []Problem {
	var problems []Problem
	add := func(field, text string) { problems = append(problems, Problem{field, text}) }
	switch n := utf8.RuneCountInString(strings.TrimSpace(d.Label)); {
	case n == 0:
		add("label", "Give it a name.")
	case n > MaxName:
		add("label", fmt.Sprintf("At most %d characters.", MaxName))
	}
	if !strings.HasPrefix(string(d.Key), "own-") || len(d.Key) > 60 {
		add("key", "A dimension of your own has a key that begins with “own-”.")
	}
	if d.Harder < -1 || d.Harder > 1 || d.Scale < Measure || d.Scale > Unranked {
		add("harder", "Say whether more is harder, or less.")
	}
	if d.IsList() {
		return append(problems, CheckItems("items", d.Items)...)
	}
	if utf8.RuneCountInString(d.Unit) > 12 {
		add("unit", "A unit has at most 12 characters.")
	}
	if d.Harder == 0 {
		add("harder", "Say whether more is harder, or less.")
	}
	if !(d.Min < d.Max) || math.IsInf(d.Min, 0) || math.IsInf(d.Max, 0) {
		add("max", "The range has a lower and a higher end.")
	}
	return problems
}

// CheckItems lists what is wrong with a list of words.
func CheckItems(field string, items []string) []Problem {
	if len(items) < 2 || len(items) > MaxItems {
		return []Problem{{field, fmt.Sprintf("A list has 2 to %d words, easiest first.", MaxItems)}}
	}
	seen := map[string]bool{}
	for _, item := range items {
		key := strings.ToLower(strings.TrimSpace(item))
		switch {
		case key == "":
			return []Problem{{field, "A word of the list is empty."}}
		case utf8.RuneCountInString(item) > MaxName:
			return []Problem{{field, fmt.Sprintf("“%s” is too long: at most %d characters.", clip(item), MaxName)}}
		case seen[key]:
			return []Problem{{field, fmt.Sprintf("“%s” stands there twice.", clip(item))}}
		}
		seen[key] = true
	}
	return nil
}

func unit(u string) string {
	if u == "" {
		return ""
	}
	return " " + u
}

func clip(s string) string {
	if runes := []rune(s); len(runes) > 20 {
		return string(runes[:20]) + "…"
	}
	return s
}
