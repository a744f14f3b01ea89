package field

import (
	"encoding/json"
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/pack"
	"patientfox/core/progression"
	"patientfox/core/record"
	"patientfox/core/work"
)

// An event with which the core fails is set aside, and the session goes on without it. No event that is known does so: a plan
// without steps, which no pack can have, stands for a fault that is not known yet.
func TestTheSessionGoesOnWithoutWhatCannotBeRead(t *testing.T) {
	step := progression.Step{ID: "low", Rev: 1, Criteria: criteria.Criteria{}.With(criteria.Duration, 2)}
	p := pack.Pack{Plan: "p", PlanVersion: 1, Skill: "s", DefVersion: 1, Kind: work.Held, Steps: []progression.Step{step}, Rule: decision.Defaults(decision.Set), Place: progression.StartOf([]progression.Step{step})}
	run, err := Open(p)
	require.NoError(t, err)
	run.packs = append(run.packs, pack.Pack{Plan: "broken", PlanVersion: 1})
	d := Door{run: run}
	var events []record.Event
	for n, draft := range []record.Draft{
		record.NewDraft(record.KOpen, record.Open{Dog: "d"}), record.NewDraft(record.KBlock, record.Block{Dog: "d", Skill: "s", Plan: "p", PlanVersion: 1, Definition: 1, Reached: "low"}),
		record.NewDraft(record.KTrial, record.Trial{Outcome: "met"}), record.NewDraft(record.KBlock, record.Block{Dog: "d", Plan: "broken", PlanVersion: 1}),
		record.NewDraft(record.KTrial, record.Trial{Outcome: "met"}),
	} {
		id := fmt.Sprintf("00000000-0000-7000-8000-%012d", n+1)
		events = append(events, record.Event{V: 1, ID: id, Session: id, Dev: "phone", Seq: int64(n + 1), T: int64(n) * 1000, Kind: draft.Kind, Data: draft.Data})
	}
	raw, err := json.Marshal(events)
	require.NoError(t, err)
	var answer struct {
		Error string
		View  *View
	}
	require.NoError(t, json.Unmarshal(d.Call("apply", raw, 5000), &answer))
	require.Empty(t, answer.Error)
	require.Contains(t, answer.View.Log, "2 trials")
	require.Contains(t, answer.View.Log, "1 unreadable event set aside")
	require.NotEmpty(t, d.Call("view", nil, 6000))
}
