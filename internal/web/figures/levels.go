// Package figures works out where things are in the drawings: plain numbers for the templates to
// draw. Difficulty is height: each step is a level, hardest on top.
package figures

import (
	"fmt"
	"math"
	"strings"
)

// LevelStep is one step of a ladder, easiest first.
type LevelStep struct {
	ID, Name    string
	At, Opened  bool   // the dog's step; the one whose panel is open
	Odd         bool   // something about it is not sound
	Blocked     bool   // a prerequisite is not met
	Also, Mark  string // another track or handler with whom the dog is here, and short
	Description string
}

// LevelSet is one set on the dog's way.
type LevelSet struct {
	Step       int
	Met, Size  int
	Full, Part bool
	New        bool // first of its session
	Session    string
	Day, Place string
}

// Line is one level as drawn: a step, or a band of steps that are folded away.
type Line struct {
	LevelStep
	Y, NameX, NameY float64
	X2              float64
	OddX, OddY      float64
	MarkX, MarkY    float64 // of who else is here
	Folded          int     // how many steps the band is for, 0 for a step
}

// Stripe is one session's part of the way, for pointing at where its sets are too close to point at
// singly.
type Stripe struct {
	X, W           float64
	Session, Title string
}

// Look is how much of a ladder and of a way is drawn.
type Look struct {
	Width  float64
	Narrow bool   // names above the lines, as on a phone
	Whole  bool   // every step and every set, however close
	Today  string // the word at the end of the time axis
	Word   string // what a trial that went well is called: met, at ease
	Base   string // where the links of its steps lead, "" for the page it is on
}

// Point is one set as drawn.
type Point struct {
	LevelSet
	X, Y   float64
	CountY float64
	Label  string // beside the point
	Title  string // said of it
}

// Mark is a word on the time axis.
type Mark struct {
	X    float64
	Text string
	End  bool
}

// Levels is the drawing of a ladder with the dog's way.
type Levels struct {
	W, H    float64
	Lines   []Line
	Way     string // path data
	Points  []Point
	Dot     Point
	Counts  bool // there is room for the counts
	Marks   []Mark
	Hidden  int  // older sets that are not drawn
	Folded  int  // steps that are folded away
	Whole   bool // all was asked for
	Stripes []Stripe
	Radius  float64
	MarksY  float64
	narrow  bool
	word    string
	Summary string
	Base    string
}

// Room for a figure.
const (
	nameRoom     = 270.0 // for the names at the ends of the levels
	nameWidth    = 6.7   // of a letter, on average
	minSpacing   = 6.0
	pointSpacing = 4.0 // below it a session is pointed at, not a set
	foldFrom     = 18  // ladders longer than this are folded
	keptBelow    = 5   // steps below the dog's that stay drawn
	keptAbove    = 8   // and above it
	maxSpacing   = 28.0
	countSpacing = 17.0
)

// rowsOf says which row each step is drawn in, from below, and what each row is for: the first and
// the last of its steps.
func rowsOf(steps []LevelStep, whole bool) (row []int, spans [][2]int) {
	low, high := 0, len(steps)-1
	if !whole && len(steps) > foldFrom {
		low, high = len(steps), -1
		for i, s := range steps {
			if s.At {
				low, high = min(low, i-keptBelow), max(high, i+keptAbove)
			}
			if s.Opened {
				low, high = min(low, i-1), max(high, i+1)
			}
		}
		if high < 0 {
			low, high = 0, foldFrom-1
		}
		low, high = max(0, low), min(len(steps)-1, high)
		// One step alone is not worth a band.
		if low == 1 {
			low = 0
		}
		if high == len(steps)-2 {
			high = len(steps) - 1
		}
	}
	row = make([]int, len(steps))
	for i := range steps {
		if n := len(spans); n > 0 && (i < low || i > high+1) {
			spans[n-1][1] = i
		} else {
			spans = append(spans, [2]int{i, i})
		}
		row[i] = len(spans) - 1
	}
	return row, spans
}

// DrawLevels lays the ladder out. Narrow figures name a level above its line, wide ones at its end.
func DrawLevels(look Look, steps []LevelStep, sets []LevelSet) Levels {
	w, narrow := look.Width, look.Narrow
	rowOf, spans := rowsOf(steps, look.Whole)
	row, top, plot := 38.0, 34.0, w-nameRoom
	if narrow {
		row, top, plot = 46.0, 40.0, w
	}
	if n := len(spans); n > 14 {
		row = math.Max(24, 38*14/float64(n))
		if narrow {
			row = 40
		}
	}
	f := Levels{W: w, Radius: 6.5, narrow: narrow, word: look.Word, Folded: len(steps) - len(spans), Whole: look.Whole, Base: look.Base}
	at := func(r int) float64 { return top + row*float64(len(spans)-1-r) }
	y := func(step int) float64 { return at(rowOf[step]) }
	for r, span := range spans {
		s := steps[span[0]]
		if folded := span[1] - span[0] + 1; folded > 1 {
			s = LevelStep{
				ID: s.ID, Name: fmt.Sprintf("steps %d to %d", span[0]+1, span[1]+1),
				Description: fmt.Sprintf("Steps %d to %d, folded away", span[0]+1, span[1]+1),
			}
			for _, one := range steps[span[0] : span[1]+1] {
				s.Odd = s.Odd || one.Odd
			}
		}
		line := Line{
			LevelStep: s, Y: at(r), NameX: plot + 12, NameY: at(r) + 5, X2: plot, MarkX: plot - 9, MarkY: at(r) - 7, Folded: span[1] - span[0],
		}
		room := nameRoom - 12
		if narrow {
			line.NameX, line.NameY, room = 0, at(r)-7, w
		}
		line.OddX, line.OddY = line.NameX+4, line.NameY-5
		if s.Odd {
			line.NameX, room = line.NameX+14, room-14
		}
		line.Name = clip(s.Name, int(room/nameWidth))
		f.Lines = append([]Line{line}, f.Lines...)
	}
	bottom := at(0)
	f.MarksY = bottom + 42
	f.H = bottom + 52
	f.way(look, steps, sets, y, plot)
	f.marks(look.Today)
	f.Summary = summary(steps, sets)
	return f
}

// way draws the sets: as many of the last as there is room for, or all of them, closer.
func (f *Levels) way(look Look, steps []LevelStep, sets []LevelSet, y func(int) float64, plot float64) {
	left, right := 16.0, 34.0
	if f.narrow {
		left, right = 10, 34
	}
	if most := int((plot-left-right)/minSpacing) + 1; len(sets) > most && !look.Whole {
		f.Hidden = len(sets) - most
		sets = sets[f.Hidden:]
	}
	spacing := maxSpacing
	if n := len(sets); n > 1 {
		spacing = math.Min(maxSpacing, (plot-left-right)/float64(n-1))
	}
	f.Counts = spacing >= countSpacing && !f.narrow
	if spacing < 16 {
		f.Radius = math.Max(1.4, spacing*0.42)
		if spacing >= minSpacing {
			f.Radius = math.Max(3, f.Radius)
		}
	}
	var way path
	for i, s := range sets {
		p := Point{LevelSet: s, X: left + spacing*float64(i), Y: y(s.Step)}
		p.CountY = p.Y - 10.5
		p.Label = fmt.Sprint(s.Met)
		if s.Part {
			p.Label = fmt.Sprintf("%d/%d", s.Met, s.Size)
		}
		p.Title = f.told(s)
		way.to(p.X, p.Y)
		f.Points = append(f.Points, p)
	}
	if spacing < pointSpacing {
		f.stripes(spacing)
	}
	f.dot(steps, y, left, spacing, &way)
	f.Way = way.String()
}

// told says what is behind a point.
func (f *Levels) told(s LevelSet) string {
	text := fmt.Sprintf("%s: step %d, %d of %d %s", s.Day, s.Step+1, s.Met, s.Size, f.word)
	if s.Place != "" {
		text += ", " + s.Place
	}
	return text
}

// stripes cut the way into sessions.
func (f *Levels) stripes(spacing float64) {
	for i := 0; i < len(f.Points); {
		j, met, size := i, 0, 0
		for j < len(f.Points) && f.Points[j].Session == f.Points[i].Session {
			met, size = met+f.Points[j].Met, size+f.Points[j].Size
			j++
		}
		first, last := f.Points[i], f.Points[j-1]
		title := fmt.Sprintf("%s: %d sets, step %d to %d, %d of %d %s", first.Day, j-i, first.Step+1, last.Step+1, met, size, f.word)
		if first.Place != "" {
			title += ", " + first.Place
		}
		f.Stripes = append(f.Stripes, Stripe{X: first.X - spacing/2, W: last.X - first.X + spacing, Session: first.Session, Title: title})
		i = j
	}
}

// dot is where the dog is now: behind its last set, on the level that its moves have earned.
func (f *Levels) dot(steps []LevelStep, y func(int) float64, left, spacing float64, way *path) {
	for i, s := range steps {
		if !s.At {
			continue
		}
		f.Dot = Point{X: left, Y: y(i)}
		if f.narrow {
			f.Dot.X = f.W - 20 // clear of the level's name
		}
		if n := len(f.Points); n > 0 {
			last := f.Points[n-1]
			f.Dot.X = last.X + math.Max(16, math.Min(spacing, 24))
			way.to(f.Dot.X, f.Dot.Y)
		}
	}
}

// marks names days under the sets, as many as there is room for.
func (f *Levels) marks(today string) {
	lastX, lastDay := -100.0, ""
	for i, p := range f.Points {
		if !p.New && i > 0 || p.Day == lastDay {
			continue
		}
		if p.X-lastX < 78 {
			continue
		}
		f.Marks = append(f.Marks, Mark{X: p.X, Text: p.Day})
		lastX, lastDay = p.X, p.Day
	}
	if n := len(f.Points); n > 0 && f.Dot.X-lastX > 60 && today != "" {
		f.Marks = append(f.Marks, Mark{X: f.Dot.X, Text: today})
	}
}

// clip shortens a name to a number of letters; its title has all of it.
func clip(name string, most int) string {
	letters := []rune(name)
	if len(letters) <= most {
		return name
	}
	return strings.TrimRight(string(letters[:most-1]), " ·") + "…"
}

// Older says how many sets there was no room for.
func (f Levels) Older() string {
	if f.Hidden == 0 {
		return ""
	}
	if f.Hidden == 1 {
		return "One older set is"
	}
	return fmt.Sprintf("%d older sets are", f.Hidden)
}

// FoldedSays says how many steps are folded away.
func (f Levels) FoldedSays() string {
	if f.Folded == 0 {
		return ""
	}
	return fmt.Sprintf("%d steps are folded together.", f.Folded)
}

func summary(steps []LevelStep, sets []LevelSet) string {
	at := 0
	for i, s := range steps {
		if s.At {
			at = i + 1
		}
	}
	return fmt.Sprintf("%d steps, the dog at step %d, after %d sets", len(steps), at, len(sets))
}

// Mini is a dog's way in miniature.
type Mini struct {
	Way    string
	Points []Point
	Dot    Point
}

// DrawMini lays a way out in 180 by 36.
func DrawMini(steps int, sets []LevelSet, at int) Mini {
	const w, h, pad = 180.0, 36.0, 6.0
	low, high := at, at
	for _, s := range sets {
		low, high = min(low, s.Step), max(high, s.Step)
	}
	// A step of air above and below, as far as there are steps.
	low, high = max(0, low-1), min(steps-1, high+1)
	y := func(step int) float64 {
		if high <= low {
			return h / 2
		}
		return h - pad - (h-2*pad)*float64(step-low)/float64(high-low)
	}
	spacing := (w - 2*pad) / 24
	var m Mini
	var way path
	x := pad
	for _, s := range sets {
		way.to(x, y(s.Step))
		m.Points = append(m.Points, Point{LevelSet: s, X: x, Y: y(s.Step)})
		x += spacing
	}
	m.Dot = Point{X: x, Y: y(at)}
	if len(sets) > 0 {
		way.to(m.Dot.X, m.Dot.Y)
	}
	m.Way = way.String()
	return m
}

// Interval is a rate on a line from 0 to 1.
type Interval struct{ W, Lo, Hi, At, LoText, HiText float64 }

// DrawInterval lays a rate and its likely range out in width w, with room between the two labels.
func DrawInterval(w, lo, hi, at float64) Interval {
	f := Interval{W: w, Lo: lo * w, Hi: hi * w, At: at * w, LoText: lo * w, HiText: hi * w}
	const room = 58
	if f.HiText-f.LoText < room {
		middle := (f.LoText + f.HiText) / 2
		f.LoText, f.HiText = middle-room/2, middle+room/2
	}
	f.LoText = math.Max(16, math.Min(f.LoText, w-room-16))
	f.HiText = math.Max(f.LoText+room, math.Min(f.HiText, w-18))
	return f
}
