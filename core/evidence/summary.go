package evidence

import (
	"fmt"
	"math"
	"sort"

	"patientfox/core/trial"
)

// Tally counts outcomes; void trials are in none of its figures.
type Tally struct {
	Met, Late, Helped, Missed int
}

// Count tallies outcomes.
func Count(outcomes []trial.Outcome) Tally {
	var t Tally
	for _, o := range outcomes {
		t.Add(o)
	}
	return t
}

// N is the number of trials that count.
func (t Tally) N() int { return t.Met + t.Late + t.Helped + t.Missed }

// Strict is met ÷ all, NaN without trials.
func (t Tally) Strict() float64 { return float64(t.Met) / float64(t.N()) }

// Lenient is (met + late) ÷ all, NaN without trials.
func (t Tally) Lenient() float64 { return float64(t.Met+t.Late) / float64(t.N()) }

// Quantile returns the q-quantile (0…1) of values by linear interpolation of order statistics
// (type 7 of Hyndman and Fan, "Sample quantiles in statistical packages", 1996). NaN for no values;
// the unit is that of the values. It panics where q is not 0…1.
func Quantile(values []float64, q float64) float64 {
	if !(q >= 0 && q <= 1) {
		panic(fmt.Sprintf("evidence: quantile %v", q))
	}
	if len(values) == 0 {
		return math.NaN()
	}
	sorted := append([]float64(nil), values...)
	sort.Float64s(sorted)
	at := q * float64(len(sorted)-1)
	low := int(math.Floor(at))
	if low+1 >= len(sorted) {
		return sorted[len(sorted)-1]
	}
	return sorted[low] + (at-float64(low))*(sorted[low+1]-sorted[low])
}

// Coverage is logged ÷ (logged + unlogged), 1 where nothing was either. Below 0.9 what was computed
// is likely too rosy: the log is emptiest when the dog is failing and the hands are full.
func Coverage(logged, unlogged int) float64 {
	if logged+unlogged <= 0 {
		return 1
	}
	return float64(logged) / float64(logged+unlogged)
}
