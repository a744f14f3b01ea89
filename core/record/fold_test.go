package record_test

import (
	"encoding/json"
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"patientfox/core/criteria"
	"patientfox/core/progression"
	"patientfox/core/record"
	"patientfox/core/screen"
	"patientfox/core/session"
	"patientfox/core/trial"
	"patientfox/core/work"
	"patientfox/internal/randomlog"
)

// book is one plan with a held skill of two steps.
type book struct{}

func (book) Steps(string, int) []progression.Step {
	return []progression.Step{
		{ID: "low", Rev: 1, Criteria: criteria.Criteria{}.With(criteria.Duration, 2)},
		{ID: "high", Rev: 1, Criteria: criteria.Criteria{}.With(criteria.Duration, 4)},
	}
}

func (book) Work(string, int) (work.Kind, criteria.Definition) {
	return work.Held, criteria.Definition{}
}

func id(n int) string { return fmt.Sprintf("00000000-0000-7000-8000-%012d", n) }

// script writes events of one device a second apart, numbered from 1 as their ids.
func script(drafts ...record.Draft) []record.Event {
	events := []record.Event{
		event(1, record.NewDraft(record.KOpen, record.OpenData{Dog: "dog"})),
		event(2, record.NewDraft(record.KBlock, record.BlockData{Plan: "p", Reached: "low"})),
	}
	for _, d := range drafts {
		events = append(events, event(len(events)+1, d))
	}
	return events
}

func event(n int, d record.Draft) record.Event {
	return record.Event{
		V: 1, ID: id(n), Session: id(999), Dev: "phone", Seq: int64(n), T: int64(n) * 1000, Wall: int64(n), Kind: d.Kind,
		Data: d.Data,
	}
}

func closing(o trial.Outcome) record.Draft {
	return record.NewDraft(record.KTrial, record.TrialData{Outcome: o})
}

func retract(n int) record.Draft {
	return record.NewDraft(record.KRetract, record.RetractData{Target: id(n)})
}

func amend(n int, field, value string) record.Draft {
	return record.NewDraft(record.KAmend, record.AmendData{Target: id(n), Set: map[string]json.RawMessage{field: json.RawMessage(value)}})
}

func fold(events []record.Event) *record.Session { return record.NewLog(events...).Fold(book{}) }

func TestRetractAndRedo(t *testing.T) {
	require.Empty(t, fold(script(closing(trial.Met), retract(3))).Trials)
	require.Len(t, fold(script(closing(trial.Met), retract(3), retract(4))).Trials, 1, "a retracted retract is a redo")
	require.Empty(t, fold(script(closing(trial.Met), retract(3), retract(4), retract(5))).Trials)
	require.Len(t, fold(script(closing(trial.Met), retract(99))).Trials, 1, "a target that has not come waits")
	ring := script(closing(trial.Met), retract(5), retract(4), retract(5))
	require.Len(t, fold(ring).Trials, 1)
}

func TestAmendTakesTheLastAndOnlyItsFields(t *testing.T) {
	s := fold(script(closing(trial.Met), amend(3, "outcome", `"late"`), amend(3, "outcome", `"missed"`)))
	require.Equal(t, trial.Missed, s.Trials[0].Outcome)
	require.True(t, s.Trials[0].Amended)
	s = fold(script(closing(trial.Met), amend(3, "outcome", `"splendid"`), amend(2, "plan", `"other"`)))
	require.Equal(t, trial.Met, s.Trials[0].Outcome, "a value that does not fit changes nothing")
	require.Equal(t, "p", s.Blocks[0].Plan)
	require.False(t, s.Trials[0].Amended)
	s = fold(script(closing(trial.Met), amend(3, "outcome", `"missed"`), retract(4)))
	require.Equal(t, trial.Met, s.Trials[0].Outcome)
}

func TestMovesThatBeginElsewhereAreKeptAndFlagged(t *testing.T) {
	up := record.NewDraft(record.KMove, record.MoveData{From: "low", To: "high", Why: progression.WhyStepUp})
	s := fold(script(up, up, closing(trial.Met)))
	require.True(t, s.Moves[0].Followed)
	require.False(t, s.Moves[1].Followed)
	require.Equal(t, "high", s.Trials[0].Step)
	require.Equal(t, []record.Flag{{Event: id(4), Code: "move_apart"}}, s.Flags)
}

func TestAHoldIsMeasuredAndAnotherDevicesTrialsWait(t *testing.T) {
	cue, release := record.NewDraft(record.KCue, record.CueData{N: 1}), record.NewDraft(record.KRelease, struct{}{})
	events := script(cue, release, closing(""), cue, closing(""))
	helper := event(20, record.NewDraft(record.KTrial, record.TrialData{Outcome: trial.Missed}))
	helper.Dev = "helper"
	s := fold(append(events, helper))
	require.InDelta(t, 1.0, *s.Trials[0].HeldS, 1e-9)
	require.Equal(t, trial.Missed, s.Trials[0].Outcome, "released after 1 of 2 s, and nothing was tapped")
	require.Len(t, s.Trials, 3)
	require.False(t, s.Trials[2].Counted())
	require.Equal(t, 2, s.Blocks[0].Logged)
	accept := event(21, record.NewDraft(record.KAmend, record.AmendData{
		Target: helper.ID, Set: map[string]json.RawMessage{"accepted": []byte("true")},
	}))
	require.True(t, fold(append(events, helper, accept)).Trials[2].Counted())
}

func TestATallyIsOneSetWithoutOrder(t *testing.T) {
	s := fold(script(record.NewDraft(record.KTally, record.TallyData{Met: 4, Missed: 1}),
		record.NewDraft(record.KUnlogged, record.UnloggedData{Block: id(2), N: 5})))
	require.Len(t, s.Trials, 5)
	require.True(t, s.Trials[0].Tally)
	require.InDelta(t, 0.5, s.Blocks[0].Coverage(), 1e-12)
}

func TestAnyOrderWithDuplicatesFoldsTheSame(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		seed := rapid.Uint64().Draw(t, "seed")
		pack, events := randomlog.Make(seed, rapid.IntRange(0, 80).Draw(t, "presses"))
		one, err := session.Open(pack)
		require.NoError(t, err)
		other, err := session.Open(pack)
		require.NoError(t, err)
		one.Apply(events)
		for _, e := range randomlog.Shuffle(rapid.Uint64().Draw(t, "order"), events) {
			other.Apply([]record.Event{e})
		}
		bit, err := session.Open(pack)
		require.NoError(t, err)
		for _, e := range events { // as a phone does: one after another, read after each
			bit.Apply([]record.Event{e})
		}
		require.Equal(t, one.Session(), bit.Session())
		want, got := one.Session(), other.Session()
		require.Equal(t, want.Trials, got.Trials)
		require.Equal(t, want.Pays, got.Pays)
		require.Equal(t, want.Moves, got.Moves)
		require.Equal(t, want.Flags, got.Flags)
		require.Equal(t, screen.Of(one).View(1_000_000), screen.Of(other).View(1_000_000))
	})
}

func TestTheSameIDWithOtherContentIsSetAside(t *testing.T) {
	events := script(closing(trial.Met))
	log := record.NewLog(events...)
	again := events[2]
	again.Data = json.RawMessage(`{ "outcome": "met" }`)
	require.Equal(t, record.Duplicate, log.Add(again), "white space is no content")
	again.Data = json.RawMessage(`{"outcome":"missed"}`)
	require.Equal(t, record.Conflict, log.Add(again))
	require.Equal(t, trial.Met, log.Fold(book{}).Trials[0].Outcome)
}

func TestCheckRefusesWithASentence(t *testing.T) {
	good := script(closing(trial.Met))[2]
	require.NoError(t, record.Check(good))
	for name, spoil := range map[string]func(*record.Event){
		"version":  func(e *record.Event) { e.V = 2 },
		"id":       func(e *record.Event) { e.ID = "1" },
		"seq":      func(e *record.Event) { e.Seq = 0 },
		"time":     func(e *record.Event) { e.T = -3 },
		"far time": func(e *record.Event) { e.T = 1e12 },
		"kind":     func(e *record.Event) { e.Kind = "" },
		"data":     func(e *record.Event) { e.Data = json.RawMessage(`[`) },
		"outcome":  func(e *record.Event) { e.Data = json.RawMessage(`{"outcome":"great"}`) },
		"latency":  func(e *record.Event) { e.Data = json.RawMessage(`{"latency_s":-3}`) },
		"device":   func(e *record.Event) { e.Dev = "" },
		"pieces":   func(e *record.Event) { e.Kind, e.Data = record.KPay, json.RawMessage(`{"pieces":1000000000}`) },
		"unlogged": func(e *record.Event) { e.Kind, e.Data = record.KUnlogged, json.RawMessage(`{"n":-1}`) },
		"self":     func(e *record.Event) { e.Kind, e.Data = record.KRetract, json.RawMessage(`{"target":"`+e.ID+`"}`) },
	} {
		e := good
		spoil(&e)
		require.Error(t, record.Check(e), name)
	}
	unknown := good
	unknown.Kind, unknown.Data = "weather", json.RawMessage(`{"rain":true}`)
	require.NoError(t, record.Check(unknown), "unknown kinds are kept")
}

func BenchmarkFold(b *testing.B) {
	for _, n := range []int{100, 1000} {
		b.Run(fmt.Sprint(n), func(b *testing.B) {
			pack, events := randomlog.Make(3, n)
			events = events[:min(n, len(events))]
			run, err := session.Open(pack)
			require.NoError(b, err)
			b.ResetTimer()
			for range b.N {
				record.NewLog(events...).Fold(run)
			}
		})
	}
}

// A trial of a mixed block that was logged for the wrong skill is put with the right one; what is worked goes on as it was.
func TestATrialIsPutWithTheOtherSkill(t *testing.T) {
	s := fold(script(
		closing(trial.Met), // 3, in the first block
		record.NewDraft(record.KBlock, record.BlockData{Plan: "q", Reached: "high", With: id(2)}), // 4
		closing(trial.Missed), // 5, in the second
		closing(trial.Met),    // 6
		amend(5, "block", `"`+id(2)+`"`), amend(6, "handler", `"jorun"`), amend(3, "block", `"none"`),
	))
	require.Equal(t, []string{id(2), id(2), id(4)}, []string{s.Trials[0].Block, s.Trials[1].Block, s.Trials[2].Block})
	require.Equal(t, []string{"low", "low", "high"}, []string{s.Trials[0].Step, s.Trials[1].Step, s.Trials[2].Step})
	require.Equal(t, "jorun", s.Trials[2].Handler)
	require.Equal(t, []int{2, 1}, []int{s.Blocks[0].Logged, s.Blocks[1].Logged})
	require.Equal(t, s.Blocks[1], s.At, "the second is still worked")
	require.Len(t, s.InTurn(s.Blocks[0]), 2)
	require.Nil(t, fold(script()).InTurn(fold(script()).Blocks[0]))
}

// What is put in later counts at the step it names, and takes neither a trial that is under way nor a pay that follows.
func TestWhatIsPutInTakesNothing(t *testing.T) {
	held := 5.0
	s := fold(script(
		record.NewDraft(record.KCue, record.CueData{N: 1}),
		record.NewDraft(record.KTrial, record.TrialData{
			Outcome: trial.Met, HeldS: &held, Elsewhere: record.Elsewhere{Block: id(2), Put: true, Step: "high"},
		}),
		record.NewDraft(record.KPay, record.PayData{Pieces: 3, For: id(4)}),
		closing(trial.Met),
		record.NewDraft(record.KPay, record.PayData{Pieces: 1}),
	))
	require.Len(t, s.Trials, 2)
	require.Equal(t, "high", s.Trials[0].Step)
	require.True(t, s.Trials[0].PutIn)
	require.Equal(t, []int{3, 1}, []int{s.Trials[0].Pieces, s.Trials[1].Pieces})
	require.Equal(t, 3.0, *s.Trials[1].HeldS, "the one under way goes on from its cue")
	require.Nil(t, s.Trying)
}

func TestAReaderGoesOnWhereItWas(t *testing.T) {
	log := record.NewLog(script(closing(trial.Met), record.NewDraft(record.KUnlogged, record.UnloggedData{Block: id(2), N: 3}),
		record.NewDraft(record.KPause, struct{}{}))...)
	reader := log.Follow(book{})
	first := reader.Session()
	require.True(t, first.Paused)
	require.Len(t, first.Breaks, 1)
	log.Add(event(6, record.NewDraft(record.KTrial, record.TrialData{Outcome: trial.Met, Elsewhere: record.Elsewhere{Put: true}})))
	log.Add(event(7, record.NewDraft(record.KResume, struct{}{})))
	again := reader.Session()
	require.Same(t, first, again)
	require.False(t, again.Paused)
	require.Len(t, again.Breaks, 1, "the one that was open has ended")
	require.Equal(t, 2, again.Blocks[0].Unlogged, "one of them was put in")
	require.Equal(t, 2, reader.Session().Blocks[0].Unlogged, "and is taken off once")
	log.Add(event(8, retract(3)))
	undone := reader.Session()
	require.Equal(t, log.Fold(book{}), undone)
	require.Len(t, undone.Trials, 1)
}
