package lookback_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"patientfox/core/decision"
	"patientfox/core/lookback"
	"patientfox/core/progression"
	"patientfox/core/record"
	"patientfox/core/reinforce"
	"patientfox/core/schedule"
	"patientfox/core/trial"
)

// worked is a session with so many trials a block, ten seconds apart and each paid.
func worked(blocks map[string]int, order ...string) *record.Session {
	pieces := 60
	f := &record.Session{ID: "s", Pieces: &pieces}
	at := 0.0
	for _, plan := range order {
		b := &record.Block{ID: "block-" + plan, Logged: blocks[plan], BlockData: record.BlockData{Plan: plan}}
		f.Blocks = append(f.Blocks, b)
		for range blocks[plan] {
			f.Trials = append(f.Trials, trial.Trial{Block: b.ID, From: at, At: at + 2, Outcome: trial.Met})
			f.Pays = append(f.Pays, record.Payment{PayData: record.PayData{Pieces: 1}, Block: b.ID, At: at + 2})
			at += 10
		}
		at += 60
	}
	return f
}

func TestASessionBesideItsPlan(t *testing.T) {
	p := lookback.Planned{
		Sheet: schedule.Sheet{WarmS: 60, Finish: "wait", Blocks: []schedule.Block{
			{Plan: "left", Sets: 2, Set: 5, WorkS: 120, Pieces: 10}, {Plan: "right", Sets: 2, Set: 5, WorkS: 120, Pieces: 10},
			{Plan: "wait", Sets: 1, Set: 5, WorkS: 60, Pieces: 5},
		}},
		Names: map[string]string{"left": "Ears, left", "right": "Ears, right", "wait": "Wait", "touch": "Touch"},
		Main:  map[string]string{"left": "ears", "right": "ears", "wait": "wait"},
		Band:  map[string]reinforce.Band{"left": {Lo: 4, Hi: 8}, "right": {Lo: 9, Hi: 12}},
	}
	f := worked(map[string]int{"left": 10, "right": 3, "touch": 4}, "left", "right", "touch")
	f.Warm = []record.Warmup{{Answer: decision.AnswerEager}, {Answer: decision.AnswerSlow}, {Answer: decision.AnswerEager}}
	f.Verdicts = []record.Verdict{{VerdictData: record.VerdictData{Recommended: "make_easier", Action: "work_here"}}}
	c := lookback.Against(p, f)
	require.Len(t, c.Lines, 4)
	require.Equal(t, "10 of 10 trials", c.Lines[0].Trials)
	require.False(t, c.Lines[0].Below)
	require.Equal(t, "none overdue", c.Lines[0].Gaps)
	require.True(t, c.Lines[1].Below, "8 a minute of a planned 9")
	require.True(t, c.Lines[2].Skipped)
	require.Equal(t, "Touch (not planned)", c.Lines[3].Name)
	notes := strings.Join(c.Notes, "\n")
	require.Contains(t, notes, "Warm-up: 2 of 3 eager. Advised: work further off; done: work here.")
	require.Contains(t, notes, "Ears, right had 3 trials, Ears, left 10: the other side falls behind.")
	require.Contains(t, notes, "No easy trial at the end")
	require.Contains(t, notes, "60 treats counted out for the 36 that were planned; 17 paid.")

	f.Moves = []record.Move{{MoveData: record.MoveData{Why: progression.WhyFinish}}}
	f.Warm, f.Verdicts = nil, nil
	notes = strings.Join(lookback.Against(p, f).Notes, "\n")
	require.NotContains(t, notes, "No easy trial")
	require.Contains(t, notes, "Warm-up: left out.")
}

// Blocks are matched in turn: each planned one at most once, and never backwards.
func TestBlocksAreMatchedInTurn(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		plan := rapid.SampledFrom([]string{"a", "b", "c"})
		var planned []schedule.Block
		for _, name := range rapid.SliceOfN(plan, 0, 6).Draw(t, "planned") {
			planned = append(planned, schedule.Block{Plan: name})
		}
		done := rapid.SliceOfN(plan, 0, 8).Draw(t, "worked")
		last := -1
		for k, at := range schedule.Match(planned, done) {
			if at < 0 {
				continue
			}
			require.Greater(t, at, last)
			require.Equal(t, planned[at].Plan, done[k])
			last = at
		}
	})
}
