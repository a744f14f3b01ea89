package decision_test

import (
	"runtime"
	"strconv"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"patientfox/core/decision"
	"patientfox/core/trial"
)

// anyRule draws a rule of any kind with figures of its own.
func anyRule(t *rapid.T) decision.Rule {
	rule := decision.Defaults(rapid.SampledFrom(decision.Kinds).Draw(t, "kind"))
	draw := func(name string, low, high int) int { return rapid.IntRange(low, high).Draw(t, name) }
	switch rule.Kind {
	case decision.Set:
		rule.Size = draw("size", 2, 6)
		rule.Up = draw("up", 1, rule.Size)
		rule.Back, rule.SplitAfter = draw("back", 0, rule.Up-1), draw("split", 1, 4)
	case decision.Run:
		rule.Up, rule.Back = draw("up", 1, 6), draw("back", 1, 4)
	case decision.Gate:
		rule.Window, rule.BackWindow = draw("window", 2, 12), draw("back window", 2, 12)
		rule.Rate, rule.BackBelow = rapid.Float64Range(0.5, 0.95).Draw(t, "rate"), rapid.Float64Range(0.1, 0.49).Draw(t, "below")
		rule.Sessions, rule.Places = draw("sessions", 1, 3), draw("places", 1, 3)
	case decision.Proof:
		rule.LookBack, rule.Target = draw("look back", 5, 30), rapid.Float64Range(0.5, 0.9).Draw(t, "target")
		rule.Sessions, rule.Places, rule.BackMin = draw("sessions", 1, 3), draw("places", 1, 3), draw("least", 1, 8)
	case decision.CountUp:
		rule.Clean, rule.SplitAfter = draw("clean", 1, 3), draw("split", 1, 4)
		rule.Restart = rapid.SampledFrom([]decision.Restart{decision.RestartOne, decision.RestartHalf, decision.RestartBottom}).Draw(t, "restart")
	case decision.Calm:
		rule.Up = draw("up", 1, 6)
		rule.Expect = draw("expect", 0, rule.Up)
	}
	rule.MissGuard, rule.ErrorGuard = draw("guard", 0, 3), rapid.Bool().Draw(t, "errors")
	rule.Lenient = rapid.Bool().Draw(t, "lenient")
	rule.SlowWrong = rapid.Bool().Draw(t, "slow_wrong")
	return rule
}

// A success more is never held against the dog.
func state(s int) *int { return &s }

func TestAMetTrialNeverTurnsAStepUpIntoAStepBack(t *testing.T) {
	outcomes := []trial.Outcome{trial.Met, trial.Met, trial.Met, trial.Late, trial.Helped, trial.Missed, trial.Void}
	rapid.Check(t, func(t *rapid.T) {
		rule := anyRule(t)
		rule.ErrorGuard = false // it looks from the fifth trial of a session on, whatever that one is
		// As in the usual figures, a gate's window ends with a back window: else the next trial may close one that
		// looks back over other trials.
		rule.Window = rule.BackWindow * rapid.IntRange(1, 3).Draw(t, "back windows")
		var trials []trial.Trial
		for i := range rapid.IntRange(1, 40).Draw(t, "trials") {
			session := strconv.Itoa(i / 10)
			trials = append(trials, trial.Trial{
				ID: strconv.Itoa(i), Session: session, Block: session, Place: session, Cold: i%10 == 0,
				Outcome: rapid.SampledFrom(outcomes).Draw(t, "outcome"), State: state(rapid.SampledFrom([]int{0, 0, 1, 2}).Draw(t, "state")),
			})
		}
		ask := func(trials []trial.Trial) decision.Verdict {
			return decision.Decide(rule, decision.Question{Trials: trials, Step: 3, Last: 6, Ended: true}).Verdict
		}
		last := trials[len(trials)-1]
		more := trial.Trial{ID: "more", Session: last.Session, Block: last.Block, Place: last.Place, Outcome: trial.Met}
		if ask(trials) == decision.StepUp {
			require.NotEqual(t, decision.StepBack, ask(append(trials[:len(trials):len(trials)], more)))
		}
	})
}

// The quick way to ask a rule, which forecasts use, is the same rule.
func TestAMeterAnswersAsTheRuleDoes(t *testing.T) {
	outcomes := []trial.Outcome{trial.Met, trial.Met, trial.Met, trial.Met, trial.Met, trial.Late, trial.Helped, trial.Missed}
	rapid.Check(t, func(t *rapid.T) {
		rule := anyRule(t)
		m := decision.NewMeter(rule)
		last := rapid.IntRange(0, 3).Draw(t, "last")
		step := rapid.IntRange(0, last).Draw(t, "step")
		before := decision.RoundsOver{N: rapid.IntRange(0, 2).Draw(t, "rounds before")}
		waits := before.N > 0 && rapid.Bool().Draw(t, "over in the first session")
		if waits {
			before.In = "0"
		}
		m.Before(step, before.N, waits)
		m.Begin(step, last)
		var trials []trial.Trial
		splits := 0
		for session := range rapid.IntRange(1, 6).Draw(t, "sessions") {
			m.Session()
			place := rapid.IntRange(0, 3).Draw(t, "place")
			for i := range rapid.IntRange(0, 14).Draw(t, "trials") {
				one := trial.Trial{
					ID: strconv.Itoa(len(trials)), Session: strconv.Itoa(session), Block: strconv.Itoa(session), Place: strconv.Itoa(place),
					Outcome: rapid.SampledFrom(outcomes).Draw(t, "outcome"),
					State:   state(rapid.SampledFrom([]int{0, 0, 1, 1, 2, 3}).Draw(t, "state")), Cold: i == 0,
					Splits: splits,
				}
				if rapid.IntRange(0, 9).Draw(t, "a split was taken") == 0 {
					splits++
					one.Splits = splits
					m.Split()
				}
				trials = append(trials, one)
				q := decision.Question{Trials: trials, Step: step, Last: last, RoundsBefore: before}
				mark, _ := decision.MarkOf(one.Outcome)
				said := m.Trial(mark, one.Shown(), one.Cold, uint8(place))
				d := decision.Decide(rule, q)
				require.Equal(t, d.Verdict, said, "%d trials", len(trials))
				if d.Verdict == decision.StepBack && rule.Kind == decision.CountUp {
					require.Equal(t, d.To, m.To())
				}
			}
			if len(trials) > 0 && trials[len(trials)-1].Session == strconv.Itoa(session) && rule.Kind == decision.Proof {
				q := decision.Question{Trials: trials, Step: step, Last: last, Ended: true, RoundsBefore: before}
				require.Equal(t, decision.Decide(rule, q).Verdict, m.Ended())
			}
		}
	})
}

// A forecast takes one meter through thousands of dogs: what one left behind may not grow with the next.
func TestAMeterTakesAnotherDogWithoutNewMemory(t *testing.T) {
	for _, kind := range decision.Kinds {
		m := decision.NewMeter(decision.Defaults(kind))
		dog := func() {
			m.Anew()
			m.Begin(3, 16)
			for at := range 8 {
				m.Insert(at)
				m.Session()
				m.Trial(decision.MarkMet, 0, true, 0)
			}
		}
		dog()
		var before, after runtime.MemStats
		runtime.ReadMemStats(&before)
		for range 2000 {
			dog()
		}
		runtime.ReadMemStats(&after)
		require.Less(t, after.TotalAlloc-before.TotalAlloc, uint64(10_000), "bytes, %s", kind)
	}
}
