package handling_test

import (
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"patientfox/core/handling"
	"patientfox/core/trial"
	"patientfox/core/work"
)

func TestOfCountsOnlyWhatWasLoggedOneByOne(t *testing.T) {
	trials := []trial.Trial{
		{Outcome: trial.Met, Cues: 1},
		{Outcome: trial.Met, Cues: 2, Mistake: "late mark"},
		{Outcome: trial.Missed, Cues: 3},
		{Outcome: trial.Met, Mistake: work.MistakeNotSaid},
		{Outcome: trial.Met, Tally: true, Mistake: "late mark", Cues: 4},
	}
	h := handling.Of(trials, func(i int) int { return []int{1, 1, 2, 1, 1}[i] })
	require.Equal(t, []int{4, 3, 3}, []int{h.N, h.Slipped, h.Cued})
	counted := map[string]int{}
	for _, one := range h.Mistakes {
		counted[one.Name] = one.N
	}
	require.Equal(t, map[string]int{"late mark": 1, handling.RepeatedCue: 2, work.MistakeNotSaid: 1}, counted)
}

func TestPaceLeavesOutWhatSaysNothing(t *testing.T) {
	var p handling.Pace
	p.Add(59, 0, 6, 10) // too short
	p.Add(120, 0, 0, 0) // nothing is planned
	require.Zero(t, p.N())
	p.Add(120, 11, 6, 10) // 5.5 a minute
	p.Add(120, 12, 6, 10)
	p.Add(120, 20, 6, 10)
	p.Add(120, 21, 6, 10)
	p.Add(120, 99, 6, 0) // no upper bound
	require.Equal(t, handling.Pace{Below: 1, Within: 3, Above: 1}, p)
}

func TestPractiseIsTheMostFrequentForItsChances(t *testing.T) {
	mistakes := func(n int, what string) (list []trial.Trial) {
		for range n {
			list = append(list, trial.Trial{Outcome: trial.Met, Mistake: what})
		}
		return list
	}
	one := func(i int) int { return 1 }
	_, _, _, ok := handling.Of(mistakes(2, "moved"), one).Practise(handling.Pace{Below: 2})
	require.False(t, ok, "twice is not often")
	_, _, _, ok = handling.Of(mistakes(9, work.MistakeNotSaid), one).Practise(handling.Pace{})
	require.False(t, ok, "nobody said what it was")
	trials := append(mistakes(5, "late mark"), mistakes(15, "")...)
	what, n, of, ok := handling.Of(trials, one).Practise(handling.Pace{Below: 3, Within: 17})
	require.Equal(t, []any{"late mark", 5, 20, true}, []any{what, n, of, ok})
	what, n, of, _ = handling.Of(trials, one).Practise(handling.Pace{Below: 8, Within: 12})
	require.Equal(t, []any{handling.SlowerPay, 8, 20}, []any{what, n, of})
}

// Whatever was logged, what is said happened as often as it is said, of no fewer chances.
func TestPractiseIsTrue(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		mistake := rapid.SampledFrom(append([]string{"", "", work.MistakeNotSaid}, work.Mistakes...))
		outcome := rapid.SampledFrom([]trial.Outcome{trial.Met, trial.Late, trial.Helped, trial.Missed})
		var trials []trial.Trial
		for range rapid.IntRange(0, 40).Draw(t, "n") {
			trials = append(trials, trial.Trial{
				Outcome: outcome.Draw(t, "outcome"), Mistake: mistake.Draw(t, "mistake"), Cues: rapid.IntRange(0, 3).Draw(t, "cues"),
				Tally: rapid.Bool().Draw(t, "tally"),
			})
		}
		h := handling.Of(trials, func(int) int { return 1 })
		what, n, of, ok := h.Practise(handling.Pace{})
		if !ok {
			require.Zero(t, n+of)
			return
		}
		require.LessOrEqual(t, n, of)
		require.GreaterOrEqual(t, n, 3)
		counted := 0
		for _, one := range trials {
			if one.Tally {
				continue
			}
			switch what {
			case handling.RepeatedCue:
				counted += min(1, max(0, one.Cues-1))
			case handling.MoreHelp:
				if one.Outcome == trial.Helped {
					counted++
				}
			default:
				if one.Mistake == what {
					counted++
				}
			}
		}
		require.Equal(t, counted, n, what)
	})
}
