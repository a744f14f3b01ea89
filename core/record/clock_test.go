package record_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/record"
	"patientfox/core/reinforce"
	"patientfox/core/trial"
)

// One clock for every rate and gap: from the first cue to the end of the last trial, breaks and the time between blocks left out.
func TestActiveTime(t *testing.T) {
	cue, pay := record.NewDraft(record.KCue, record.CueData{N: 1}), record.NewDraft(record.KPay, record.PayData{Pieces: 1})
	pause, resume := record.NewDraft(record.KPause, struct{}{}), record.NewDraft(record.KResume, struct{}{})
	next := record.NewDraft(record.KBlock, record.BlockData{Plan: "q", Reached: "low"})
	s := fold(script(pay, cue, closing(trial.Met), pause, resume, cue, closing(trial.Met), pay, next, cue, closing(trial.Missed)))
	first, second := s.Blocks[0], s.Blocks[1]
	clock, end, begun := s.ClockOf(first) // cue at 4 s, trials at 5 and 9, a break from 6 to 7
	require.True(t, begun)
	require.InDelta(t, 9, end, 1e-9, "a pay after the last trial adds no time")
	require.Zero(t, clock.Active(3), "nor does one before the first cue")
	require.InDelta(t, 4, s.ActiveIn(first.ID), 1e-9)
	require.InDelta(t, 1, s.ActiveIn(second.ID), 1e-9)
	both, end, _ := s.ClockOf(s.Blocks...)
	require.InDelta(t, 5, both.Active(end), 1e-9, "what lies between two blocks belongs to neither")

	fed := fold(script(pay, pay, pay))
	clock, end, begun = fed.ClockOf(fed.Blocks[0])
	require.True(t, begun)
	require.InDelta(t, 2, clock.Active(end), 1e-9, "where nothing was asked: from the first pay to the last")
	_, _, begun = fold(script()).ClockOf(fed.Blocks[0])
	require.False(t, begun)

	// What waits for the dog is no work: no pay is overdue then.
	s.Waits = append(s.Waits, reinforce.Span{From: 8, To: 8.5})
	require.InDelta(t, 3.5, s.ActiveIn(first.ID), 1e-9)

	// What a tally counts was worked in a time of which nobody logged when it was paid.
	tally := record.NewDraft(record.KTally, record.TallyData{Met: 4, Missed: 1})
	s = fold(script(cue, closing(trial.Met), pay, pause, resume, tally, cue, closing(trial.Met)))
	require.Len(t, s.Trials, 7)
	require.InDelta(t, 4, s.ActiveIn(s.Blocks[0].ID), 1e-9, "from the cue to the pay, and from the tally on")
}
