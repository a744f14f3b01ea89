package figures

import (
	"fmt"
	"math"
	"strconv"
)

// Sessions are numbers of sessions along a line from none to the most, closer together towards the most: those of several dogs as dots,
// and what was foreseen as a bar.
type Sessions struct {
	W, H, Y    float64
	Ticks      []Label // at 0, 1, 3, 10, 30 and so on
	Grid       string
	From, Wide float64 // of the bar; no bar where Wide is 0
	Mid        float64
	Dots       []SessionsDot
}

// SessionsDot is one dog, or more than one with as many.
type SessionsDot struct {
	X, R float64
	Ring bool // it is marked
}

// DrawSessions lays numbers of sessions out in width w and height h, from 0 to the most; marked tells which are.
func DrawSessions(w, h float64, most int, of []int, marked []bool) Sessions {
	f, x := sessionsAxis(w, h, most)
	at := map[int]int{} // index of the dot
	for i, n := range of {
		k, has := at[n]
		if !has {
			k = len(f.Dots)
			at[n] = k
			f.Dots = append(f.Dots, SessionsDot{X: x(n), R: 4.5})
		} else {
			f.Dots[k].R = math.Min(8, f.Dots[k].R+1.2)
		}
		f.Dots[k].Ring = f.Dots[k].Ring || marked[i]
	}
	return f
}

// DrawForeseen lays out how many sessions were foreseen, from lo to hi with mid in the middle, and how many it took.
func DrawForeseen(w, h float64, most, lo, mid, hi, took int) Sessions {
	f, x := sessionsAxis(w, h, most)
	f.From, f.Wide, f.Mid = x(min(lo, most)), math.Max(2, x(min(hi, most))-x(min(lo, most))), x(min(mid, most))
	f.Dots = []SessionsDot{{X: x(min(took, most)), R: 5, Ring: took < lo || took > hi}}
	return f
}

func sessionsAxis(w, h float64, most int) (f Sessions, x func(int) float64) {
	x = func(n int) float64 { return 9 + (w-18)*math.Log1p(float64(n))/math.Log1p(float64(max(1, most))) }
	f = Sessions{W: w, H: h, Y: h / 2}
	for _, n := range []int{0, 1, 3, 10, 30, 100, 300} {
		if n <= most {
			f.Ticks = append(f.Ticks, Label{X: x(n), Y: h - 6, Text: strconv.Itoa(n)})
			f.Grid += fmt.Sprintf("M%.1f 0V%.0f", x(n), h)
		}
	}
	return f, x
}
