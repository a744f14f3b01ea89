package caution_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/caution"
)

// A step's cautions are those of its tool, its place on the dog, its gear and what it is worked near, and no others.
func TestAStepBringsItsCautions(t *testing.T) {
	for _, c := range []struct {
		step caution.Step
		says string // a word of the only caution, "" for none
	}{
		{caution.Step{}, ""},
		{caution.Step{Gear: "long line"}, "never wrapped round a hand"},
		{caution.Step{Gear: "tab"}, ""},
		{caution.Step{Handled: true, Tool: "the hair clippers"}, "unplugged"},
		{caution.Step{Handled: true, Tool: "a tool that buzzes"}, "unplugged"},
		{caution.Step{Handled: true, Tool: "the clipper, closed"}, ""},
		{caution.Step{Trigger: "hair dryer, off"}, "unplugged"},
		{caution.Step{Trigger: "sawdust and pumpkins"}, ""},
		{caution.Step{Near: true, Trigger: "gulls"}, "threshold already"},
		{caution.Step{Handled: true, Site: "left ear"}, "Stop on pain"},
		{caution.Step{Site: "left ear"}, ""},
		{caution.Step{Height: true}, "slippery"},
	} {
		list := caution.OfStep(c.step)
		if c.says == "" {
			require.Empty(t, list, "%+v", c.step)
			continue
		}
		require.Len(t, list, 1, "%+v", c.step)
		require.Contains(t, list[0], c.says)
	}
}

// Two sentences about the same thing are one too many.
func TestACautionIsSaidOnce(t *testing.T) {
	line := caution.OfStep(caution.Step{Gear: "long line"})[0]
	own := "A long line goes on a body harness, away from traffic."
	require.Equal(t, []string{own, "Stop on pain."}, caution.Once([]string{own, line, "Stop on pain.", "Stop on pain."}))
}

// How it is there brings cautions too: each once, whatever brought it, and every one leaves the word to others.
func TestHowItIsThereBringsCautions(t *testing.T) {
	require.Empty(t, caution.OfConditions([]string{"wind", "noise", ""}))
	require.Len(t, caution.OfConditions([]string{"people", "hot", "dogs about", "hot"}), 2)
	all := strings.Join(caution.OfConditions(caution.Conditions), " ")
	for _, word := range []string{"hand for five seconds", "to a vet", "leash law", "Nobody pets", "never left to run", "paws looked at"} {
		require.Contains(t, all, word)
	}
}
