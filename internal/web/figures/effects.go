package figures

import (
	"fmt"
	"math"
)

// Effect is how much one thing weighs, in logits, on an axis with nothing in its middle: easier is on the right.
type Effect struct {
	W, H, Zero float64
	X          float64 // of the size
	From, Wide float64 // of its range
	Y          float64
}

// mostEffect is how far the axis goes to either side, logits.
const mostEffect = 2.5

// DrawEffect lays one out in width w and height h: one after another in the rows of a table, they have one axis.
func DrawEffect(w, h, size, lo, hi float64) Effect {
	x := func(v float64) float64 { return clamp(w/2+(w/2-8)*v/mostEffect, 5, w-5) }
	return Effect{W: w, H: h, Zero: w / 2, X: x(size), From: x(lo), Wide: math.Max(2, x(hi)-x(lo)), Y: h / 2}
}

// TenthIn is what was predicted, and what came, 0…1.
type TenthIn struct {
	Said, Came, Lo, Hi float64
	N                  int
}

// Dot is one tenth as drawn.
type Dot struct {
	X, Y, Top, Bottom, R float64
}

// Reliability is what was predicted against what came: on the line, both are the same.
type Reliability struct {
	W, H, X, Y, Wide, High float64
	Line                   string
	Dots                   []Dot
	Xs, Ys                 []Label
}

// DrawReliability lays predictions out in width w.
func DrawReliability(w float64, tenths []TenthIn) Reliability {
	f := Reliability{W: w, X: 52, Y: 10, High: 220}
	f.Wide = w - f.X - 16
	f.H = f.Y + f.High + 44
	px := func(p float64) float64 { return f.X + f.Wide*p }
	py := func(p float64) float64 { return f.Y + f.High*(1-p) }
	f.Line = fmt.Sprintf("M%.1f %.1fL%.1f %.1f", px(0), py(0), px(1), py(1))
	for _, t := range tenths {
		f.Dots = append(f.Dots, Dot{X: px(t.Said), Y: py(t.Came), Top: py(t.Hi), Bottom: py(t.Lo), R: math.Min(9, 3+0.5*math.Sqrt(float64(t.N)))})
	}
	for _, p := range []float64{0, 0.5, 1} {
		f.Xs = append(f.Xs, Label{X: px(p), Y: f.Y + f.High + 20, Text: fmt.Sprintf("%.0f %%", 100*p)})
		f.Ys = append(f.Ys, Label{X: f.X - 8, Y: py(p) + 5, Text: fmt.Sprintf("%.0f %%", 100*p)})
	}
	return f
}
