package outlook_test

import (
	"context"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"patientfox/core/decision"
	"patientfox/core/outlook"
	"patientfox/core/reinforce"
)

func course(kind decision.Kind, steps int) outlook.Course {
	c := outlook.Course{Trials: []int{10, 15, 20}, Places: []uint8{0, 0, 1}, Gap: 3, Pieces: 1, Calm: kind == decision.Calm}
	for range steps {
		c.Rules = append(c.Rules, decision.Defaults(kind))
	}
	return c
}

// recordOf makes a record at the first step: rate of ten are met.
func recordOf(trials, rate int) []outlook.Trial {
	rng := rand.New(rand.NewPCG(7, 7))
	var record []outlook.Trial
	for i := range trials {
		t := outlook.Trial{Opens: i%15 == 0, Days: 3, Mark: decision.MarkMissed}
		if rng.IntN(10) < rate {
			t.Mark, t.Paid = decision.MarkMet, true
		}
		record = append(record, t)
	}
	return record
}

func look(t *testing.T, f outlook.Fit, c outlook.Course) outlook.Forecast {
	forecast, err := f.Look(context.Background(), c, 300, 1, nil)
	require.NoError(t, err)
	return forecast
}

func TestAForecastIsTheSameEachTime(t *testing.T) {
	c, record := course(decision.Set, 8), recordOf(60, 8)
	first := look(t, outlook.FitTo(record, outlook.Heights(8), outlook.Usual(), 3), c)
	require.Equal(t, first, look(t, outlook.FitTo(record, outlook.Heights(8), outlook.Usual(), 3), c))
	require.LessOrEqual(t, first.Sessions.Lo, first.Sessions.Mid)
	require.Less(t, first.Sessions.Mid, first.Sessions.Hi)
	require.Greater(t, first.Trials.Mid, first.Sessions.Mid*8)
	require.Positive(t, first.Misses.Mid)
	require.Positive(t, first.Pieces.Mid)
}

// A schedule changes both what is eaten and what is learnt: every third paid takes more sessions and fewer treats a trial, and thinning
// lies between.
func TestThinnerPayIsLearntFromMoreSlowly(t *testing.T) {
	fit := outlook.FitTo(recordOf(60, 7), outlook.Heights(8), outlook.Usual(), 3)
	at := func(pay reinforce.Schedule) outlook.Forecast {
		c := course(decision.Set, 8)
		c.Pay, c.MaxRung = pay, 10
		return look(t, fit, c)
	}
	every := at(reinforce.Schedule{Way: reinforce.Every})
	third := at(reinforce.Schedule{Way: reinforce.Variable, K: 3})
	fixed := at(reinforce.Schedule{Way: reinforce.Fixed, K: 3})
	thinned := at(reinforce.Schedule{Way: reinforce.Variable, K: 3, Thin: true})
	require.Greater(t, third.Sessions.Mid, every.Sessions.Mid)
	require.Greater(t, fixed.Sessions.Mid, every.Sessions.Mid)
	require.Greater(t, third.Sessions.Mid, thinned.Sessions.Mid)
	share := func(f outlook.Forecast) float64 { return float64(f.Pieces.Mid) / float64(f.Trials.Mid-f.Misses.Mid) }
	require.InDelta(t, 1, share(every), 0.05)
	require.InDelta(t, 1.0/3, share(third), 0.05)
	require.InDelta(t, 1.0/3, share(fixed), 0.05)
	require.Greater(t, share(thinned), share(third))
}

func TestABetterDogIsThereSooner(t *testing.T) {
	c := course(decision.Set, 8)
	good, poor := look(t, outlook.FitTo(recordOf(60, 9), outlook.Heights(8), outlook.Usual(), 3), c),
		look(t, outlook.FitTo(recordOf(60, 6), outlook.Heights(8), outlook.Usual(), 3), c)
	require.Less(t, good.Sessions.Mid, poor.Sessions.Mid)
	require.Less(t, good.Misses.Mid, poor.Misses.Mid)
}

func TestAStricterRuleTakesLongerAndErrsLess(t *testing.T) {
	fit := outlook.FitTo(recordOf(60, 8), outlook.Heights(8), outlook.Usual(), 3)
	c := course(decision.Run, 8)
	run, gate := look(t, fit, c), look(t, fit, c.With(decision.Defaults(decision.Gate)))
	require.Less(t, run.Sessions.Mid, gate.Sessions.Mid)
	require.Greater(t, run.FalseUps/run.Ups, gate.FalseUps/gate.Ups)
}

func TestEveryRuleGetsThere(t *testing.T) {
	fit := outlook.FitTo(recordOf(60, 9), outlook.Heights(3), outlook.Usual(), 3)
	for _, kind := range decision.Kinds {
		f := look(t, fit, course(kind, 3))
		require.Greater(t, f.Done, 150, kind)
	}
}

func TestALongLookTellsHowFarItIsAndCanBeStopped(t *testing.T) {
	fit := outlook.FitTo(recordOf(60, 8), outlook.Heights(8), outlook.Usual(), 3)
	ctx, cancel := context.WithCancel(context.Background())
	last := -1.0
	_, err := fit.Look(ctx, course(decision.Set, 8), 1000, 1, func(part float64) {
		require.Greater(t, part, last)
		if last = part; part > 0.3 {
			cancel()
		}
	})
	require.ErrorIs(t, err, context.Canceled)
	require.Less(t, last, 0.4)
}

func TestTooLittleIsSaid(t *testing.T) {
	require.False(t, outlook.Enough(recordOf(19, 8)))
	require.False(t, outlook.Enough(recordOf(15, 8)), "one session")
	require.True(t, outlook.Enough(recordOf(30, 8)))
}

// Whatever the record, a fit says something: no trait runs away.
func TestAnyRecordCanBeFitted(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		const steps = 5
		var record []outlook.Trial
		for i := range rapid.IntRange(20, 60).Draw(t, "trials") {
			mark := decision.Mark(rapid.IntRange(0, 3).Draw(t, "mark"))
			record = append(record, outlook.Trial{
				Step: rapid.IntRange(-1, steps-1).Draw(t, "step"), Opens: i%8 == 0, Days: rapid.IntRange(0, 60).Draw(t, "days"),
				Place: uint8(rapid.IntRange(0, 5).Draw(t, "place")), Mark: mark, Paid: mark == decision.MarkMet,
			})
		}
		c := course(decision.Set, steps)
		c.At = rapid.IntRange(0, steps-1).Draw(t, "at")
		f, err := outlook.FitTo(record, outlook.Heights(steps), outlook.Usual(), 1).Look(context.Background(), c, 20, 1, nil)
		require.NoError(t, err)
		require.Positive(t, f.Sessions.Mid)
	})
}

// What is held of a new dog moves towards what other dogs' records said, the more of them the more, and stays as usual without any.
func TestWhatOtherDogsSaidMovesThePrior(t *testing.T) {
	c := course(decision.Set, 8)
	sessions := func(prior outlook.Prior) int {
		return look(t, outlook.FitTo(nil, outlook.Heights(8), prior, 3), c).Sessions.Mid
	}
	usual := sessions(outlook.Usual())
	require.Equal(t, usual, sessions(outlook.Learned(nil)))
	of := func(met, n int) (records []outlook.Learnt) {
		for seed := range uint64(n) {
			records = append(records, outlook.FitTo(recordOf(80, met), outlook.Heights(8), outlook.Usual(), seed).Learnt)
		}
		return records
	}
	good := outlook.Learned(of(10, 6))
	require.Equal(t, 6, good.Records)
	require.Less(t, sessions(good), usual)
	require.Greater(t, sessions(outlook.Learned(of(5, 6))), usual)
}

// Sessions are counted up to the one in which the step before the highest was passed: where the next one opens at it, that was the last.
func TestClimbedCountsSessionsToTheHighestStep(t *testing.T) {
	at := func(step int, opens bool) outlook.Trial { return outlook.Trial{Step: step, Opens: opens} }
	for name, one := range map[string]struct {
		record []outlook.Trial
		want   [3]int
	}{
		"none":                  {nil, [3]int{}},
		"it stays":              {[]outlook.Trial{at(2, true), at(2, false), at(2, true)}, [3]int{2, 2, 1}},
		"within a session":      {[]outlook.Trial{at(0, true), at(0, true), at(1, false)}, [3]int{0, 1, 2}},
		"at the end of one":     {[]outlook.Trial{at(0, true), at(0, false), at(1, true)}, [3]int{0, 1, 1}},
		"and back down, and up": {[]outlook.Trial{at(0, true), at(3, false), at(1, true), at(2, true)}, [3]int{0, 3, 1}},
	} {
		start, top, sessions := outlook.Climbed(one.record)
		require.Equal(t, one.want, [3]int{start, top, sessions}, name)
	}
	c := course(decision.Set, 8)
	c.At, c.Rung = 5, 4
	before := c.Before(1, 4)
	require.Len(t, before.Rules, 4)
	require.Equal(t, []int{1, 1, 4}, []int{before.At, before.Rung, len(before.Heights)})
}

// A half step that waits comes first: the first session of five trials is over before a set at the reached step is full.
// The way to a step on the ladder is a part of the way to its end.
func TestAForecastToAStepIsNearerThanToTheTop(t *testing.T) {
	c, fit := course(decision.Set, 8), outlook.FitTo(recordOf(60, 8), outlook.Heights(8), outlook.Usual(), 3)
	last := 0
	for _, to := range []int{2, 5, 0} {
		c.To = to
		f := look(t, fit, c)
		require.Greater(t, f.Sessions.Mid, last)
		require.Greater(t, f.Done, f.Runs/2)
		last = f.Sessions.Mid
	}
}

func TestAForecastBeginsAtTheHalfStep(t *testing.T) {
	c := course(decision.Set, 2)
	c.At, c.Trials, c.Places = 1, []int{5}, []uint8{0}
	f := outlook.FitTo(recordOf(200, 10), outlook.Heights(2), outlook.Usual(), 1)
	require.Equal(t, 1, look(t, f, c).Sessions.Mid)
	c.Halved = true
	require.Equal(t, 2, look(t, f, c).Sessions.Mid)
}
