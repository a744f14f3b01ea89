package trial_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"patientfox/core/trial"
)

func TestWithoutLeavesOutAndChangesNothing(t *testing.T) {
	void := func(t *trial.Trial) bool { return t.Outcome == trial.Void }
	rapid.Check(t, func(t *rapid.T) {
		outcome := rapid.Custom(func(t *rapid.T) trial.Trial {
			outcomes := []trial.Outcome{trial.Met, trial.Void}
			return trial.Trial{ID: rapid.String().Draw(t, "id"), Outcome: rapid.SampledFrom(outcomes).Draw(t, "outcome")}
		})
		trials := rapid.SliceOf(outcome).Draw(t, "trials")
		before := slices.Clone(trials)
		kept := trial.Without(trials, void)
		_ = append(kept, trial.Trial{ID: "another"})
		require.Equal(t, before, trials)
		want := slices.DeleteFunc(slices.Clone(trials), func(t trial.Trial) bool { return t.Outcome == trial.Void })
		require.Len(t, kept, len(want))
		for i := range want {
			require.Equal(t, want[i], kept[i])
		}
	})
}
