package standing

import (
	"iter"
	"maps"
	"math"
	"slices"

	"patientfox/core/progression"
	"patientfox/core/reinforce"
	"patientfox/core/trial"
)

// Unhelped counts the counted trials that had no help.
func Unhelped(trials []trial.Trial) (n int) {
	for _, t := range trials {
		if t.Counted() && t.Outcome != trial.Helped {
			n++
		}
	}
	return n
}

// Tried counts, at each step whose targets vary, the trials under its criteria that were not void, on top of those before: the
// sequence of targets goes on from there. It is nil where no step varies.
func Tried(steps []progression.Step, trials []trial.Trial, before map[string]int) map[string]int {
	var tried map[string]int
	for _, s := range steps {
		if len(s.Criteria.Vary) == 0 {
			continue
		}
		n := before[s.ID]
		for _, t := range trials {
			if t.Step == s.ID && t.Rev == s.Rev && t.Outcome != trial.Void {
				n++
			}
		}
		if n > 0 {
			if tried == nil {
				tried = map[string]int{}
			}
			tried[s.ID] = n
		}
	}
	return tried
}

// MaxLately is how many times of each kind are kept a step: as many as the best share looks back over.
const MaxLately = 20

// Lately is how long trials took at one step, the latest last, s.
type Lately struct {
	Latencies []float64 `json:"latencies,omitempty"` // of met trials
	Between   []float64 `json:"between,omitempty"`   // from the end of a trial to the beginning of the next in its block
}

// Times are how long trials took lately, by step, after what was known before.
func Times(trials []trial.Trial, before map[string]Lately) map[string]Lately {
	times := map[string]Lately{}
	for step, one := range before {
		times[step] = Lately{slices.Clone(one.Latencies), slices.Clone(one.Between)}
	}
	for i, t := range trials {
		one := times[t.Step]
		if !t.Waits && t.LatencyS != nil && t.Outcome == trial.Met {
			one.Latencies = append(one.Latencies, *t.LatencyS)
		}
		if i > 0 && trials[i-1].Block == t.Block && t.From > trials[i-1].At {
			one.Between = append(one.Between, math.Round((t.From-trials[i-1].At)*1000)/1000) // clocks tell ms
		}
		if len(one.Latencies)+len(one.Between) > 0 {
			times[t.Step] = one
		}
	}
	for step, one := range times {
		times[step] = Lately{last(one.Latencies), last(one.Between)}
	}
	return times
}

func last(list []float64) []float64 { return list[max(0, len(list)-MaxLately):] }

// Work is what one block of a visit was worked.
type Work struct {
	Teaches    bool    // it was no probe, baseline or placing
	Pays       int     // paid in it
	Active     float64 // s, breaks left out
	Block      string  // its id
	Definition int     // the version under which it was worked
	Unlogged   int     // trials said not to be logged
}

// minActive is how long a session must have been worked on a plan for its rate to say anything, s.
const minActive = 30

// visited is a session on a plan as thinning reads it: where it was, how many sessions had been in each place before; the step-ups
// taken, each with whether it brought something new in; and the blocks of the plan. Of the first session no place is new.
func visited(before int, been []string, place string, ups []bool, blocks []Work) reinforce.Visit {
	fresh := before > 0 && place != "" && !slices.Contains(been, place)
	v := reinforce.Visit{NewPlace: fresh, Ups: ups, Rate: math.NaN()}
	pays, active := 0, 0.0
	for _, b := range blocks {
		if b.Teaches {
			pays, active = pays+b.Pays, active+b.Active
		}
	}
	if active >= minActive {
		v.Rate = float64(pays) * 60 / active
	}
	return v
}

// Been is where a plan was worked, with one place more, in order of their ids; "" is no place.
func Been(before []string, place string) []string {
	set := map[string]bool{}
	for _, one := range append(slices.Clone(before), place) {
		if one != "" {
			set[one] = true
		}
	}
	return slices.Sorted(maps.Keys(set))
}

// Stretch picks the trials that a rule reads of a step: those under its criteria that count, out of trials since it became the
// reached one, all of them under the current definition. Judgements are never mixed: those of the latest one alone are read.
func Stretch(trials []trial.Trial, step progression.Step) (stretch []trial.Trial) {
	judge := 0
	for i := range trials {
		judge = max(judge, trials[i].Judge)
	}
	n := 0
	for i := range trials {
		if InStretch(&trials[i], step, judge) {
			n++
		}
	}
	if n == 0 {
		return nil
	}
	stretch = make([]trial.Trial, 0, n) // a list of trials that grows is copied whole
	for i := range trials {
		if InStretch(&trials[i], step, judge) {
			stretch = append(stretch, trials[i].Brief())
		}
	}
	return stretch
}

// InStretch tells whether a rule reads a trial at a step; judge is the latest judgement of those since it became the reached one.
func InStretch(t *trial.Trial, step progression.Step, judge int) bool {
	return !t.Waits && t.Step == step.ID && t.Rev == step.Rev && t.Judge == judge
}

// MarkCold marks the first trial of a skill on its day, on whatever track: of each block that is the first with one, the first that
// was not void, where it counts. Easy work before it has warmed the dog up, and of a tally nobody knows which was first.
func MarkCold(trials iter.Seq[*trial.Trial], first map[string]bool) {
	over := map[string]bool{}
	for t := range trials {
		t.Cold = false
		if t.Outcome == trial.Void || over[t.Block] {
			continue
		}
		over[t.Block] = true
		t.Cold = first[t.Block] && t.Counted() && !t.Tally
	}
}

// Cover is how much of a block was logged.
type Cover struct {
	Logged   int `json:"logged"`
	Unlogged int `json:"unlogged"`
	Withheld int `json:"withheld,omitempty"` // cues that were not given
}

// CoverOf picks the blocks of a stretch.
func CoverOf(stretch []trial.Trial, covers map[string]Cover) map[string]Cover {
	of := map[string]Cover{}
	for i := range stretch {
		of[stretch[i].Block] = covers[stretch[i].Block]
	}
	return of
}
