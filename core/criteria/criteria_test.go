package criteria_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/criteria"
	"patientfox/core/evidence"
)

func f(x float64) *float64 { return &x }

func TestOutcomesByKind(t *testing.T) {
	held := criteria.Criteria{}.With(criteria.Duration, 10)
	cued := criteria.Criteria{}.With(criteria.Latency, 3)
	for _, c := range []struct {
		name string
		kind criteria.Kind
		c    criteria.Criteria
		raw  criteria.Raw
		want evidence.Outcome
	}{
		{"held to the criterion", criteria.Held, held, criteria.Raw{HeldS: f(10), Released: true}, evidence.Met},
		{"a longer one was asked and broke after it", criteria.Held, held, criteria.Raw{HeldS: f(11)}, evidence.Met},
		{"broke before", criteria.Held, held, criteria.Raw{HeldS: f(9.9)}, evidence.Missed},
		{"helped and broke", criteria.Held, held, criteria.Raw{HeldS: f(5), Helped: true}, evidence.Missed},
		{"helped", criteria.Held, held, criteria.Raw{HeldS: f(12), Helped: true}, evidence.Helped},
		{"on a second cue", criteria.Held, held, criteria.Raw{HeldS: f(12), Cues: 2}, evidence.Late},
		{"spoiled", criteria.Held, held, criteria.Raw{HeldS: f(1), Void: true}, evidence.Void},
		{"in time", criteria.Cued, cued, criteria.Raw{LatencyS: f(3), Cues: 1}, evidence.Met},
		{"over the limit", criteria.Cued, cued, criteria.Raw{LatencyS: f(3.01)}, evidence.Late},
		{"no answer", criteria.Cued, cued, criteria.Raw{Cues: 1}, evidence.Missed},
		{"tapped met, measured late", criteria.Cued, cued, criteria.Raw{Tapped: evidence.Met, LatencyS: f(4)}, evidence.Late},
		{"tapped met, two cues", criteria.Cued, cued, criteria.Raw{Tapped: evidence.Met, Cues: 2}, evidence.Late},
		{"any other tap wins", criteria.Cued, cued, criteria.Raw{Tapped: evidence.Missed, LatencyS: f(1)}, evidence.Missed},
		{"tapped met without measures", criteria.Cued, cued, criteria.Raw{Tapped: evidence.Met}, evidence.Met},
		{"tapped void", criteria.Cued, cued, criteria.Raw{Tapped: evidence.Void, LatencyS: f(1)}, evidence.Void},
	} {
		require.Equal(t, c.want, criteria.Judge(c.kind, c.c, c.raw), c.name)
	}
	require.True(t, criteria.Easier(held, 9.99))
	require.False(t, criteria.Easier(held, 10))
}

func TestTypedFigures(t *testing.T) {
	d, _ := criteria.Find(criteria.Duration)
	for typed, want := range map[string]float64{"12": 12, " 2,5 ": 2.5, "7.4 s": 7.4} {
		got, ok, problem := d.Parse(typed)
		require.Empty(t, problem)
		require.True(t, ok)
		require.InDelta(t, want, got, 1e-12)
	}
	_, ok, problem := d.Parse("  ")
	require.False(t, ok)
	require.Empty(t, problem)
	for _, typed := range []string{"ten", "-3", "1e9", "NaN", "Inf", "0", strings.Repeat("9", 400)} {
		_, _, problem := d.Parse(typed)
		require.NotEmpty(t, problem, typed)
		require.Less(t, len(problem), 200)
	}
	rank, _ := criteria.Find(criteria.Intensity)
	_, _, problem = rank.Parse("2.5")
	require.Contains(t, problem, "whole number")
}

func TestWhatIsHarder(t *testing.T) {
	from := criteria.Criteria{}.With(criteria.Duration, 4).With(criteria.Trigger, 40)
	harder, easier := criteria.Changed(from, from.With(criteria.Duration, 6).With(criteria.Trigger, 60))
	require.Equal(t, criteria.Duration, harder[0].Key)
	require.Equal(t, criteria.Trigger, easier[0].Key)
	harder, _ = criteria.Changed(from, from.With(criteria.Latency, 3))
	require.Len(t, harder, 1, "a new dimension is harder")
	harder, _ = criteria.Changed(from, from.With(criteria.Handler, 0))
	require.Empty(t, harder, "beside the dog is nothing new")
}

func TestChecksNameTheField(t *testing.T) {
	require.Empty(t, criteria.Criteria{}.With(criteria.Duration, 4).Check())
	require.Equal(t, "text", criteria.Criteria{}.Check()[0].Field)
	require.Equal(t, "weight", criteria.Criteria{}.With("weight", 4).Check()[0].Field)
	require.Equal(t, "moving", criteria.Criteria{}.With(criteria.Moving, 1).Check()[0].Field)
	require.Equal(t, "position", criteria.Definition{}.Check()[0].Field)
	asks := criteria.Definition{Position: "nose on the palm", Cue: "touch"}.Missing(criteria.Cued, nil)
	require.Equal(t, []string{"What counts as wrong, or as a break?", "How fast must the dog answer?"}, asks)
}

func TestFiguresAreWrittenAsTrainersWriteThem(t *testing.T) {
	for x, want := range map[float64]string{2: "2", 2.5: "2.5", 5.65685: "5.66", 14.142: "14.1", 120.4: "120", 0.5: "0.5"} {
		require.Equal(t, want, criteria.Figure(x))
	}
}
