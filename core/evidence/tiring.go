package evidence

import (
	"math"
	"math/rand/v2"
	"slices"
)

// Worked is one counted trial in the order of its session.
type Worked struct {
	At   int    // which trial of the session it was, from 1
	Step string // at which it was; trials are compared with others of the same session and step only
	Met  bool
}

// Tired is where in its sessions a dog begins to fall off.
type Tired struct {
	Sessions      int // that were looked at; 0 before there are enough
	Next          int // with how many they are looked at next
	P             float64
	Claimed       bool
	Best, Lo, Hi  int     // the trial after which it falls, and the 80 % range of that; 0 where nothing is claimed
	Before, After float64 // the rates up to it and from it on
}

const (
	minRun    = 10   // trials at one step of one session, for a session to say anything
	maxCut    = 3    // missed trials at the end that are left out
	minRest   = 4    // trials before it falls, and after
	rangeFall = 0.82 // logits of likelihood under the best within an 80 % range: half of a χ² of one degree
)

// Tiring looks for the trial of a session after which a dog meets less and less. Each trial is compared with those of the same session at
// the same step, so that neither the day nor a harder step later in the session looks like tiring, and up to three missed at the end are
// left out: many people end when it goes wrong. Sessions are the units: if a dog does not tire, each is as likely to fall as to rise, and
// the largest fall over all trials is held against those of 999 random changes of sign. It looks at certain numbers of sessions only, as
// Associate does. The place of the fall is the most likely one under a logistic fall. The same seed gives the same answer.
func Tiring(sessions [][]Worked, seed uint64) Tired {
	var runs [][]run
	for _, one := range sessions {
		if r := runsOf(one); len(r) > 0 {
			runs = append(runs, r)
		}
	}
	var t Tired
	var from int
	from, t.Sessions, t.Next = looked(len(runs))
	t.P = 1
	runs = runs[from : from+t.Sessions]
	longest := 0
	var all [][]Worked
	for _, session := range runs {
		for _, r := range session {
			longest = max(longest, r.whole[len(r.whole)-1].At)
			all = append(all, r.whole)
		}
	}
	last := longest - minRest
	if t.Sessions == 0 || last < minRest {
		return t
	}
	slopes := make([][]float64, len(runs)) // by session and trial: what it says of a fall from there on
	for s, session := range runs {
		slopes[s] = make([]float64, last+1)
		for k := minRest; k <= last; k++ {
			for _, r := range session {
				slopes[s][k] += r.falling(k)
			}
		}
	}
	if t.P = falls(slopes, seed); t.P > lookAt+Epsilon {
		return t
	}
	t.Claimed = true
	t.place(all, last)
	return t
}

// Long tells whether a session has enough trials at one step to say anything of tiring.
func Long(session []Worked) bool { return len(runsOf(session)) > 0 }

// run is the trials at one step of one session: all of them, and those without what was missed at the end.
type run struct{ whole, cut []Worked }

func runsOf(session []Worked) (runs []run) {
	for len(session) > 0 {
		n := 1
		for n < len(session) && session[n].Step == session[0].Step {
			n++
		}
		r := run{session[:n], session[:n]}
		for range maxCut {
			if last := len(r.cut) - 1; last >= 0 && !r.cut[last].Met {
				r.cut = r.cut[:last]
			}
		}
		if len(r.cut) >= minRun {
			runs = append(runs, r)
		}
		session = session[n:]
	}
	return runs
}

// falling is the product of a run's outcomes, less their mean, with a line that begins to rise after trial k.
func (r run) falling(k int) float64 {
	var x, y, xy float64
	for _, t := range r.cut {
		at := float64(max(0, t.At-k))
		x += at
		if t.Met {
			y, xy = y+1, xy+at
		}
	}
	return xy - x*y/float64(len(r.cut))
}

// falls is the chance of so large a fall if sessions were as likely to rise.
func falls(slopes [][]float64, seed uint64) float64 {
	signs := make([]float64, len(slopes))
	largest := func() float64 {
		most := 0.0
		for k := range slopes[0] {
			sum, square := 0.0, 0.0
			for s, by := range slopes {
				sum, square = sum-signs[s]*by[k], square+by[k]*by[k]
			}
			if square > 0 {
				most = max(most, sum/math.Sqrt(square))
			}
		}
		return most
	}
	for s := range signs {
		signs[s] = 1
	}
	found := largest()
	rng := rand.New(rand.NewPCG(seed, uint64(len(slopes))))
	more := 0
	for range permutations {
		for s := range signs {
			signs[s] = float64(2*rng.IntN(2) - 1)
		}
		if largest() >= found-Epsilon {
			more++
		}
	}
	return float64(more+1) / (permutations + 1)
}

// place finds the trial after which it falls, by the likelihood of a logistic fall from there on.
func (t *Tired) place(runs [][]Worked, last int) {
	likely := make([]float64, last+1)
	for k := range likely {
		likely[k] = math.Inf(-1)
		if k >= minRest {
			likely[k] = fall{after: k}.fit(runs)
		}
	}
	t.Best = slices.Index(likely, slices.Max(likely))
	t.Lo, t.Hi = t.Best, t.Best
	for t.Lo > minRest && likely[t.Lo-1] >= likely[t.Best]-rangeFall {
		t.Lo--
	}
	for t.Hi < last && likely[t.Hi+1] >= likely[t.Best]-rangeFall {
		t.Hi++
	}
	var met, n [2]float64
	for _, r := range runs {
		for _, one := range r {
			side := 0
			if one.At > t.Best {
				side = 1
			}
			if n[side]++; one.Met {
				met[side]++
			}
		}
	}
	t.Before, t.After = met[0]/n[0], met[1]/n[1]
}

// fall is a model of trials that are met less and less after one of them: its logit is level + of the day + by × the trials since.
type fall struct {
	after     int
	level, by float64
	days      []float64 // normal, sd dayMood
}

const (
	dayMood    = 0.65 // logits
	fallRounds = 12
)

// fit is the logarithm of the posterior at its most likely, by Newton steps; the day's share is eliminated first.
func (f fall) fit(runs [][]Worked) (likely float64) {
	f.days = make([]float64, len(runs))
	for range fallRounds {
		var g [2]float64    // of level and by
		var h [2][2]float64 // less what the days explain
		type day struct{ g, h, level, by float64 }
		of := make([]day, len(runs))
		likely = 0
		for s, r := range runs {
			d := day{g: -f.days[s] / (dayMood * dayMood), h: 1 / (dayMood * dayMood)}
			likely -= f.days[s] * f.days[s] / (2 * dayMood * dayMood)
			for _, one := range r {
				x := float64(max(0, one.At-f.after))
				p := 1 / (1 + math.Exp(-(f.level + f.days[s] + f.by*x)))
				rest, w := -p, p*(1-p)
				if one.Met {
					rest = 1 - p
					likely += math.Log(p)
				} else {
					likely += math.Log(1 - p)
				}
				g[0], g[1] = g[0]+rest, g[1]+rest*x
				h[0][0], h[0][1], h[1][1] = h[0][0]+w, h[0][1]+w*x, h[1][1]+w*x*x
				d.g, d.h, d.level, d.by = d.g+rest, d.h+w, d.level+w, d.by+w*x
			}
			g[0], g[1] = g[0]-d.level*d.g/d.h, g[1]-d.by*d.g/d.h
			h[0][0], h[0][1], h[1][1] = h[0][0]-d.level*d.level/d.h, h[0][1]-d.level*d.by/d.h, h[1][1]-d.by*d.by/d.h
			of[s] = d
		}
		det := h[0][0]*h[1][1] - h[0][1]*h[0][1]
		if det <= Epsilon {
			return likely
		}
		level, by := (h[1][1]*g[0]-h[0][1]*g[1])/det, (h[0][0]*g[1]-h[0][1]*g[0])/det
		f.level, f.by = f.level+clampTo(level, 2), f.by+clampTo(by, 1)
		for s, d := range of {
			f.days[s] += clampTo((d.g-d.level*level-d.by*by)/d.h, 2)
		}
		if math.Abs(level)+math.Abs(by) < 1e-7 {
			break
		}
	}
	return likely
}

func clampTo(x, most float64) float64 { return max(-most, min(most, x)) }
