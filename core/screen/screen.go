package screen

import "patientfox/core/session"

// Screen shows one running session.
type Screen struct{ *session.Run }

// Of is the screen of a
func Of(run *session.Run) Screen { return Screen{run} }
