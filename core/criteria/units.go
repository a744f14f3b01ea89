package criteria

import (
	"fmt"
	"math"
	"strconv"
	"strings"
)

// Length is the unit in which somebody likes to read distances.
type Length string

// The units of length.
const (
	InMetres Length = "m"
	InFeet   Length = "ft"
	InPaces  Length = "paces"
)

// Units is how somebody likes figures. Everything is kept in SI; only what is typed and shown is
// not. The zero value is metric.
type Units struct {
	Length Length  `json:"length,omitempty"`
	PaceM  float64 `json:"pace_m,omitempty"` // m, of one pace of this person
}

// Exact lengths in metres, by the international yard and pound agreement of 1959.
const (
	footM = 0.3048
	inchM = 0.0254
)

// Bounds and default of a pace, in metres.
const (
	MinPace     = 0.3
	MaxPace     = 1.5
	DefaultPace = 0.75
)

// Check says what is wrong with the units, "" where nothing is.
func (u Units) Check() []Problem {
	switch u.Length {
	case "", InMetres, InFeet, InPaces:
	default:
		return []Problem{{"length", "Choose metres, feet or paces."}}
	}
	if u.PaceM != 0 && !(u.PaceM >= MinPace && u.PaceM <= MaxPace) {
		return []Problem{{"pace_m", fmt.Sprintf("A pace is %s to %s m long.", Figure(MinPace), Figure(MaxPace))}}
	}
	return nil
}

func (u Units) pace() float64 {
	if u.PaceM > 0 {
		return u.PaceM
	}
	return DefaultPace
}

// Of names the unit in which a dimension is typed and shown, and its size in the dimension's own.
func (u Units) Of(d Dimension) (name string, size float64) {
	if d.Unit != "m" || strings.HasPrefix(string(d.Key), "own-") {
		return d.Unit, 1
	}
	switch {
	case d.Small && u.Length == InFeet:
		return "in", inchM
	case d.Small:
		return "cm", 0.01
	case u.Length == InFeet:
		return "ft", footM
	case u.Length == InPaces:
		return "paces", u.pace()
	}
	return "m", 1
}

// sizes lists the units that may be written behind a figure, by the dimension's own unit.
func (u Units) sizes(unit string) map[string]float64 {
	switch unit {
	case "m":
		return map[string]float64{
			"m": 1, "metre": 1, "metres": 1, "cm": 0.01, "ft": footM, "foot": footM, "feet": footM, "'": footM, "′": footM,
			"in": inchM, "inch": inchM, "inches": inchM, "\"": inchM, "pace": u.pace(), "paces": u.pace(),
		}
	case "s":
		return map[string]float64{"s": 1, "sec": 1, "second": 1, "seconds": 1, "min": 60, "minute": 60, "minutes": 60, "h": 3600}
	case "°":
		return map[string]float64{"°": 1, "deg": 1, "degrees": 1}
	}
	if unit == "" {
		return map[string]float64{"paces": 1, "times": 1, "x": 1}
	}
	return map[string]float64{strings.ToLower(unit): 1}
}

// Parse reads what somebody typed for a dimension: a figure, with a unit or without, or a word of its
// list. Nothing typed is "not part of this step" and gives ok = false. A comma is read as a decimal
// point, and a true minus as a minus. The value is in the dimension's own unit; the problem is a
// sentence for the page, "" where there is none.
func (u Units) Parse(d Dimension, typed string) (value float64, ok bool, problem string) {
	typed = strings.TrimSpace(typed)
	if typed == "" {
		return 0, false, ""
	}
	if d.IsList() {
		for i, item := range d.Items {
			if strings.EqualFold(item, typed) {
				return float64(i), true, ""
			}
		}
		if at, bad := strconv.Atoi(typed); bad == nil && at >= 0 && at < len(d.Items) {
			return float64(at), true, ""
		}
		return 0, false, fmt.Sprintf("“%s” is none of %s.", clip(typed), strings.Join(d.Items, ", "))
	}
	text := strings.NewReplacer(",", ".", "−", "-").Replace(typed)
	number, suffix := text, ""
	if at := strings.IndexFunc(text, func(r rune) bool { return !strings.ContainsRune("0123456789.+-", r) }); at > 0 {
		number, suffix = text[:at], strings.ToLower(strings.TrimSpace(text[at:]))
	}
	value, bad := strconv.ParseFloat(number, 64)
	if bad != nil || math.IsNaN(value) || math.IsInf(value, 0) {
		return 0, false, fmt.Sprintf("“%s” is not a number. Write it in figures, such as %s.", clip(typed), d.example())
	}
	name, size := u.Of(d)
	if suffix != "" && suffix != strings.ToLower(name) {
		known := false
		if size, known = u.sizes(d.Unit)[suffix]; !known {
			return 0, false, fmt.Sprintf("“%s” is not a unit that is known here. Write the figure alone%s.", clip(suffix), inUnit(name))
		}
	}
	value *= size
	return value, true, d.Check(value)
}

func inUnit(name string) string {
	if name == "" {
		return ""
	}
	return ", in " + name
}

// Show writes a dimension's figure as this person types it, without its unit. Parse reads it back,
// to the precision shown.
func (u Units) Show(d Dimension, value float64) string {
	if d.IsList() {
		if i := int(value); i >= 0 && i < len(d.Items) {
			return d.Items[i]
		}
		return ""
	}
	name, size := u.Of(d)
	x := value / size
	switch name {
	case "ft", "paces", "cm", "in":
		// Nobody places a dog by the tenth of a foot; less than a half is kept, or it would be shown as nothing.
		if math.Abs(x) >= 0.5 {
			x = math.Round(x*2) / 2
		}
	}
	return Figure(x)
}

// Say writes a dimension's figure with its unit: "12 s", "6.5 ft", "90°".
func (u Units) Say(d Dimension, value float64) string {
	if d.IsList() {
		return u.Show(d, value)
	}
	name, _ := u.Of(d)
	if name == "°" {
		return u.Show(d, value) + name
	}
	if name == "paces" && u.Show(d, value) == "1" {
		name = "pace"
	}
	return u.Show(d, value) + unit(name)
}

func (d Dimension) example() string {
	if d.Scale == Rank {
		return "2"
	}
	return "2.5"
}

// Figure writes a number as a trainer would: three significant figures at most, no needless zeros,
// one decimal from 5 on, two below.
func Figure(x float64) string {
	decimals := 2
	switch a := math.Abs(x); {
	case a >= 100:
		decimals = 0
	case a >= 5:
		decimals = 1
	}
	s := strconv.FormatFloat(x, 'f', decimals, 64)
	if strings.Contains(s, ".") {
		s = strings.TrimRight(strings.TrimRight(s, "0"), ".")
	}
	if s == "-0" {
		s = "0"
	}
	return s
}
