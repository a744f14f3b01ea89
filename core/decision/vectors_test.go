package decision_test

import (
	"slices"
	"strconv"
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/decision"
	"patientfox/core/trial"
	"patientfox/internal/vectors"
)

func TestReferenceDecisions(t *testing.T) {
	seen := map[decision.Kind]int{}
	for _, c := range vectors.Load(t, "decisions.json") {
		if c.Fn != "decide" {
			continue
		}
		in := vectors.Read[struct {
			Rule   decision.Kind
			Params decision.Rule
			Trials []struct {
				S, P, B    int
				O          trial.Outcome
				State      int
				Easy, Cold bool
				AfterCue   bool `json:"after_cue"`
			}
			Step, Last int
			MissGuard  int  `json:"miss_guard"`
			ErrorGuard bool `json:"error_guard"`
			Lenient    bool
			Ended      bool
			Unlogged   int
			Before     int `json:"rounds_before"`
			Withheld   int
		}](t, c.In)
		rule := in.Params
		rule.Kind, rule.MissGuard, rule.ErrorGuard, rule.Lenient = in.Rule, in.MissGuard, in.ErrorGuard, in.Lenient
		q := decision.Question{
			Step: in.Step, Last: in.Last, Ended: in.Ended, RoundsBefore: decision.RoundsOver{N: in.Before}, Withheld: in.Withheld,
		}
		q.Unlogged = map[string]int{"": in.Unlogged}
		for _, one := range in.Trials {
			q.Trials = append(q.Trials, trial.Trial{
				Outcome: one.O, State: &one.State, AfterCue: one.AfterCue, Easy: one.Easy, Cold: one.Cold,
				Session: strconv.Itoa(one.S), Place: strconv.Itoa(one.P), Block: strconv.Itoa(one.B),
			})
		}
		d := decision.Decide(rule, q)
		got := map[string]any{"verdict": string(d.Verdict)}
		if in.Rule == decision.Proof {
			r := decision.RoundOf(rule, q.Trials, q.RoundsBefore, q.Unlogged)
			for name, n := range map[string]int{
				"round": r.Number, "trials": len(r.Trials), "points": r.Scored, "cost": r.Cost, "needs": r.Needs,
			} {
				got[name] = float64(n)
			}
			got["over"] = r.Over
		}
		if slices.ContainsFunc(d.Reasons, func(r decision.Reason) bool { return r.Code == decision.EndedEarly }) {
			got["waits"] = true
		}
		if in.Rule == decision.CountUp && d.Verdict == decision.StepBack {
			got["to"] = float64(d.To)
		}
		vectors.Near(t, c, got)
		seen[in.Rule]++
	}
	for _, kind := range decision.Kinds {
		require.GreaterOrEqual(t, seen[kind], 30, kind)
	}
}

func TestReferenceStartSteps(t *testing.T) {
	seen := 0
	for _, c := range vectors.Load(t, "decisions.json") {
		if c.Fn != "start_step" {
			continue
		}
		in := vectors.Read[struct {
			Reached, Steps int
			Days           *int
			NewPlace       bool `json:"new_place"`
			NewHandler     bool `json:"new_handler"`
			Stopped        bool
		}](t, c.In)
		visit := decision.Visit{
			Reached: in.Reached, Steps: in.Steps, First: in.Days == nil,
			NewPlace: in.NewPlace, NewHandler: in.NewHandler, Stopped: in.Stopped,
		}
		if in.Days != nil {
			visit.Days = *in.Days
		}
		step, _ := decision.StartStep(visit)
		vectors.Near(t, c, map[string]any{"step": float64(step)})
		seen++
	}
	require.Positive(t, seen)
}

func TestReferenceHandlerSteps(t *testing.T) {
	seen := 0
	for _, c := range vectors.Load(t, "film.json") {
		if c.Fn != "handler_level" {
			continue
		}
		in := vectors.Read[struct {
			Reached int  `json:"main_reached"`
			Own     *int `json:"own_reached"`
			Steps   int
			Kind    decision.Handling
		}](t, c.In)
		own := -1
		if in.Own != nil {
			own = *in.Own
		}
		vectors.Near(t, c, map[string]any{"opens_at": float64(decision.HandlerStep(in.Reached, in.Steps, own, in.Kind))})
		seen++
	}
	require.Equal(t, 18, seen)
}
