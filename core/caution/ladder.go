package caution

import (
	"patientfox/core/criteria"
	"patientfox/core/progression"
	"patientfox/core/work"
)

// lowHeight is what no caution is said of, m.
const lowHeight = progression.LowHeight

// StepOf is a step of a kind of work as cautions read it.
func StepOf(kind *work.Work, s progression.Step) Step {
	c := s.Criteria
	return Step{
		Gear: c.Item(criteria.Gear), Tool: c.Item(criteria.Tool), Site: c.Item(criteria.Site), Height: c.Get(criteria.Height) > lowHeight,
		Handled: kind.HandsOn, Trigger: c.Trig, Near: c.Has(criteria.Trigger) || c.Get(criteria.Intensity) > 0,
	}
}

// PlanOf is a ladder of a kind of work as the dog's safety flags read it.
func PlanOf(kind *work.Work, steps []progression.Step) Plan {
	p := Plan{Handled: kind.HandsOn}
	geared := false
	for _, s := range steps {
		p.Jumps = p.Jumps || s.Criteria.Get(criteria.Height) > lowHeight || s.Criteria.Has(criteria.Angle)
		p.Loose = p.Loose || geared && !s.Criteria.Has(criteria.Gear)
		geared = geared || s.Criteria.Has(criteria.Gear)
	}
	return p
}
