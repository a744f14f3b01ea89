package screen

import (
	"patientfox/core/criteria"
	"patientfox/core/say"
)

// SettingView is a setting of the step that can be altered for the next trial.
type SettingView struct {
	Key   criteria.Key `json:"key"`
	Label string       `json:"label"`
	Value string       `json:"value"`          // with its unit, "" where the plan names none
	Other bool         `json:"other"`          // not as planned
	List  bool         `json:"list,omitempty"` // its values are words, one after another
}

func (r Screen) settings() (list []SettingView) {
	units := r.Pack().Units
	for _, d := range r.Settings() {
		figure, other := r.Worked(d)
		v := SettingView{Key: d.Key, Label: d.Label, Other: other, List: d.IsList()}
		if d.IsList() || d.Min > 0 || figure > 0 || r.Today().Criteria.Has(d.Key) || other {
			v.Value = units.Say(d, figure)
		}
		list = append(list, v)
	}
	return list
}

// asWorked says the settings that are not as planned, "" where all are.
func (r Screen) asWorked() string {
	var parts []string
	for _, one := range r.settings() {
		if one.Other {
			parts = append(parts, say.Lower(one.Label)+" "+one.Value)
		}
	}
	return say.List(parts)
}
