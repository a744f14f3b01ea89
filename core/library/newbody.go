package library

import (
	"maps"
	"strconv"

	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/progression"
	"patientfox/core/work"
)

// NewBody is what a new plan holds beside its steps: what its template says, with needs before steps and no longer before numbers;
// without a template that of its kind of work, paid fast, as a new skill is.
func NewBody(from *Template, kind work.Kind, steps []progression.Step) Body {
	if from == nil {
		ladder := make([]criteria.Criteria, len(steps))
		for i := range steps {
			ladder[i] = steps[i].Criteria
		}
		body := Body{Rule: decision.Usual(work.Of(kind).RuleOf(ladder)), Pay: work.Of(kind).Pay}
		body.RaisePay(steps)
		return body
	}
	body := from.Body
	body.Needs, body.StepPay = nil, maps.Clone(body.StepPay) // the template's own stays as it is
	body.RaisePay(steps)
	for _, need := range from.Body.Needs {
		if at, err := strconv.Atoi(need.Before); err == nil && at >= 1 && at <= len(steps) {
			need.Before = steps[at-1].ID
		} else {
			need.Before = ""
		}
		body.Needs = append(body.Needs, need)
	}
	return body
}
