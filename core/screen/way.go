package screen

import "patientfox/core/phrase"

// way says which way of an experiment the next trial has, "" outside one.
func (r Screen) way() string {
	given, way, of, ok := r.Way()
	if !ok {
		return ""
	}
	return phrase.Way(given, way, of)
}
