package standing

import (
	"maps"
	"math"
	"slices"

	"patientfox/core/evidence"
	"patientfox/core/progression"
	"patientfox/core/reinforce"
)

// Trial is one trial of a plan as the record has it.
type Trial struct {
	Block    string
	Step     string
	Rev      int     // of the step's criteria
	From, At float64 // its beginning and its end, s of its session's clock
	Outcome  evidence.Outcome
	LatencyS *float64 // nil where it was not measured
	Easy     bool     // asked for less than the criterion on purpose
	Counts   bool     // logged by the device whose trials count, or accepted
}

func (t Trial) counted() bool { return t.Counts && !t.Easy && t.Outcome != evidence.Void }

// Unhelped counts the counted trials that had no help.
func Unhelped(trials []Trial) (n int) {
	for _, t := range trials {
		if t.counted() && t.Outcome != evidence.Helped {
			n++
		}
	}
	return n
}

// Tried counts, at each step whose targets vary, the trials under its criteria that were not void, on top of those before: the
// sequence of targets goes on from there. It is nil where no step varies.
func Tried(steps []progression.Step, trials []Trial, before map[string]int) map[string]int {
	var tried map[string]int
	for _, s := range steps {
		if len(s.Criteria.Vary) == 0 {
			continue
		}
		n := before[s.ID]
		for _, t := range trials {
			if t.Step == s.ID && t.Rev == s.Rev && t.Outcome != evidence.Void {
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

// MostLately is how many times of each kind are kept a step: as many as the best share looks back over.
const MostLately = 20

// Lately is how long trials took at one step, the latest last, s.
type Lately struct {
	Latencies []float64 `json:"latencies,omitempty"` // of met trials
	Between   []float64 `json:"between,omitempty"`   // from the end of a trial to the beginning of the next in its block
}

// Times are how long trials took lately, by step, after what was known before.
func Times(trials []Trial, before map[string]Lately) map[string]Lately {
	times := map[string]Lately{}
	for step, one := range before {
		times[step] = Lately{slices.Clone(one.Latencies), slices.Clone(one.Between)}
	}
	for i, t := range trials {
		one := times[t.Step]
		if t.Counts && t.LatencyS != nil && t.Outcome == evidence.Met {
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

func last(list []float64) []float64 { return list[max(0, len(list)-MostLately):] }

// Work is what one block of a session was worked.
type Work struct {
	Teaches bool    // it was no probe, baseline or placing
	Pays    int     // paid in it
	Active  float64 // s, breaks left out
}

// leastActive is how long a session must have been worked on a plan for its rate to say anything, s.
const leastActive = 30

// Visit is a session on a plan as thinning reads it: where it was, after so many sessions in the places been; the step-ups
// taken, each with whether it brought something new in; and the blocks of the plan. Of the first session no place is new.
func Visit(before int, been []string, place string, ups []bool, blocks []Work) reinforce.Visit {
	fresh := before > 0 && place != "" && !slices.Contains(been, place)
	v := reinforce.Visit{NewPlace: fresh, Ups: ups, Rate: math.NaN()}
	pays, active := 0, 0.0
	for _, b := range blocks {
		if b.Teaches {
			pays, active = pays+b.Pays, active+b.Active
		}
	}
	if active >= leastActive {
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
