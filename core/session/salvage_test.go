package session_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/pack"
	"patientfox/core/progression"
	"patientfox/core/record"
	"patientfox/core/screen"
	"patientfox/core/session"
	"patientfox/core/work"
)

// An event with which the core fails is set aside, and the session goes on without it. No event that is known does so: a plan
// without steps, which no pack can have, stands for a fault that is not known yet.
func TestTheSessionGoesOnWithoutWhatCannotBeRead(t *testing.T) {
	step := progression.Step{ID: "low", Rev: 1, Criteria: criteria.Criteria{}.With(criteria.Duration, 2)}
	p := pack.Pack{
		Plan: "p", PlanVersion: 1, Skill: "s", DefVersion: 1, Kind: work.Held, Steps: []progression.Step{step},
		Rule: decision.Defaults(decision.Set), Position: progression.StartOf([]progression.Step{step}),
	}
	run, err := session.Open(p)
	require.NoError(t, err)
	run.Carry(pack.Pack{Plan: "broken", PlanVersion: 1})
	var events []record.Event
	for n, draft := range []record.Draft{
		record.NewDraft(record.KOpen, record.OpenData{Dog: "d"}),
		record.NewDraft(record.KBlock, record.BlockData{Dog: "d", Skill: "s", Plan: "p", PlanVersion: 1, Definition: 1, Reached: "low"}),
		record.NewDraft(record.KTrial, record.TrialData{Outcome: "met"}),
		record.NewDraft(record.KBlock, record.BlockData{Dog: "d", Plan: "broken", PlanVersion: 1}),
		record.NewDraft(record.KTrial, record.TrialData{Outcome: "met"}),
	} {
		id := fmt.Sprintf("00000000-0000-7000-8000-%012d", n+1)
		events = append(events, record.Event{
			V: 1, ID: id, Session: id, Dev: "phone", Seq: int64(n + 1), T: int64(n) * 1000, Kind: draft.Kind, Data: draft.Data,
		})
	}
	require.Panics(t, func() { run.Apply(events) })
	require.True(t, run.Salvage(func() { screen.Of(run).View(5000) }))
	require.Equal(t, 1, run.Aside())
	require.Contains(t, screen.Of(run).View(5000).Log, "2 trials")
	require.False(t, run.Salvage(func() { screen.Of(run).View(6000) }), "nothing is left to set aside")
}
