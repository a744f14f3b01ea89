// Package people has the use cases of the people of a practice and its settings: who may come in, from which device, and how the
// practice likes its figures.
package people

import "patientfox/internal/app"

// Cases are the use cases of one practice. They are safe for concurrent use.
type Cases struct {
	*app.Practice
	tries attempts   // of signing in
	asked ceremonies // passkeys that browsers were asked for
}

// New makes them for a practice.
func New(p *app.Practice) *Cases { return &Cases{Practice: p} }
