package care_test

import (
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/care"
)

// visits are touches with a tool on days of six, wary by chance: first is how often the first one is, others how often the rest are.
func visits(rng *rand.Rand, days int, first, others float64) (list []care.Touch) {
	for day := range days {
		for i := range 6 {
			chance, state := others, 1
			if i == 0 {
				chance = first
			}
			if rng.Float64() < chance {
				state = 2
			}
			list = append(list, care.Touch{Site: "paw", Tool: "the file", Exposure: care.Exposure{Day: day, State: state}})
		}
	}
	return list
}

func TestTheFirstTouchAfterTheTool(t *testing.T) {
	wary := func(days ...[]int) (list []care.Touch) {
		for day, states := range days {
			for _, s := range states {
				list = append(list, care.Touch{Tool: "the file", Exposure: care.Exposure{Day: day, State: s}})
				list = append(list, care.Touch{Tool: "fingers", Exposure: care.Exposure{Day: day, State: 3}})
			}
		}
		return list
	}
	f := care.After(wary([]int{2, 0, 0, 1}, []int{2, 1, 0, 0, 0, 0}, []int{3, 0, 0, 0, 0, 0}), "the file")
	require.InDelta(t, 1./4/6/6, f.P, 1e-12)
	require.Equal(t, care.FirstAfter{Firsts: 3, WaryFirsts: 3, Others: 13, Worried: true, P: f.P}, f)
	require.True(t, f.Alone())
	require.False(t, care.After(wary([]int{2, 0, 0, 0, 0, 0}, []int{2, 0, 0, 0, 0, 0}), "the file").Alone(), "two days")
	require.False(t, care.After(wary([]int{2, 2, 0}, []int{2, 2, 0}, []int{2, 0, 2}), "the file").Alone(), "the others are wary too")
	require.InDelta(t, 1, care.After(nil, "the file").P, 1e-12)
}

// Looked at after each of twenty visits, fewer than one dog in twenty without any such trait is told that it has it; a dog that has it
// is told so as a rule.
func TestTheFirstTouchIsSeldomToldApartInVain(t *testing.T) {
	rng := rand.New(rand.NewPCG(11, 30))
	told := func(first, others float64) (n int) {
		for range 1000 {
			all := visits(rng, 20, first, others)
			for days := 1; days <= 20; days++ {
				if care.After(all[:6*days], "the file").Alone() {
					n++
					break
				}
			}
		}
		return n
	}
	for _, others := range []float64{0.03, 0.06, 0.1} {
		require.LessOrEqual(t, told(others, others), 50, others)
	}
	require.GreaterOrEqual(t, told(0.7, 0.03), 900)
}
