// Package loads has the use cases of what makes a skill harder and easier for a dog, and of how far predictions came true.
package loads

import "patientfox/internal/app"

// Cases are the use cases of one practice. They are safe for concurrent use.
type Cases struct{ *app.Practice }

// New makes them for a practice.
func New(p *app.Practice) *Cases { return &Cases{p} }
