package fit_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"patientfox/core/fit"
	"patientfox/core/load"
	"patientfox/internal/vectors"
)

func TestReferenceRegressions(t *testing.T) {
	seen := 0
	for _, c := range vectors.Load(t, "statistics.json") {
		if c.Fn != "logistic_map" {
			continue
		}
		in := vectors.Read[struct {
			X        [][]float64
			Y        []int
			W        []float64
			Mean, SD []float64
			At       []float64
		}](t, c.In)
		rows := make([]fit.Observation, len(in.X))
		for i, x := range in.X {
			rows[i] = fit.Observation{X: x, Y: in.Y[i] == 1, W: in.W[i]}
		}
		p := fit.Logistic(rows, fit.Prior{Mean: in.Mean, SD: in.SD}, make([]bool, len(in.Mean)))
		var eta, v float64
		coef, se := make([]any, len(p.Coef)), make([]any, len(p.Coef))
		for i := range p.Coef {
			coef[i], se[i] = p.Coef[i], math.Sqrt(p.Cov[i][i])
			eta += in.At[i] * p.Coef[i]
			for j := range p.Coef {
				v += in.At[i] * p.Cov[i][j] * in.At[j]
			}
		}
		vectors.Near(t, c, map[string]any{
			"coef": coef, "se": se, "eta": eta, "eta_se": math.Sqrt(v), "p": 1 / (1 + math.Exp(-eta)),
		})
		require.LessOrEqual(t, p.Evaluations, 15)
		seen++
	}
	require.Positive(t, seen)
}

func anyConditions(t *rapid.T, name string) load.Conditions {
	return load.Conditions{
		TriggerM: rapid.Float64Range(0.5, 100).Draw(t, name+" m"), Intensity: float64(rapid.IntRange(0, 5).Draw(t, name+" level")),
		Moving: rapid.Bool().Draw(t, name+" moving"), DurationS: rapid.Float64Range(0, 120).Draw(t, name+" s"),
		HandlerM: rapid.Float64Range(0, 20).Draw(t, name+" handler"), Novelty: float64(rapid.IntRange(0, 3).Draw(t, name+" new")),
		Value: float64(rapid.IntRange(1, 5).Draw(t, name+" value")), Rate: rapid.Float64Range(0, 15).Draw(t, name+" rate"),
		Help: rapid.Float64Range(0, 1).Draw(t, name+" help"), Cold: rapid.Bool().Draw(t, name+" cold"),
		Practice: rapid.IntRange(0, 400).Draw(t, name+" practice"),
	}
}

func anyTrials(t *rapid.T) []fit.Trial {
	trials := make([]fit.Trial, rapid.IntRange(0, 40).Draw(t, "trials"))
	for i := range trials {
		trials[i] = fit.Trial{
			Conditions: anyConditions(t, "trial"), Met: rapid.Bool().Draw(t, "met"), Days: rapid.Float64Range(0, 90).Draw(t, "days"),
		}
	}
	return trials
}

// Whatever a dog did, no lever points the wrong way, and what eases a trial never lowers its chance.
func TestALeverNeverPointsTheWrongWay(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		trials := anyTrials(t)
		m := fit.Load(trials)
		require.LessOrEqual(t, fit.Evaluations(trials), 100)
		for term := range load.Terms {
			mean, _ := term.Prior()
			if term != load.Intercept && term != load.Cold && term != load.Practice {
				require.GreaterOrEqual(t, m.Coef[term]*mean, 0.0, "%d", term)
			}
			if m.Fixed[term] {
				require.Zero(t, m.SE(term))
				require.False(t, m.Claimed(term))
			}
		}
		c := anyConditions(t, "now")
		further, paid := c, c
		further.TriggerM *= 2
		paid.Value, paid.Rate = 5, c.Rate+2
		require.GreaterOrEqual(t, m.At(further).P, m.At(c).P-1e-12)
		require.GreaterOrEqual(t, m.At(paid).P, m.At(c).P-1e-12)
		at := m.At(c)
		require.True(t, at.Lo <= at.P && at.P <= at.Hi)
		c.Estimated = true
		require.LessOrEqual(t, m.At(c).Lo, at.Lo+1e-12, "metres that were estimated widen the band")
	})
}

// Each lever that can do it does: the chance is what is aimed at, and one notch less is not enough.
func TestLeversReachWhatIsAimedAt(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		m := fit.Load(anyTrials(t))
		c := anyConditions(t, "now")
		list := m.Levers(c, load.Target)
		if m.At(c).P >= load.Target {
			require.Empty(t, list)
			return
		}
		for _, l := range list {
			if l.Can {
				require.GreaterOrEqual(t, l.P, load.Target-1e-9, "%+v", l)
			}
			if l.Term == load.Distance && l.Can {
				nearer := c
				nearer.TriggerM = l.Value * 0.9
				require.Less(t, m.At(nearer).P, load.Target)
				require.Greater(t, l.Value, c.TriggerM)
			}
			if l.Term == load.Help && l.Can {
				require.InDelta(t, load.Target, l.P, 1e-9)
			}
			if c.Intensity == 0 {
				require.NotContains(t, []load.Term{load.Distance, load.Intensity, load.Moving}, l.Term, "there is no trigger")
			}
		}
	})
}

func TestADogThatWasNeverSeenIsThePrior(t *testing.T) {
	m := fit.Usual()
	for term := range load.Terms {
		mean, sd := term.Prior()
		require.InDelta(t, mean, m.Coef[term], 1e-9)
		require.InDelta(t, sd, m.SE(term), 1e-9)
		require.True(t, m.Grey(term))
		require.False(t, m.Claimed(term))
	}
	c := load.Conditions{TriggerM: 10, Intensity: 2, Value: 3, Rate: 5}
	for _, l := range m.Levers(c, load.Target) {
		require.Equal(t, l.Can && (l.Term == load.Distance || l.Term == load.Value || l.Term == load.Rate || l.Term == load.Help), l.Beyond,
			"nothing was tried: %+v", l)
	}
	_, ok := m.Threshold(load.Conditions{}, load.Target)
	require.False(t, ok, "without a trigger there is no threshold")
}

// Trials long ago weigh less, and metres under half a metre count as that.
func TestWhatWasLongAgoWeighsLess(t *testing.T) {
	c := load.Conditions{Value: 3, Rate: 5}
	fit := func(days float64) float64 {
		var trials []fit.Trial
		for range 20 {
			trials = append(trials, fit.Trial{Conditions: c, Days: days})
		}
		return fit.Load(trials).At(c).P
	}
	require.Less(t, fit(0), fit(21))
	require.Less(t, fit(21), fit(200))
	near := load.Conditions{TriggerM: 0.1, Intensity: 1}
	half := near
	half.TriggerM = 0.5
	require.Equal(t, half.X(), near.X())
}

// Each trial is predicted by earlier sessions alone, and stands in one tenth.
func TestPredictionsLookBackAlone(t *testing.T) {
	near := load.Conditions{TriggerM: 10, Intensity: 3}
	trials := func(met bool) (list []fit.Trial) {
		for range 10 {
			list = append(list, fit.Trial{Conditions: near, Met: met, Step: "one"})
		}
		return list
	}
	list := fit.Predict([]fit.Session{{Trials: trials(false)}, {Trials: trials(true), Day: 2}})
	require.Len(t, list, 20)
	require.Equal(t, fit.Usual().At(near).P, list[0].P, "nothing was known")
	require.Equal(t, list[0].P, list[9].P, "nor within the session")
	require.Less(t, list[10].P, list[0].P)
	require.Equal(t, []float64{0.5, 0.5 / 10}, []float64{list[0].Running, list[9].Running})
	n := 0
	for _, tenth := range fit.Tenths(list) {
		n += tenth.N
	}
	require.Equal(t, 20, n)
	model, running := fit.Brier(list)
	require.Positive(t, min(model, running))
	model, running = fit.Brier(nil)
	require.Zero(t, model+running)
}
