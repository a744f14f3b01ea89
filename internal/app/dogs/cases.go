// Package dogs has the use cases of the dogs of a practice: their file, their routine, their sessions, their maps of skills.
package dogs

import "patientfox/internal/app"

// Cases are the use cases of one practice. They are safe for concurrent use.
type Cases struct {
	*app.Practice
}

// New makes them for a practice.
func New(p *app.Practice) *Cases { return &Cases{Practice: p} }
