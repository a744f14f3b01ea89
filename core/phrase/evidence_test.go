package phrase_test

import (
	"fmt"
	"math"
	"strings"
	"testing"

	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/evidence"
	"patientfox/core/phrase"
	"patientfox/core/say"
	"patientfox/core/trial"
)

// What pages of evidence say, in a golden file of its own.
func TestSentencesOfEvidence(t *testing.T) {
	var out strings.Builder
	tell := func(format string, args ...any) { fmt.Fprintf(&out, format+"\n", args...) }

	good, poor := evidence.Tally{Met: 28, Late: 1, Missed: 1}, evidence.Tally{Met: 2, Helped: 1, Missed: 4}
	tell("%s|%s", phrase.Small(7), phrase.Small(20))
	for _, f := range []evidence.FirstTrial{
		{P: 1}, {Cold: poor, P: 1}, {Cold: poor, Warm: good, P: 0.01, Compared: 9, Harder: true},
		{Cold: good, Warm: poor, P: 0.02, Compared: 9},
		{Cold: good, Warm: good, P: 0.4, Compared: 3},
	} {
		tell("%s", phrase.FirstTrials(f, false, "met"))
	}
	tell("%s", phrase.FirstTrials(evidence.FirstTrial{Cold: poor, Warm: good}, true, "met"))
	for _, l := range []evidence.Latency{
		{}, {N: 5, Median: 1.2, P90: 2, Before: math.NaN(), After: math.NaN()}, {N: 30, Median: 1.2, P90: 2, Before: 1, After: 1.4},
		{N: 30, Median: 1.2, P90: 2, Before: 1.4, After: 1}, {N: 30, Median: 1.2, P90: 2, Before: 1.2, After: 1.2},
	} {
		tell("%s", phrase.Latency(l))
	}
	tell("%s|%s", phrase.Cues(evidence.Cues{}, 0), phrase.Cues(evidence.Cues{Responses: 18, Cues: 20}, 3.2))
	tell("%s|%s", phrase.Control(9, 0), phrase.Control(9, 3))
	tell("%s", phrase.Track("left ear", "right ear", evidence.Tally{Met: 9, Missed: 11}, evidence.Tally{Met: 19, Missed: 1}, 20, 20))
	tell("%s", phrase.Track("left ear", "right ear", poor, good, 7, 30))
	tell("%q", phrase.Track("left ear", "right ear", good, good, 30, 30))
	for _, c := range []evidence.Condition{
		{Few: true}, {Time: true}, {}, {Claimed: true, Difference: -0.2}, {Claimed: true, Difference: 0.1},
	} {
		tell("%s", phrase.AssociatedWith(c, "met"))
	}
	for _, t := range []evidence.Tired{
		{Next: 12}, {Sessions: 12, Next: 18}, {Sessions: 18, Next: 27, Claimed: true, Best: 14, Lo: 12, Hi: 16, Before: 0.88, After: 0.61},
	} {
		tell("%s", strings.Join(phrase.Tiring(t, 5, "met"), " "))
	}
	for _, l := range []evidence.Lost{
		{Next: 12}, {Breaks: 12, Next: 18, Longest: 6}, {Breaks: 27, Next: 40, Longest: 6, Claimed: true, PerDoubling: 0.14, Within: 1},
		{Breaks: 27, Next: 40, Longest: 6, Claimed: true, PerDoubling: 0.07, Within: 2},
	} {
		tell("%s", strings.Join(phrase.DaysOff(l, 5), " "))
	}
	for _, a := range []evidence.Association{{Next: 12}, {Visits: 18, Next: 27, Needed: 45}, {Visits: 18, Next: 27, Needed: 10}} {
		tell("%s", strings.Join(phrase.Associated(a, 5), " "))
	}
	for _, code := range decision.StuckCodes {
		try, because := phrase.Suggestion(decision.Suggestion{Code: code, Of: 3, Out: 9, Rate: 0.9, Than: 0})
		tell("%s: %s %s", code, try, because)
	}
	_, because := phrase.Suggestion(decision.Suggestion{Code: decision.PayMore, Rate: 2.2, Than: 4})
	tell("%s", because)
	trials := make([]trial.Trial, 9)
	for i := range trials {
		trials[i] = trial.Trial{ID: fmt.Sprint(i), Session: fmt.Sprint(i / 5), Place: "shed", Outcome: trial.Met, Cold: i%5 == 0}
	}
	trials[3].Outcome = trial.Missed
	for _, kind := range decision.Kinds {
		reckoned := decision.Reckon(decision.Defaults(kind), trials, 9, 1, []decision.Reason{
			{Code: decision.ProofRound, Of: 2}, {Code: decision.ProofPoints, Of: -52, Out: 119},
		})
		tell("%s: %s", phrase.RuleName(kind), strings.Join(phrase.Reckoning(reckoned, "met"), " "))
	}
	tell("%s", strings.Join(phrase.Reckoning(decision.Reckoning{}, "met"), " "))
	for _, c := range []decision.Reason{
		{Code: decision.ProbeCold}, {Code: decision.ProbeMet}, {Code: decision.ProbeMissed, Of: 1, Out: 2},
		{Code: decision.ProbeKept, Of: 2}, {Code: decision.ProbeLost, Out: 1},
		{Code: decision.PlacedBelow, Of: 4, Out: 7}, {Code: decision.PlacedBelow, Out: 1}, {Code: decision.PlacedTop},
	} {
		tell("%s", phrase.Reason(c))
	}
	tell("%s|%s", phrase.Condition(criteria.Criteria{Trig: "gulls"}.With(criteria.Intensity, 2).With(criteria.Moving, 1)),
		phrase.Condition(criteria.Criteria{}))
	tell("%s|%s", say.Lower("Émile waits"), say.Lower(""))
	golden(t, "evidence", out.String())
}
