package decision_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/decision"
	"patientfox/core/evidence"
)

func TestAReckoningSaysWhatFewTrialsCan(t *testing.T) {
	r := decision.Reckon(decision.Defaults(decision.Set), marked("mmmmm"), 5, 1, nil)
	require.Equal(t, evidence.Tally{Met: 5}, r.Tally)
	require.Equal(t, evidence.Wilson(5, 5, 0.95), r.Interval)
	require.Less(t, r.Sure, 0.9, "five of five may be luck")
	require.Equal(t, evidence.TrialsNeeded(0.8, 0.9, 0), r.Needed)
	require.Equal(t, 1, r.Cold)
	require.Equal(t, []int{5, 1}, []int{r.Logged, r.Missed})
}

func TestAReckoningSaysWhatIsStillAsked(t *testing.T) {
	for kind, want := range map[decision.Kind]int{
		decision.Set: 4, decision.Run: 1, decision.Gate: 14, decision.CountUp: 0, decision.Calm: 0,
	} {
		require.Equal(t, want, decision.Reckon(decision.Defaults(kind), marked("mmm|xvmem"), 7, 0, nil).Clean, kind)
	}
	rule, trials := decision.Defaults(decision.Proof), marked("mmmm|mmmx")
	said := decision.Decide(rule, decision.Question{Trials: trials, Step: 2, Last: 9, Unlogged: map[string]int{"1": 1}})
	proof := decision.Reckon(rule, trials, 8, 1, said.Reasons)
	require.Equal(t, decision.Round{Number: 1, Points: decision.Points{Cost: 30, Needs: 97}, Scored: 7 - 2*30}, *proof.Round)
	require.Equal(t, 97+53, proof.Clean, "what was not logged counts as not met")
	require.Equal(t, []int{2, 3, 2, 3, 6}, []int{proof.Sessions, proof.SessionsAsked, proof.Places, proof.PlacesAsked, proof.ColdAsked})
}
