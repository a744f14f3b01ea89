package evidence_test

import (
	"math"
	"math/rand/v2"
	"strconv"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"patientfox/core/evidence"
)

// tires are sessions of so many trials at one step, of a dog that is met less and less after one of them.
func tires(rng *rand.Rand, sessions, trials, after int, by float64) (out [][]evidence.Worked) {
	for s := range sessions {
		var one []evidence.Worked
		for at := 1; at <= trials; at++ {
			p := 1 / (1 + math.Exp(-2+by*float64(max(0, at-after))))
			one = append(one, evidence.Worked{At: at, Step: strconv.Itoa(s / 4), Met: rng.Float64() < p})
		}
		out = append(out, one)
	}
	return out
}

func TestWhereADogFallsOffIsFound(t *testing.T) {
	for _, after := range []int{8, 15, 20} {
		rng := rand.New(rand.NewPCG(2, uint64(after)))
		found := evidence.Tiring(tires(rng, 40, 28, after, 0.4), 1)
		require.True(t, found.Claimed, "%+v", found)
		require.InDelta(t, after, found.Best, 2)
		require.LessOrEqual(t, found.Lo, found.Best)
		require.GreaterOrEqual(t, found.Hi, found.Best)
		require.Greater(t, found.Before, found.After)
	}
	rng := rand.New(rand.NewPCG(2, 2))
	even := tires(rng, 40, 28, 15, 0)
	require.False(t, evidence.Tiring(even, 1).Claimed)
	// A harder step late in each session is not tiring.
	harder := tires(rng, 40, 14, 15, 0)
	for s := range harder {
		for at := 15; at <= 26; at++ {
			harder[s] = append(harder[s], evidence.Worked{At: at, Step: "harder", Met: rng.IntN(2) == 0})
		}
	}
	require.False(t, evidence.Tiring(harder, 1).Claimed)
	require.Equal(t, evidence.Tired{Next: 12, P: 1}, evidence.Tiring(tires(rng, 40, 8, 4, 1), 1), "sessions of eight say nothing")
	require.Equal(t, evidence.Tired{Next: 12, P: 1}, evidence.Tiring(nil, 1))
}

func TestWhatDaysOffCostIsFound(t *testing.T) {
	breaks := func(loss float64) (list []evidence.Break) {
		rng := rand.New(rand.NewPCG(5, 5))
		for i := range 40 {
			days := 1 + i%7
			b := evidence.Break{Days: days, Close: 10, CloseRate: 0.9, Open: 5, OpenRate: 0.85 + 0.1*(rng.Float64()-0.5)}
			b.OpenRate -= loss * math.Log2(float64(days))
			list = append(list, b)
		}
		return list
	}
	lost := evidence.DaysOff(breaks(0.05), 1)
	require.True(t, lost.Claimed)
	require.InDelta(t, 0.05, lost.PerDoubling, 0.015)
	require.InDelta(t, 4, lost.Within, 1, "two doublings")
	require.Equal(t, 7, lost.Longest)
	require.False(t, evidence.DaysOff(breaks(0), 1).Claimed)
	require.False(t, evidence.DaysOff(breaks(-0.05), 1).Claimed, "nobody is told that breaks help")
	few := evidence.Tally{Met: 2}
	_, ok := evidence.BreakOf(2, evidence.Tally{Met: 5, Missed: 5}, few)
	require.False(t, ok, "two trials say nothing")
	_, ok = evidence.BreakOf(0, evidence.Tally{Met: 8}, evidence.Tally{Met: 5})
	require.False(t, ok, "the same day")
	one, ok := evidence.BreakOf(3, evidence.Tally{Met: 6, Late: 1, Missed: 1}, evidence.Tally{Met: 3, Missed: 2})
	require.True(t, ok)
	require.Equal(t, evidence.Break{Days: 3, Close: 8, CloseRate: 0.75, Open: 5, OpenRate: 0.6}, one)
	same := breaks(0)
	for i := range same {
		same[i].Days = 2
	}
	require.Equal(t, evidence.Lost{Breaks: 40, Next: 52, P: 1, Longest: 2}, evidence.DaysOff(same, 1))
	require.Equal(t, evidence.Lost{Next: 12, P: 1}, evidence.DaysOff(same[:11], 1))
}

func TestSessionsAreLookedAtTheSameWayTwice(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var sessions [][]evidence.Worked
		for range rapid.IntRange(0, 45).Draw(t, "sessions") {
			var one []evidence.Worked
			for at := range rapid.IntRange(0, 20).Draw(t, "trials") {
				one = append(one, evidence.Worked{At: at + 1, Step: "a", Met: rapid.Bool().Draw(t, "met")})
			}
			sessions = append(sessions, one)
		}
		found := evidence.Tiring(sessions, 3)
		require.Equal(t, found, evidence.Tiring(sessions, 3))
		require.True(t, found.P > 0 && found.P <= 1, "%v", found.P)
		if found.Claimed {
			require.True(t, found.Lo <= found.Best && found.Best <= found.Hi, "%+v", found)
		}
	})
}
