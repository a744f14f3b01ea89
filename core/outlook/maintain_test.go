package outlook_test

import (
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"patientfox/core/outlook"
)

func TestProbesComeAtGrowingGaps(t *testing.T) {
	record := []outlook.Probed{{Day: 100, What: outlook.ProbeFinished}}
	day, gap, due := outlook.NextProbe(record, false)
	require.Equal(t, []any{101, 1, true}, []any{day, gap, due})
	for _, want := range []int{2, 4, 8, 16, 32, 32} {
		record = append(record, outlook.Probed{Day: day, What: outlook.ProbeHeld})
		day, gap, _ = outlook.NextProbe(record, false)
		require.Equal(t, want, gap)
		require.Equal(t, record[len(record)-1].Day+want, day)
	}
	_, gap, _ = outlook.NextProbe(record, true)
	require.Equal(t, 14, gap, "what keeps somebody safe is never left longer")
}

func TestAProbeThatWasKeptOrLost(t *testing.T) {
	record := []outlook.Probed{{Day: 1, What: outlook.ProbeFinished}, {Day: 2, What: outlook.ProbeHeld}, {Day: 4, What: outlook.ProbeHeld}}
	day, gap, _ := outlook.NextProbe(append(record, outlook.Probed{Day: 8, What: outlook.ProbeKept}), false)
	require.Equal(t, []int{12, 4}, []int{day, gap})
	lost := append(record, outlook.Probed{Day: 8, What: outlook.ProbeLost})
	_, gap, due := outlook.NextProbe(lost, false)
	require.False(t, due, "there is nothing to probe until it is finished again")
	require.Equal(t, 2, gap)
	day, _, due = outlook.NextProbe(append(lost, outlook.Probed{Day: 20, What: outlook.ProbeFinished}), false)
	require.True(t, due)
	require.Equal(t, 22, day, "the halved gap is kept")
}

func TestGapsStayInTheirBounds(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var record []outlook.Probed
		for i := range rapid.IntRange(0, 30).Draw(t, "n") {
			record = append(record, outlook.Probed{Day: i, What: rapid.SampledFrom([]string{outlook.ProbeFinished, outlook.ProbeHeld, outlook.ProbeKept, outlook.ProbeLost}).Draw(t, "what")})
		}
		safety := rapid.Bool().Draw(t, "safety")
		_, gap, due := outlook.NextProbe(record, safety)
		require.GreaterOrEqual(t, gap, 1)
		require.LessOrEqual(t, gap, map[bool]int{true: 14, false: 32}[safety])
		require.Equal(t, due, len(record) > 0 && record[len(record)-1].What != outlook.ProbeLost)
	})
}
