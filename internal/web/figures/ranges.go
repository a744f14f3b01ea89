package figures

import (
	"fmt"
	"math"
)

// RangeIn is one range of whole numbers with its middle.
type RangeIn struct {
	Label       string
	Lo, Mid, Hi int
	Open        bool // the upper end is only a bound
	Own         bool
}

// RangeRow is one range as drawn.
type RangeRow struct {
	RangeIn
	Y, BarY, X, Wide, Middle float64
	Arrow                    string
}

// Ranges are bars on one axis, from 0.
type Ranges struct {
	W, H, Bottom, TextY float64
	Rows                []RangeRow
	Ticks               []Mark
	Summary             string
}

// DrawRanges lays ranges out in width w, with their names before them.
func DrawRanges(w float64, rows []RangeIn) Ranges {
	names, right, row := 220.0, 30.0, 30.0
	f := Ranges{W: w, Bottom: row * float64(len(rows))}
	f.TextY, f.H = f.Bottom+18, f.Bottom+24
	most := 1
	for _, r := range rows {
		most = max(most, r.Hi)
	}
	step := tick(float64(most) / 5)
	top := step * math.Ceil(float64(most)/step)
	x := func(n int) float64 { return names + (w-names-right)*float64(n)/top }
	for n := 0.0; n <= top+1e-9; n += step {
		f.Ticks = append(f.Ticks, Mark{X: x(int(n)), Text: fmt.Sprintf("%.0f", n)})
	}
	for i, r := range rows {
		y := row*float64(i) + row/2
		r.Label = clip(r.Label, int(names/nameWidth))
		one := RangeRow{RangeIn: r, Y: y, BarY: y - 6, X: x(r.Lo), Wide: math.Max(3, x(r.Hi)-x(r.Lo)), Middle: x(r.Mid)}
		if r.Open {
			end := x(r.Hi)
			one.Arrow = fmt.Sprintf("M%.1f %.1fl9 6l-9 6", end+3, y-6)
		}
		f.Rows = append(f.Rows, one)
		says := fmt.Sprintf("%s: %d to %d, half within %d", r.Label, r.Lo, r.Hi, r.Mid)
		if i > 0 {
			says = "; " + says
		}
		f.Summary += says
	}
	return f
}

// tick is a round number near x: 1, 2 or 5 times a power of ten.
func tick(x float64) float64 {
	power := math.Pow(10, math.Floor(math.Log10(math.Max(x, 1))))
	for _, m := range []float64{1, 2, 5} {
		if x <= m*power {
			return m * power
		}
	}
	return 10 * power
}
