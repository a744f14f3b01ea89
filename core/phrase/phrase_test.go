package phrase_test

import (
	"flag"
	"fmt"
	"os"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/evidence"
	"patientfox/core/phrase"
	"patientfox/core/progression"
	"patientfox/core/say"
	"patientfox/core/work"
)

var update = flag.Bool("update", false, "write the golden file anew")

// The sentences are kept in one golden file, so that a change of wording is seen as such.
func TestSentences(t *testing.T) {
	var out strings.Builder
	tell := func(format string, args ...any) { fmt.Fprintf(&out, format+"\n", args...) }

	ramp := criteria.Criteria{Trig: "gulls", Values: map[criteria.Key]float64{
		criteria.Duration: 10, criteria.Handler: 2, criteria.Trigger: 27, criteria.Intensity: 2, criteria.Moving: 0,
	}}
	beside := criteria.Criteria{Values: map[criteria.Key]float64{criteria.Duration: 2, criteria.Handler: 0}}
	recall := criteria.Criteria{Text: "chips on the slipway", Values: map[criteria.Key]float64{criteria.Handler: 5, criteria.Latency: 2.5}}
	for _, c := range []criteria.Criteria{ramp, ramp.With(criteria.Moving, 1), beside, recall, beside.With(criteria.Duration, 150)} {
		tell("%s | %s", phrase.Words{}.Step(c), phrase.Words{}.Short(c))
	}
	tell("%s", phrase.Difference(beside, beside.With(criteria.Duration, 4)))
	tell("%s", phrase.Difference(beside, ramp))
	tell("%s", phrase.Difference(ramp, ramp.With(criteria.Duration, 6).With(criteria.Trigger, 18)))
	tell("%s", phrase.Difference(ramp, ramp))
	drops := beside
	drops.Text = "closed bottle touches the ear, and the other hand rests on the shoulder"
	tell("%s | %s | %s", phrase.Words{}.Step(drops), phrase.Words{}.Short(drops), phrase.Difference(beside, drops))
	ladder := []progression.Step{
		{Criteria: beside}, {Criteria: beside.With(criteria.Duration, 9)}, {Criteria: ramp},
		{Criteria: ramp.With(criteria.Duration, 12).With(criteria.Handler, 3)}, {Criteria: ramp},
	}
	for _, lint := range progression.Lints(ladder, progression.Case{Weeks: 11}) {
		says, fix := phrase.Words{}.Lint(lint)
		tell("%d: %s | %s", lint.Step+1, says, fix)
	}
	bare := []progression.Step{{Criteria: beside.Without(criteria.Duration)}}
	for _, lint := range progression.Lints(bare, progression.Case{Least: criteria.Criteria{}.With(criteria.Duration, 1)}) {
		says, fix := phrase.Words{}.Lint(lint)
		tell("%s | %s", says, fix)
	}
	for _, code := range []progression.FitCode{
		progression.FitAge, progression.FitHeight, progression.FitSpace, progression.FitLead, progression.FitStart,
	} {
		d, _ := criteria.Find(criteria.Duration)
		tell("%s", phrase.Words{}.Fit(progression.Fit{Code: code, Dim: d, Goal: code == progression.FitSpace, Was: 20, Now: 9}))
	}
	all := criteria.Criteria{Trig: "a throw", Values: map[criteria.Key]float64{}}
	for _, d := range criteria.Dimensions {
		all = all.With(d.Key, 1)
	}
	for _, units := range []criteria.Units{{}, {Length: criteria.InFeet}, {Length: criteria.InPaces, PaceM: 0.8}} {
		tell("%s", phrase.In(units).Step(all))
	}
	for _, lead := range []float64{2, 0, -2} {
		c := criteria.Criteria{Values: map[criteria.Key]float64{criteria.Lead: lead}}
		tell("%s | %s", phrase.Words{}.Step(c), phrase.Words{}.Short(c.With(criteria.Intensity, 2)))
	}
	tell("%s", phrase.Words{}.Step(all.With(criteria.Intensity, 0))) // nothing is thrown, at no time
	horn := criteria.Criteria{Trig: "the recorded horn"}.With(criteria.Part, 1).With(criteria.Intensity, 1).With(criteria.Trigger, 300)
	tell("%s", strings.Join(phrase.Words{}.Shorts([]criteria.Criteria{
		horn, horn.With(criteria.Trigger, 200), horn.With(criteria.Intensity, 2),
	}), " / "))
	tell("%s", strings.Join(phrase.Words{}.Shorts([]criteria.Criteria{beside, beside.With(criteria.Duration, 9), ramp}), " / "))
	varied := beside.With(criteria.Direction, 0)
	varied.Vary = []criteria.Key{criteria.Duration, criteria.Direction}
	tell("%s | %s", phrase.Words{}.Step(varied),
		phrase.Words{}.Target(varied, map[criteria.Key]float64{criteria.Duration: 7.27, criteria.Direction: 1}))
	own := criteria.Dimension{Key: "own-waves", Label: "Waves", Unit: "waves", Harder: 1, Max: 50}
	tell("%s", phrase.Words{}.Step(beside.WithDimension(own, 3)))
	gear, _ := criteria.Find(criteria.Gear)
	lines := []progression.Step{{Criteria: beside.WithDimension(gear, 0)}, {Criteria: beside.WithDimension(gear, 3)}}
	for _, lint := range progression.Lints(lines, progression.Case{
		Weeks: 90, Missing: []progression.Need{{Skill: "Stay", Step: 4, Why: "it holds the dog."}},
	}) {
		says, fix := phrase.Words{}.Lint(lint)
		tell("%s | %s", says, fix)
	}
	for _, lint := range progression.Lints([]progression.Step{
		{Criteria: ramp}, {Criteria: ramp.With(criteria.Duration, 16)},
	}, progression.Case{Weeks: 40}) {
		says, fix := phrase.Words{}.Lint(lint)
		tell("%s | %s", says, fix)
	}
	before := criteria.Definition{Position: "nose on the palm", Cue: "“touch”"}
	after := before
	after.Cue2, after.LatencyS, after.CueBy = "the palm held out", 2.5, "a word"
	tell("%s", phrase.DefinitionChange(work.Cued, before, after))
	tell("%s", strings.Join(phrase.Ticks(work.Cued, criteria.Definition{
		Position: "nose on the palm", Cue: "“touch”", TimedFrom: "end", Break: "a paw, or no answer in 5 s", Marker: "click", AfterError: "wait",
	}), " / "))
	for _, kind := range decision.Kinds {
		tell("%s %s", phrase.Rule(decision.Defaults(kind)), phrase.RuleOdds(decision.Defaults(kind)))
	}
	for _, code := range []decision.Code{
		decision.FullSet, decision.FewRight, decision.BetweenSet, decision.SetGoing, decision.Slow, decision.ManyRepeats, decision.RunMet,
		decision.RunWrong, decision.RunGoing, decision.GuardMisses, decision.GuardWary,
		decision.GuardErrors, decision.OverThresh, decision.FirstStep, decision.Lowest,
		decision.LastStep, decision.OrderUnknown, decision.WindowGoing, decision.WindowRate, decision.BelowRate,
		decision.FewSessions, decision.FewPlaces,
		decision.ProofRound, decision.ProofPoints, decision.ProofCost, decision.RoundOver,
		decision.ProofCount, decision.ProofNeeds, decision.LowCoverage, decision.FewCold, decision.ColdMissed, decision.NotEnded,
		decision.CountBroken,
		decision.CalmGoing, decision.CalmMet, decision.FewExpect, decision.FirstWary, decision.Worried, decision.NotCalmer,
	} {
		tell("%s", phrase.Why([]decision.Reason{{Code: code, Of: 3, Out: 5}}))
	}
	tell("%s", phrase.Why([]decision.Reason{{Code: decision.CalmMet, Of: 3}}))
	for _, r := range []decision.Round{
		{Number: 1, Points: decision.Points{Cost: 30, Needs: 97}},
		{Number: 2, Points: decision.Points{Cost: 30, Needs: 119}, Scored: -61, Over: true},
	} {
		tell("%s | %s", phrase.ProofRound(r), phrase.ProofShort(r))
	}
	for _, v := range []decision.Verdict{
		decision.StepUp, decision.Repeat, decision.StepBack, decision.Split, decision.Stop, decision.Finished,
	} {
		tell("%s / %s", phrase.Verdict(v), phrase.Action(string(v)))
	}
	tell("%s", phrase.Start(0, "", nil, "", ""))
	tell("%s", phrase.Start(3, "2 s", []decision.Drop{
		{Code: decision.Pause, Steps: 1, Days: 9}, {Code: decision.NewPlace, Steps: 1}, {Code: decision.AfterStop, Steps: 1},
	}, "the north quay", ""))
	tell("%s", phrase.StartHere(0, nil))
	tell("%s", phrase.StartHere(1, []decision.Drop{{Code: decision.SplitOff, Steps: 1}}))
	tell("%s", phrase.Start(1, "", []decision.Drop{{Code: decision.NewHandler, Steps: 1}}, "", "Sunniva"))
	tell("%s. %s. %s", phrase.Coverage(20, 0), say.Upper(phrase.Coverage(22, 3)), phrase.Rate(evidence.Tally{}, "met"))
	for _, tally := range []evidence.Tally{{Met: 3, Missed: 2}, {Met: 15, Late: 2, Missed: 3}, {Met: 5}, {Met: 4, Late: 1}} {
		tell("%s. %s", phrase.Rate(tally, "met"), phrase.Rest(tally))
	}
	tell("%s · %s · %s · %s", say.Clock(342), say.Days(0), say.Days(1), say.Days(12))
	golden(t, "sentences", out.String())
}

// golden compares what was said with what was read and found good.
func golden(t *testing.T, name, said string) {
	t.Helper()
	path := "testdata/" + name + ".txt"
	if *update {
		require.NoError(t, os.WriteFile(path, []byte(said), 0o644))
	}
	want, err := os.ReadFile(path)
	require.NoError(t, err)
	require.Equal(t, string(want), said)
}
