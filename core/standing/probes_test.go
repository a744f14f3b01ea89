package standing_test

import (
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"patientfox/core/standing"
)

func TestProbesComeAtGrowingGaps(t *testing.T) {
	record := []standing.Probed{{Day: 100, What: standing.ProbeFinished}}
	day, gap, due := standing.NextProbe(record, false)
	require.Equal(t, []any{101, 1, true}, []any{day, gap, due})
	for _, want := range []int{2, 4, 8, 16, 32, 32} {
		record = append(record, standing.Probed{Day: day, What: standing.ProbeHeld})
		day, gap, _ = standing.NextProbe(record, false)
		require.Equal(t, want, gap)
		require.Equal(t, record[len(record)-1].Day+want, day)
	}
	_, gap, _ = standing.NextProbe(record, true)
	require.Equal(t, 14, gap, "what keeps somebody safe is never left longer")
}

func TestAProbeThatWasKeptOrLost(t *testing.T) {
	record := []standing.Probed{{Day: 1, What: standing.ProbeFinished}, {Day: 2, What: standing.ProbeHeld}, {Day: 4, What: standing.ProbeHeld}}
	day, gap, _ := standing.NextProbe(append(record, standing.Probed{Day: 8, What: standing.ProbeKept}), false)
	require.Equal(t, []int{12, 4}, []int{day, gap})
	lost := append(record, standing.Probed{Day: 8, What: standing.ProbeLost})
	day, gap, due := standing.NextProbe(lost, false)
	require.True(t, due)
	require.Equal(t, []int{10, 2}, []int{day, gap}, "half the gap, where the trainer leaves it at the top")
	day, _, due = standing.NextProbe(append(lost, standing.Probed{Day: 20, What: standing.ProbeFinished}), false)
	require.True(t, due)
	require.Equal(t, 22, day, "the halved gap is kept")
}

func TestGapsStayInTheirBounds(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var record []standing.Probed
		for i := range rapid.IntRange(0, 30).Draw(t, "n") {
			record = append(record, standing.Probed{
				Day:  i,
				What: rapid.SampledFrom([]string{standing.ProbeFinished, standing.ProbeHeld, standing.ProbeKept, standing.ProbeLost}).Draw(t, "what"),
			})
		}
		safety := rapid.Bool().Draw(t, "safety")
		_, gap, due := standing.NextProbe(record, safety)
		require.GreaterOrEqual(t, gap, 1)
		require.LessOrEqual(t, gap, map[bool]int{true: 14, false: 32}[safety])
		require.Equal(t, due, len(record) > 0)
	})
}
