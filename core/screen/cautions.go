package screen

import (
	"slices"

	"patientfox/core/caution"
	"patientfox/core/progression"
	"patientfox/core/trial"
)

// cautionNow is a caution of today's step that nothing worked in this session has called for: said until the step has
// had its first trial.
func (r Screen) cautionNow() string {
	b := r.Block()
	if b == nil || r.Session().Ended != nil {
		return ""
	}
	now := r.cautionsOf(r.Today())
	if len(now) == 0 {
		return ""
	}
	var said []string
	if len(r.Session().Moves) == 0 {
		return "" // said before the session
	}
	if first := r.Session().Moves[0]; first.Followed && first.At <= b.At {
		said = r.cautionsOf(stepOf(b.Steps, first.To))
	} else {
		said = r.cautionsOf(stepOf(b.Steps, b.Reached))
	}
	worked := "" // a step is looked at once: many trials in a row are of the same
	for t := range trial.Each(r.Session().Trials) {
		if t.Step != worked {
			worked = t.Step
			said = append(said, r.cautionsOf(stepOf(b.Steps, worked))...)
		}
	}
	for _, line := range now {
		if !slices.Contains(said, line) {
			return line
		}
	}
	return ""
}

func stepOf(steps []progression.Step, id string) progression.Step {
	if at := progression.Index(steps, id); at >= 0 {
		return steps[at]
	}
	return progression.Step{}
}

// cautionsOf are the cautions of one step.
func (r Screen) cautionsOf(s progression.Step) []string {
	return caution.OfStep(caution.StepOf(r.Kind(), s))
}
