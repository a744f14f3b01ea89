package trial_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/trial"
)

// A trial in no rate is said to be easy only where nobody arranged another task: a lead of none is the harder one.
func TestRearranged(t *testing.T) {
	none := 0.0
	require.True(t, (&trial.Trial{Easy: true, Measures: trial.Measures{LeadS: &none}}).Rearranged())
	require.True(t, (&trial.Trial{Easy: true, Measures: trial.Measures{OutS: &none}}).Rearranged())
	require.False(t, (&trial.Trial{Easy: true}).Rearranged(), "released early, or a last easy one")
	require.False(t, (&trial.Trial{Measures: trial.Measures{LeadS: &none}}).Rearranged(), "as planned")
}
