package phrase_test

import (
	"strings"
	"testing"

	"patientfox/core/experiment"
	"patientfox/core/phrase"
)

func TestSentencesOfExperiments(t *testing.T) {
	var lines []string
	ways := experiment.Ways{"food in the hand", "a tug"}
	given := experiment.Assigned{Ways: ways, Pair: 3, First: experiment.B, Each: 8}
	lines = append(lines, phrase.Assigned(given, 12), phrase.Given(given), phrase.Way(given, experiment.B, 0),
		phrase.Way(given, experiment.B, 7), phrase.Way(given, experiment.A, 0), phrase.Way(given, experiment.A, 1))
	for _, r := range []experiment.Reading{
		{Pairs: 4, Lost: 2},
		{Pairs: 12, RateA: 0.84, RateB: 0.66, Difference: 0.18, Lo: 0.06, Hi: 0.3, P: 0.012},
		{Pairs: 11, Lost: 1, RateA: 0.7, RateB: 0.74, Difference: -0.04, Lo: -0.15, Hi: 0.08, P: 0.53},
	} {
		lines = append(lines, strings.Join(phrase.Experimented(ways, r, "met"), " "))
	}
	lines = append(lines, phrase.Power(experiment.Design{Pairs: 12, Each: 8}, 0.31, 0.63, 0.94))
	golden(t, "experiments", strings.Join(lines, "\n")+"\n")
}
