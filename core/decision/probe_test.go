package decision_test

import (
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"patientfox/core/decision"
	"patientfox/core/trial"
)

func TestAProbeHoldsIsRepeatedOrGoesBack(t *testing.T) {
	for marks, want := range map[string]decision.Verdict{
		"":    decision.Repeat,
		"m":   decision.Held,
		"mx":  decision.Held, // what comes after the probe is not the probe
		"vm":  decision.Held,
		"x":   decision.Repeat,
		"l":   decision.Repeat, // late is not met
		"xm":  decision.Repeat,
		"xmm": decision.Held,
		"xx":  decision.StepBack,
		"xmx": decision.StepBack,
		"x4":  decision.Stop,
	} {
		require.Equal(t, want, decision.Maintain(marked(marks), 5).Verdict, marks)
	}
	require.Equal(t, 3, decision.Maintain(marked("xx"), 5).To)
	require.Equal(t, 0, decision.Maintain(marked("xx"), 1).To, "never below the first")
	require.Equal(t, []decision.Code{decision.ProbeKept}, codes(decision.Maintain(marked("xmm"), 5)))
}

// The dog can do every step below one, and none from there on.
func TestADogIsPlacedTwoBelowTheLastThatWasMet(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		steps := rapid.IntRange(1, 40).Draw(t, "steps")
		can := rapid.IntRange(0, steps).Draw(t, "can")
		var tries []decision.Try
		for {
			d := decision.PlaceAt(tries, steps)
			if d.Verdict == decision.Placed {
				last := -1
				for _, one := range tries {
					if one.Outcome == trial.Met {
						last = one.Step
					}
				}
				require.Equal(t, max(0, last-2), d.To)
				require.LessOrEqual(t, d.To, max(0, can-1), "never where it has not shown anything")
				return
			}
			require.Less(t, len(tries), steps+2)
			require.Zero(t, d.To%3*(steps-1-d.To), "every third step, and the last")
			one := decision.Try{Step: d.To, Outcome: trial.Missed}
			if d.To < can {
				one.Outcome = trial.Met
			}
			if rapid.Bool().Draw(t, "void") && len(tries) == 0 {
				tries = append(tries, decision.Try{Step: d.To, Outcome: trial.Void})
			}
			tries = append(tries, one)
		}
	})
}
