package schedule_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/library"
	"patientfox/core/progression"
	"patientfox/core/schedule"
	"patientfox/core/work"
)

func ExampleToday() {
	lists := schedule.Today([]schedule.Head{
		{Plan: "ramp", Days: 2}, {Plan: "foghorn", Days: 9}, {Plan: "chips", Never: true}, {Plan: "deck", Days: 0},
		{Plan: "ear drops", Finished: true, Probed: true, ProbeIn: -1, Days: 8},
		{Plan: "touch", Finished: true, Probed: true, ProbeIn: 3, Days: 1},
		{Plan: "gate", Days: 1, Stopped: true},
		{Plan: "bollard", Days: 4, Planned: true},
	}, 25)
	fmt.Println(lists.Next, lists.Done, lists.Probes, lists.Finished, lists.Planned, lists.Open)
	// Output: [foghorn ramp gate chips] [deck] [ear drops] [touch] [bollard] [gate]
}

func TestWhatWaitsForTheTrainer(t *testing.T) {
	stuck := schedule.Head{Repeats: 9, Entries: 9, Stalled: 9}
	require.True(t, decision.Stuck(stuck.Facts()))
	for _, c := range []struct {
		name string
		head schedule.Head
		want schedule.Open
	}{
		{"nothing", schedule.Head{}, ""},
		{"a stop before all", schedule.Head{Stopped: true, Repeats: 9}, schedule.OpenStop},
		{"stuck", stuck, schedule.OpenStuck},
		{"one that rests is not stuck", schedule.Head{Days: schedule.NeglectedAfter + 1, Repeats: 9, Entries: 9, Stalled: 9}, ""},
		{"finished is not stuck", schedule.Head{Finished: true, Repeats: 9, Entries: 9, Stalled: 9}, ""},
		{"one that climbs is not stuck", schedule.Head{Repeats: 9, Entries: 9, Stalled: 2}, ""},
		{"counting comes to every step again", schedule.Head{Entries: 9, Stalled: 9, CountsUp: true}, ""},
		{"a finished skill needs no half step", schedule.Head{Finished: true, Recommended: decision.Split, Action: "repeat"}, ""},
		{"a split that was not made", schedule.Head{Recommended: decision.Split, Action: "repeat"}, schedule.OpenSplit},
		{"a split that was made", schedule.Head{Recommended: decision.Split, Action: "split"}, ""},
		{"no answer", schedule.Head{Recommended: decision.StepUp, Action: "open"}, schedule.OpenVerdict},
	} {
		require.Equal(t, c.want, c.head.Open(), c.name)
	}
	require.False(t, schedule.IsNeglected(14))
	require.True(t, schedule.IsNeglected(15))
}

// Every plan is in one of the lists, as long as there is room, and longest ago comes first.
func TestEveryPlanHasItsList(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var heads []schedule.Head
		for i := range rapid.IntRange(0, 40).Draw(t, "plans") {
			heads = append(heads, schedule.Head{
				Plan: fmt.Sprint(i), Never: rapid.Bool().Draw(t, "never"), Finished: rapid.Bool().Draw(t, "finished"),
				Days:    rapid.IntRange(0, 60).Draw(t, "days"),
				Planned: rapid.Bool().Draw(t, "planned"), Probed: rapid.Bool().Draw(t, "probed"), ProbeIn: rapid.IntRange(-9, 9).Draw(t, "in"),
			})
		}
		most := rapid.IntRange(1, 50).Draw(t, "most")
		l := schedule.Today(heads, most)
		days := map[string]int{}
		for _, h := range heads {
			days[h.Plan] = h.Days
			if h.Never {
				days[h.Plan] = -1
			}
		}
		for i := 1; i < len(l.Next); i++ {
			require.GreaterOrEqual(t, days[l.Next[i-1]], days[l.Next[i]])
		}
		for _, list := range [][]string{l.Next, l.Done, l.Probes, l.Finished, l.Planned, l.Open} {
			require.LessOrEqual(t, len(list), most)
		}
		if most >= len(heads) {
			require.Len(t, l.All(), len(heads)+len(l.Open))
			require.False(t, l.More)
		}
	})
}

func TestACandidateIsWhatItsRecordSays(t *testing.T) {
	steps := make([]progression.Step, 6)
	for i := range steps {
		steps[i] = progression.Step{ID: fmt.Sprint(i), Rev: 1, Criteria: criteria.Criteria{}.With(criteria.Duration, float64(i+1))}
	}
	f := schedule.Facts{
		Plan: "p", Kind: work.Held, Steps: steps, Reached: 4,
		Body: library.Body{Rule: decision.Defaults(decision.Set), Pay: work.Of(work.Held).Pay}, Rung: 1, Days: 1, Tried: true,
	}
	c := schedule.CandidateOf(f)
	require.Equal(t, "4", c.Start)
	require.Equal(t, 5, c.Set)
	require.False(t, c.Lively)
	require.False(t, c.New)
	usual := c.CycleS

	f.Logged, f.ActiveS = 20, 100
	require.InDelta(t, 5, schedule.CandidateOf(f).CycleS, 1e-9, "as measured")
	f.Logged = 9
	require.InDelta(t, usual, schedule.CandidateOf(f).CycleS, 1e-9, "nine are too few")

	f.Days = 40
	require.True(t, schedule.CandidateOf(f).Neglected)
	require.Less(t, schedule.CandidateOf(f).StartAt, 4, "after so long it begins lower")
	f.Body.Arousal = library.Lively
	require.True(t, schedule.CandidateOf(f).Lively)

	minute := schedule.CandidateOf(schedule.Facts{
		Kind: work.Attention, Steps: steps, Body: library.Body{Rule: decision.Defaults(decision.Gate)}, Never: true,
	})
	require.Equal(t, 2, minute.Set)
	require.False(t, minute.Neglected, "what was never worked is no neglect")
}
