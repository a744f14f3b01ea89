package figures

import (
	"fmt"
	"math"
)

// TrendSession is one session below the levels.
type TrendSession struct {
	Session, Day, Place string
	Met, Right, N       int
	Lo, Hi              float64 // of the strict rate, 0…1
	Median, P90         float64 // s, NaN without any
	Cold, ColdSays      string  // the shape of its cold trial and its name, "" without one
	Helped              int
}

// TrendPoint is one session as drawn.
type TrendPoint struct {
	X, Strict, Lenient, Lo, Hi float64
	Latency, P90               float64
	HasLatency                 bool
	Helped                     float64 // height of the bar
	HelpedY                    float64
	Cold                       string
	Session, Title             string
}

// TrendBand is sessions in one place, one after another.
type TrendBand struct {
	X, W  float64
	Label string
	Title string
	Odd   bool // every second band is shaded
}

// TrendMark is a setback between sessions.
type TrendMark struct {
	X     float64
	Title string
}

// Trend is what is drawn below the levels on their axis: places, rates with their intervals, cold trials,
// help, and latency.
type Trend struct {
	W, H              float64
	Plot              float64 // right end of the panels
	PlaceY, PlaceH    float64
	RateTop, RateH    float64
	RateMid, RateLow  float64
	ColdY             float64
	LatTop, LatH      float64
	LatBottom         float64
	LatMax            string
	PlaceText         float64 // y of the places' own names
	NameX, ScaleX     float64 // of the panels' names, and of the figures at their lines
	PlaceName         float64 // y of the names
	RateName, LatName float64
	ColdName          float64
	Word              string // what a trial that went well is called
	Narrow            bool   // names above the panels, as on a phone
	Bands             []TrendBand
	Points            []TrendPoint
	Rate, Right, Slow string // path data: strict, lenient, median latency
	Setbacks          []TrendMark
	Latency           bool // there is any
	Summary           string
}

// SetbackAt is a setback, behind a session.
type SetbackAt struct{ Session, Title string }

// title is what stands behind a session's point.
func (s TrendSession) title(word string) string {
	text := fmt.Sprintf("%s: %d of %d %s, likely %.0f–%.0f %%", s.Day, s.Met, s.N, word, 100*s.Lo, 100*s.Hi)
	if s.Right > s.Met {
		text += fmt.Sprintf(", %d with slow ones", s.Right)
	}
	if s.Place != "" {
		text += ", " + s.Place
	}
	if s.Cold != "" {
		text += "; cold: " + s.ColdSays
	}
	if !math.IsNaN(s.Median) {
		text += fmt.Sprintf("; median latency %.1f s", s.Median)
	}
	return text
}

// DrawTrend lays sessions out below levels that were drawn: each at the middle of its sets.
func DrawTrend(l Levels, sessions []TrendSession, setbacks []SetbackAt) Trend {
	f := Trend{W: l.W, Word: l.word, PlaceY: 0, PlaceH: 24, RateTop: 46, RateH: 96, ColdY: 164, LatTop: 200, LatH: 64}
	f.Plot, f.Narrow = l.W-nameRoom, l.narrow
	if l.narrow {
		f.Plot = l.W - 36
		f.PlaceY, f.RateTop, f.ColdY, f.LatTop = 26, 80, 216, 260
		f.PlaceName, f.RateName, f.ColdName, f.LatName = 20, f.RateTop-12, f.ColdY-14, f.LatTop-12
	} else {
		f.NameX, f.PlaceName, f.RateName, f.ColdName, f.LatName = f.Plot+12, 17, f.RateTop+f.RateH/2-2, f.ColdY+3, f.LatTop+f.LatH-24
	}
	f.ScaleX, f.PlaceText = f.Plot+12, f.PlaceY+17
	f.RateMid, f.RateLow, f.LatBottom = f.RateTop+f.RateH/2, f.RateTop+f.RateH, f.LatTop+f.LatH
	from, to := map[string]float64{}, map[string]float64{}
	for _, p := range l.Points {
		if _, known := from[p.Session]; !known {
			from[p.Session] = p.X
		}
		to[p.Session] = p.X
	}
	slowest := 0.0
	for _, s := range sessions {
		if _, drawn := from[s.Session]; drawn && s.P90 > slowest {
			slowest = s.P90
		}
	}
	slowest = math.Max(1, math.Ceil(slowest))
	rate := func(x float64) float64 { return f.RateTop + f.RateH*(1-x) }
	latency := func(s float64) float64 { return f.LatTop + f.LatH*(1-math.Min(1, s/slowest)) }
	var strict, lenient, slow path
	place := ""
	for _, s := range sessions {
		x, drawn := from[s.Session]
		if !drawn {
			continue
		}
		x = (x + to[s.Session]) / 2
		n := float64(max(1, s.N))
		p := TrendPoint{
			X: x, Strict: rate(float64(s.Met) / n), Lenient: rate(float64(s.Right) / n), Lo: rate(s.Lo), Hi: rate(s.Hi),
			Cold: s.Cold, Session: s.Session,
			Helped: f.RateH * float64(s.Helped) / n,
			Title:  s.title(l.word),
		}
		p.HelpedY = f.RateLow - p.Helped
		strict.to(x, p.Strict)
		lenient.to(x, p.Lenient)
		if !math.IsNaN(s.Median) {
			p.HasLatency, p.Latency, p.P90 = true, latency(s.Median), latency(s.P90)
			slow.to(x, p.Latency)
			f.Latency = true
		}
		f.Points = append(f.Points, p)
		if n := len(f.Bands); n == 0 || place != s.Place {
			f.Bands = append(f.Bands, TrendBand{X: from[s.Session] - 6, Label: s.Place, Title: s.Place, Odd: n%2 == 1})
			place = s.Place
		}
		f.Bands[len(f.Bands)-1].W = to[s.Session] + 6 - f.Bands[len(f.Bands)-1].X
	}
	for i := range f.Bands {
		b := &f.Bands[i]
		if i+1 < len(f.Bands) {
			b.W = f.Bands[i+1].X - b.X
		}
		// A band too narrow for any word is told when it is pointed at.
		if room := int(b.W / nameWidth); room < 4 {
			b.Label = ""
		} else {
			b.Label = clip(b.Label, room)
		}
	}
	for _, s := range setbacks {
		if x, drawn := to[s.Session]; drawn {
			f.Setbacks = append(f.Setbacks, TrendMark{x + 8, s.Title})
		}
	}
	f.Rate, f.Right, f.Slow = strict.String(), lenient.String(), slow.String()
	f.LatMax = fmt.Sprintf("%.0f s", slowest)
	f.H = f.LatBottom + 12
	if !f.Latency {
		f.H = f.ColdY + 16
	}
	f.Summary = fmt.Sprintf("Rates of %d sessions on the same axis; the table below has every figure", len(f.Points))
	return f
}
