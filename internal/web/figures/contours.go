package figures

import (
	"fmt"
	"math"
	"strings"
)

// ContoursIn is a chance over distance and strength: its logit is Base + PerDoubling·log2(m ÷ 10) + PerLevel·strength, so that lines of
// equal chance are straight on a scale of doublings.
type ContoursIn struct {
	Base, PerDoubling, PerLevel float64
	Spots                       []SpotIn
	At                          *SpotIn
	Near, Far, Strongest        float64              // how far was tried; 0 for nothing
	Metres                      func(float64) string // a distance in the user's units
}

// SpotIn is where trials were, and how many of them were met.
type SpotIn struct {
	Metres, Level float64
	Met, N        int
}

// Area is one piece of the plane, by its outline.
type Area struct {
	Path, Class string
}

// Spot is a place of trials as drawn: a ring that is filled by the share of them that were met.
type Spot struct {
	X, Y, R   float64
	Fill      string // path of the filled part, "" for none
	Whole     bool   // all of them were met
	Text      string // "7/9"
	TextX, TY float64
}

// Contours is a drawing of equal chances.
type Contours struct {
	W, H             float64
	X, Y, Wide, High float64 // of the plane
	Areas            []Area  // from the least chance to the most
	Lines            []Label // where a contour's name stands
	Unknown          []Area  // beyond what was tried
	Spots            []Spot
	At               *Spot
	Xs, Ys           []Label
	Summary          string
}

// Label is a text at a place.
type Label struct {
	X, Y float64
	Text string
}

// Bounds of the plane, and how far beyond what was tried is still known.
const (
	minMetres = 1.0
	maxMetres = 256.0
	knownBy   = 1.5
)

// contours are the chances whose lines are drawn.
var contours = []float64{0.5, 0.8, 0.95}

type point struct{ x, y float64 }

// DrawContours lays the plane out in width w: near is on the left, strong at the top.
func DrawContours(w float64, in ContoursIn) Contours {
	f := Contours{W: w, X: 92, Y: 14, High: 250}
	f.Wide = w - f.X - 30
	f.H = f.Y + f.High + 46
	from, to := span(in)
	left, right, bottom, top := math.Log2(from/10), math.Log2(to/10), 0.5, 5.5
	px := func(d float64) float64 { return f.X + f.Wide*(d-left)/(right-left) }
	py := func(level float64) float64 { return f.Y + f.High*(top-level)/(top-bottom) }
	plane := []point{{left, bottom}, {right, bottom}, {right, top}, {left, top}}
	draw := func(area []point) string {
		var b strings.Builder
		for i, p := range area {
			fmt.Fprintf(&b, "%c%.1f %.1f", "ML"[min(i, 1)], px(p.x), py(p.y))
		}
		return b.String() + "Z"
	}
	for i, p := range contours {
		need := math.Log(p / (1 - p))
		at := func(q point) float64 { return in.Base + in.PerDoubling*q.x + in.PerLevel*q.y - need }
		area := clipped(plane, at)
		if len(area) < 3 {
			continue
		}
		f.Areas = append(f.Areas, Area{draw(area), fmt.Sprintf("c%d", i+1)})
		if name, ok := edge(plane, at); ok {
			f.Lines = append(f.Lines, Label{
				clamp(px(name.x), f.X+18, f.X+f.Wide-18), clamp(py(name.y), f.Y+14, f.Y+f.High-6), fmt.Sprintf("%.0f %%", 100*p),
			})
		}
	}
	f.Unknown = unknown(in, plane, draw)
	for _, s := range in.Spots {
		f.Spots = append(f.Spots, spot(s, px, py))
	}
	if in.At != nil {
		at := spot(*in.At, px, py)
		at.R = 16
		f.At = &at
	}
	for m := from; m <= to*1.0001; m *= 2 {
		f.Xs = append(f.Xs, Label{X: px(math.Log2(m / 10)), Y: f.Y + f.High + 20, Text: in.Metres(m)})
	}
	for level, name := range []string{"faint", "mild", "clear", "strong", "full"} {
		f.Ys = append(f.Ys, Label{X: f.X - 10, Y: py(float64(level+1)) + 5, Text: name})
	}
	f.Summary = fmt.Sprintf("The chance by distance, %s to %s, and strength of the trigger; trials were at %d set-ups",
		in.Metres(from), in.Metres(to), len(in.Spots))
	return f
}

// span is the part of the distances that is drawn: doublings round what was tried and where the dog works.
func span(in ContoursIn) (from, to float64) {
	least, most := 5.0, 40.0
	for _, s := range in.Spots {
		least, most = math.Min(least, s.Metres), math.Max(most, s.Metres)
	}
	if in.At != nil {
		least, most = math.Min(least, in.At.Metres), math.Max(most, in.At.Metres)
	}
	from, to = minMetres, maxMetres
	for from*2 <= least && from*2 < to {
		from *= 2
	}
	for to/2 >= most && to/2 > from*4 {
		to /= 2
	}
	return from, to
}

// clipped is the part of an area in which at is 0 or more.
func clipped(area []point, at func(point) float64) (part []point) {
	for i, p := range area {
		q := area[(i+1)%len(area)]
		a, b := at(p), at(q)
		if a >= 0 {
			part = append(part, p)
		}
		if a >= 0 != (b >= 0) {
			part = append(part, between(p, q, a/(a-b)))
		}
	}
	return part
}

func between(p, q point, part float64) point {
	return point{p.x + part*(q.x-p.x), p.y + part*(q.y-p.y)}
}

// edge is the middle of the line on which at is 0.
func edge(area []point, at func(point) float64) (middle point, ok bool) {
	var cuts []point
	for i, p := range area {
		q := area[(i+1)%len(area)]
		if a, b := at(p), at(q); a >= 0 != (b >= 0) {
			cuts = append(cuts, between(p, q, a/(a-b)))
		}
	}
	if len(cuts) < 2 {
		return middle, false
	}
	return between(cuts[0], cuts[1], 0.5), true
}

// unknown is what lies beyond 1.5 times what was tried.
func unknown(in ContoursIn, plane []point, draw func([]point) string) (areas []Area) {
	if in.Far <= 0 || in.Strongest <= 0 {
		return []Area{{draw(plane), "unknown"}}
	}
	near, far := math.Log2(in.Near/knownBy/10), math.Log2(in.Far*knownBy/10)
	strong := in.Strongest*knownBy + 0.5
	add := func(area []point) {
		if len(area) > 2 {
			areas = append(areas, Area{draw(area), "unknown"})
		}
	}
	add(clipped(plane, func(p point) float64 { return near - p.x }))
	add(clipped(plane, func(p point) float64 { return p.x - far }))
	within := clipped(clipped(plane, func(p point) float64 { return p.x - near }), func(p point) float64 { return far - p.x })
	add(clipped(within, func(p point) float64 { return p.y - strong }))
	return areas
}

func clamp(x, lo, hi float64) float64 { return math.Max(lo, math.Min(hi, x)) }

func spot(s SpotIn, px, py func(float64) float64) Spot {
	out := Spot{
		X: px(math.Log2(math.Max(s.Metres, minMetres) / 10)), Y: py(s.Level), R: math.Min(14, 5+1.2*math.Sqrt(float64(s.N))),
		Text: fmt.Sprintf("%d of %d", s.Met, s.N), Whole: s.N > 0 && s.Met == s.N,
	}
	if share := float64(s.Met) / math.Max(1, float64(s.N)); share > 0 && share < 1 {
		end := 2 * math.Pi * share
		large := 0
		if share > 0.5 {
			large = 1
		}
		out.Fill = fmt.Sprintf("M%.1f %.1fV%.1fA%.1f %.1f 0 %d 1 %.1f %.1fZ", out.X, out.Y, out.Y-out.R, out.R, out.R, large,
			out.X+out.R*math.Sin(end), out.Y-out.R*math.Cos(end))
	}
	return out
}
