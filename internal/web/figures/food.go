package figures

import (
	"fmt"
	"math"
)

// Strength is one reward of a preference test; its places lie between 0 and 1.
type Strength struct {
	Name       string
	At, Lo, Hi float64
	Tier       int
}

// StrengthRow is one as drawn.
type StrengthRow struct {
	Strength
	Y, BarY, TextY, X, Wide, Dot float64
	Says                         string
}

// Strengths are rewards on the scale of the five tiers, best on top.
type Strengths struct {
	W, H, Bottom, TextY float64
	Rows                []StrengthRow
	Edges               []Mark // between the tiers
	Names               []Mark // of the tiers, at their middles
}

// DrawStrengths lays them out in width w, each with its name above its range.
func DrawStrengths(w float64, rows []Strength) Strengths {
	const row = 46.0
	f := Strengths{W: w, Bottom: row * float64(len(rows)), H: row*float64(len(rows)) + 24}
	f.TextY = f.Bottom + 18
	for i := range 5 {
		f.Names = append(f.Names, Mark{X: w * (float64(i) + 0.5) / 5, Text: fmt.Sprint(i + 1)})
		if i > 0 {
			f.Edges = append(f.Edges, Mark{X: w * float64(i) / 5})
		}
	}
	for i, r := range rows {
		y := row * float64(i)
		says := fmt.Sprintf("%s: tier %d", r.Name, r.Tier)
		f.Rows = append(f.Rows, StrengthRow{
			Strength: r, Y: y + 16, BarY: y + 24, TextY: y + 29, X: w * r.Lo, Wide: math.Max(3, w*(r.Hi-r.Lo)), Dot: w * r.At, Says: says,
		})
	}
	return f
}

// Day is a day's energy as a bar: what was eaten and what is planned, beside what training food may be and what the
// dog needs.
type Day struct {
	W, H           float64
	Eaten, Planned Box
	Allowed        Mark // its text is before its mark where End
	Over           bool
	Summary        string
}

// DrawDay draws it in width w; figures are kcal, need 0 where it is not known.
func DrawDay(w, need, allowed, eaten, planned float64) Day {
	// Training food is a small part of a day: the bar ends a little beyond what it may be, or at the need where
	// it is taken out of meals.
	end := math.Max(math.Max(allowed*1.25, (eaten+planned)*1.1), 1)
	if allowed >= need && need > 0 {
		end = math.Max(end, need*1.05)
	}
	x := func(kcal float64) float64 { return w * math.Min(kcal, end) / end }
	f := Day{W: w, H: 56, Over: allowed > 0 && eaten+planned > allowed}
	f.Eaten = Box{X: 0, Y: 8, W: x(eaten), H: 22}
	f.Planned = Box{X: x(eaten), Y: 8, W: x(eaten+planned) - x(eaten), H: 22}
	f.Allowed = Mark{X: x(allowed), Text: fmt.Sprintf("may be %.0f kcal", allowed)}
	f.Allowed.End = f.Allowed.X > w*0.6
	f.Summary = fmt.Sprintf("%.0f kcal eaten, %.0f planned, %.0f may be training food", eaten, planned, allowed)
	return f
}
