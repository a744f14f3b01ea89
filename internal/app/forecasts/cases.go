// Package forecasts has the use cases of what lies ahead of plans, and of how forecasts came true over the practice.
package forecasts

import "patientfox/internal/app"

// Cases are the use cases of one practice. They are safe for concurrent use.
type Cases struct {
	*app.Practice
	learners learners
}

// New makes them for a practice.
func New(p *app.Practice) *Cases { return &Cases{Practice: p} }
