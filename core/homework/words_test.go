package homework_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/criteria"
	"patientfox/core/homework"
)

// A word is told apart from a signal, and one that means two things is found, however it is written.
func TestWordsThatMeanTwoThings(t *testing.T) {
	words := []homework.Word{
		homework.WordOf("Lie down", criteria.Definition{Cue: "“Down”, once", Cue2: "palm to the floor", Release: "“free”"}),
		homework.WordOf("Off the bench", criteria.Definition{Cue: "down!"}),
		homework.WordOf("Go and play", criteria.Definition{Cue: "free", CueBy: criteria.CueWays[0]}),
		homework.WordOf("Recall", criteria.Definition{Cue: "two short blasts", CueBy: "a whistle", Cue2: "“down here”"}),
		homework.WordOf("Check in", criteria.Definition{CueBy: "none yet: the dog offers it"}),
		homework.WordOf("Sit", criteria.Definition{Cue: "a finger raised", CueBy: criteria.CueWays[1]}),
	}
	require.Equal(t, []string{"“Down”, once", "palm to the floor", "“free”"}, []string{words[0].Spoken, words[0].Signal, words[0].Ends})
	require.Equal(t, []string{"“down here”", "two short blasts"}, []string{words[3].Spoken, words[3].Signal})
	require.Empty(t, words[4].Spoken+words[4].Signal)
	require.Equal(t, "a finger raised", words[5].Signal)
	require.Equal(t, []homework.Conflict{
		{Word: "down", Uses: []string{"Lie down", "Off the bench"}}, {Word: "free", Uses: []string{"Go and play", "the end of Lie down"}},
	}, homework.Conflicts(words))
	require.Empty(t, homework.Conflicts(words[3:]))
	twin := homework.WordOf("Wait", criteria.Definition{Cue: "wait"})
	require.Empty(t, homework.Conflicts([]homework.Word{twin, twin}), "two tracks of one skill")
}
