package field

import (
	"slices"

	"patientfox/core/caution"
	"patientfox/core/criteria"
	"patientfox/core/progression"
	"patientfox/core/work"
)

// cautionsOf are the cautions of one step.
func (r *Run) cautionsOf(s progression.Step) []string {
	c := s.Criteria
	return caution.OfStep(caution.Step{
		Gear: c.Item(criteria.Gear), Tool: c.Item(criteria.Tool), Site: c.Item(criteria.Site), Height: c.Get(criteria.Height) > lowHeight,
		Handled: r.work().HandsOn, Trigger: c.Trig, Near: c.Has(criteria.Trigger) || c.Get(criteria.Intensity) > 0,
	})
}

// RuledOut says whether a dog's safety flags keep a plan with these steps from starting, nil where they do not.
func RuledOut(flags string, kind work.Kind, steps []progression.Step) *caution.Ruled {
	p := caution.Plan{Handled: work.Of(kind).HandsOn}
	geared := false
	for _, s := range steps {
		p.Jumps = p.Jumps || s.Criteria.Get(criteria.Height) > lowHeight || s.Criteria.Has(criteria.Angle)
		p.Loose = p.Loose || geared && !s.Criteria.Has(criteria.Gear)
		geared = geared || s.Criteria.Has(criteria.Gear)
	}
	return caution.RulesOut(flags, p)
}

// lowHeight is what no caution is said of, m.
const lowHeight = 0.2

// cautionNow is a caution of today's step that nothing worked in this session has called for: said until the step has
// had its first trial.
func (r *Run) cautionNow() string {
	b := r.block()
	if b == nil || r.s.Ended != nil {
		return ""
	}
	now := r.cautionsOf(r.step())
	if len(now) == 0 {
		return ""
	}
	var said []string
	if len(r.s.Moves) == 0 {
		return "" // said before the session
	}
	if first := r.s.Moves[0]; first.Followed && first.At <= b.At {
		said = r.cautionsOf(stepOf(b.Steps, first.To))
	} else {
		said = r.cautionsOf(stepOf(b.Steps, b.Reached))
	}
	for _, t := range r.s.Trials {
		said = append(said, r.cautionsOf(stepOf(b.Steps, t.Step))...)
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
