package evidence_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"patientfox/core/evidence"
	"patientfox/core/trial"
)

// days are n trials of somebody's stage on each of some days.
func days(stage evidence.Stage, from, to, n int, outcome trial.Outcome) (list []trial.Trial) {
	for day := from; day <= to; day++ {
		for range n {
			t := trial.Trial{Day: fmt.Sprintf("2026-11-%02d", day), Outcome: outcome, Handler: "maren", By: "maren"}
			switch stage {
			case evidence.Holding:
				t.Holds = "jo"
			case evidence.Feeding:
				t.Feeds = "jo"
			case evidence.Handling:
				t.Handler = "jo"
			case evidence.Alone:
				t.Handler, t.By = "jo", "jo"
			}
			list = append(list, t)
		}
	}
	return list
}

func TestAnOwnerTakesOverPartByPart(t *testing.T) {
	next := func(trials ...[]trial.Trial) evidence.Stage {
		var all []trial.Trial
		for _, some := range trials {
			all = append(all, some...)
		}
		stage, _ := evidence.NextStage(evidence.Shared(all, "jo"))
		return stage
	}
	held, fed := days(evidence.Holding, 1, 2, 5, trial.Met), days(evidence.Feeding, 3, 4, 3, trial.Met)
	require.Equal(t, evidence.Holding, next())
	require.Equal(t, evidence.Holding, next(held[:5]), "one day is not enough")
	require.Equal(t, evidence.Feeding, next(held))
	require.Equal(t, evidence.Handling, next(held, fed))
	require.Equal(t, evidence.Feeding, next(held, fed[:5]), "two trials of a day tell too little")
	require.Equal(t, evidence.Feeding, next(held, days(evidence.Feeding, 5, 6, 5, trial.Missed)))
	require.Equal(t, evidence.Alone, next(days(evidence.Handling, 1, 2, 3, trial.Met)), "what they can do needs no stage before it")
	own := days(evidence.Alone, 7, 8, 4, trial.Met)
	stage, done := evidence.NextStage(evidence.Shared(own, "jo"))
	require.Equal(t, []any{evidence.Alone, true}, []any{stage, done})
	own[0].Holds = "maren"
	stages := evidence.Shared(own, "jo")
	require.Equal(t, []int{1, 7}, []int{stages[evidence.Handling].N(), stages[evidence.Alone].N()}, "somebody held the dog: not alone")
	require.Equal(t, [evidence.Stages]evidence.Share{}, evidence.Shared(own, ""))
}

// Each counted trial is in one stage of its handler, and in none of somebody who did nothing in it.
func TestEachTrialIsInOnePartOfItsHandler(t *testing.T) {
	who := rapid.SampledFrom([]string{"", "maren", "jo", "kes"})
	rapid.Check(t, func(t *rapid.T) {
		trials := rapid.SliceOfN(rapid.Custom(func(t *rapid.T) trial.Trial {
			return trial.Trial{
				Day: rapid.SampledFrom([]string{"2026-11-01", "2026-11-02"}).Draw(t, "day"), Outcome: trial.Met,
				Handler: who.Draw(t, "handler"), By: who.Draw(t, "by"), Roles: trial.Roles{Holds: who.Draw(t, "holds"), Feeds: who.Draw(t, "feeds")},
			}
		}), 0, 20).Draw(t, "trials")
		stages, handled := evidence.Shared(trials, "jo"), 0
		for i := range trials {
			if trials[i].Handler == "jo" {
				handled++
			}
		}
		require.Equal(t, handled, stages[evidence.Handling].N()+stages[evidence.Alone].N())
		require.Zero(t, evidence.Shared(trials, "nobody"))
	})
}
