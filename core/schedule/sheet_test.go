package schedule_test

import (
	"fmt"
	"math"
	"slices"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"patientfox/core/reinforce"
	"patientfox/core/schedule"
	"patientfox/core/work"
)

func candidate(plan string, change ...func(*schedule.Candidate)) schedule.Candidate {
	c := schedule.Candidate{
		Plan: plan, Main: plan, Kind: work.Held, Start: plan + "-step", StartAt: 3, Days: 3, CycleS: 10, Set: 5, Share: 1,
		Pieces: 1, Tier: 3,
	}
	for _, f := range change {
		f(&c)
	}
	return c
}

func plans(s schedule.Sheet) (list []string) {
	for _, b := range s.Blocks {
		list = append(list, b.Plan)
	}
	return list
}

func TestTheQueueGoesByReason(t *testing.T) {
	queue := schedule.Queue([]schedule.Candidate{
		candidate("turn", func(c *schedule.Candidate) { c.Days = 5 }),
		candidate("older", func(c *schedule.Candidate) { c.Days = 9 }),
		candidate("fresh", func(c *schedule.Candidate) { c.Never, c.New, c.Days = true, true, 0 }),
		candidate("today", func(c *schedule.Candidate) { c.Days = 0 }),
		candidate("needed", func(c *schedule.Candidate) { c.Needed = true }),
		candidate("neglected", func(c *schedule.Candidate) { c.Neglected, c.Days = true, 20 }),
		candidate("stuck", func(c *schedule.Candidate) { c.Stuck = true }),
		candidate("due", func(c *schedule.Candidate) { c.Due, c.Finished = true, true }),
		candidate("done", func(c *schedule.Candidate) { c.Finished = true }),
		candidate("waits", func(c *schedule.Candidate) { c.Waits = true }),
	})
	var got []string
	for _, c := range queue {
		got = append(got, c.Plan)
	}
	require.Equal(t, []string{"due", "stuck", "neglected", "needed", "older", "turn", "fresh", "today"}, got)
}

func TestBothSidesOrRoomForBoth(t *testing.T) {
	left := candidate("left", func(c *schedule.Candidate) { c.Main = "ears" })
	right := candidate("right", func(c *schedule.Candidate) { c.Main, c.Days = "ears", 1 })
	s := schedule.Build([]schedule.Candidate{left, candidate("other", func(c *schedule.Candidate) { c.Days = 2 }), right}, 8, 200)
	require.Subset(t, plans(s), []string{"left", "right"})
	var sets []int
	for _, b := range s.Blocks {
		if b.Plan != "other" {
			sets = append(sets, b.Sets)
		}
	}
	require.Equal(t, sets[0], sets[1], "as much on either side")
}

func TestASessionHasAllSidesOrNone(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var list []schedule.Candidate
		for i := range rapid.IntRange(1, 5).Draw(t, "ladders") {
			for side := range rapid.IntRange(1, 2).Draw(t, "sides") {
				list = append(list, candidate(fmt.Sprint(i, side), func(c *schedule.Candidate) {
					c.Main, c.Days, c.CycleS = fmt.Sprint(i), rapid.IntRange(1, 30).Draw(t, "days"), 8
				}))
			}
		}
		s := schedule.Build(list, rapid.IntRange(5, 40).Draw(t, "minutes"), 200)
		for _, c := range list {
			for _, o := range list {
				if o.Main == c.Main {
					in := func(plan string) bool { return slices.Contains(plans(s), plan) }
					require.Equal(t, in(c.Plan), in(o.Plan), "%s and %s", c.Plan, o.Plan)
				}
			}
		}
	})
}

func TestASessionFitsItsMinutesAndItsDog(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var list []schedule.Candidate
		kinds := []work.Kind{work.Held, work.Cued, work.Counter, work.Walking}
		for i := range rapid.IntRange(0, 8).Draw(t, "plans") {
			kind := rapid.SampledFrom(kinds).Draw(t, "kind")
			list = append(list, schedule.Candidate{
				Plan: fmt.Sprint(i), Main: fmt.Sprint(i), Kind: kind, Lively: work.Of(kind).Lively, StartAt: rapid.IntRange(0, 6).Draw(t, "at"),
				Days: rapid.IntRange(0, 40).Draw(t, "days"), New: rapid.Bool().Draw(t, "new"), Due: rapid.IntRange(0, 5).Draw(t, "due") == 0,
				CycleS: rapid.Float64Range(2, 90).Draw(t, "cycle"), Set: rapid.IntRange(1, 10).Draw(t, "set"), Share: 1, Pieces: 1,
			})
		}
		minutes, weeks := rapid.IntRange(2, 40).Draw(t, "minutes"), rapid.Float64Range(0, 200).Draw(t, "weeks")
		s := schedule.Build(list, minutes, weeks)
		require.LessOrEqual(t, s.Seconds(), 60*float64(min(minutes, schedule.MaxMinutes(weeks)))+1e-6)
		require.Empty(t, s.Check())
		fresh, work, probes := 0, 0, true
		for i, b := range s.Blocks {
			if b.New {
				fresh++
			}
			work += b.Pieces
			require.False(t, b.Probe && !probes, "probes come first")
			probes = probes && b.Probe
			require.Equal(t, i < len(s.Blocks)-1, b.BreakS > 0, "a break between blocks")
			require.GreaterOrEqual(t, b.Pieces, b.Trials(), "nothing runs out")
		}
		require.LessOrEqual(t, fresh, 1, "one new thing")
		worries := map[string]bool{}
		for _, b := range s.Blocks {
			if b.Worry != "" {
				worries[b.Worry] = true
			}
		}
		require.LessOrEqual(t, len(worries), 1, "worries add up")
		if len(s.Blocks) > 0 {
			require.NotEmpty(t, s.Finish)
			require.Equal(t, work+schedule.WarmPieces+schedule.FinishPieces+reinforce.Reserve, s.Pieces())
			for _, h := range s.Hints(weeks, 0, 0, math.Inf(1)) {
				require.Equal(t, schedule.HintLively, h.Code, "what is built needs no second look")
			}
		}
	})
}

func TestLivelyAndSettlingInTurn(t *testing.T) {
	lively := func(c *schedule.Candidate) { c.Lively, c.Kind = true, work.Cued }
	s := schedule.Build([]schedule.Candidate{
		candidate("a", lively, func(c *schedule.Candidate) { c.Days = 9 }), candidate("b", lively, func(c *schedule.Candidate) { c.Days = 8 }),
		candidate("c", func(c *schedule.Candidate) { c.Days = 7 }), candidate("d", func(c *schedule.Candidate) { c.Days = 6 }),
	}, 25, 200)
	require.Equal(t, []string{"a", "c", "b", "d"}, plans(s))
	require.Equal(t, "d", s.Finish)
}

func TestHintsOnWhatWasEdited(t *testing.T) {
	s := schedule.Sheet{Blocks: []schedule.Block{
		{Plan: "a", New: true, Sets: 3, Set: 5, WorkS: 400, Lively: true, Worry: "a"},
		{Plan: "b", New: true, Sets: 1, Set: 5, WorkS: 100, Lively: true, Worry: "b"},
		{Plan: "a", Probe: true, Sets: 1, Set: 1, WorkS: 60},
	}}
	codes := map[schedule.HintCode]bool{}
	for _, h := range s.Hints(20, 5, 300, 120) {
		codes[h.Code] = true
		if h.Code == schedule.HintFood {
			require.InDelta(t, 180, h.Limit, 1e-9)
		}
	}
	for _, code := range []schedule.HintCode{
		schedule.HintTwoNew, schedule.HintLong, schedule.HintNoBreak, schedule.HintLively, schedule.HintFinish, schedule.HintWarm,
		schedule.HintProbe, schedule.HintFood, schedule.HintTime, schedule.HintWorries,
	} {
		require.True(t, codes[code], code)
	}
	s.WarmS, s.Blocks[0].Sets, s.Blocks[1].Set, s.Blocks[2].BreakS = -60, 0, 99, -1
	require.Len(t, s.Check(), 4)
}

func TestAWeekLeavesRestAndOneDogAtATime(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var wishes []schedule.Wish
		for i := range rapid.IntRange(1, 9).Draw(t, "dogs") {
			w := schedule.Wish{
				Dog: fmt.Sprint(i), Weeks: rapid.SampledFrom([]float64{0, 14, 30, 100}).Draw(t, "weeks"),
				PerWeek: rapid.IntRange(0, 4).Draw(t, "per week"),
				Minutes: rapid.IntRange(5, 30).Draw(t, "minutes"), Times: []int{8 * 60, 8*60 + 30, 18 * 60}, HomeMin: 5,
			}
			for k := range rapid.IntRange(0, 3).Draw(t, "plans") {
				w.Candidates = append(w.Candidates, candidate(fmt.Sprintf("%d-%d", i, k)))
			}
			wishes = append(wishes, w)
		}
		windows := []schedule.Window{{0, 540, 700}, {1, 540, 640}, {3, 840, 1000}, {4, 540, 600}}
		there := []schedule.Slot{{Dog: "0", Day: 1, Start: 560, Minutes: 30, Sheet: schedule.Sheet{Blocks: []schedule.Block{{Plan: "0-0"}}}}}
		from, now := rapid.IntRange(0, 3).Draw(t, "from"), rapid.IntRange(0, 1000).Draw(t, "now")
		slots := schedule.Plan(wishes, windows, there, from, now)
		per := map[string]int{}
		all := append(append([]schedule.Slot{}, there...), slots...)
		for i, s := range all {
			for _, o := range all[i+1:] {
				if s.Day != o.Day {
					continue
				}
				if !s.Household && !o.Household {
					require.False(t, s.Over(o.Start-schedule.Changeover, o.Minutes+2*schedule.Changeover), "the trainer has two dogs at once")
				}
				if s.Dog == o.Dog {
					require.False(t, s.Over(o.Start-schedule.RestMin, o.Minutes+2*schedule.RestMin), "no rest")
				}
			}
		}
		for _, s := range slots {
			require.NotEmpty(t, s.Sheet.Blocks)
			require.True(t, s.Day > from || s.Day == from && s.Start >= now, "in the past")
			if !s.Household {
				per[s.Dog]++
				fits := false
				for _, w := range windows {
					fits = fits || w.Day == s.Day && s.Start >= w.From && s.Start+s.Minutes <= w.To
				}
				require.True(t, fits, "outside the trainer's hours")
			}
		}
		for _, w := range wishes {
			require.LessOrEqual(t, per[w.Dog], w.PerWeek)
			days := map[int]bool{}
			for _, s := range all {
				if s.Dog == w.Dog {
					days[s.Day] = true
				}
			}
			require.Less(t, len(days), schedule.Days, "a day off")
		}
	})
}

func TestTheWeekTurnsThroughASkillList(t *testing.T) {
	w := schedule.Wish{Dog: "tansy", Weeks: 150, PerWeek: 2, Minutes: 6, Candidates: []schedule.Candidate{
		candidate("old", func(c *schedule.Candidate) { c.Days, c.CycleS = 12, 30 }),
		candidate("newer", func(c *schedule.Candidate) { c.Days, c.CycleS = 4, 30 }),
	}}
	slots := schedule.Plan([]schedule.Wish{w}, []schedule.Window{{0, 540, 600}, {1, 540, 600}, {4, 540, 600}}, nil, 0, 0)
	require.Len(t, slots, 2)
	require.Equal(t, []int{0, 4}, []int{slots[0].Day, slots[1].Day}, "days between")
	require.Equal(t, "old", slots[0].Sheet.Blocks[0].Plan)
	require.Equal(t, "newer", slots[1].Sheet.Blocks[0].Plan)
}
