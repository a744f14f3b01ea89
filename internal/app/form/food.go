package form

import (
	"fmt"
	"patientfox/core/reinforce"
	"strconv"
	"strings"
)

// clockOf writes minutes from midnight as "9:05".
func ClockOf(minutes int) string { return fmt.Sprintf("%d:%02d", minutes/60, minutes%60) }

// readClock reads a time of day as typed: "9:05", "905", "9".
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

// readKg reads a weight in kilograms; nil where nothing was typed.
func ReadKg(ps Problems, t Typed, field string) *float64 {
	typed := strings.TrimSpace(strings.TrimSuffix(strings.Replace(t.Text(field), ",", ".", 1), "kg"))
	if typed == "" {
		return nil
	}
	kg, err := strconv.ParseFloat(typed, 64)
	if err != nil || !(kg >= reinforce.LeastKg && kg <= reinforce.MostKg) {
		ps.Add(field, fmt.Sprintf("A weight in kilograms from %.1f to %d, in figures.", reinforce.LeastKg, reinforce.MostKg))
		return nil
	}
	return &kg
}
