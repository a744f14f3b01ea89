package form

import (
	"math"
	"strconv"
	"strings"
)

// number reads a figure that may be left empty; words after it are not read.
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

// whole is number for whole figures.
func (ps Problems) Whole(t Typed, field string, lo, hi int, says string) int {
	x := ps.Number(t, field, float64(lo), float64(hi), says)
	if x != math.Trunc(x) {
		ps.Add(field, says)
	}
	return int(x)
}
