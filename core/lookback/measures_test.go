package lookback_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/lookback"
	"patientfox/core/pack"
	"patientfox/core/phrase"
	"patientfox/core/progression"
	"patientfox/core/reinforce"
	"patientfox/core/session"
	"patientfox/core/work"
)

// Each kind of work is read back with its own measures.
func TestEveryKindIsReadBackWithItsOwnMeasures(t *testing.T) {
	for _, c := range []struct {
		kind work.Kind
		step criteria.Criteria
		keys []work.Key
		says string
	}{
		{
			work.Walking, criteria.Criteria{}.With(criteria.Paces, 2), []work.Key{work.Main, work.Main, work.PullKey, work.Main},
			"1 pace, 1 pull, loose after 2.0 s",
		},
		{work.Shaping, criteria.Criteria{}.With(criteria.Approx, 1), []work.Key{"offered:2"}, "offered: touches it"},
		{
			work.Attention, criteria.Criteria{}.With(criteria.CheckIns, 1).With(criteria.Duration, 6.5),
			[]work.Key{work.Main, work.Main, work.ThrowKey, work.Main, work.Main},
			"first check-in after 2.0 s, 8 s long, 2 check-ins, back after 2.0 s",
		},
		{
			work.Counter, criteria.Criteria{}.With(criteria.Trigger, 20), []work.Key{work.Main, work.LateKey, work.ItselfKey},
			"on for 2.0 s, itself again after 2 s",
		},
		{
			work.Handling, criteria.Criteria{}.With(criteria.Site, 3), []work.Key{work.DoneKey, work.TakeKey, work.PulledKey},
			"on for 2.0 s, ear, taken, pulled away, let go, really done",
		},
		{
			work.Steadiness, criteria.Criteria{}.With(criteria.Lead, -1), []work.Key{work.Main, work.Main, work.Main},
			"held 4.0 s, distraction 2.0 s before the signal, out for 4.0 s",
		},
	} {
		p := pack.Pack{
			V: 1, Plan: "plan", PlanVersion: 1, Dog: "dog", Skill: "skill", Kind: c.kind, DefVersion: 1,
			Rule: decision.Defaults(decision.Run), Person: "maren",
			Steps: []progression.Step{{ID: "00000000-0000-7000-9000-000000000001", Rev: 1, Criteria: c.step}},
		}
		p.Position = progression.StartOf(p.Steps)
		run, err := session.Open(p)
		require.NoError(t, err)
		n := 0
		h := &session.Hand{Run: run, Session: "s", Dev: "phone", NewID: func() string { n++; return string(rune('a' + n)) }}
		drafts, problem := run.Begin(session.Choice{})
		require.Nil(t, problem)
		h.Do(0, drafts)
		for i, key := range c.keys {
			h.Press(key, int64(2000*(i+1)))
		}
		v := lookback.Read(run.Log(), run.Session(), reinforce.Band{}, phrase.Words{})
		require.Equal(t, c.says, v.Table[0].Measure, c.kind)
	}
}
