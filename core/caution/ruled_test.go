package caution_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/caution"
)

// A dog's flags keep a plan from starting only where the plan asks for what they warn of.
func TestFlagsRuleAPlanOut(t *testing.T) {
	for _, c := range []struct {
		flags string
		plan  caution.Plan
		out   string
	}{
		{"Hip dysplasia, left", caution.Plan{Jumps: true}, "Vet first"},
		{"Hip dysplasia, left", caution.Plan{Handled: true}, ""},
		{"Has BITTEN at the groomer's", caution.Plan{Handled: true}, "certified behaviour professional"},
		{"Has bitten", caution.Plan{Loose: true}, ""},
		{"Bolted from the foghorn twice", caution.Plan{Loose: true}, "Keep the line on"},
		{"Bolted from the foghorn twice", caution.Plan{}, ""},
		{"", caution.Plan{Jumps: true, Handled: true, Loose: true}, ""},
		{"a little habit of barking", caution.Plan{Handled: true}, ""},
	} {
		ruled := caution.RulesOut(c.flags, c.plan)
		require.Equal(t, c.out != "", ruled != nil, "%q %+v", c.flags, c.plan)
		if ruled != nil {
			require.Contains(t, ruled.Instead, c.out)
		}
	}
}
