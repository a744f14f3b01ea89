// Package sessiontest has what the tests of running sessions begin with: packs of simple plans, and hands that press their keys.
package sessiontest

import (
	"cmp"
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/pack"
	"patientfox/core/progression"
	"patientfox/core/reinforce"
	"patientfox/core/schedule"
	"patientfox/core/session"
	"patientfox/core/trial"
	"patientfox/core/work"
)

// Begin begins a session of a pack; the hand that it returns presses its keys.
func Begin(t testing.TB, p pack.Pack, c session.Choice) *session.Hand {
	t.Helper()
	run, err := session.Open(p)
	require.NoError(t, err)
	h := &session.Hand{Run: run, Session: "00000000-0000-7000-a000-000000000001", Dev: "phone", By: "maren", NewID: IDs()}
	h.Handler = cmp.Or(c.Handler, h.By)
	drafts, problem := run.Begin(c)
	require.Nil(t, problem)
	h.Do(0, drafts)
	return h
}

// Hold runs n trials from a moment, each ended by key after held ms, and returns the time after.
func Hold(h *session.Hand, at int64, n int, held int64, key work.Key) int64 {
	for range n {
		h.Press(work.Main, at)
		h.Press(key, at+held)
		at += held + 4000
	}
	return at
}

// StepID is the id of the step at an index of a Plan.
func StepID(i int) string { return fmt.Sprintf("00000000-0000-7000-9000-%012d", i) }

// IDs makes ids that are the same in each run.
func IDs() func() string {
	n := 0
	return func() string {
		n++
		return fmt.Sprintf("00000000-0000-7000-8000-%012d", n)
	}
}

// Plan is one of holds of 2, 4, 8 … s, the dog standing at the step with index at.
func Plan(kind work.Kind, steps, at int) pack.Pack {
	p := pack.Pack{
		V: 1, Plan: "plan", PlanVersion: 1, Dog: "dog", DogName: "Tansy", Skill: "skill", SkillName: "Wait at the ramp",
		Kind: kind, DefVersion: 1, Rule: decision.Defaults(decision.Set), Pay: reinforce.Strategy{Band: reinforce.Band{Lo: 4, Hi: 6}, Pieces: 1},
		Places: []pack.Option{{ID: "shed", Name: "the shed", Known: true}, {ID: "quay", Name: "the north quay"}},
		People: []pack.Option{{ID: "maren", Name: "Maren Oduya", Known: true}}, Person: "maren", Days: 1,
	}
	for i := range steps {
		c := criteria.Criteria{}.With(criteria.Duration, float64(int(2)<<i))
		if work.Of(kind).OnCue {
			c = criteria.Criteria{}.With(criteria.Handler, float64(1+i)).With(criteria.Latency, 3)
		}
		p.Steps = append(p.Steps, progression.Step{ID: StepID(i), Rev: 1, Criteria: c})
	}
	p.Position = progression.Position{Reached: StepID(at), Today: StepID(at)}
	return p
}

// Another closes the running block and begins the next, on a newer pack if there is one.
func Another(t testing.TB, h *session.Hand, at int64, renewed *pack.Pack, unlogged string) {
	t.Helper()
	drafts, problem := h.Run.Close(session.Closing{Unlogged: unlogged})
	require.Nil(t, problem)
	h.Do(at, drafts)
	if renewed != nil {
		require.NoError(t, h.Run.Renew(*renewed))
	}
	drafts, problem = h.Run.Begin(session.Choice{})
	require.Nil(t, problem)
	h.Do(at, drafts)
}

// Worked is a plan of a kind whose steps ask for these figures of one dimension, over what all of them ask.
func Worked(t testing.TB, kind work.Kind, rule decision.Kind, all criteria.Criteria, key criteria.Key, figures ...float64) *session.Hand {
	t.Helper()
	p := Plan(kind, len(figures), 0)
	p.Rule = decision.Defaults(rule)
	for i, x := range figures {
		p.Steps[i].Criteria = all.With(key, x)
	}
	return Begin(t, p, session.Choice{Place: "shed", Pieces: "60"})
}

// Cued runs a cued trial from a moment, met after latency ms, and returns the time after.
func Cued(h *session.Hand, at, latency int64) int64 {
	h.Press(work.Main, at)
	h.Press(work.Main, at+latency)
	return at + latency + 4000
}

// Finished is a cued plan whose last step was passed, four days after it was last worked.
func Finished() pack.Pack {
	p := Plan(work.Cued, 6, 5)
	p.Finished, p.Days, p.First = true, 4, false
	return p
}

// Paid lists of the last trials, so many, whether each was paid.
func Paid(h *session.Hand, n int) []bool {
	trials := h.Run.Session().Trials
	var list []bool
	for _, t := range trials[len(trials)-n:] {
		list = append(list, t.Pays > 0)
	}
	return list
}

// Ruled is a Plan under the usual form of a rule.
func Ruled(kind work.Kind, rule decision.Kind, at int) pack.Pack {
	p := Plan(kind, 6, at)
	p.Rule = decision.Defaults(rule)
	return p
}

// Trials are those of a hand's session so far.
func Trials(h *session.Hand) []trial.Trial { return h.Run.Session().Trials }

// Sheeted begins a session on a sheet of two plans.
func Sheeted(t testing.TB, warm float64) (*session.Hand, pack.Pack, pack.Pack) {
	t.Helper()
	first, second := Plan(work.Held, 4, 2), Plan(work.Cued, 4, 2)
	second.Plan, second.Skill, second.SkillName = "plan-2", "skill-2", "Touch"
	for i := range second.Steps {
		second.Steps[i].ID = StepID(40 + i)
	}
	second.Position = progression.StartOf(second.Steps)
	run, err := session.Open(first)
	require.NoError(t, err)
	run.Follow(session.Sheet{
		ID: "sheet-1", Names: map[string]string{first.Plan: "Wait", second.Plan: "Touch"}, Pieces: 40,
		Plan: schedule.Sheet{WarmS: warm, Blocks: []schedule.Block{
			{Plan: first.Plan, Step: first.Steps[2].ID, Sets: 1, Set: 2, BreakS: 60}, {Plan: second.Plan, Step: second.Steps[0].ID, Sets: 1, Set: 2},
		}, Finish: first.Plan},
	})
	h := &session.Hand{Run: run, Session: "00000000-0000-7000-a000-000000000001", Dev: "phone", By: "maren", Handler: "maren", NewID: IDs()}
	drafts, problem := run.Begin(session.Choice{Place: "shed"})
	require.Nil(t, problem)
	h.Do(0, drafts)
	return h, first, second
}

// Sided is a plan with two sides, and the pack of the other one.
func Sided() (left, right pack.Pack) {
	left = Plan(work.Cued, 4, 1)
	left.V, left.Track, left.Tracks = pack.Version, "left", []pack.Option{{ID: "right", Name: "right"}}
	right = Other(left, "right", left.Dog, left.SkillName)
	right.Skill, right.Track, right.Tracks = left.Skill, "right", []pack.Option{{ID: left.Plan, Name: "left"}}
	return left, right
}

// Muzzled is a plan whose trials go on, are worn, and come off.
func Muzzled(t testing.TB, kind work.Kind) *session.Hand {
	t.Helper()
	p := Plan(kind, 4, 1)
	p.V, p.Phases = pack.Version, []work.Phase{{Name: "on"}, {Name: "worn", Seconds: 5}, {Name: "off"}}
	return Begin(t, p, session.Choice{Place: "shed", Pieces: "60"})
}

// Other is the pack of another plan, like the one given.
func Other(p pack.Pack, plan, dog, skill string) pack.Pack {
	p.Plan, p.Skill, p.SkillName, p.Dog, p.DogName = plan, plan+" skill", skill, dog, dog
	return p
}
