package record_test

import (
	"fmt"

	"patientfox/core/criteria"
	"patientfox/core/progression"
	"patientfox/core/record"
	"patientfox/core/trial"
	"patientfox/core/work"
)

// ramp is a book with one plan of one step: wait at the ramp for three seconds.
type ramp struct{}

func (ramp) Steps(string, int) []progression.Step {
	return []progression.Step{{ID: "wait", Rev: 1, Criteria: criteria.Criteria{}.With(criteria.Duration, 3)}}
}

func (ramp) Work(string, int) (work.Kind, criteria.Definition) {
	return work.Held, criteria.Definition{}
}

// A hold of 3.5 s was marked; a second one broke. The events arrive in any order.
func ExampleLog_Fold() {
	at := func(seq int64, ms int64, kind record.Kind, data any) record.Event {
		d := record.NewDraft(kind, data)
		return record.Event{V: 1, ID: fmt.Sprint(seq), Session: "s", Dev: "phone", Seq: seq, T: ms, Kind: d.Kind, Data: d.Data}
	}
	log := record.NewLog(
		at(6, 9000, record.KTrial, record.TrialData{Outcome: trial.Missed}),
		at(1, 0, record.KOpen, record.OpenData{Dog: "tansy"}),
		at(2, 0, record.KBlock, record.BlockData{Dog: "tansy", Plan: "ramp", Reached: "wait"}),
		at(3, 1000, record.KCue, record.CueData{N: 1}),
		at(4, 4500, record.KMark, struct{}{}),
		at(5, 4500, record.KTrial, record.TrialData{}),
	)
	for _, t := range log.Fold(ramp{}).Trials {
		fmt.Println(t.Step, t.Outcome)
	}
	// Output:
	// wait met
	// wait missed
}
