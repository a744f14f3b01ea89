package work_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/criteria"
	"patientfox/core/progression"
	"patientfox/core/trial"
	"patientfox/core/work"
)

// moments are a step of each rung of the ladder that is proposed for a kind, between trials and within one.
func moments(t *testing.T, w *work.Work) (list []work.Moment) {
	t.Helper()
	ladder, problems := progression.Layout{Generators: []progression.Generator{w.First}}.Steps(60)
	require.Empty(t, problems, w.Kind)
	for _, c := range append(ladder, criteria.Criteria{}) {
		between := work.Moment{At: 20, Criteria: c, Seconds: w.Seconds(c), Paces: w.Paces(c), Site: "paw"}
		within := between
		within.Trial = &trial.UnderWay{From: 14}
		list = append(list, between, within)
	}
	return list
}

// On the board of every kind no two keys are the same, none is without a word, and each means something.
func TestEveryKindsBoard(t *testing.T) {
	for _, w := range work.All {
		for _, m := range moments(t, w) {
			shown := append(w.Row(&m), w.Beside(&m)...)
			if m.Trial == nil {
				shown = append(shown, w.Starting(&m))
				require.NotEmpty(t, w.Start(&m), w.Kind)
			} else {
				shown = append(shown, w.Marking(m))
				require.NotEmpty(t, w.Main(&m), w.Kind)
			}
			keys, keyboard := map[work.Key]bool{}, map[string]bool{}
			for _, b := range shown {
				require.NotEmpty(t, b.Key, w.Kind)
				require.NotEmpty(t, b.Label, "%s: %s", w.Kind, b.Key)
				require.False(t, keys[b.Key], "%s: two keys %s", w.Kind, b.Key)
				require.False(t, b.Kbd != "" && keyboard[b.Kbd], "%s: two keys at %s", w.Kind, b.Kbd)
				keys[b.Key], keyboard[b.Kbd] = true, true
			}
			for _, b := range w.Beside(&m) {
				require.NotEmpty(t, w.Own(b.Key, &m), "%s: %s means nothing", w.Kind, b.Key)
			}
			require.Empty(t, w.Own("nobody's", &m))
		}
	}
}

// What a board is asked about is only read: two devices show the same.
func TestABoardIsOnlyRead(t *testing.T) {
	for _, w := range work.All {
		for _, m := range moments(t, w) {
			before := m
			first := w.Row(&m)
			first[0].Label = "scribbled over"
			require.NotEqual(t, first[0].Label, w.Row(&m)[0].Label, w.Kind)
			w.Line(&m)
			require.Equal(t, before, m, w.Kind)
		}
	}
}

// A trial that was met, told by its measures alone, is met for every kind whose trials have a right answer.
func TestTrialsThatWereMetAreMet(t *testing.T) {
	seconds, item, how := 60.0, 3, work.How{Released: true, Timed: true}
	for _, w := range work.All {
		if w.ByState {
			continue
		}
		for _, m := range moments(t, w) {
			done := trial.Trial{LatencyS: f(0.5), HeldS: &seconds, Measures: trial.Measures{Paces: 40, CheckIns: 9, Offered: &item}}
			require.Equal(t, trial.Met, w.Judge(work.JudgeNow, criteria.Definition{}, m.Criteria, &done, how).Outcome, "%s %v", w.Kind, m.Criteria)
			tapped := trial.Trial{Tapped: trial.Missed, LatencyS: f(0.5), HeldS: &seconds, Measures: done.Measures}
			require.Equal(t, trial.Missed, w.Judge(work.JudgeNow, criteria.Definition{}, m.Criteria, &tapped, how).Outcome, w.Kind)
		}
	}
}

// How long a trial takes is never shorter than it takes at the least, and both are times.
func TestHowLongTrialsTake(t *testing.T) {
	for _, w := range work.All {
		for _, m := range moments(t, w) {
			least, takes := w.Least(m.Criteria), w.Takes(m.Criteria)
			require.GreaterOrEqual(t, least, 0.0, w.Kind)
			cycle, n := w.Cycle(m.Criteria, nil, nil)
			require.Zero(t, n)
			require.GreaterOrEqual(t, cycle.Seconds()+1e-9, max(takes, least), "%s %v", w.Kind, m.Criteria)
			require.GreaterOrEqual(t, w.Presses(m.Criteria), 0)
		}
	}
}

// Exposures and care are paid every time, lifelines every second time at the least.
func TestHowThinPayMayBecome(t *testing.T) {
	for _, w := range work.All {
		most := w.MaxRung(false)
		require.LessOrEqual(t, w.MaxRung(true), min(2, most), w.Kind)
		require.Equal(t, w.ByState, most == 1, w.Kind)
	}
}
