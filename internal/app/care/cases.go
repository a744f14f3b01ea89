// Package care has the use cases of what is done for a dog's care: how it takes each tool at each site, and what is really done when.
package care

import "patientfox/internal/app"

// Cases are the use cases of one practice. They are safe for concurrent use.
type Cases struct {
	*app.Practice
}

// New makes them for a practice.
func New(p *app.Practice) *Cases { return &Cases{Practice: p} }
