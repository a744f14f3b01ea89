package decision_test

import (
	"math"
	"slices"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"patientfox/core/decision"
)

func fill(n int, met func(i int) bool) []bool {
	list := make([]bool, n)
	for i := range list {
		list[i] = met(i)
	}
	return list
}

func TestStopAdviceSaysTheFirstSignThatStands(t *testing.T) {
	calm := decision.Signs{Left: -1}
	sure := func(s *decision.Signs, met []bool) {
		if h, ok := decision.HalvesOf(met, 5); ok {
			s.Declines = h.Sure()
		}
	}
	_, ok := decision.Advise(calm)
	require.False(t, ok)
	slower := append(slices.Repeat([]float64{1}, 10), slices.Repeat([]float64{2}, 5)...)
	never := math.Inf(1)
	for _, c := range []struct {
		name  string
		signs func(*decision.Signs)
		sign  decision.Sign
		do    decision.Action
	}{
		{"over threshold", func(s *decision.Signs) { s.Over, s.Refused, s.Backs = true, true, 5 }, decision.OverNow, decision.LeaveNow},
		{"the best food refused once", func(s *decision.Signs) { s.Refused = true }, decision.RefusedBest, decision.AddSpace},
		{"one slow pay", func(s *decision.Signs) { s.SlowPays = 1 }, "", ""},
		{"two slow pays", func(s *decision.Signs) { s.SlowPays = 2 }, decision.SlowPays, decision.AddSpace},
		{"a toy ignored", func(s *decision.Signs) { s.Ignored = true }, decision.ToyIgnored, decision.AddSpace},
		{"one step back", func(s *decision.Signs) { s.Backs = 1 }, "", ""},
		{"two steps back", func(s *decision.Signs) { s.Backs, s.Left = 2, 0 }, decision.StepBacks, decision.LeaveOne},
		{"two restarts", func(s *decision.Signs) { s.Restarts, s.Best = 2, 9 }, "", ""},
		{"three restarts", func(s *decision.Signs) { s.Restarts, s.Best = 3, 9 }, decision.Restarts, decision.CapToday},
		{"six pieces", func(s *decision.Signs) { s.Left, s.Reserve = 6, 5 }, "", ""},
		{"the reserve", func(s *decision.Signs) { s.Left, s.Reserve = 5, 5 }, decision.FoodGone, decision.EndEasily},
		{"time not gone", func(s *decision.Signs) { s.PlannedS, s.GoneS = 600, 599 }, "", ""},
		{"time gone", func(s *decision.Signs) { s.PlannedS, s.GoneS = 600, 600 }, decision.TimeGone, decision.EndEasily},
		{"no time planned", func(s *decision.Signs) { s.GoneS = 6000 }, "", ""},
		{"slower", func(s *decision.Signs) { s.Latencies = slower }, decision.SlowerNow, decision.EndEasily},
		{"not yet three sets", func(s *decision.Signs) { s.Latencies = slower[1:] }, "", ""},
		{
			"one and a half times",
			func(s *decision.Signs) { s.Latencies = append(slices.Repeat([]float64{2}, 10), 3, 3, 3, 3, 3) }, "", "",
		},
		{"one as quick as before", func(s *decision.Signs) { s.Latencies = append(slices.Repeat([]float64{1}, 10), 2, 2, 1, 2, 2) }, "", ""},
		{
			"two not right among the last",
			func(s *decision.Signs) { s.Latencies = append(slices.Repeat([]float64{1}, 10), 2, never, 2, never, 2) },
			decision.SlowerNow, decision.EndEasily,
		},
		{"slow before too", func(s *decision.Signs) { s.Latencies = append([]float64{1, 1, 1, 1, 3, 1, 1, 1, 1, 1}, 2, 2, 2, 2, 2) }, "", ""},
		{
			"worse in the second half", func(s *decision.Signs) { sure(s, fill(20, func(i int) bool { return i < 10 })) },
			decision.FewerNow, decision.EndEasily,
		},
		{"seven in each half", func(s *decision.Signs) { sure(s, fill(14, func(i int) bool { return i < 7 })) }, "", ""},
		{
			"between sets it stands as at the last one",
			func(s *decision.Signs) { sure(s, fill(24, func(i int) bool { return i < 10 || i > 19 })) }, decision.FewerNow,
			decision.EndEasily,
		},
		{"two gaps and calm", func(s *decision.Signs) { s.Overdue = 2 }, "", ""},
		{"two gaps and rising", func(s *decision.Signs) { s.Overdue, s.Rising = 2, true }, decision.SaggingRate, decision.PayFaster},
	} {
		s := calm
		c.signs(&s)
		a, ok := decision.Advise(s)
		require.Equal(t, c.sign != "", ok, c.name)
		require.Equal(t, c.sign, a.Sign, c.name)
		require.Equal(t, c.do, a.Do, c.name)
	}
	s := calm
	s.Restarts, s.Best = 3, 9
	a, _ := decision.Advise(s)
	require.Equal(t, 7, a.Of, "best less two")
}

// A worse sign never makes the advice milder: leaving stays leaving, whatever else is added.
func TestAWorseSignNeverMakesTheAdviceMilder(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		s := decision.Signs{
			Left: rapid.IntRange(-1, 20).Draw(t, "left"), Reserve: 5, SlowPays: rapid.IntRange(0, 3).Draw(t, "slow"),
			Backs:   rapid.IntRange(0, 3).Draw(t, "backs"),
			Overdue: rapid.IntRange(0, 3).Draw(t, "overdue"), Rising: rapid.Bool().Draw(t, "rising"),
			Declines:  rapid.Float64Range(0, 1).Draw(t, "declines"),
			Latencies: rapid.SliceOfN(rapid.Float64Range(0.2, 9), 0, 20).Draw(t, "latencies"),
		}
		before, _ := decision.Advise(s)
		worse := s
		worse.Over = true
		a, ok := decision.Advise(worse)
		require.True(t, ok)
		require.Equal(t, decision.LeaveNow, a.Do)
		worse = s
		worse.Refused = true
		a, _ = decision.Advise(worse)
		require.Equal(t, decision.RefusedBest, a.Sign)
		again, _ := decision.Advise(s)
		require.Equal(t, before, again, "same signs, same answer")
	})
}
