package say

import (
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"patientfox/core/criteria"
)

// Count writes a number and its noun: "1 step", "3 steps".
func Count(n int, noun string) string {
	if n == 1 {
		return "1 " + noun
	}
	return strconv.Itoa(n) + " " + noun + "s"
}

// CountInWords says a few with their noun: "one step", "two steps".
func CountInWords(n int, noun string) string {
	if n != 1 {
		noun += "s"
	}
	return Number(n) + " " + noun
}

var small = []string{"no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten"}

// Number writes small whole numbers as words.
func Number(n int) string {
	if n >= 0 && n < len(small) {
		return small[n]
	}
	return strconv.Itoa(n)
}

// Among is Number of things out of a number of them: "two" of five, "none" of five.
func Among(n int) string {
	if n == 0 {
		return "none"
	}
	return Number(n)
}

// Whole is a whole number with a minus sign that reads as one.
func Whole(n int) string {
	if n < 0 {
		return "−" + strconv.Itoa(-n)
	}
	return strconv.Itoa(n)
}

// Times writes how often: "once", "twice", "5 times".
func Times(n int) string {
	switch n {
	case 0:
		return "never"
	case 1:
		return "once"
	case 2:
		return "twice"
	}
	return strconv.Itoa(n) + " times"
}

// Percent writes a share (0…1) as "75 %"; a dash where there is nothing to share.
func Percent(x float64) string {
	if math.IsNaN(x) {
		return "–"
	}
	return strconv.Itoa(int(math.Round(x*100))) + " %"
}

// Points is a difference of two rates in percentage points, with its sign.
func Points(x float64) string {
	n := int(math.Round(100 * x))
	if n > 0 {
		return fmt.Sprintf("+%d points", n)
	}
	return Whole(n) + " points"
}

// Clock writes seconds as "5:42".
func Clock(s float64) string {
	whole := int(math.Max(0, math.Floor(s)))
	return fmt.Sprintf("%d:%02d", whole/60, whole%60)
}

// Seconds writes a duration as a trainer says it: "7.4 s", "12 s", "2 min 30 s".
func Seconds(s float64) string {
	if s < 120 {
		return criteria.Figure(s) + " s"
	}
	minutes, rest := int(s)/60, math.Round(math.Mod(s, 60))
	if rest == 0 || rest == 60 {
		return fmt.Sprintf("%d min", int(math.Round(s/60)))
	}
	return fmt.Sprintf("%d min %d s", minutes, int(rest))
}

// Sentences puts whole sentences after one another; empty ones are left out.
func Sentences(list ...string) string {
	return strings.Join(slices.DeleteFunc(list, func(s string) bool { return s == "" }), " ")
}

// Days writes how long ago a day was.
func Days(n int) string {
	switch {
	case n <= 0:
		return "today"
	case n == 1:
		return "yesterday"
	}
	return strconv.Itoa(n) + " days ago"
}

// Upper makes the first letter a capital.
func Upper(s string) string {
	for i, r := range s {
		return strings.ToUpper(string(r)) + s[i+len(string(r)):]
	}
	return s
}

// Lower makes the first letter of a sentence small, to go on another one.
func Lower(s string) string {
	for i, r := range s {
		return strings.ToLower(string(r)) + s[i+len(string(r)):]
	}
	return s
}

// List joins with commas and a last "and".
func List(items []string) string {
	switch len(items) {
	case 0:
		return ""
	case 1:
		return items[0]
	}
	return strings.Join(items[:len(items)-1], ", ") + " and " + items[len(items)-1]
}
