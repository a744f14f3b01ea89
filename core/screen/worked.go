package screen

import "patientfox/core/criteria"

// SettingView is a setting of the step that can be altered for the next trial.
type SettingView struct {
	Key   criteria.Key `json:"key"`
	Label string       `json:"label"`
	Value string       `json:"value"` // with its unit
	Other bool         `json:"other"` // not as planned
}

func (r Screen) settings() (list []SettingView) {
	units := r.Pack().Units
	for _, d := range r.Settings() {
		figure, other := r.Worked(d.Key)
		list = append(list, SettingView{d.Key, d.Label, units.Say(d, figure), other})
	}
	return list
}
