package decision_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/decision"
)

func TestACueIsProtected(t *testing.T) {
	for _, c := range []struct {
		what     string
		chance   decision.Chance
		protects bool
	}{
		{"nothing is known yet", decision.Chance{Met: 2, N: 9, Unhelped: 9}, false},
		{"nothing is known, and it is harder", decision.Chance{Harder: true}, true},
		{"nothing at this step", decision.Chance{Unhelped: 40}, false},
		{"six of ten: 0.59", decision.Chance{Met: 6, N: 10, Unhelped: 10}, true},
		{"seven of ten: 0.68", decision.Chance{Met: 7, N: 10, Unhelped: 10}, false},
		{"seven of ten, but it is harder", decision.Chance{Met: 7, N: 10, Unhelped: 10, Harder: true}, true},
		{"the record expects 0.5", decision.Chance{Unhelped: 20, Expected: 0.5, Lo: 0.4, Hi: 0.6}, true},
		{"it expects 0.7", decision.Chance{Unhelped: 20, Expected: 0.7, Lo: 0.5, Hi: 0.85}, false},
		{"0.7, but it is harder", decision.Chance{Unhelped: 20, Expected: 0.7, Lo: 0.5, Hi: 0.85, Harder: true}, true},
		{"0.9, and two of twenty here", decision.Chance{Met: 2, N: 20, Unhelped: 20, Expected: 0.9, Lo: 0.8, Hi: 0.95}, true},
		{"0.4 by little, and ten of twelve here", decision.Chance{Met: 10, N: 12, Unhelped: 20, Expected: 0.4, Lo: 0.18, Hi: 0.66}, false},
		{"0.4 by much, and ten of twelve here", decision.Chance{Met: 10, N: 12, Unhelped: 20, Expected: 0.4, Lo: 0.37, Hi: 0.43}, true},
		{"a band without width", decision.Chance{Met: 10, N: 10, Unhelped: 20, Expected: 0.5, Lo: 0.5, Hi: 0.5}, true},
		{"ten of ten", decision.Chance{Met: 10, N: 10, Unhelped: 10, Harder: true}, false},
	} {
		require.Equal(t, c.protects, c.chance.Protects(), c.what)
	}
}
