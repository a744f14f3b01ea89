package standing_test

import (
	"fmt"
	"math"
	"testing"
	"time"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"patientfox/core/criteria"
	"patientfox/core/evidence"
	"patientfox/core/progression"
	"patientfox/core/standing"
)

func steps() []progression.Step {
	plain := criteria.Criteria{}.With(criteria.Duration, 2)
	varied := criteria.Criteria{}.With(criteria.Duration, 4)
	varied.Vary = []criteria.Key{criteria.Duration}
	return []progression.Step{{ID: "step 1", Rev: 1, Criteria: plain}, {ID: "step 2", Rev: 2, Criteria: varied}}
}

func ExampleTried() {
	trials := []standing.Trial{
		{Step: "step 2", Rev: 2, Outcome: evidence.Met}, {Step: "step 2", Rev: 2, Outcome: evidence.Void}, {Step: "step 2", Rev: 2, Outcome: evidence.Missed},
		{Step: "step 2", Rev: 1, Outcome: evidence.Met}, // under criteria from before it was edited
		{Step: "step 1", Rev: 1, Outcome: evidence.Met}, // whose targets do not vary
	}
	fmt.Println(standing.Tried(steps(), trials, nil))
	// Output: map[step 2:2]
}

func ExampleDays() {
	fmt.Println(standing.Days("2024-02-28", "2024-03-01"))
	// Output: 2 true
}

// random draws trials of one plan in some blocks.
func random(t *rapid.T) []standing.Trial {
	outcomes := []evidence.Outcome{evidence.Met, evidence.Late, evidence.Helped, evidence.Missed, evidence.Void}
	trials := make([]standing.Trial, rapid.IntRange(0, 60).Draw(t, "trials"))
	at, block := 0.0, 0
	for i := range trials {
		if rapid.IntRange(0, 9).Draw(t, "new block") == 0 {
			block++
		}
		from := at + rapid.Float64Range(0, 9).Draw(t, "between")
		at = from + rapid.Float64Range(0, 9).Draw(t, "lasts")
		latency := rapid.Float64Range(0, 3).Draw(t, "latency")
		trials[i] = standing.Trial{
			Block: fmt.Sprint(block), Step: rapid.SampledFrom([]string{"step 1", "step 2"}).Draw(t, "step"), Rev: rapid.IntRange(1, 2).Draw(t, "rev"), From: from, At: at,
			Outcome: rapid.SampledFrom(outcomes).Draw(t, "outcome"), LatencyS: &latency, Easy: rapid.Bool().Draw(t, "easy"), Counts: rapid.Bool().Draw(t, "counts"),
		}
	}
	return trials
}

// What a session adds to what was known is what all sessions say: a phone and the server agree, however the record is cut
// between two blocks.
func TestASessionAddsWhatAllOfThemSay(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		all := random(t)
		cut := 0
		for i := 1; i < len(all); i++ {
			if all[i].Block != all[i-1].Block && rapid.Bool().Draw(t, "cut") {
				cut = i
			}
		}
		before, after := all[:cut], all[cut:]
		require.Equal(t, standing.Unhelped(all), standing.Unhelped(before)+standing.Unhelped(after))
		require.Equal(t, standing.Tried(steps(), all, nil), standing.Tried(steps(), after, standing.Tried(steps(), before, nil)))
		times := standing.Times(all, nil)
		require.Equal(t, times, standing.Times(after, standing.Times(before, nil)))
		for _, one := range times {
			require.LessOrEqual(t, max(len(one.Latencies), len(one.Between)), standing.MostLately)
		}
	})
}

func TestAVisitSaysItsRateOnlyWhereThereWasEnough(t *testing.T) {
	v := standing.Visit(1, []string{"shed"}, "quay", nil, []standing.Work{{Teaches: true, Pays: 3, Active: 20}, {Teaches: false, Pays: 9, Active: 60}})
	require.True(t, v.NewPlace)
	require.True(t, math.IsNaN(v.Rate), "twenty seconds are too few")
	v = standing.Visit(0, nil, "quay", nil, []standing.Work{{Teaches: true, Pays: 3, Active: 20}, {Teaches: true, Pays: 2, Active: 20}})
	require.False(t, v.NewPlace, "nothing is new to a first session")
	require.False(t, standing.Visit(2, []string{"shed"}, "", nil, nil).NewPlace, "no place was said")
	require.False(t, standing.Visit(2, []string{"shed"}, "shed", nil, nil).NewPlace)
	require.InDelta(t, 7.5, v.Rate, 1e-9)
}

func TestWhereAPlanWasWorked(t *testing.T) {
	require.Equal(t, []string{"a", "b"}, standing.Been([]string{"b"}, "a"))
	require.Equal(t, []string{"b"}, standing.Been([]string{"b"}, ""))
	require.Empty(t, standing.Been(nil, ""))
}

func TestDaysAreThoseOfTheCalendar(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		at := time.Unix(0, 0).UTC().AddDate(0, 0, rapid.IntRange(-40000, 80000).Draw(t, "day"))
		n, ok := standing.Day(at.Format(time.DateOnly))
		require.True(t, ok)
		require.EqualValues(t, at.Unix()/86400, n)
	})
	for _, wrong := range []string{"", "2026-13-01", "2026-00-10", "26-01-01", "2026-1-011", "2026-01-0x", "2026-01-32"} {
		_, ok := standing.Day(wrong)
		require.False(t, ok, wrong)
		_, ok = standing.Days(wrong, "2026-01-01")
		require.False(t, ok, wrong)
	}
}
