package record_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/progression"
	"patientfox/core/record"
	"patientfox/core/trial"
)

func begun(mode record.Mode, drafts ...record.Draft) []record.Event {
	events := []record.Event{
		event(1, record.NewDraft(record.KOpen, record.OpenData{Dog: "dog", Tags: []string{"wind"}})),
		event(2, record.NewDraft(record.KBlock, record.BlockData{Plan: "p", Reached: "low", Mode: mode})),
	}
	for _, d := range drafts {
		events = append(events, event(len(events)+1, d))
	}
	return events
}

func TestWhatDoesNotTeachIsInNoRate(t *testing.T) {
	for mode, counts := range map[record.Mode]bool{record.Train: true, record.Probe: true, record.Placing: false, record.Baseline: false} {
		s := fold(begun(mode, closing(trial.Met), closing(trial.Missed)))
		require.Len(t, s.Trials, 2)
		for _, one := range s.Trials {
			require.Equal(t, counts, one.Counted(), mode)
		}
		require.Equal(t, 2, s.Blocks[0].Logged, "it is logged all the same")
	}
}

func TestOncePlacedTheDogIsTaught(t *testing.T) {
	tries := record.NewDraft(record.KMove, record.MoveData{From: "low", To: "high", Why: progression.WhyTry})
	s := fold(begun(record.Placing, closing(trial.Met), tries, closing(trial.Met)))
	require.Equal(t, "low", s.Blocks[0].Position.Reached, "trying a harder step gives nothing")
	placed := record.NewDraft(record.KMove, record.MoveData{From: "high", To: "high", Why: progression.WhyPlaced})
	s = fold(begun(record.Placing, closing(trial.Met), tries, closing(trial.Met), placed, closing(trial.Met)))
	require.Equal(t, "high", s.Blocks[0].Position.Reached)
	require.True(t, s.Blocks[0].Position.Given)
	require.False(t, s.Trials[1].Counted())
	require.True(t, s.Trials[2].Counted())
	require.Equal(t, record.Placing, s.Blocks[0].Mode, "what it was begun for is kept")
}

func TestOffersAndTags(t *testing.T) {
	count := func(what string, n int) record.Draft {
		return record.NewDraft(record.KCount, record.CountData{What: what, N: n})
	}
	events := begun(record.Train, count(trial.Offer, 1), count(trial.Offer, 3), count("pull", 2))
	require.Equal(t, 4, fold(events).Blocks[0].Offers)
	require.Equal(t, []string{"wind"}, fold(events).Tags)
	events = append(events, event(9, amend(1, "tags", `["wet","busy"]`)))
	require.Equal(t, []string{"wet", "busy"}, fold(events).Tags)
	events = append(events, event(10, retract(3)))
	require.Equal(t, 3, fold(events).Blocks[0].Offers)
	for _, bad := range []record.Draft{
		record.NewDraft(record.KBlock, record.BlockData{Plan: "p", Mode: "teach"}), count(trial.Offer, -1), count(trial.Offer, 1001),
		record.NewDraft(record.KOpen, record.OpenData{Tags: make([]string, 21)}),
	} {
		require.Error(t, record.Check(event(3, bad)))
	}
}
