package reinforce_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"patientfox/core/reinforce"
	"patientfox/core/work"
)

func TestDrawPaysTheExactShareFirstAndNeverStarves(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		n, k := rapid.IntRange(1, 200).Draw(t, "n"), rapid.IntRange(1, 10).Draw(t, "k")
		seed := rapid.Uint64().Draw(t, "seed")
		paid := reinforce.Draw(n, k, seed)
		require.Len(t, paid, n)
		require.Equal(t, paid, reinforce.Draw(n, k, seed), "the same seed")
		require.True(t, paid[0])
		count, row := 0, 0
		for _, p := range paid {
			if p {
				count, row = count+1, 0
				continue
			}
			row++
			require.LessOrEqual(t, row, 2*k-1)
		}
		require.Equal(t, max(1, int(math.Round(float64(n)/float64(k)))), count)
	})
}

func TestSchedulesTrialByTrial(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		k := rapid.IntRange(1, 10).Draw(t, "k")
		way := rapid.SampledFrom([]reinforce.Way{reinforce.Fixed, reinforce.Variable}).Draw(t, "way")
		s := reinforce.Schedule{Way: way, K: k}
		seed := rapid.Uint64().Draw(t, "seed")
		require.True(t, s.Pays(0, seed))
		count, row := 0, 0
		for i := range 12 * k {
			if s.Pays(i, seed) {
				count, row = count+1, 0
				continue
			}
			row++
			require.LessOrEqual(t, row, 2*k-1)
		}
		require.Equal(t, 12, count, "one in k of whole runs")
		require.InDelta(t, s.PaidShare(), float64(count)/float64(12*k), 1e-12)
	})
	require.True(t, reinforce.Schedule{}.Pays(17, 1), "every one unless said otherwise")
}

func TestOwnRewardIsNeverFirstNorTwiceRunning(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		n, share := rapid.IntRange(0, 60).Draw(t, "n"), rapid.Float64Range(0, 0.5).Draw(t, "share")
		seed := rapid.Uint64().Draw(t, "seed")
		own := reinforce.LifeRewards(n, share, seed)
		count := 0
		for i, o := range own {
			if !o {
				continue
			}
			count++
			require.Positive(t, i)
			require.False(t, own[i-1])
		}
		require.Equal(t, int(share*float64(n)+1e-9), count)
		last := false
		for i := range 40 {
			now := reinforce.PaysLifeReward(i, share, seed)
			require.False(t, now && (i == 0 || last), "across runs")
			last = now
		}
	})
}

func TestPayTimesReachTheRate(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		seconds, rate := rapid.Float64Range(0.5, 600).Draw(t, "seconds"), rapid.Float64Range(0, 60).Draw(t, "rate")
		times := reinforce.PayTimes(seconds, rate, rapid.Uint64().Draw(t, "seed"))
		require.Len(t, times, reinforce.PaysInside(seconds, rate))
		require.GreaterOrEqual(t, float64(len(times))*60/seconds, rate-1e-6)
		apart := seconds / float64(max(1, len(times)))
		last := 0.0
		for i, at := range times {
			require.Greater(t, at, last)
			require.Less(t, at, seconds)
			if i < len(times)-1 {
				require.InDelta(t, apart*float64(i+1), at, 0.3*apart+1e-9)
			}
			last = at
		}
		if n := len(times); n > 0 {
			require.LessOrEqual(t, seconds-times[n-1], 0.5+1e-9, "the last just before the release")
		}
	})
}

func TestBestShare(t *testing.T) {
	best := reinforce.Schedule{Way: reinforce.Best, Share: 0.7}
	require.True(t, best.PaysBest(60, []float64{1, 1, 1, 1}), "too few to tell: all")
	before := []float64{9, 9, 1.0, 1.1, 1.2, 1.3, 1.4, 1.5, 1.6, 1.7, 1.8, 1.9}
	limit, all := best.BestLimit(before)
	require.False(t, all)
	require.InDelta(t, 2.2, limit, 1e-12, "rank ⌈13 · 0.7⌉ = 10 of twelve is 1.9, and 0.3 more")
	require.True(t, best.PaysBest(2.19, before))
	require.False(t, best.PaysBest(2.2, before))
	// What is older than twenty trials is forgotten, and the order in which they came does not matter.
	old := []float64{}
	for range 30 {
		old = append(old, 0.1)
	}
	for i := range 20 {
		old = append(old, 3-0.1*float64(i))
	}
	limit, _ = best.BestLimit(old)
	require.InDelta(t, 2.5+0.3, limit, 1e-9, "rank 15 of 1.1 … 3.0")
	whole := reinforce.Schedule{Way: reinforce.Best, Share: 1}
	limit, _ = whole.BestLimit([]float64{1, 2, 3, 4, 5})
	require.InDelta(t, 5.3, limit, 1e-12, "never beyond the slowest")
}

func TestThinningGoesARungAtATime(t *testing.T) {
	at := []int{1}
	for at[len(at)-1] < 10 {
		at = append(at, reinforce.Thinner(at[len(at)-1], 10))
	}
	require.Equal(t, reinforce.Rungs, at)
	require.Equal(t, 10, reinforce.Thinner(10, 10))
	require.Equal(t, 5, reinforce.Richer(8))
	require.Equal(t, 1, reinforce.Richer(1))
	lifeline := work.Of(work.Cued).MaxRung(true)
	require.Equal(t, 2, reinforce.Thinner(reinforce.Thinner(1, lifeline), lifeline), "coming is never thinned past 2")
	for _, kind := range []work.Kind{work.Counter, work.Handling} {
		require.Equal(t, 1, reinforce.Thinner(1, work.Of(kind).MaxRung(false)))
	}
	goal := reinforce.Schedule{Way: reinforce.Variable, K: 4, Thin: true}
	require.Equal(t, 2, goal.At(2).K)
	require.Equal(t, 4, goal.At(8).K)
	require.Equal(t, 1, goal.At(0).K)
	require.Equal(t, 4, reinforce.Schedule{Way: reinforce.Variable, K: 4}.At(1).K, "not thinned: as it says")
}

func TestAttainableAndWhatToChange(t *testing.T) {
	c := reinforce.Cycle{LatencyS: 1, DurationS: 4, DeliverS: 3, ResetS: 4}
	require.InDelta(t, 5, c.Attainable(1), 1e-12)
	require.InDelta(t, 2.5, c.Attainable(0.5), 1e-12)
	require.Empty(t, c.Remedies(5, 1))
	require.Empty(t, c.Remedies(0, 1))
	for _, r := range c.Remedies(6, 1) {
		mended := c
		switch r.Part {
		case reinforce.PartReset:
			mended.ResetS = r.To
		case reinforce.PartDeliver:
			mended.DeliverS = r.To
		case reinforce.PartDuration:
			mended.DurationS = r.To
		}
		require.InDelta(t, 6, mended.Attainable(1), 1e-9, r.Part)
	}
	require.Len(t, c.Remedies(6, 1), 2, "eating two seconds faster is more than a dog can")
	require.Empty(t, c.Remedies(30, 1), "no single change")
}

func TestRunsOut(t *testing.T) {
	in, ok := reinforce.RunsOut(25, 5, 10, 5)
	require.True(t, ok)
	require.InDelta(t, 10, in, 1e-12)
	in, ok = reinforce.RunsOut(3, 5, 10, 5)
	require.True(t, ok)
	require.Zero(t, in)
	_, ok = reinforce.RunsOut(30, 5, 0, 5)
	require.False(t, ok)
	for counted, kept := range map[int]int{0: 0, 2: 0, 6: 2, 14: 4, 15: 5, 90: 5} {
		require.Equal(t, kept, reinforce.ReserveOf(counted), counted)
	}
}

func TestStrategiesStandAndSayWhatCannot(t *testing.T) {
	for _, kind := range work.All {
		s := kind.Pay
		require.Empty(t, s.Check(kind.MaxRung(true), true), kind.Kind)
		raised := s.Raise()
		require.True(t, raised.AtLeast(s))
		require.True(t, raised.Above(s))
		require.False(t, s.AtLeast(raised))
		require.Empty(t, raised.Raise().Raise().Check(kind.MaxRung(false), false))
	}
	field := func(kind work.Kind, lifeline bool, change func(*reinforce.Strategy)) string {
		s := work.Of(kind).Pay
		change(&s)
		problems := s.Check(work.Of(kind).MaxRung(lifeline), lifeline)
		require.Len(t, problems, 1)
		return problems[0].Field
	}
	variable := func(k int, thin bool) func(*reinforce.Strategy) {
		return func(s *reinforce.Strategy) {
			s.Schedule = reinforce.Schedule{Way: reinforce.Variable, K: k, Thin: thin}
		}
	}
	require.Equal(t, "schedule", field(work.Handling, false, variable(2, false)))
	require.Equal(t, "k", field(work.Cued, true, variable(3, false)))
	require.Equal(t, "k", field(work.Cued, false, variable(0, false)))
	require.Equal(t, "k", field(work.Cued, false, variable(6, true)), "6 is no rung")
	require.Equal(t, "own", field(work.Cued, false, func(s *reinforce.Strategy) { s.LifeReward, s.LifeRewardIs = 0.6, "the gulls" }))
	require.Equal(t, "own_is", field(work.Cued, false, func(s *reinforce.Strategy) { s.LifeReward = 0.2 }))
	require.Equal(t, "rate_hi", field(work.Cued, false, func(s *reinforce.Strategy) { s.Band = reinforce.Band{Lo: 8, Hi: 4} }))
	require.Equal(t, "share", field(work.Cued, true, func(s *reinforce.Strategy) {
		s.Schedule = reinforce.Schedule{Way: reinforce.Best, Share: 0.4}
	}))
}

func TestClimbing(t *testing.T) {
	up, fresh := reinforce.Visit{Ups: []bool{false}, Rate: 6}, reinforce.Visit{Ups: []bool{false, true}, Rate: 6}
	require.Equal(t, 3, reinforce.Climb(1, []reinforce.Visit{up, up}, 10, 4))
	require.Equal(t, 2, reinforce.Climb(1, []reinforce.Visit{up, up}, 2, 4), "as thin as the work allows")
	require.Equal(t, 1, reinforce.Climb(3, []reinforce.Visit{fresh}, 10, 4), "a new dimension")
	require.Equal(t, 2, reinforce.Climb(4, []reinforce.Visit{{NewPlace: true, Ups: []bool{false}, Rate: 6}}, 10, 4),
		"a new place, and one up from there")
	require.Equal(t, 3, reinforce.Climb(4, []reinforce.Visit{{Rate: 3.9}}, 10, 4), "below the planned rate")
	require.Equal(t, 4, reinforce.Climb(4, []reinforce.Visit{{Rate: math.NaN()}}, 10, 4), "nothing measured")
	require.Equal(t, 1, reinforce.Climb(0, nil, 10, 4))
}
