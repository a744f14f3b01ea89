package form

import (
	"patientfox/core/criteria"
	"patientfox/core/progression"
)

func TypedStep(s progression.Step, units criteria.Units) Typed {
	t := Typed{"trig": s.Criteria.Trig, "text": s.Criteria.Text}
	for _, d := range s.Criteria.Asked() {
		t[string(d.Key)] = units.Show(d, s.Criteria.Get(d.Key))
	}
	for _, key := range s.Criteria.Vary {
		t["vary_"+string(key)] = "on"
	}
	if s.Safety {
		t["safety"] = "on"
	}
	return t
}
