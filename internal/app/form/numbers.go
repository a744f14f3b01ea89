package form

import (
	"fmt"
	"math"
	"strconv"
	"strings"

	"patientfox/core/reinforce"
)

// Listed reads a list of words: one a line, or with commas or arrows between.
func Listed(typed string) []string {
	var list []string
	for _, word := range strings.FieldsFunc(typed, func(r rune) bool { return r == '\n' || r == ',' || r == ';' || r == '→' }) {
		if word = strings.TrimSpace(word); word != "" {
			list = append(list, word)
		}
	}
	return list
}

// Lines reads a list of words, one a line. A comma is part of the words; where all stands in one line, which is no list, it parts them.
func Lines(typed string) []string {
	var list []string
	for line := range strings.SplitSeq(typed, "\n") {
		if line = strings.TrimSpace(line); line != "" {
			list = append(list, line)
		}
	}
	if len(list) == 1 {
		return Listed(typed)
	}
	return list
}

// ClockOf writes minutes from midnight as "9:05".
func ClockOf(minutes int) string { return fmt.Sprintf("%d:%02d", minutes/60, minutes%60) }

// ReadClock reads a time of day as typed: "9:05", "905", "9".
func ReadClock(typed string) (minutes int, ok bool) {
	typed = strings.TrimSpace(strings.NewReplacer(".", ":", "h", ":").Replace(typed))
	hour, minute, colon := strings.Cut(typed, ":")
	h, err := strconv.Atoi(hour)
	if err != nil {
		return 0, false
	}
	m := 0
	if colon && minute != "" {
		if m, err = strconv.Atoi(minute); err != nil {
			return 0, false
		}
	} else if !colon && len(hour) >= 3 {
		h, m = h/100, h%100
	}
	return h*60 + m, h >= 0 && h < 24 && m >= 0 && m < 60
}

// ReadKg reads a weight in kilograms; nil where nothing was typed.
func ReadKg(ps Problems, t Typed, field string) *float64 {
	typed := strings.TrimSpace(strings.TrimSuffix(strings.Replace(t.Text(field), ",", ".", 1), "kg"))
	if typed == "" {
		return nil
	}
	kg, err := strconv.ParseFloat(typed, 64)
	if err != nil || !(kg >= reinforce.MinKg && kg <= reinforce.MaxKg) {
		ps.Add(field, fmt.Sprintf("A weight in kilograms from %.1f to %d, in figures.", reinforce.MinKg, reinforce.MaxKg))
		return nil
	}
	return &kg
}

// Number reads a figure that may be left empty; words after it are not read.
func (ps Problems) Number(t Typed, field string, lo, hi float64, says string) float64 {
	typed := strings.TrimSpace(strings.TrimSuffix(strings.Replace(t.Text(field), ",", ".", 1), "%"))
	if typed == "" {
		return 0
	}
	x, err := strconv.ParseFloat(typed, 64)
	if err != nil || !(x >= lo && x <= hi) {
		ps.Add(field, says)
		return 0
	}
	return x
}

// Whole is number for whole figures.
func (ps Problems) Whole(t Typed, field string, lo, hi int, says string) int {
	x := ps.Number(t, field, float64(lo), float64(hi), says)
	if x != math.Trunc(x) {
		ps.Add(field, says)
	}
	return int(x)
}
