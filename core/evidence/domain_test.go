package evidence_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/evidence"
)

// Counts that cannot be are a mistake of the program: nothing sensible is answered to them.
func TestCountsThatCannotBe(t *testing.T) {
	for _, c := range [][2]int{{6, 5}, {-1, 5}, {1, 0}, {0, -1}} {
		require.Panics(t, func() { evidence.Jeffreys(c[0], c[1], 0.95) }, c)
		require.Panics(t, func() { evidence.Wilson(c[0], c[1], 0.95) }, c)
		require.Panics(t, func() { evidence.ProbAtLeast(c[0], c[1], 0.8) }, c)
		require.Panics(t, func() { evidence.ProbDecline(3, 5, c[0], c[1]) }, c)
	}
	require.Equal(t, evidence.Interval{Lo: 0, Hi: 1}, evidence.Jeffreys(0, 0, 0.95))
	require.Panics(t, func() { evidence.Quantile([]float64{1, 2}, 1.5) })
	require.Panics(t, func() { evidence.Quantile(nil, -0.1) })
}
