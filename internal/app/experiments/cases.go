// Package experiments has the use cases of two ways of working a plan that are compared by chance.
package experiments

import "patientfox/internal/app"

// Cases are the use cases of one practice. They are safe for concurrent use.
type Cases struct{ *app.Practice }

// New makes them for a practice.
func New(p *app.Practice) *Cases { return &Cases{p} }
