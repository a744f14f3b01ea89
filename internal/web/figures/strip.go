package figures

import (
	"fmt"
	"math"
	"strings"
)

// StripInput is what a session's time strip draws; times are seconds of its clock.
type StripInput struct {
	Length   float64
	Segments []StripSegment
	Trials   []StripTrial
	Pays     []float64
	Rate     []RatePoint
	BandLo   float64 // pays per minute, 0 without a plan
	BandHi   float64
	Gaps     []StripGap
}

// StripSegment is a stretch at one step, or a break.
type StripSegment struct {
	From, To float64
	Label    string
	Of       string // the skill, where there are several: said where there is room
	Rest     bool
}

// StripTrial is one trial.
type StripTrial struct {
	At      float64
	Outcome string
	Paid    bool
}

// RatePoint is the rolling rate at a moment, in pays per minute.
type RatePoint struct{ At, Rate float64 }

// StripGap is an overdue gap; Active in seconds.
type StripGap struct{ From, To, Active float64 }

// Box is a rectangle with words in it.
type Box struct {
	X, Y, W, H   float64
	Text         string
	Class        string
	TextX, TextY float64
}

// Strip is the drawing of a session.
type Strip struct {
	W, H     float64
	Segments []Box
	Trials   []Point
	TrialsY  float64
	Pays     string // path data: a stroke on the axis for each pay
	Band     Box
	Rate     string
	RateY    float64 // of the axis
	Gaps     []Box
	Ticks    []Mark
	TicksY   float64
	Scale    []Mark // figures of the rate axis, X holding y
	Label    string
	LabelY   float64
}

// box is a segment from one place to another, with as much of what it is as there is room for.
func (s StripSegment) box(from, to float64) Box {
	b := Box{X: from, Y: 4, W: to - from, H: 30, Class: "seg", Text: s.Label}
	if s.Rest {
		b.Class = "seg rest"
	}
	number := strings.TrimPrefix(s.Label, "step ")
	fits := func(text string) bool { return b.W >= 8*float64(len(text)) }
	switch {
	case s.Of != "" && fits(s.Of+", "+s.Label):
		b.Text = s.Of + ", " + s.Label
	case fits(s.Label):
	case b.W > 16 && number != s.Label:
		b.Text = number
	default:
		b.Text = ""
	}
	b.TextX, b.TextY = b.X+7, b.Y+20
	return b
}

// DrawStrip lays a session out in width w.
func DrawStrip(w float64, in StripInput) Strip {
	const left, right = 30.0, 10.0
	length := math.Max(in.Length, 1) * 1.02
	x := func(at float64) float64 { return left + (w-left-right)*math.Min(at, length)/length }
	f := Strip{W: w, TrialsY: 78}
	for _, s := range in.Segments {
		f.Segments = append(f.Segments, s.box(x(s.From), x(s.To)))
	}
	// Trials that are closer than a shape is wide go to a second row, or to a third, for which the rest moves down.
	lastX := [3]float64{-100, -100, -100}
	for _, t := range in.Trials {
		p := Point{X: x(t.At), Y: f.TrialsY, LevelSet: LevelSet{Full: t.Paid}, Label: t.Outcome, Title: clock(t.At) + " " + t.Outcome}
		for row, y := range []float64{f.TrialsY, f.TrialsY - 26, f.TrialsY + 24} {
			if p.X-lastX[row] >= 17 || row == 2 {
				p.Y, lastX[row] = y, p.X
				break
			}
		}
		f.Trials = append(f.Trials, p)
	}
	rateTop := 126.0
	if lastX[2] >= 0 {
		rateTop += 24
	}
	rateBottom := rateTop + 144
	f.LabelY, f.RateY, f.TicksY, f.H = rateTop-14, rateBottom, rateBottom+30, rateBottom+38
	most := math.Max(in.BandHi, in.BandLo)
	for _, r := range in.Rate {
		most = math.Max(most, r.Rate)
	}
	most = math.Max(2, most) * 1.08
	y := func(rate float64) float64 { return rateBottom - (rateBottom-rateTop)*rate/most }
	if in.BandLo > 0 {
		hi := math.Max(in.BandHi, in.BandLo)
		f.Band = Box{X: left, W: w - left - right, Y: y(hi), H: math.Max(3, y(in.BandLo)-y(hi))}
		f.Label = fmt.Sprintf("pays a minute, planned %s", band(in.BandLo, in.BandHi))
	} else {
		f.Label = "pays a minute"
	}
	var line, strokes path
	for i, r := range in.Rate {
		if i > 0 && rests(in.Segments, in.Rate[i-1].At, r.At) {
			line.point('M', x(r.At), y(r.Rate)) // nothing is drawn across a break
			continue
		}
		line.to(x(r.At), y(r.Rate))
	}
	for _, at := range in.Pays {
		strokes.stroke(x(at), rateBottom, 8)
	}
	f.Rate, f.Pays = line.String(), strokes.String()
	for _, g := range in.Gaps {
		b := Box{X: x(g.From), Y: rateTop - 8, W: math.Max(2, x(g.To)-x(g.From)), H: rateBottom - rateTop + 8}
		if b.W > 30 {
			b.Text = fmt.Sprintf("%d s", int(math.Round(g.Active)))
		}
		if b.W > 78 {
			b.Text += " unpaid"
		}
		b.TextX, b.TextY = b.X+5, b.Y+17
		f.Gaps = append(f.Gaps, b)
	}
	step := tickStep(in.Length)
	for at := 0.0; at <= in.Length; at += step {
		f.Ticks = append(f.Ticks, Mark{X: x(at), Text: clock(at)})
	}
	unit := math.Max(1, math.Ceil(most/4))
	for r := 0.0; r < most; r += unit {
		f.Scale = append(f.Scale, Mark{X: y(r) + 5, Text: fmt.Sprint(int(r))})
	}
	return f
}

func rests(segments []StripSegment, from, to float64) bool {
	for _, s := range segments {
		if s.Rest && s.From >= from-1e-9 && s.To <= to+1e-9 {
			return true
		}
	}
	return false
}

func band(lo, hi float64) string {
	if hi > lo {
		return fmt.Sprintf("%g to %g", lo, hi)
	}
	return fmt.Sprintf("%g", lo)
}

func tickStep(length float64) float64 {
	for _, step := range []float64{10, 15, 30, 60, 120, 300, 600, 1800, 3600} {
		if length/step <= 10 {
			return step
		}
	}
	return 7200
}

func clock(s float64) string { return fmt.Sprintf("%d:%02d", int(s)/60, int(s)%60) }
