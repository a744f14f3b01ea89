package phrase_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/criteria"
	"patientfox/core/phrase"
)

func TestMovedSaysEachChange(t *testing.T) {
	words := phrase.In(criteria.Units{})
	help, _ := criteria.Find(criteria.Help)
	step := func(seconds, metres float64) criteria.Criteria {
		return criteria.Criteria{}.With(criteria.Duration, seconds).With(criteria.Handler, metres)
	}
	lured := func(c criteria.Criteria, level float64) criteria.Criteria { return c.WithDimension(help, level) }
	require.Equal(t, []string{"duration 10 s instead of 5 s"}, words.Moved(step(5, 2), step(10, 2)))
	require.Equal(t, []string{"no " + help.Items[0] + " now"}, words.Moved(lured(step(5, 2), 0), step(5, 2)))
	require.Equal(t, []string{help.Items[0] + " again"}, words.Moved(step(5, 2), lured(step(5, 2), 0)))
	require.Empty(t, words.Moved(step(5, 2), step(5, 2)))
	from, to := step(5, 2), step(5, 2)
	from.Text, to.Text = "on the mat", "on the ramp"
	require.Equal(t, []string{"now on the ramp"}, words.Moved(from, to))
}
