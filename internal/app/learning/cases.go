// Package learning has the use cases of what sessions show together: those of a dog over all its skills, and those of the practice over
// all its dogs.
package learning

import "patientfox/internal/app"

// Cases are the use cases of one practice. They are safe for concurrent use.
type Cases struct{ *app.Practice }

// New makes them for a practice.
func New(p *app.Practice) *Cases { return &Cases{p} }
