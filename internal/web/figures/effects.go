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

// maxEffect is how far the axis goes to either side, logits.
const maxEffect = 2.5

// DrawEffect lays one out in width w and height h: one after another in the rows of a table, they have one axis.
func DrawEffect(w, h, size, lo, hi float64) Effect {
	x := func(v float64) float64 { return clamp(w/2+(w/2-8)*v/maxEffect, 5, w-5) }
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
	f.Wide = w - f.X - 26
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

// Rate is one rate with its range, on an axis from 0 to 1.
type Rate struct {
	W, H, Half       float64
	X, From, Wide, Y float64
}

// DrawRate lays a rate out in width w and height h: one under the other, they have one axis.
func DrawRate(w, h, rate, lo, hi float64) Rate {
	x := func(v float64) float64 { return 6 + (w-12)*v }
	return Rate{W: w, H: h, Half: x(0.5), X: x(rate), From: x(lo), Wide: math.Max(2, x(hi)-x(lo)), Y: h / 2}
}

// RestIn is what is left of a session's rate when practice is taken out, −1…1.
type RestIn struct {
	Href, Title, Place string
	Value              float64
}

// Rests are sessions in their order, over bands of the places where they were.
type Rests struct {
	W, H, Zero, Left, Right float64
	Dots                    []RestDot
	Bands                   []RestBand
	Ticks                   []Label
	BandY, BandH, NameY     float64
}

// RestDot is one session as drawn.
type RestDot struct {
	RestIn
	X, Y float64
}

// RestBand is a run of sessions in one place.
type RestBand struct {
	X, Wide, Middle float64
	Name            string // "" where there is no room for it
	Odd             bool
}

// maxRest is how far the axis goes to either side.
const maxRest = 0.6

// DrawRests lays sessions out in width w.
func DrawRests(w float64, rests []RestIn) Rests {
	f := Rests{W: w, H: 230, Zero: 90, Left: 52, Right: w - 8, BandY: 178, BandH: 14, NameY: 212}
	step := (f.Right - f.Left) / math.Max(1, float64(len(rests)))
	y := func(v float64) float64 { return f.Zero - 78*clamp(v, -maxRest, maxRest)/maxRest }
	for _, v := range []float64{-0.4, 0, 0.4} {
		f.Ticks = append(f.Ticks, Label{X: f.Left - 8, Y: y(v) + 5, Text: fmt.Sprintf("%+.0f", 100*v)})
	}
	from := 0
	for i, r := range rests {
		f.Dots = append(f.Dots, RestDot{r, f.Left + step*(float64(i)+0.5), y(r.Value)})
		if i+1 < len(rests) && rests[i+1].Place == r.Place {
			continue
		}
		band := RestBand{X: f.Left + step*float64(from), Wide: step * float64(i+1-from), Odd: len(f.Bands)%2 == 1}
		band.Middle = band.X + band.Wide/2
		if float64(len([]rune(r.Place)))*nameWidth <= band.Wide {
			band.Name = r.Place
		}
		f.Bands, from = append(f.Bands, band), i+1
	}
	return f
}
