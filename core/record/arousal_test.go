package record_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/decision"
	"patientfox/core/record"
)

// Two dogs that are worked in one session: the excitement of one calls for nothing from the other.
func TestEachDogIsExcitedForItself(t *testing.T) {
	block := func(id, dog string) *record.Block {
		return &record.Block{ID: id, BlockData: record.BlockData{Dog: dog}}
	}
	s := record.Session{
		Dog:    "tansy",
		Blocks: []*record.Block{block("a", "tansy"), block("b", "brine"), block("c", "tansy")},
		Arousals: []record.Arousal{
			{Block: "a", At: 1, Level: 2}, {Block: "b", At: 2, Level: 2}, {Block: "c", At: 3, Level: 2},
		},
	}
	require.Equal(t, decision.Steady, s.Excited("tansy", 2))
	require.Equal(t, decision.Steady, s.Excited("brine", 9))
	require.Equal(t, decision.NeedsBreak, s.Excited("tansy", 9))
	require.Equal(t, "tansy", s.DogOf("none"))
}
