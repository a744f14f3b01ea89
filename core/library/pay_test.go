package library_test

import (
	"encoding/json"
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"patientfox/core/criteria"
	"patientfox/core/library"
	"patientfox/core/progression"
	"patientfox/core/reinforce"
	"patientfox/core/work"
)

func steps(list ...criteria.Criteria) []progression.Step {
	out := make([]progression.Step, len(list))
	for i, c := range list {
		out[i] = progression.Step{ID: fmt.Sprint("step-", i), Rev: 1, Criteria: c}
	}
	return out
}

func codes(lints []library.PayLint) (list []string) {
	for _, l := range lints {
		list = append(list, fmt.Sprint(l.Step, l.Code))
	}
	return list
}

var gulls = criteria.Criteria{}.With(criteria.Duration, 4).With(criteria.Trigger, 40).With(criteria.Intensity, 1)

func TestValueAndRateRiseBeforeDifficultyDoes(t *testing.T) {
	ladder := steps(criteria.Criteria{}.With(criteria.Duration, 2), criteria.Criteria{}.With(criteria.Duration, 4), gulls,
		gulls.With(criteria.Trigger, 20), gulls.With(criteria.Intensity, 3))
	b := library.Body{Pay: work.Of(work.Held).Pay}
	require.Equal(t, []string{"2not_raised", "4not_raised"}, codes(b.PayLints(work.Held, ladder, nil)),
		"longer or nearer is no new thing; a trigger is, and a stronger one")
	b.RaisePay(ladder)
	require.Empty(t, b.PayLints(work.Held, ladder, nil), "a new plan raises it")
	require.Len(t, b.StepPay, 2)
	thin := b.StepPay["step-2"]
	thin.Schedule = reinforce.Schedule{Way: reinforce.Variable, K: 3}
	b.StepPay["step-2"] = thin
	require.Equal(t, []string{"2thin"}, codes(b.PayLints(work.Held, ladder, nil)))

	best := library.Body{Pay: reinforce.Strategy{Tier: 5, Band: reinforce.Band{Lo: 6, Hi: 8}, Pieces: 1}}
	require.Empty(t, best.PayLints(work.Held, ladder, nil), "better than the best there is not")
}

func TestWhatCannotBeReachedOrTold(t *testing.T) {
	ladder := steps(criteria.Criteria{}.With(criteria.Handler, 2))
	slow := []reinforce.Cycle{{LatencyS: 2, DeliverS: 6, ResetS: 12}}
	b := library.Body{
		Pay: reinforce.Strategy{Band: reinforce.Band{Lo: 6, Hi: 8}, Pieces: 1, Schedule: reinforce.Schedule{Way: reinforce.Best}},
	}
	require.Equal(t, []string{"0attainable"}, codes(b.PayLints(work.Cued, ladder, slow)))
	require.Equal(t, []string{"0no_latency"}, codes(b.PayLints(work.Held, ladder, slow)), "a hold is paid inside")
}

// Whatever the pay of the steps is, following every fix ends without a lint about it.
func TestFixesOfPayEnd(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var list []criteria.Criteria
		c := criteria.Criteria{}.With(criteria.Duration, 2)
		for range rapid.IntRange(1, 6).Draw(t, "steps") {
			key := rapid.SampledFrom([]criteria.Key{
				criteria.Duration, criteria.Handler, criteria.Trigger, criteria.Intensity, criteria.Moving,
			}).Draw(t, "key")
			c = c.With(key, c.Get(key)+1)
			list = append(list, c)
		}
		ladder := steps(list...)
		draw := func() reinforce.Strategy {
			way := rapid.SampledFrom([]reinforce.Way{reinforce.Every, reinforce.Variable, reinforce.Best}).Draw(t, "way")
			return reinforce.Strategy{
				Tier: rapid.IntRange(1, 5).Draw(t, "tier"), Band: reinforce.Band{Lo: rapid.Float64Range(0, 20).Draw(t, "rate")},
				Pieces: 1, Schedule: reinforce.Schedule{Way: way, K: 3},
			}
		}
		b := library.Body{Pay: draw(), StepPay: map[string]reinforce.Strategy{}}
		for _, s := range ladder {
			if rapid.Bool().Draw(t, "own") {
				b.StepPay[s.ID] = draw()
			}
		}
		for range 4 * len(ladder) {
			lints := b.PayLints(work.Held, ladder, nil)
			if len(lints) == 0 {
				return
			}
			require.NotNil(t, lints[0].To)
			b.StepPay[ladder[lints[0].Step].ID] = *lints[0].To
		}
		t.Fatal("it never ends")
	})
}

func TestWhatIsKnownMayBePaidMoreThinly(t *testing.T) {
	b := library.Body{}
	pay := work.Of(work.Held).Pay
	_, ok := b.Known(work.Held, pay, 19, 19)
	require.False(t, ok, "too early")
	_, ok = b.Known(work.Held, pay, 17, 20)
	require.False(t, ok, "not well enough")
	to, ok := b.Known(work.Held, pay, 18, 20)
	require.True(t, ok)
	require.Equal(t, reinforce.Schedule{Way: reinforce.Variable, K: 4, Thin: true}, to.Schedule)
	to, _ = b.Known(work.Cued, pay, 20, 20)
	require.Equal(t, reinforce.Best, to.Schedule.Way)
	_, ok = b.Known(work.Cued, to, 20, 20)
	require.False(t, ok, "it is already")
	b.Lifeline = true
	to, _ = b.Known(work.Cued, pay, 20, 20)
	require.Equal(t, 2, to.Schedule.K, "never past every second one")
	require.Empty(t, to.Check(work.Of(work.Cued).MaxRung(true), true))
	_, ok = b.Known(work.Handling, pay, 40, 40)
	require.False(t, ok, "care is always paid")
}

func TestOlderBodiesAreRead(t *testing.T) {
	var b library.Body
	require.NoError(t,
		json.Unmarshal([]byte(`{"rule":{"kind":"set"},"band":{"lo":5,"hi":9},"pay_pieces":2,
			"reward":{"value":"very good","schedule":"every one that is met","where":"at the knee","how":"tossed"},"props":"mat"}`),
			&b))
	require.Equal(t, reinforce.Strategy{
		Tier: 4, Band: reinforce.Band{Lo: 5, Hi: 9}, Pieces: 2, Where: "at the knee; tossed",
		Schedule: reinforce.Schedule{Way: reinforce.Every},
	}, b.Pay)
	require.Equal(t, "mat", b.Props)
	raw, err := json.Marshal(b)
	require.NoError(t, err)
	var again library.Body
	require.NoError(t, json.Unmarshal(raw, &again))
	require.Equal(t, b, again, "what is written now is read as it was")
}
