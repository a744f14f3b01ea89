package work

import "patientfox/core/criteria"

// Measure is something of a trial that can be said, or corrected later. Name is its field in the event.
type Measure struct{ Name, Label string }

// Measures are those of a trial of the kind at a step: what the kind always takes, and what the step names besides.
func (w *Work) Measures(c criteria.Criteria) (list []Measure) {
	add := func(has bool, name, label string) {
		if has {
			list = append(list, Measure{name, label})
		}
	}
	add(w.ByState, "state", "State")
	add(!w.ByState, "outcome", "Outcome")
	add(w.Offers(c), "offered", "It offered")
	add(w.Answers || !w.ByState && c.Has(criteria.Latency), "latency_s", "Answered after, s")
	add(w.Keeps || w.ByState || c.Has(criteria.Duration), "held_s", "Seconds")
	add(w.Walks, "paces", "Paces")
	add(w.Walks, "pulls", "Pulls")
	add(w.Minutes, "check_ins", "Check-ins")
	add(w.Keeps && w.Stimulus, "lead_s", "Distraction after the cue, s")
	add(w.Keeps && w.Stimulus, "out_s", "Distraction out, s")
	add(w.HandsOn, "site", "Site")
	add(w.HandsOn, "tool", "Tool")
	add(w.HandsOn, "taken", "By whom")
	add(w.HandsOn, "pulled", "Pulled away")
	add(w.HandsOn, "done", "Really done")
	add(w.ByState, "recovery_s", "Itself again after, s")
	return list
}
