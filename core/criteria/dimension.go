// Package criteria says what a step asks of the dog: dimensions with units and directions, the
// definition of "right", which of two steps is harder, and how raw measures become an outcome.
package criteria

import (
	"fmt"
	"math"
	"strconv"
	"strings"
)

// Key names a dimension, in storage and in events.
type Key string

// The dimensions that exist so far.
const (
	Duration  Key = "duration"  // s the behaviour is held
	Handler   Key = "handler"   // m between handler and dog
	Trigger   Key = "trigger"   // m between the trigger and the dog
	Intensity Key = "intensity" // 0…5, how strong the trigger is; 0 is none
	Moving    Key = "moving"    // 0 still, 1 moving
	Latency   Key = "latency"   // s from the cue within which the dog must respond
)

// Scale is how a dimension's figures are spaced, which decides what half way means.
type Scale int

// Measures halve by geometric mean, ranks by the middle rank.
const (
	Measure Scale = iota
	Rank
)

// Dimension is one thing that a step can make harder.
type Dimension struct {
	Key    Key
	Label  string
	Unit   string // "s", "m" or ""
	Scale  Scale
	Harder int // +1 where more is harder, −1 where less is
	Min    float64
	Max    float64
	Hint   string
}

// Dimensions lists every dimension in the order in which pages show them.
var Dimensions = []Dimension{
	{Duration, "Duration", "s", Measure, +1, 0.5, 7200, "How long the dog holds it"},
	{Handler, "Your distance", "m", Measure, +1, 0, 500, "From the dog to the handler"},
	{Trigger, "Trigger distance", "m", Measure, -1, 0.5, 1000, "From the dog to the trigger; less is harder"},
	{Intensity, "Trigger strength", "", Rank, +1, 0, 5, "0 none · 1 faint · 3 clear · 5 full"},
	{Moving, "Trigger moving", "", Rank, +1, 0, 1, "0 still · 1 moving"},
	{Latency, "Answer within", "s", Measure, -1, 0.2, 600, "From the cue; less is harder"},
}

// Find returns the dimension of a key.
func Find(key Key) (Dimension, bool) {
	for _, d := range Dimensions {
		if d.Key == key {
			return d, true
		}
	}
	return Dimension{}, false
}

// Parse reads what somebody typed for the dimension. Nothing typed is "not part of this step" and
// gives ok = false. A comma is read as a decimal point. The problem is a sentence for the page, "" where
// there is none.
func (d Dimension) Parse(typed string) (value float64, ok bool, problem string) {
	typed = strings.TrimSpace(typed)
	if typed == "" {
		return 0, false, ""
	}
	number := strings.TrimSpace(strings.TrimSuffix(strings.Replace(typed, ",", ".", 1), d.Unit))
	value, bad := strconv.ParseFloat(number, 64)
	if bad != nil || math.IsNaN(value) || math.IsInf(value, 0) {
		return 0, false, fmt.Sprintf("“%s” is not a number. Write it in figures, such as %s.", clip(typed), d.example())
	}
	return value, true, d.Check(value)
}

// Check says why a figure cannot stand for the dimension, "" where it can.
func (d Dimension) Check(value float64) string {
	switch {
	case math.IsNaN(value) || value < d.Min || value > d.Max:
		return fmt.Sprintf("%s takes %s to %s%s.", d.Label, Figure(d.Min), Figure(d.Max), unit(d.Unit))
	case d.Scale == Rank && value != math.Trunc(value):
		return fmt.Sprintf("%s takes a whole number, %s to %s.", d.Label, Figure(d.Min), Figure(d.Max))
	}
	return ""
}

func (d Dimension) example() string {
	if d.Scale == Rank {
		return "2"
	}
	return "2.5"
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

// Figure writes a number as a trainer would: three significant figures at most, no needless zeros,
// at most two decimals.
func Figure(x float64) string {
	decimals := 2
	switch a := math.Abs(x); {
	case a >= 100:
		decimals = 0
	case a >= 10:
		decimals = 1
	}
	s := strconv.FormatFloat(x, 'f', decimals, 64)
	if strings.Contains(s, ".") {
		s = strings.TrimRight(strings.TrimRight(s, "0"), ".")
	}
	return s
}
