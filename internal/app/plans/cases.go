// Package plans has the use cases of plans: laying one out, its steps, rules, definition and needs, its page, and the library
// that plans are made from.
package plans

import "patientfox/internal/app"

// Cases are the use cases of one practice. They are safe for concurrent use.
type Cases struct {
	*app.Practice
}

// New makes them for a practice.
func New(p *app.Practice) *Cases { return &Cases{Practice: p} }
