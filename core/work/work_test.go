package work_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/criteria"
	"patientfox/core/progression"
	"patientfox/core/trial"
	"patientfox/core/work"
)

func f(x float64) *float64 { return &x }

func TestOutcomesByKind(t *testing.T) {
	held := criteria.Criteria{}.With(criteria.Duration, 10)
	cued := criteria.Criteria{}.With(criteria.Latency, 3)
	for _, c := range []struct {
		name string
		kind work.Kind
		c    criteria.Criteria
		t    trial.Trial
		how  work.How
		want trial.Outcome
	}{
		{"held to the criterion", work.Held, held, trial.Trial{HeldS: f(10)}, work.How{Released: true}, trial.Met},
		{"a longer one was asked and broke after it", work.Held, held, trial.Trial{HeldS: f(11)}, work.How{}, trial.Met},
		{"broke before", work.Held, held, trial.Trial{HeldS: f(9.9)}, work.How{}, trial.Missed},
		{"helped and broke", work.Held, held, trial.Trial{HeldS: f(5)}, work.How{Helped: true}, trial.Missed},
		{"helped", work.Held, held, trial.Trial{HeldS: f(12)}, work.How{Helped: true}, trial.Helped},
		{"on a second cue", work.Held, held, trial.Trial{HeldS: f(12), Cues: 2}, work.How{}, trial.Late},
		{"spoiled", work.Held, held, trial.Trial{HeldS: f(1), Tapped: trial.Void}, work.How{}, trial.Void},
		{"in time", work.Cued, cued, trial.Trial{LatencyS: f(3), Cues: 1}, work.How{}, trial.Met},
		{"over the limit", work.Cued, cued, trial.Trial{LatencyS: f(3.01)}, work.How{}, trial.Late},
		{"no answer", work.Cued, cued, trial.Trial{Cues: 1}, work.How{}, trial.Missed},
		{"tapped met, measured late", work.Cued, cued, trial.Trial{Tapped: trial.Met, LatencyS: f(4)}, work.How{}, trial.Late},
		{"tapped met, two cues", work.Cued, cued, trial.Trial{Tapped: trial.Met, Cues: 2}, work.How{}, trial.Late},
		{"any other tap wins", work.Cued, cued, trial.Trial{Tapped: trial.Missed, LatencyS: f(1)}, work.How{}, trial.Missed},
		{"tapped met without measures", work.Cued, cued, trial.Trial{Tapped: trial.Met}, work.How{}, trial.Met},
		{"tapped void", work.Cued, cued, trial.Trial{Tapped: trial.Void, LatencyS: f(1)}, work.How{}, trial.Void},
	} {
		require.Equal(t, c.want, work.Of(c.kind).Judge(criteria.Definition{}, c.c, &c.t, c.how), c.name)
	}
	require.True(t, work.Easier(held, 9.99))
	require.False(t, work.Easier(held, 10))
}

func TestTheDefinitionSaysWhatIsInTime(t *testing.T) {
	def := criteria.Definition{Position: "nose on the palm", Cue: "“touch”", Cue2: "the palm held out", LatencyS: 2}
	judge := func(one trial.Trial, c criteria.Criteria) trial.Outcome {
		return work.Of(work.Cued).Judge(def, c, &one, work.How{})
	}
	require.Equal(t, trial.Met, judge(trial.Trial{LatencyS: f(1.9), Cues: 2}, criteria.Criteria{}))
	require.Equal(t, trial.Late, judge(trial.Trial{LatencyS: f(1.9), Cues: 3}, criteria.Criteria{}))
	require.Equal(t, trial.Late, judge(trial.Trial{LatencyS: f(2.1)}, criteria.Criteria{}))
	require.Equal(t, trial.Met, judge(trial.Trial{LatencyS: f(2.1)}, criteria.Criteria{}.With(criteria.Latency, 3)), "a step's own limit wins")
}

// Every kind of work asks for what it needs, and is content once it is said.
func TestEachKindAsksForWhatIsMissing(t *testing.T) {
	full := criteria.Definition{
		Position: "as it should be", Postures: "any", Break: "a foot off", Cue: "“so”", Marker: "click", Release: "“go”", LatencyS: 2,
	}
	for _, kind := range work.All {
		require.NotEmpty(t, kind.Missing(criteria.Definition{Position: "x"}, nil), kind.Kind)
		steps := criteria.Criteria{}
		for _, key := range kind.Keys {
			steps = steps.With(key, 1)
		}
		require.Empty(t, kind.Missing(full, []criteria.Criteria{steps}), kind.Kind)
	}
	require.NotContains(t,
		strings.Join(work.Of(work.Shaping).Missing(criteria.Definition{CueBy: "none yet: the dog offers it"}, nil), " "), "cue?")
	asks := work.Of(work.Cued).Missing(criteria.Definition{Position: "nose on the palm", Cue: "touch"}, nil)
	require.Equal(t, []string{"What counts as wrong, or as a break?", "How fast must the dog answer?"}, asks)
}

// What a new ladder is proposed to begin with can be made, and asks what the kind of work is about.
func TestEachKindProposesALadder(t *testing.T) {
	for _, kind := range work.All {
		steps, problems := progression.Layout{Generators: []progression.Generator{kind.First}}.Steps(30)
		require.Empty(t, problems, kind.Kind)
		require.GreaterOrEqual(t, len(steps), 4, kind.Kind)
		require.Contains(t, steps[0].Values, kind.Keys[0], kind.Kind)
	}
}

// The demo and the tests press as a thumb would: a met trial takes its presses and not less than its time.
func TestWhatATrialTakes(t *testing.T) {
	paces := criteria.Criteria{}.With(criteria.Paces, 5)
	require.Equal(t, 4, work.Of(work.Walking).Presses(paces), "and the fifth closes it")
	require.InDelta(t, 3.25, work.Of(work.Walking).Takes(paces), 1e-9)
	require.Equal(t, 5, work.Of(work.Walking).Paces(paces))
	require.Zero(t, work.Of(work.Held).Paces(paces))
	minute := work.Of(work.Attention)
	require.Equal(t, 60.0, minute.Seconds(criteria.Criteria{}))
	require.Equal(t, 30.0, minute.Seconds(criteria.Criteria{}.With(criteria.Duration, 30)))
	require.Equal(t, 60.0, minute.Least(criteria.Criteria{}))
	require.Equal(t, 1, work.Of(work.Steadiness).Presses(criteria.Criteria{}.With(criteria.Lead, -2)))
	require.Zero(t, work.Of(work.Steadiness).Presses(criteria.Criteria{}.With(criteria.Lead, 0)))
	require.Zero(t, work.Of(work.Cued).Seconds(criteria.Criteria{}))
}

func TestANameThatNobodyKnowsIsWorkThatIsOnlyTapped(t *testing.T) {
	require.False(t, work.Kind("juggling").Known())
	unknown := work.Of("juggling")
	m := work.Moment{}
	require.Equal(t, []work.Act{{Do: work.Cue}}, unknown.Start(&m))
	require.Equal(t, trial.Missed, unknown.Judge(criteria.Definition{}, criteria.Criteria{}, &trial.Trial{Tapped: trial.Missed}, work.How{}))
	require.NotEmpty(t, unknown.Missing(criteria.Definition{}, nil))
}
