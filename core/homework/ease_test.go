package homework_test

import (
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"patientfox/core/homework"
)

func TestEaseIsFleschs(t *testing.T) {
	for text, want := range map[string]float64{
		"The cat sat on the mat.": 206.835 - 1.015*6 - 84.6,
		"Sit. Stay! Good?":        206.835 - 1.015 - 84.6,
		"Wait 2.5 s":              206.835 - 1.015*3 - 84.6,
		"The dog waited; it ate, then it moved away":                   206.835 - 1.015*4.5 - 84.6*11/9,
		"Environmental generalisation necessitates systematic variety": 206.835 - 1.015*5 - 84.6*22/5,
	} {
		require.InDelta(t, want, homework.Ease(text), 1e-9, text)
	}
	require.Greater(t, homework.Ease(""), 120.0)
}

func TestHardIsWhatAHouseholdMayNotFollow(t *testing.T) {
	const easy, long = "All four feet stay on the mat until you say free.",
		"Environmental distractions necessitate considerably additional repetitions beforehand"
	require.Empty(t, homework.HardOf(easy, "", "Appropriate behaviour", "12.5 s"))
	require.Equal(t, []homework.Hard{{Text: long}}, homework.HardOf(easy, long))
	require.Equal(t, []homework.Hard{{"Mind its latency.", "latency"}, {"Use positive reinforcement, “often”", "positive reinforcement"}},
		homework.HardOf("Mind its latency.", " Use positive reinforcement, “often” "))
	require.Empty(t, homework.HardOf("It is shapely"), "a word within another is not that word")
}

// More of the same is as easy, and no text is too odd.
func TestEaseOfAnyText(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		text := rapid.String().Draw(t, "text")
		one := homework.Ease(text)
		require.InDelta(t, one, homework.Ease(text+".\n"+text), 1e-9*max(1, -one))
		require.LessOrEqual(t, one, 206.835-1.015-84.6+1e-9)
	})
}
