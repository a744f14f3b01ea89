package evidence_test

import (
	"encoding/json"
	"math"
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/evidence"
	"patientfox/internal/vectors"
)

// Each reference function reads its own input and returns its output as named figures.
var functions = map[string]func(t *testing.T, in json.RawMessage) map[string]any{
	"wilson": func(t *testing.T, in json.RawMessage) map[string]any {
		a := vectors.Read[counts](t, in)
		i := evidence.Wilson(a.Met, a.N, a.Conf)
		return map[string]any{"lo": i.Lo, "hi": i.Hi}
	},
	"jeffreys": func(t *testing.T, in json.RawMessage) map[string]any {
		a := vectors.Read[counts](t, in)
		i := evidence.Jeffreys(a.Met, a.N, a.Conf)
		return map[string]any{"lo": i.Lo, "hi": i.Hi}
	},
	"prob_at_least": func(t *testing.T, in json.RawMessage) map[string]any {
		a := vectors.Read[counts](t, in)
		return map[string]any{"p": evidence.ProbAtLeast(a.Met, a.N, a.Target)}
	},
	"exact_tail": func(t *testing.T, in json.RawMessage) map[string]any {
		a := vectors.Read[counts](t, in)
		return map[string]any{"p": evidence.ExactTail(a.Met, a.N, a.Target)}
	},
	"trials_needed": func(t *testing.T, in json.RawMessage) map[string]any {
		a := vectors.Read[struct {
			Target, Conf float64
			Misses       int
		}](t, in)
		return map[string]any{"n": float64(evidence.TrialsNeeded(a.Target, a.Conf, a.Misses))}
	},
	"prob_decline": func(t *testing.T, in json.RawMessage) map[string]any {
		a := vectors.Read[struct{ Met1, N1, Met2, N2 int }](t, in)
		return map[string]any{"p": evidence.ProbDecline(a.Met1, a.N1, a.Met2, a.N2)}
	},
	"kappa": func(t *testing.T, in json.RawMessage) map[string]any {
		a := vectors.Read[struct{ Table [][]int }](t, in)
		kappa, agreement := evidence.Kappa(a.Table)
		return map[string]any{"kappa": kappa, "agreement": agreement}
	},
	"quantile": func(t *testing.T, in json.RawMessage) map[string]any {
		a := vectors.Read[struct{ X, Q []float64 }](t, in)
		var v []any
		for _, q := range a.Q {
			v = append(v, evidence.Quantile(a.X, q))
		}
		return map[string]any{"v": v}
	},
}

type counts struct {
	Met, N       int
	Conf, Target float64
}

func TestReferenceVectors(t *testing.T) {
	seen := map[string]int{}
	for _, c := range vectors.Load(t, "statistics.json", "decisions.json") {
		function, ours := functions[c.Fn]
		if !ours {
			continue
		}
		seen[c.Fn]++
		vectors.Near(t, c, function(t, c.In))
	}
	for name := range functions {
		require.Positive(t, seen[name], "no reference case for %s", name)
	}
}

func TestWhatFewTrialsCanSay(t *testing.T) {
	require.Equal(t, 45, evidence.ExactNeeded(0.95, 0.90, 0))
	require.Equal(t, 77, evidence.ExactNeeded(0.95, 0.90, 1))
	require.False(t, evidence.ExactPass(5, 5, 0.8, 0.9), "five of five does not show 80 %")
	require.Zero(t, evidence.TrialsNeeded(1, 0.9, 0), "certainty is never shown")
	require.Equal(t, evidence.Interval{Lo: 0, Hi: 1}, evidence.Wilson(0, 0, 0.95))
	require.True(t, math.IsNaN(evidence.Quantile(nil, 0.5)))
	require.InDelta(t, 0.8, evidence.Coverage(8, 2), 1e-12)
	require.InDelta(t, 1.0, evidence.Coverage(0, 0), 1e-12)
}
